"""Backing a works up and putting it back, for the command line. Not in `stores`: it loads the migrations."""

from __future__ import annotations

from grimcoil.store.archive import pack, unpack
from grimcoil.store.backup import back_up, restore, rows_by_table

__all__ = ["back_up", "pack", "restore", "rows_by_table", "unpack"]
