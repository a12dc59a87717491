"""Triangles: rows of triangles, alternately point up and point down."""

from fractions import Fraction

import numpy as np

from dividers.core.geometry.shapes import from_rings
from dividers.core.patterns.base.grids import columns, refuse_too_many
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.origin import ORIGIN
from dividers.core.patterns.base.parameters import RESERVE, Parameter, Pattern, Tiles, Values


def lay(ground: Ground, values: Values) -> Tiles:
    """Rows from the top; in each a triangle on its side every `width` from the left, and between them those on their points."""
    area = ground.area
    width = values["width"] or area.width / values["columns"]
    wide = float(width)
    high = float(values["height"] or 0) or wide * 0.75**0.5
    across, down = int(-(-area.width // width)), int(np.ceil(float(area.height) / high - 1e-9))
    refuse_too_many(2 * across * down, "columns" if values["columns"] else "width", "triangles")
    column, row = (grid.ravel() for grid in np.meshgrid(np.arange(across), np.arange(down)))
    left, top = float(area.left) + wide * column, float(area.top) + high * row
    corners = ((left + wide / 2, top), (left + wide, top + high), (left, top + high))
    up = np.stack([np.column_stack(c) for c in corners], axis=1)
    column, row = (grid.ravel() for grid in np.meshgrid(np.arange(across + 1), np.arange(down)))
    left, top = float(area.left) + wide * column, float(area.top) + high * row
    corners = ((left - wide / 2, top), (left + wide / 2, top), (left, top + high))
    hanging = np.stack([np.column_stack(c) for c in corners], axis=1)
    colors: tuple[str | None, ...] = tuple(values["colors"])
    places = [np.tile(2 * np.arange(across), down), np.tile(2 * np.arange(across + 1) + 1, down)]
    slots = np.concatenate(places) % len(colors)
    return Tiles(from_rings(np.concatenate([up, hanging])), slots, colors)


def first(ground: Ground) -> dict[str, object]:
    return {"columns": 8}


PATTERN = Pattern(
    key="triangles",
    title="Triangles",
    summary="Rows of triangles, point up and point down.",
    parameters=(
        columns(8),
        Parameter("width", "Side", "length", "of a triangle", least=Fraction(4), group="divide", repeats="across"),
        Parameter("height", "Height", "length", "of a row; empty makes all sides equal", None, Fraction(4), repeats="down"),
        *ORIGIN,
        Parameter("colors", "Colours, repeating", "colors", "along a row, point up first; base leaves one unpainted"),
        RESERVE,
    ),
    lay=lay,
    first=first,
    reserve_key="reserve",
)
