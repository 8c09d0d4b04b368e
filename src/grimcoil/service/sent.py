"""A form's key names one thing sent, however often: the same key with other content is no repeat."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime, timedelta
from hashlib import sha256

from sqlalchemy import delete, insert, select
from sqlalchemy.exc import IntegrityError

from grimcoil.core.errors import Refusal
from grimcoil.service.again import STANDS, number_of
from grimcoil.store.engine import Store
from grimcoil.store.sent_tables import SentForm

KEPT_FOR = timedelta(days=30)  # a page stays open for days; a month is more than any
PRUNED = 200  # at most so many old ones with each new one
_T = SentForm.metadata.tables[SentForm.__tablename__]


class KeyReused(Refusal):
    """The key of a form came before with other content: the first was kept, this wasn't."""

    def __init__(self) -> None:
        super().__init__("This form", "sent before", "that content was kept; send this one as a change of its own")


def digest_of(path: str, items: Iterable[tuple[str, str]]) -> str:
    """Of where it was sent and all that it holds."""
    told = sha256(path.encode())
    for name, value in sorted(items):
        told.update(f"\0{name}\0{value}".encode())
    return told.hexdigest()


def check_sent(store: Store, token: str, digest: str) -> None:
    """Raise KeyReused where this key came with other content and was kept. One query."""
    with store() as session:
        known = session.scalar(select(_T.c.digest).where(_T.c.token == token))
    if known is not None and known != digest:
        raise KeyReused


def note_sent(store: Store, token: str, digest: str, now: datetime) -> None:
    """Note that a content was kept under a key. Once more changes nothing."""
    try:
        with store.begin() as session:
            session.execute(insert(_T).values(token=token, digest=digest, at=now))
            old = select(_T.c.token).where(_T.c.at < now - KEPT_FOR).limit(PRUNED)
            gone = session.scalars(old).all()
            if gone:
                session.execute(delete(_T).where(_T.c.token.in_(gone)))
    except IntegrityError as error:
        if number_of(error) != STANDS:
            raise
