"""What is said of an error that nobody foresaw."""

from __future__ import annotations

import traceback
from pathlib import Path


def broken_at(error: Exception) -> str:
    """Where something nobody foresaw broke: what it is and its place in our code, nothing of what was given."""
    last = traceback.extract_tb(error.__traceback__)[-1]
    return f"something broke on our side ({type(error).__name__} at {Path(last.filename).name}:{last.lineno})"
