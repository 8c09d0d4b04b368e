"""Pages as PDF: the same words and figures on A4, black on white, fonts inside, tagged, pages numbered."""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import lru_cache

from starlette.responses import Response

from grimcoil.core.errors import RecordRefusal
from grimcoil.web.static_files import FOLDER

NO_PHOTOS: Mapping[str, bytes] = {}
_DRAWING = re.compile(r'(<svg class="(?:plots|drying|motor|round|walk)[^>]*>)')
_OWN = re.compile(r"<link[^>]*>|<script[^>]*></script>")


def pdf_of(html: str, photos: Mapping[str, bytes] = NO_PHOTOS) -> bytes:
    """A page as PDF/UA-1. photos: JPEG by their address on the page. Raises RecordRefusal where the system lacks what
    the library draws text with.
    """
    try:
        from grimcoil.web.pdf import written
    except OSError as error:
        wanted = "the packages libpango-1.0-0 and libpangoft2-1.0-0 on the server"
        raise RecordRefusal("PDF", str(error).partition("\n")[0][:80], wanted) from None
    return written(alone(html), photos)


def alone(html: str) -> str:
    """Without the pages' own style and scripts; each drawing with its own style, as outer ones don't reach inside."""
    return _DRAWING.sub(lambda found: f"{found[1]}<style>{_drawing_style()}</style>", _OWN.sub("", html))


@lru_cache(maxsize=1)
def _drawing_style() -> str:
    return (FOLDER / "paper-drawing.css").read_text("utf-8")


def answer(page: Response, name: str, photos: Mapping[str, bytes] = NO_PHOTOS) -> Response:
    """A rendered page as a file of this name; a page that is a refusal stays one."""
    if page.status_code != 200:
        return page
    safe = re.sub(r"[^A-Za-z0-9._-]+", "-", name)
    headers = {"content-disposition": f'inline; filename="{safe}.pdf"'}
    return Response(pdf_of(bytes(page.body).decode("utf-8"), photos), media_type="application/pdf", headers=headers)
