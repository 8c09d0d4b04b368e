"""The way to the database for those who may not speak to it themselves: pages and command line get it here."""

from __future__ import annotations

from grimcoil.store.engine import Store, make_engine, make_store
from grimcoil.store.motors import RegisterRow
from grimcoil.store.nodes import FRESH

__all__ = ["FRESH", "RegisterRow", "Store", "make_engine", "make_store"]
