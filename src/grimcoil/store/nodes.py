"""One database on several nodes: which of them is spoken to, whether it may be, and whose changes it has to know of.

Source of the states and numbers: the server's own manual (Galera status variables, error 1047), and tried on three
nodes (`bin/test --cluster`).
"""

from __future__ import annotations

import re
from contextvars import ContextVar
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import URL, Connection, Engine, event, func, make_url, select, text

# Whether what is asked now has to show what was kept just before, on whichever node: set for the requests of somebody
# who has just changed something.
FRESH: ContextVar[bool] = ContextVar("fresh", default=False)
NOT_READY = 1047
_HOSTS = re.compile(r"^([^:/]+://(?:[^/?]*@)?)([^@/?]*)(.*)$", re.DOTALL)
_STATE = text(
    "SHOW GLOBAL STATUS WHERE Variable_name IN ('wsrep_cluster_status', 'wsrep_local_state_comment', 'wsrep_ready')"
)
_IS_NODE = "SHOW GLOBAL VARIABLES LIKE 'wsrep_on'"
_IS_READY = "SHOW GLOBAL STATUS LIKE 'wsrep_ready'"


def addresses(url: str) -> list[URL]:
    """The addresses of one that names several hosts with a comma between, in their order.

    >>> [(one.host, one.port) for one in addresses("mysql+mysqldb://a:b@db-1:3306,db-2:3307/works?charset=utf8mb4")]
    [('db-1', 3306), ('db-2', 3307)]
    """
    found = _HOSTS.match(url)
    if found is None or "," not in found[2]:
        return [make_url(url)]
    return [make_url(f"{found[1]}{host.strip()}{found[3]}") for host in found[2].split(",")]


def watch_nodes(engine: Engine, nodes: list[URL]) -> None:
    """The first node that answers and is ready is spoken to; one that ceases to be ready is left, with all connections
    to it.
    """
    if len(nodes) > 1:
        _try_in_order(engine, nodes)

    @event.listens_for(engine, "connect")
    def _look(connection: Any, record: Any) -> None:
        record.info["node"] = _told(connection, _IS_NODE) in ("ON", "1")

    @event.listens_for(engine, "checkout")
    def _catch_up(connection: Any, record: Any, _proxy: Any) -> None:
        fresh = FRESH.get()
        if record.info["node"] and record.info.get("fresh", False) != fresh:
            with connection.cursor() as cursor:
                cursor.execute(f"SET SESSION wsrep_sync_wait={int(fresh)}")
            record.info["fresh"] = fresh

    @event.listens_for(engine, "handle_error")
    def _leave(context: Any) -> None:
        if next(iter(getattr(context.original_exception, "args", ())), 0) == NOT_READY:
            context.is_disconnect = True


def _try_in_order(engine: Engine, nodes: list[URL]) -> None:
    @event.listens_for(engine, "do_connect")
    def _connect(dialect: Any, _record: Any, args: list[Any], given: dict[str, Any]) -> Any:
        failed: Exception | None = None
        for node in nodes:
            there = given | {"host": node.host} | ({"port": node.port} if node.port else {})
            try:
                made = dialect.connect(*args, **there)
                if _told(made, _IS_NODE) not in ("ON", "1") or _told(made, _IS_READY) == "ON":
                    return made
                made.close()
                failed = dialect.loaded_dbapi.OperationalError(NOT_READY, f"{node.host}:{node.port} is no part of it")
            except dialect.loaded_dbapi.OperationalError as error:
                failed = error
        raise failed or ValueError("no address")


def _told(connection: Any, asked: str) -> str:
    with connection.cursor() as cursor:
        cursor.execute(asked)
        row = cursor.fetchone()
    return "" if row is None else str(row[1])


def unready_apart(engine: Engine) -> str:
    """The same of the first address, over a bare connection: a node that is no part of its cluster lets nobody end a
    transaction, and so lends no connection as they are made ready here. Nothing where it is away.
    """
    dialect: Any = engine.dialect
    args, given = dialect.create_connect_args(engine.url)
    try:
        bare = dialect.connect(*args, **(given | {"connect_timeout": 1, "read_timeout": 2}))
        try:
            with bare.cursor() as cursor:
                cursor.execute(str(_STATE))
                return _why_not({name.lower(): str(value) for name, value in cursor.fetchall()})
        finally:
            bare.close()
    except dialect.loaded_dbapi.Error:
        return ""


def unready(connection: Connection) -> str:
    """Why the node of this connection is none to write to: its state's name; nothing where it may be, or is no node."""
    on = connection.execute(text(_IS_NODE)).first()
    if on is None or on[1] not in ("ON", "1"):
        return ""
    return _why_not({row[0].lower(): str(row[1]) for row in connection.execute(_STATE)})


def _why_not(state: dict[str, str]) -> str:
    if (status := state.get("wsrep_cluster_status", "")) != "Primary":
        return status or "no state"
    comment = state.get("wsrep_local_state_comment", "")
    return comment if comment != "Synced" or state.get("wsrep_ready") != "ON" else ""


def clock_there(connection: Connection) -> datetime:
    """What time the database has."""
    there: datetime = connection.execute(select(func.now(6))).scalar_one()
    return there.replace(tzinfo=UTC)
