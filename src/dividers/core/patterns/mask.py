"""Mask: one shape masked off on paper or canvas, a rectangle inset from the edges or any polygon, with clean or torn edges."""

from fractions import Fraction

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry import polygons
from dividers.core.geometry.shapes import Point
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import TORN, Note, Parameter, Pattern, Tiles, Values
from dividers.core.patterns.free.located import located
from dividers.core.patterns.free.points import Place


def lay(ground: Ground, values: Values) -> Tiles:
    """The shape, and what lies around it."""
    area = ground.area
    inset: Fraction | None = values["inset"]
    corners = _rectangle(area, inset) if inset else _polygon(area, values["points"])
    left, top, right, bottom = (float(side) for side in (area.left, area.top, area.right, area.bottom))
    whole = [(left, top), (right, top), (right, bottom), (left, bottom)]
    inner = polygons.within(corners, whole)
    outer = polygons.without(whole, corners)
    if not len(inner):
        raise BadInput("The shape lies outside the field.", "points")
    colors: tuple[str | None, ...] = (*values["colors"], None)[:2]
    torn = values["edge"] == "torn"
    notes = (Note("torn", TORN, "edge", fact=True),) if torn else ()
    shapes = polygons.from_polygons([*inner, *outer])
    return Tiles(shapes, np.repeat([0, 1], [len(inner), len(outer)]).astype(np.int64), colors, notes, torn=torn)


def _rectangle(area: Rectangle, inset: Fraction) -> list[Point]:
    if 2 * inset >= min(area.width, area.height):
        raise BadInput("That far in, nothing is left of the shape. Make it less.", "inset")
    left, top = float(area.left + inset), float(area.top + inset)
    right, bottom = float(area.right - inset), float(area.bottom - inset)
    return [(left, top), (right, top), (right, bottom), (left, bottom)]


def _polygon(area: Rectangle, places: dict[str, Place]) -> list[Point]:
    if len(places) < 3:
        raise BadInput("A shape needs at least three points, in order round it.", "points")
    corners = list(located(places, area).values())
    if not polygons.simple(corners):
        raise BadInput("The shape's sides cross each other. Give the points in order round it.", "points")
    return corners


def first(ground: Ground) -> dict[str, object]:
    return {"inset": min(ground.area.width, ground.area.height) / 6, "edge": "clean"}


PATTERN = Pattern(
    key="mask",
    title="Masked shape",
    summary="One shape with clean or torn edges.",
    parameters=(
        Parameter("inset", "Rectangle, inset by", "length", "from every side of the field", least=Fraction(1), group="shape"),
        Parameter(
            "points", "Any shape", "points", "its corners in order round it, one a line", most=Fraction(40), group="shape"
        ),
        Parameter("edge", "Edge", "choice", "torn tape gives a natural edge", "clean", choices=("clean", "torn")),
        Parameter("colors", "Inside and around", "colors", "base leaves a part unpainted"),
    ),
    lay=lay,
    first=first,
)
