"""One router per noun; they don't import one another."""
