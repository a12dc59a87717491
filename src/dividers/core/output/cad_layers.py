"""A piece as plain shapes on named layers, for files that other programs read. Millimetres, y down; panels side by side."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from dividers.core.geometry.shapes import Point
from dividers.core.job.products import Colour
from dividers.core.output.hand_shapes import motif, side_line
from dividers.core.output.seen_parts import layers_in, seen_parts

GAP_MM = 200.0  # between panels
TEXT_MM = 12.0


@dataclass(frozen=True)
class LayerShape:
    """An area by its rings, an open line, a point or a text, on a layer; `fill` for areas that have a colour of their own."""

    layer: str
    kind: str  # area, line, point, text
    rings: tuple[tuple[Point, ...], ...]
    key: str = ""
    fill: str = ""
    text: str = ""


@dataclass(frozen=True)
class Layers:
    """All shapes of a piece, within (0, 0) to (width, height) but for strips along the outer edge."""

    title: str
    width: float
    height: float
    shapes: tuple[LayerShape, ...]

    @property
    def names(self) -> list[str]:
        return list(dict.fromkeys(shape.layer for shape in self.shapes))


def layers_of(piece: Mapping[str, Any], palette: Mapping[str, Colour], base: str) -> Layers:
    """The layers of a piece's plan document: outline, openings, cells by colour, reserves, strips by round, marks and their readings."""
    across: dict[str, float] = {}
    at = height = 0.0
    for panel in piece["panels"]:
        xs, ys = zip(*panel["outline"], strict=True)
        across[panel["name"]] = at - min(xs)
        at += max(xs) - min(xs) + GAP_MM
        height = max(height, *ys)
    shapes = list(_shapes(piece, palette, base, across))
    return Layers(str(piece["name"]), at - GAP_MM, height, tuple(shapes))


def _shapes(
    piece: Mapping[str, Any], palette: Mapping[str, Colour], base: str, across: Mapping[str, float]
) -> Iterator[LayerShape]:
    for panel in piece["panels"]:
        move = across[panel["name"]]
        yield LayerShape("outline", "area", _moved([panel["outline"]], move), panel["name"])
        for ring in panel["openings"]:
            yield LayerShape("openings", "area", _moved([ring], move))
    several = len(layers_in(piece)) > 1
    for part, color, reserved in seen_parts(piece):
        name = "reserves" if reserved else f"cells {color or base}"
        layer = f"{part['layer']}: {name}" if several else name
        yield LayerShape(layer, "area", _moved(part["rings"], across[part["panel"]]), part["id"], palette[color or base].hex)
    for work in piece["hand"]:
        fill = palette[work["color"]].hex
        for ring, name in _by_hand(work):
            yield LayerShape(f"{work['layer']}: {work['color']}", "area", _moved([ring], across[name]), work["id"], fill)
    for each in piece["rounds"]:
        for strip in each["strips"]:
            yield LayerShape(
                f"strips round {each['number']}", "area", _moved(strip["rings"], across[strip["panel"]]), strip["id"]
            )
    for mark in piece["marks"]:
        place = (mark["x"] + across[mark["panel"]], mark["y"])
        yield LayerShape("marks", "point", ((place,),), mark["id"])
        yield LayerShape("readings", "text", ((place,),), mark["id"], text=f"{mark['id'][1:]}: {mark['reading']}")


def _by_hand(work: Mapping[str, Any]) -> Iterator[tuple[tuple[Point, ...], str]]:
    """The rings of an entry's motifs and lines, each with its panel's name; none where it has no places."""
    named = iter(work.get("panels", ()))
    for x, y in work["places"]:
        yield motif(work["tool"], (x, y), tuple(work["size"])), next(named)
    for (ax, ay), (bx, by) in work.get("lines", ()):
        name = next(named)
        if (ax, ay) != (bx, by):
            yield side_line((ax, ay), (bx, by), work["line_mm"]), name


def _moved(rings: Any, by: float) -> tuple[tuple[Point, ...], ...]:
    return tuple(tuple((float(x) + by, float(y)) for x, y in ring) for ring in rings)
