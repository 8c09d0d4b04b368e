"""One engine per process, and the sessions made from it."""

from __future__ import annotations

from sqlalchemy import Engine, create_engine, text
from sqlalchemy.orm import Session, sessionmaker

from grimcoil.store.listing import keep_listed
from grimcoil.store.nodes import addresses, watch_nodes
from grimcoil.store.trail_lanes import keep_lanes

Store = sessionmaker[Session]

# In bytes of InnoDB's choosing; said again here so that a server set up otherwise can't store half a value.
_SESSION = (
    "SET SESSION sql_mode='STRICT_ALL_TABLES,ONLY_FULL_GROUP_BY,NO_ZERO_DATE,NO_ZERO_IN_DATE,"
    "ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION', time_zone='+00:00', group_concat_max_len=67108864"
)


PATIENT_S = 3600  # for commands that work through everything


def make_engine(url: str, pool_size: int = 10, patience_s: int = PATIENT_S) -> Engine:
    """An engine that checks a connection before it lends it, in strict mode and UTC.

    url: may name several hosts with a comma between, nodes of one cluster; tried in their order. patience_s: how long
    an answer is waited for, and a connection while all are lent. Errors don't tell the values that were sent along.
    """
    nodes = addresses(url)
    engine = create_engine(
        nodes[0],
        pool_size=pool_size,
        max_overflow=pool_size,
        pool_pre_ping=True,
        pool_recycle=1800,
        pool_timeout=min(patience_s, 30),
        hide_parameters=True,
        pool_reset_on_return=None,  # a session ends its own transaction; a second rollback is a round trip for nothing
        isolation_level="READ COMMITTED",
        connect_args={"init_command": _SESSION, **_waits(patience_s)},
    )
    watch_nodes(engine, nodes)
    return engine


def _waits(patience_s: int) -> dict[str, int]:
    connect = 5 if patience_s == PATIENT_S else 1  # a server that hangs is tried once more before it is given up
    return {"connect_timeout": connect, "read_timeout": patience_s, "write_timeout": patience_s}


def make_store(engine: Engine) -> Store:
    """Sessions whose rows stay readable after commit; what they change of motors stands in the lists with it."""
    store = sessionmaker(engine, expire_on_commit=False, autoflush=False)
    keep_listed(store)
    keep_lanes(store)
    return store


def reached(engine: Engine) -> None:
    """Raise SQLAlchemy's OperationalError where the database doesn't answer."""
    with engine.connect() as connection:
        connection.execute(text("SELECT 1"))
