"""A border around a pattern of a fixed size, as wide as it must be so that whole repeats fit inside it."""

from collections.abc import Callable
from fractions import Fraction

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry import polygons
from dividers.core.geometry.shapes import Shapes, from_rings, joined
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.base.parameters import Note, Parameter, Tiles, Values

BORDER = (
    Parameter(
        "border", "Border", "length", "the least width; it grows until whole repeats fit; empty for none", least=Fraction(1)
    ),
    Parameter("border_color", "Border colour", "color", "base leaves it unpainted"),
)


def bordered(
    area: Rectangle, values: Values, wide: Fraction | None, high: Fraction | None, lay: Callable[[Rectangle], Tiles]
) -> Tiles:
    """Tiles laid inside a border, in four mitred sides. Repeats of `wide` x `high` mm fit whole; None where they are counted."""
    least: Fraction | None = values["border"]
    if not least:
        return lay(area)
    if 2 * least >= min(area.width, area.height):
        raise BadInput("That border leaves nothing inside it. Make it narrower.", "border")
    across, down = _grown(area.width, wide, least), _grown(area.height, high, least)
    inner = Rectangle(area.left + across, area.top + down, area.right - across, area.bottom - down)
    tiles = lay(inner)
    shapes, origin = clipped_to(tiles.shapes, inner)
    colors = (*tiles.colors, values["border_color"])
    regions = tiles.regions if tiles.regions is not None else np.arange(len(tiles.shapes))
    return Tiles(
        joined([shapes, from_rings(_sides(area, inner))]),
        np.concatenate([tiles.slots[origin], np.full(4, len(colors) - 1)]),
        colors,
        (*tiles.notes, _note(across, down)),
        regions=np.concatenate([regions[origin], np.full(4, int(regions.max(initial=0)) + 1)]),
        dots=tiles.dots,
        light=tiles.light,
    )


def _grown(run: Fraction, size: Fraction | None, least: Fraction) -> Fraction:
    """The border on each side of a run: the least, or so much more that whole sizes fit between."""
    if not size:
        return least
    many = (run - 2 * least) // size
    if many < 1:
        raise BadInput("With that border not even one whole repeat fits. Make the border or the repeat smaller.", "border")
    return (run - many * size) / 2


def _note(across: Fraction, down: Fraction) -> Note:
    if across == down:
        return Note("border", "The border comes to {} all round.", "border", (across,), fact=True)
    return Note("border", "The border comes to {} left and right, {} at top and bottom.", "border", (across, down), fact=True)


def clipped_to(shapes: Shapes, box: Rectangle) -> tuple[Shapes, np.ndarray]:
    """Shapes cut to a rectangle, and which shape each part came from."""
    left, top, right, bottom = (float(side) for side in (box.left, box.top, box.right, box.bottom))
    region = polygons.region([(left, top), (right, top), (right, bottom), (left, bottom)])
    bounds = shapes.bounds()
    inside = (bounds[:, 0] >= left) & (bounds[:, 1] >= top) & (bounds[:, 2] <= right) & (bounds[:, 3] <= bottom)
    return polygons.cut_to(shapes, region, inside)


def _sides(outer: Rectangle, inner: Rectangle) -> np.ndarray:
    corners = [
        [(float(x), float(y)) for x, y in ((b.left, b.top), (b.right, b.top), (b.right, b.bottom), (b.left, b.bottom))]
        for b in (outer, inner)
    ]
    out, into = corners
    return np.array([[out[k], out[(k + 1) % 4], into[(k + 1) % 4], into[k]] for k in range(4)])
