"""Photos in: whatever a camera makes, drawn anew as a JPEG of ours. What else the file held (place, maker, a hidden
page or program) does not come along, and its name is never used.
"""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from io import BytesIO
from threading import BoundedSemaphore

from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError

from grimcoil.core.errors import RecordRefusal

# Sizes are this product's choice: what telephones make comes in, and a lead's mark can still be read at 1600 pixels.
LARGEST_FILE = 12 * 1024 * 1024
LARGEST_PIXELS = 60_000_000
LARGEST_WHOLE = 24_000_000  # of a picture that can only be unpacked whole: at four bytes a pixel 96 MB
LONGEST_SIDE = 1600
FORMATS = ("JPEG", "PNG", "WEBP")
Image.MAX_IMAGE_PIXELS = LARGEST_PIXELS  # beyond it the library warns, beyond twice it refuses, before it unpacks
_GATE = BoundedSemaphore(1)  # one at a time in each worker: what an unpacked picture takes is bounded by that
_BROKEN = (
    UnidentifiedImageError, OSError, ValueError, SyntaxError, Warning, MemoryError, Image.DecompressionBombError
)  # fmt: skip
_ACCEPTED = f"a photo as JPEG, PNG or WebP, at most {LARGEST_FILE // 1024 // 1024} MiB ({LARGEST_FILE} bytes)"


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
        raise RecordRefusal("photo", f"{len(raw)} bytes", _ACCEPTED)
    try:
        with _GATE, Image.open(BytesIO(raw), formats=FORMATS) as image:
            # One switch for the whole process, and the library that makes PDF turns it on when it is loaded: a photo
            # cut off on its way would be kept with its lower half grey.
            ImageFile.LOAD_TRUNCATED_IMAGES = False
            return _drawn_anew(image)
    except RecordRefusal:
        raise
    except _BROKEN:
        raise RecordRefusal("photo", "a file that is no photo, or a damaged one", _ACCEPTED) from None


def _drawn_anew(image: Image.Image) -> Photo:
    in_parts = image.format == "JPEG" and not image.info.get("progressive")
    most = LARGEST_PIXELS if in_parts else LARGEST_WHOLE
    if image.width * image.height > most:
        kind = "a plain JPEG" if in_parts else "PNG, WebP or progressive JPEG"
        accepted = f"at most {most // 1_000_000} megapixels as {kind}"
        raise RecordRefusal("photo", f"{image.width} × {image.height} pixels", accepted)
    image.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))  # a JPEG is unpacked no finer than it is kept
    image.thumbnail((LONGEST_SIDE, LONGEST_SIDE), reducing_gap=2.0)
    upright = ImageOps.exif_transpose(image).convert("RGB")
    clean = Image.new("RGB", upright.size)
    clean.paste(upright)
    out = BytesIO()
    clean.save(out, "JPEG", quality=82, optimize=True)
    data = out.getvalue()
    return Photo(data, clean.width, clean.height, hashlib.sha256(data).hexdigest())
