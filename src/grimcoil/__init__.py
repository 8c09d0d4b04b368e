"""Grim Coil: tests three-phase motors in a plant. `docs/rooms.md` is the map."""
