"""A drawing read back: as a tree, its words, its plain points."""

from __future__ import annotations

import re
from xml.etree import ElementTree

SVG = "{http://www.w3.org/2000/svg}"


def tree(svg: str) -> ElementTree.Element:
    """The drawing as a tree; what isn't well-formed raises. A body without its svg element is given one."""
    return ElementTree.fromstring(f'<svg xmlns="http://www.w3.org/2000/svg">{svg}</svg>')


def words(svg: str) -> list[str]:
    """Every text in its order."""
    return ["".join(element.itertext()) for element in tree(svg).iter(f"{SVG}text")]


def named(svg: str) -> list[str]:
    """What those hear who don't see it."""
    return [element.attrib["aria-label"] for element in tree(svg).iter() if "aria-label" in element.attrib]


def count(svg: str, css: str) -> int:
    """How many shapes carry a class, alone or among others."""
    return sum(css in element.attrib.get("class", "").split() for element in tree(svg).iter())


def starts(svg: str, css: str) -> list[tuple[float, float]]:
    """Where the paths of a class begin."""
    found = [e.attrib["d"] for e in tree(svg).iter(f"{SVG}path") if css in e.attrib.get("class", "").split()]
    points = [re.match(r"M(-?[\d.]+) (-?[\d.]+)", d) for d in found]
    return [(float(point[1]), float(point[2])) for point in points if point]


def numbers(svg: str) -> list[float]:
    """Every figure of every shape."""
    out = []
    for element in tree(svg).iter():
        for name in ("x", "y", "cx", "cy", "r", "width", "height", "d"):
            out += [float(figure) for figure in re.findall(r"-?\d+\.?\d*", element.attrib.get(name, ""))]
    return out
