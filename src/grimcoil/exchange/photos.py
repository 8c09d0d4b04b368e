"""Photos in: whatever a camera makes, drawn anew as a JPEG of ours. What else the file held (place, maker, a hidden
page or program) does not come along, and its name is never used.
"""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from io import BytesIO

from PIL import Image, ImageOps, UnidentifiedImageError

from grimcoil.core.errors import RecordRefusal

# Sizes are this product's choice: what telephones make comes in, and a lead's mark can still be read at 1600 pixels.
LARGEST_FILE = 12 * 1024 * 1024
LARGEST_PIXELS = 60_000_000
LONGEST_SIDE = 1600
FORMATS = ("JPEG", "PNG", "WEBP")
Image.MAX_IMAGE_PIXELS = LARGEST_PIXELS  # beyond it the library warns, beyond twice it refuses, before it unpacks
_BROKEN = (
    UnidentifiedImageError, OSError, ValueError, SyntaxError, Warning, MemoryError, Image.DecompressionBombError
)  # fmt: skip
_ACCEPTED = f"a photo as JPEG, PNG or WebP, at most {LARGEST_FILE // 1024 // 1024} MiB"


@dataclass(frozen=True, slots=True)
class Photo:
    """A photo as it is kept."""

    data: bytes
    width: int
    height: int
    sha256: str


def read_photo(raw: bytes) -> Photo:
    """Read and draw anew, upright, at most 1600 pixels a side. Raises RecordRefusal."""
    if not raw:
        raise RecordRefusal("photo", "an empty file", _ACCEPTED)
    if len(raw) > LARGEST_FILE:
        raise RecordRefusal("photo", f"{len(raw) / 1024 / 1024:.0f} MiB", _ACCEPTED)
    try:
        with Image.open(BytesIO(raw), formats=FORMATS) as image:
            return _drawn_anew(image)
    except RecordRefusal:
        raise
    except _BROKEN:
        raise RecordRefusal("photo", "a file that is no photo, or a damaged one", _ACCEPTED) from None


def _drawn_anew(image: Image.Image) -> Photo:
    if image.width * image.height > LARGEST_PIXELS:
        raise RecordRefusal("photo", f"{image.width} × {image.height} pixels", "at most 60 megapixels")
    upright = ImageOps.exif_transpose(image).convert("RGB")
    upright.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
    clean = Image.new("RGB", upright.size)
    clean.paste(upright)
    out = BytesIO()
    clean.save(out, "JPEG", quality=82, optimize=True)
    data = out.getvalue()
    return Photo(data, clean.width, clean.height, hashlib.sha256(data).hexdigest())
