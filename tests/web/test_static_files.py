"""Static files: another content is another address, kept for good, compressed; the plain address stays."""

import gzip
import re

from grimcoil.web import static_files


def test_every_file_of_a_page_is_kept_for_good_and_there(client):
    page = client.get("/motors").text
    names = re.findall(rf'"({static_files.address()}/[^"]+)"', page)
    assert {name.rpartition("/")[2] for name in names} == {"icon.svg", "app.css", "htmx.min.js", "app.js"}
    assert "/static/app" not in page
    for name in names:
        answer = client.get(name)
        assert (answer.status_code, answer.headers["cache-control"]) == (200, static_files.FOR_GOOD)


def test_the_sheet_and_the_scripts_go_compressed_and_whole(client):
    address = f"{static_files.address()}/app.css"
    with client.stream("GET", address, headers={"accept-encoding": "gzip"}) as answer:
        sent = b"".join(answer.iter_raw())
    assert answer.headers["content-encoding"] == "gzip"
    whole = (static_files.FOLDER / "app.css").read_bytes()
    assert gzip.decompress(sent) == whole
    assert len(sent) < len(whole) / 4


def test_fonts_of_the_sheet_lie_beside_it(client):
    sheet = (static_files.FOLDER / "app.css").read_text("utf-8")
    fonts = set(re.findall(r"url\(((?:/static/)?fonts/[^)]+)\)", sheet))
    assert len(fonts) == 4
    for font in fonts:
        assert client.get(f"{static_files.address()}/{font}").status_code == 200


def test_what_is_not_there_is_not_kept(client):
    answer = client.get(f"{static_files.address()}/none.css")
    assert answer.status_code == 404
    assert "immutable" not in answer.headers.get("cache-control", "")
    plain = client.get("/static/app.css")
    assert (plain.status_code, "immutable" in plain.headers.get("cache-control", "")) == (200, False)


def test_another_byte_is_another_address(tmp_path, monkeypatch):
    monkeypatch.setattr(static_files, "FOLDER", tmp_path)
    seen = set()
    for content in (b"a", b"b"):
        (tmp_path / "x.css").write_bytes(content)
        static_files.fingerprint.cache_clear()
        seen.add(static_files.fingerprint())
    static_files.fingerprint.cache_clear()
    assert len(seen) == 2
