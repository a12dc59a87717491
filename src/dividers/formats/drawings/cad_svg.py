"""Writes a piece's layers as an SVG file of true size: one user unit is a millimetre, a group with an id and a title for each layer."""

import re

from markupsafe import Markup

from dividers.core.output.cad_layers import TEXT_MM, Layers, LayerShape
from dividers.formats.drawings.svg_writer import XMLNS, element, joined, number, rings

LOOKS = {
    "outline": {"fill": "none", "stroke": "#000000", "stroke-width": "0.5"},
    "openings": {"fill": "none", "stroke": "#000000", "stroke-width": "0.35", "stroke-dasharray": "4 2"},
    "marks": {"fill": "none", "stroke": "#a8341b", "stroke-width": "0.35"},
    "readings": {"fill": "#a8341b"},
}
STRIP = {"fill": "#c9a46b", "fill-opacity": "0.6", "stroke": "#8a6a35", "stroke-width": "0.2"}
CELL = {"stroke": "none"}
CROSS_MM = 4.0
ROOM_MM = 60.0  # around the panels, for strips along the outer edge
DIGITS = 4
END = Markup("\n")


def layer_svg(layers: Layers) -> str:
    """The file's text."""
    wide, high = (_n(side + 2 * ROOM_MM) for side in (layers.width, layers.height))
    size = {"width": f"{wide}mm", "height": f"{high}mm", "viewBox": f"{_n(-ROOM_MM)} {_n(-ROOM_MM)} {wide} {high}"}
    groups = [_group(layers, name) for name in layers.names]
    title = element("title", {}, layers.title)
    letters = {"font-family": "sans-serif", "font-size": _n(TEXT_MM)}
    whole = element("svg", {"xmlns": XMLNS, **size, **letters}, END, title, END, *groups)
    return f'<?xml version="1.0" encoding="UTF-8"?>\n{whole}\n'


def _group(layers: Layers, name: str) -> Markup:
    looks = LOOKS.get(name) or (STRIP if name.startswith("strips") else CELL)
    shapes = [joined([_shape(shape), END]) for shape in layers.shapes if shape.layer == name]
    return joined([element("g", {"id": _id(name), **looks}, element("title", {}, name), END, *shapes), END])


def _shape(shape: LayerShape) -> Markup:
    key = shape.key if shape.key and shape.kind == "area" and shape.layer != "outline" else None
    x, y = shape.rings[0][0]
    if shape.kind == "text":
        return element("text", {"x": _n(x + CROSS_MM), "y": _n(y - 2)}, shape.text)
    if shape.kind == "point":
        arm = CROSS_MM / 2
        cross = f"M{_n(x - arm)} {_n(y)}h{_n(CROSS_MM)}M{_n(x)} {_n(y - arm)}v{_n(CROSS_MM)}"
        return element("path", {"id": key, "d": cross})
    return element("path", {"id": key, "fill": shape.fill or None, "fill-rule": "evenodd", "d": rings(shape.rings, DIGITS)})


def _n(value: float) -> str:
    return number(value, DIGITS)


def _id(name: str) -> str:
    return re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-")
