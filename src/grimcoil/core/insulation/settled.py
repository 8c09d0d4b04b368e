"""When a hold's curve has settled enough to be judged."""

from __future__ import annotations

# The capacitive charge is over by then, or nearly; common practice without source.
FIRST_S = 15.0
