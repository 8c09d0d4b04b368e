"""Photos are drawn anew: what a file holds beside its picture doesn't come along; what is no photo is refused."""

import struct
import zlib
from io import BytesIO

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageFile

from grimcoil.core.errors import RecordRefusal
from grimcoil.exchange.photos import LARGEST_FILE, read_photo


def made(kind="JPEG", size=(320, 200), **more):
    out = BytesIO()
    Image.new("RGB", size, (180, 90, 40)).save(out, kind, **more)
    return out.getvalue()


def chunk(name, data):
    return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))


def png_that_says(width, height):
    """A small PNG whose header promises a huge picture."""
    header = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", header)
        + chunk(b"IDAT", zlib.compress(b"\0" * 1000))
        + chunk(b"IEND", b"")
    )


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_what_cameras_make_becomes_our_jpeg(kind):
    photo = read_photo(made(kind))
    again = Image.open(BytesIO(photo.data))
    assert (again.format, again.size) == ("JPEG", (320, 200))
    assert (photo.width, photo.height) == (320, 200)
    red, green, blue = again.getpixel((10, 10))
    assert abs(red - 180) < 6
    assert abs(green - 90) < 6
    assert abs(blue - 40) < 6


def test_place_and_maker_stay_behind_and_it_stands_upright():
    exif = Image.Exif()
    exif[0x010F] = "A maker of cameras"
    exif[0x0112] = 6  # turned by a quarter
    exif.get_ifd(0x8825)[1] = "N"
    raw = made(exif=exif)
    assert b"A maker of cameras" in raw
    photo = read_photo(raw)
    assert b"A maker" not in photo.data
    assert not Image.open(BytesIO(photo.data)).getexif()
    assert (photo.width, photo.height) == (200, 320)


def test_a_page_hidden_behind_the_picture_stays_behind():
    photo = read_photo(made() + b"<script>alert(1)</script>")
    assert b"<script>" not in photo.data


def test_large_ones_are_kept_at_1600_pixels():
    photo = read_photo(made(size=(4000, 3000)))
    assert (photo.width, photo.height) == (1600, 1200)


@pytest.mark.parametrize(
    "raw",
    [
        b"",
        b"GIF89a" + b"\0" * 100,
        b"<svg xmlns='http://www.w3.org/2000/svg' onload='alert(1)'/>",
        b"<html><script>alert(1)</script></html>",
        b"%PDF-1.7",
        b"PK\x03\x04" + b"\0" * 100,
        made()[:200],
        made("PNG")[:60],
        png_that_says(30_000, 30_000),
        png_that_says(9_000, 9_000),
        png_that_says(2_000_000_000, 1),
        b"\xff" * 1000,
        b"\0" * (LARGEST_FILE + 1),
    ],
    ids=range(13),
)
def test_what_is_no_photo_is_refused(raw):
    with pytest.raises(RecordRefusal, match="photo"):
        read_photo(raw)


@pytest.mark.parametrize("raw", [made()[:900], made("PNG")[:60]], ids=["JPEG", "PNG"])
def test_a_photo_cut_off_on_its_way_is_refused_whatever_another_library_switched_on(raw, monkeypatch):
    monkeypatch.setattr(ImageFile, "LOAD_TRUNCATED_IMAGES", True)  # as the library that makes PDF leaves it
    with pytest.raises(RecordRefusal, match="damaged"):
        read_photo(raw)


@given(st.binary(max_size=400), st.integers(0, 400))
def test_damage_is_refused_and_never_breaks(noise, at):
    whole = made("PNG", (40, 30))
    raw = whole[:at] + noise + whole[at + len(noise) :]
    try:
        photo = read_photo(raw)
    except RecordRefusal:
        return
    assert Image.open(BytesIO(photo.data)).format == "JPEG"
