"""A position's starter: its `figures` judged, its `checks` in order."""
