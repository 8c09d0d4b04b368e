"""HTML to PDF/UA by the library; loaded with the first sheet, as it brings its own text shaping with it."""

from __future__ import annotations

import logging
from collections.abc import Mapping
from functools import lru_cache
from typing import Any

from weasyprint import CSS, HTML
from weasyprint.text.fonts import FontConfiguration
from weasyprint.urls import URLFetcher, URLFetcherResponse

from grimcoil.web.static_files import FOLDER

logging.getLogger("weasyprint").setLevel(logging.ERROR)  # it tells of each rule for screens that it passes over
HERE = "https://static.invalid/"  # a name that no network has; only OwnFiles answers to it
NO_PHOTOS: Mapping[str, bytes] = {}
TYPES = {".css": "text/css", ".woff2": "font/woff2"}


class OwnFiles(URLFetcher):  # type: ignore[misc]  # the library has no types
    """Our own static files, by their name below the folder, the photos that are handed over, and nothing else: neither
    other files nor the network.
    """

    def __init__(self, photos: Mapping[str, bytes] = NO_PHOTOS) -> None:
        super().__init__()
        self.photos = photos

    def fetch(self, url: str, headers: Any = None) -> Any:
        """One of them. Raises ValueError for anything else."""
        if (photo := self.photos.get(url.removeprefix(HERE.rstrip("/")))) is not None:
            return URLFetcherResponse(url, photo, {"Content-Type": "image/jpeg"})
        path = (FOLDER / url.removeprefix(HERE)).resolve()
        if not url.startswith(HERE) or FOLDER.resolve() not in path.parents or path.suffix not in TYPES:
            raise ValueError(f"{url[:80]} is not fetched")
        return URLFetcherResponse(url, path.read_bytes(), {"Content-Type": TYPES[path.suffix]})


@lru_cache(maxsize=1)
def _style() -> tuple[Any, Any]:
    """The style, and the fonts it brings."""
    fonts = FontConfiguration()
    text = (FOLDER / "paper.css").read_text("utf-8")
    return CSS(string=text, base_url=HERE, url_fetcher=OwnFiles(), font_config=fonts), fonts


def written(html: str, photos: Mapping[str, bytes] = NO_PHOTOS) -> bytes:
    """The page in our paper's style: fonts inside, tagged. photos: JPEG by their address on the page."""
    style, fonts = _style()
    made = HTML(string=html, base_url=HERE, url_fetcher=OwnFiles(photos), media_type="print")
    out: bytes = made.write_pdf(stylesheets=[style], font_config=fonts, pdf_variant="pdf/ua-1")
    return out
