"""bin/demo as its user starts and stops it."""

import os
import signal
import socket
import subprocess
import urllib.request
from pathlib import Path

ROOT = Path(__file__).parents[2]


def free_port():
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


def gone(pid):
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return True
    return Path(f"/proc/{pid}/stat").read_text(encoding="utf-8").split(") ")[1].startswith("Z")


def test_ctrl_c_stops_the_application_and_its_database(tmp_path):
    for name in ("bin", "src", "demo", ".venv", "requirements.lock", "requirements-dev.lock"):
        (tmp_path / name).symlink_to(ROOT / name)
    (tmp_path / "bin").unlink()
    (tmp_path / "bin").mkdir()
    for script in ("demo", "_common.sh", "_database.sh"):
        (tmp_path / "bin" / script).write_bytes((ROOT / "bin" / script).read_bytes())
    port = free_port()
    demo = subprocess.Popen(
        ["env", "--default-signal=INT", "bash", str(tmp_path / "bin/demo"), "--port", str(port)],
        stdout=subprocess.DEVNULL,
        stderr=subprocess.PIPE,
        text=True,
        start_new_session=True,
        env={k: v for k, v in os.environ.items() if not k.startswith("GRIMCOIL_")},
    )
    try:
        said = [next(demo.stderr)]
        while "Grim Coil is at" not in said[-1]:
            said.append(next(demo.stderr))
        folder = tmp_path / "var/demo"
        pids = [int((folder / name).read_text(encoding="utf-8")) for name in ("server.pid", "mariadb.pid")]
        opener = urllib.request.build_opener(urllib.request.ProxyHandler({}))
        page = opener.open(f"http://127.0.0.1:{port}/healthz", timeout=30).read()
        assert b"up" in page
        os.killpg(demo.pid, signal.SIGINT)
        rest = demo.communicate(timeout=90)[1]
    finally:
        demo.kill()
    assert demo.returncode == 0
    assert "stopped; the data stay" in rest
    assert all(gone(pid) for pid in pids)
