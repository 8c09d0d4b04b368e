"""SVG from core objects, as pure text: no style attributes (the page's policy forbids them), colours by class."""
