"""Writes a piece's layers as an SVG file of true size: one user unit is a millimetre, a group with an id and a title for each layer."""

import re
from html import escape

from dividers.core.geometry.shapes import Point
from dividers.core.output.cad_layers import TEXT_MM, Layers, LayerShape

LOOKS = {
    "outline": 'fill="none" stroke="#000000" stroke-width="0.5"',
    "openings": 'fill="none" stroke="#000000" stroke-width="0.35" stroke-dasharray="4 2"',
    "marks": 'fill="none" stroke="#a8341b" stroke-width="0.35"',
    "readings": 'fill="#a8341b"',
}
STRIP = 'fill="#c9a46b" fill-opacity="0.6" stroke="#8a6a35" stroke-width="0.2"'
CROSS_MM = 4.0
ROOM_MM = 60.0  # around the panels, for strips along the outer edge


def layer_svg(layers: Layers) -> str:
    """The file's text."""
    wide, high = layers.width + 2 * ROOM_MM, layers.height + 2 * ROOM_MM
    parts = [
        '<?xml version="1.0" encoding="UTF-8"?>\n',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{_n(wide)}mm" height="{_n(high)}mm" '
        f'viewBox="{_n(-ROOM_MM)} {_n(-ROOM_MM)} {_n(wide)} {_n(high)}" font-family="sans-serif" font-size="{_n(TEXT_MM)}">\n'
        f"<title>{escape(layers.title)}</title>\n",
    ]
    for name in layers.names:
        looks = LOOKS.get(name) or (STRIP if name.startswith("strips") else 'stroke="none"')
        parts.append(f'<g id="{_id(name)}" {looks}><title>{escape(name)}</title>\n')
        parts += [_shape(shape) for shape in layers.shapes if shape.layer == name]
        parts.append("</g>\n")
    return "".join([*parts, "</svg>\n"])


def _shape(shape: LayerShape) -> str:
    key = f' id="{escape(shape.key)}"' if shape.key and shape.kind == "area" and shape.layer != "outline" else ""
    if shape.kind == "text":
        x, y = shape.rings[0][0]
        return f'<text x="{_n(x + CROSS_MM)}" y="{_n(y - 2)}">{escape(shape.text)}</text>\n'
    if shape.kind == "point":
        x, y = shape.rings[0][0]
        arm = CROSS_MM / 2
        return f'<path{key} d="M{_n(x - arm)} {_n(y)}h{_n(CROSS_MM)}M{_n(x)} {_n(y - arm)}v{_n(CROSS_MM)}"/>\n'
    fill = f' fill="{shape.fill}"' if shape.fill else ""
    return f'<path{key}{fill} fill-rule="evenodd" d="{"".join(_ring(ring) for ring in shape.rings)}"/>\n'


def _ring(ring: tuple[Point, ...]) -> str:
    return "M" + "L".join(f"{_n(x)} {_n(y)}" for x, y in ring) + "Z"


def _n(number: float) -> str:
    return f"{number:.4f}".rstrip("0").rstrip(".")


def _id(name: str) -> str:
    return re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-")
