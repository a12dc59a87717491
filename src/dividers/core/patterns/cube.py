"""Cube: a box drawn in three shades, its front flat and its top and side slanting back; best over the fold of wall and ceiling."""

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
    if size + depth > min(area.width, area.height):
        raise BadInput("Size and depth together are more than the field is wide or high.", "size")
    folded = ground.level_folds[0] if ground.level_folds else None
    middle = (area.top + area.bottom - size + depth) / 2
    top = values["drop"] if values["drop"] is not None else folded if folded is not None else middle
    left = values["left"] if values["left"] is not None else (area.left + area.right - size - depth) / 2
    if left < area.left or left + size + depth > area.right:
        raise BadInput("There the cube reaches beyond the field's side.", "left")
    if top - depth < area.top or top + size > area.bottom:
        raise BadInput("The cube reaches beyond the field's top or bottom. Make it smaller, or change its drop.", "drop")
    x, y, s, d = (float(number) for number in (left, top, size, depth))
    front = [(x, y), (x + s, y), (x + s, y + s), (x, y + s)]
    lid = [(x, y), (x + d, y - d), (x + s + d, y - d), (x + s, y)]
    side = [(x + s, y), (x + s + d, y - d), (x + s + d, y + s - d), (x + s, y + s)]
    outline: list[Point] = [(x, y), (x + d, y - d), (x + s + d, y - d), (x + s + d, y + s - d), (x + s, y + s), (x, y + s)]
    box = (area.left, area.top), (area.right, area.top), (area.right, area.bottom), (area.left, area.bottom)
    around = polygons.without([(float(a), float(b)) for a, b in box], outline)
    shapes = polygons.from_polygons([polygons.ring(face) for face in (front, lid, side)] + list(around))
    colors: tuple[str | None, ...] = (*(*values["colors"], None, None)[:3], None)
    notes = (
        ()
        if folded is None or values["drop"] is not None
        else (Note("on-fold", "The front's upper edge lies on the fold.", "", fact=True),)
    )
    return Tiles(shapes, np.array([0, 1, 2] + [3] * len(around)), colors, notes)


def first(ground: Ground) -> dict[str, object]:
    size = min(ground.area.width, ground.area.height) * 2 / 5
    return {"size": size, "depth": size / 2}


PATTERN = Pattern(
    key="cube",
    title="Cube",
    summary="A box in three shades, over a fold or flat.",
    parameters=(
        Parameter("size", "Front", "length", "each side of the front", least=Fraction(5), needed=True),
        Parameter("depth", "Depth", "length", "how far top and side go up and to the right", least=Fraction(2), needed=True),
        Parameter("left", "From the left", "length", "empty for the middle", None),
        Parameter("drop", "Drop", "length", "of the front's upper edge; empty for the fold, or the middle", None),
        Parameter("colors", "Front, top, side", "colors", "three shades of one family look solid"),
    ),
    lay=lay,
    first=first,
    inks=("mid", None, "dark"),
)
