"""What pictures and passwords take at once stays bounded."""

import subprocess
import sys
from pathlib import Path

from PIL import Image

from grimcoil.cli.serve import LEAN

ROOT = Path(__file__).parents[2]
PROGRAM = """
import re, sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from grimcoil.core.errors import RecordRefusal
from grimcoil.exchange.photos import read_photo
from grimcoil.service.secrets import fits, hashed

raws = [Path(name).read_bytes() for name in sys.argv[1:]]
stored = hashed("one that fits")

def look(raw):
    try:
        return read_photo(raw).width
    except RecordRefusal as refusal:
        return refusal.accepted

with ThreadPoolExecutor(40) as hands:
    seen = list(hands.map(look, raws * 4))
    right = list(hands.map(lambda n: fits(stored, "one that fits"), range(60)))
assert all(right)
print(*sorted(set(map(str, seen))), sep="|")
status = Path("/proc/self/status").read_text()
print(int(re.search(r"VmHWM:\\s+(\\d+)", status)[1]) // 1024)
"""


def test_eight_pictures_of_sixty_megapixels_and_sixty_passwords_at_once(tmp_path):
    large = Image.effect_noise((1000, 750), 40).convert("RGB").resize((8900, 6700))
    large.save(tmp_path / "plain.jpg", quality=30)
    Image.new("RGB", (8900, 6700), "gray").save(tmp_path / "flat.png")
    environment = LEAN | {"PYTHONPATH": str(ROOT / "src"), "PATH": "/usr/bin:/bin"}
    words = [sys.executable, "-c", PROGRAM, str(tmp_path / "plain.jpg"), str(tmp_path / "flat.png")]
    done = subprocess.run(words, env=environment, capture_output=True, text=True, check=True)
    seen, megabytes = done.stdout.splitlines()
    assert seen == "1600|at most 24 megapixels as PNG, WebP or progressive JPEG"
    assert int(megabytes) < 300  # of each of two workers: together less than 600 MB
