"""Rounds: `tasks` with their intervals, `past` against which a figure is judged, grease by the bearing's size."""
