"""Cube: a box drawn in three shades, best over the fold of wall and ceiling.

Slanting, its front is flat and its top and side go up and to the right; squared, as it is mostly painted over a fold, front and
top are plain squares set off from each other, with the two triangles between them as its sides.
"""

from fractions import Fraction

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry import polygons
from dividers.core.geometry.shapes import Point
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import Note, Parameter, Pattern, Tiles, Values


def lay(ground: Ground, values: Values) -> Tiles:
    """Front, top and side, and what lies around them. The front's upper edge lies on a level fold where there is one."""
    area, size, depth = ground.area, values["size"], values["depth"]
    squared = values["form"] == "squared"
    rise = size if squared else depth  # how far it goes up from the front's upper edge
    if size + depth > area.width or size + rise > area.height:
        raise BadInput("There is no room: the field is less wide or high than the cube.", "size")
    folded = ground.level_folds[0] if ground.level_folds else None
    middle = (area.top + area.bottom - size + rise) / 2
    top = values["drop"] if values["drop"] is not None else folded if folded is not None else middle
    left = values["left"] if values["left"] is not None else (area.left + area.right - size - depth) / 2
    if left < area.left or left + size + depth > area.right:
        raise BadInput("There the cube reaches beyond the field's side.", "left")
    if top - rise < area.top or top + size > area.bottom:
        raise BadInput("The cube reaches beyond the field's top or bottom. Make it smaller, or change its drop.", "drop")
    x, y, s, d = (float(number) for number in (left, top, size, depth))
    faces, outline = (_squared if squared else _slanting)(x, y, s, d)
    box = (area.left, area.top), (area.right, area.top), (area.right, area.bottom), (area.left, area.bottom)
    around = polygons.without([(float(a), float(b)) for a, b in box], outline)
    shapes = polygons.from_polygons([polygons.ring(face) for face in faces] + list(around))
    colors: tuple[str | None, ...] = (*(*values["colors"], None, None)[:3], None)
    notes = (
        ()
        if folded is None or values["drop"] is not None
        else (Note("on-fold", "The front's upper edge lies on the fold.", "", fact=True),)
    )
    return Tiles(shapes, np.array([0, 1, *[2] * (len(faces) - 2)] + [3] * len(around)), colors, notes)


def _slanting(x: float, y: float, s: float, d: float) -> tuple[list[list[Point]], list[Point]]:
    """Front, top and side, and the outline of all, of a cube whose front has its top-left corner at (x, y)."""
    front = [(x, y), (x + s, y), (x + s, y + s), (x, y + s)]
    lid = [(x, y), (x + d, y - d), (x + s + d, y - d), (x + s, y)]
    side = [(x + s, y), (x + s + d, y - d), (x + s + d, y + s - d), (x + s, y + s)]
    return [front, lid, side], [(x, y), (x + d, y - d), (x + s + d, y - d), (x + s + d, y + s - d), (x + s, y + s), (x, y + s)]


def _squared(x: float, y: float, s: float, d: float) -> tuple[list[list[Point]], list[Point]]:
    """The square below, the one above set off to the right, and the triangles between, with the outline of all."""
    front = [(x, y), (x + s, y), (x + s, y + s), (x, y + s)]
    lid = [(x + d, y - s), (x + d + s, y - s), (x + d + s, y), (x + d, y)]
    left = [(x, y), (x + d, y - s), (x + d, y)]
    right = [(x + s, y), (x + d + s, y), (x + s, y + s)]
    return [front, lid, left, right], [(x, y), (x + d, y - s), (x + d + s, y - s), (x + d + s, y), (x + s, y + s), (x, y + s)]


def first(ground: Ground) -> dict[str, object]:
    size = min(ground.area.width, ground.area.height) * 2 / 5
    return {"size": size, "depth": size / 2}


PATTERN = Pattern(
    key="cube",
    title="Cube",
    summary="A box in three shades, over a fold or flat.",
    parameters=(
        Parameter("size", "Front", "length", "each side of the front", least=Fraction(5), needed=True),
        Parameter("depth", "Depth", "length", "how far top and side go back", least=Fraction(2), needed=True),
        Parameter(
            "form",
            "Form",
            "choice",
            "squared: two plain squares, set off by the depth",
            "slanting",
            choices=("slanting", "squared"),
        ),
        Parameter("left", "From the left", "length", "empty for the middle", None),
        Parameter("drop", "Drop", "length", "of the front's upper edge; empty for the fold, or the middle", None),
        Parameter("colors", "Front, top, side", "colors", "three shades of one family look solid"),
    ),
    lay=lay,
    first=first,
    inks=("mid", None, "dark"),
)
