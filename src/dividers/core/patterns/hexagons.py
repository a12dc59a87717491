"""Hexagons: a honeycomb standing on its points, in up to three colours so that no two neighbours are alike."""

from fractions import Fraction

import numpy as np

from dividers.core.geometry.shapes import Floats, Ints, from_rings
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.base.grids import columns, refuse_too_many
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.origin import ORIGIN
from dividers.core.patterns.base.parameters import RESERVE, Parameter, Pattern, Tiles, Values

# The corners of a hexagon of width 1 flat to flat, from the top clockwise to the eye; a side is 1/√3.
SIDE = 3**-0.5
CORNERS = np.array([(0, -SIDE), (0.5, -SIDE / 2), (0.5, SIDE / 2), (0, SIDE), (-0.5, SIDE / 2), (-0.5, -SIDE / 2)])


def lay(ground: Ground, values: Values) -> Tiles:
    """Rows of hexagons, every second one shifted by half; the first lies whole in the top left corner's side."""
    middles, classes, width = honeycomb(ground.area, values)
    colors: tuple[str | None, ...] = tuple(values["colors"])
    rings = middles[:, None, :] + CORNERS[None] * width
    return Tiles(from_rings(rings), classes % len(colors), colors)


def honeycomb(area: Rectangle, values: Values) -> tuple[Floats, Ints, float]:
    """The middles (n, 2) of all hexagons that reach into an area, the class 0-2 of each, and their width in mm."""
    width = values["width"] or area.width / values["columns"]
    wide = float(width)
    pitch = wide * SIDE * 1.5
    across, down = int(area.width / width) + 2, int(float(area.height) / pitch) + 2
    refuse_too_many(across * down, "columns" if values["columns"] else "width", "hexagons")
    column, row = (grid.ravel() for grid in np.meshgrid(np.arange(across), np.arange(down)))
    x = float(area.left) + wide * (column + 0.5 - 0.5 * (row % 2))
    y = float(area.top) + pitch * row + wide * SIDE / 2
    # On the honeycomb's own axes (along rows, down to the right) neighbours differ in column - row by 1 or 2, never by 3.
    slanted = column - (row + 1) // 2
    return np.column_stack([x, y]), (slanted - row) % 3, wide


def first(ground: Ground) -> dict[str, object]:
    return {"columns": 8}


GRID = (
    columns(8),
    Parameter("width", "Width", "length", "from flat side to flat side", least=Fraction(4), group="divide", repeats="across"),
)

PATTERN = Pattern(
    key="hexagons",
    title="Hexagons",
    summary="A honeycomb.",
    parameters=(
        *GRID,
        ORIGIN[0],
        Parameter("colors", "Colours", "colors", "with three, no two neighbours are alike; base leaves one unpainted"),
        RESERVE,
    ),
    lay=lay,
    first=first,
    reserve_key="reserve",
)
