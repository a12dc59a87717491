"""Basket weave: square blocks of slats, alternately horizontal and vertical."""

from fractions import Fraction

import numpy as np

from dividers.core.geometry.shapes import from_rings
from dividers.core.patterns.base.grids import columns, refuse_too_many
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.origin import ORIGIN
from dividers.core.patterns.base.parameters import RESERVE, Parameter, Pattern, Tiles, Values


def lay(ground: Ground, values: Values) -> Tiles:
    """Blocks row by row from the top left; the first has level slats."""
    area, slats = ground.area, values["slats"]
    block = values["block"] or area.width / values["columns"]
    across, down = int(-(-area.width // block)), int(-(-area.height // block))
    refuse_too_many(across * down * slats, "columns" if values["columns"] else "block", "slats")
    column, row, slat = (
        grid.ravel() for grid in np.meshgrid(np.arange(across), np.arange(down), np.arange(slats), indexing="ij")
    )
    level = (column + row) % 2 == 0
    size = float(block)
    x0, y0 = float(area.left) + size * column, float(area.top) + size * row
    step = size / slats
    left, right = np.where(level, x0, x0 + step * slat), np.where(level, x0 + size, x0 + step * (slat + 1))
    top, bottom = np.where(level, y0 + step * slat, y0), np.where(level, y0 + step * (slat + 1), y0 + size)
    rings = np.stack([np.column_stack(c) for c in ((left, top), (right, top), (right, bottom), (left, bottom))], axis=1)
    colors: tuple[str | None, ...] = tuple(values["colors"])
    slots = (np.where(level, 0, 1) + 2 * slat) % len(colors)
    return Tiles(from_rings(rings), slots, colors)


def first(ground: Ground) -> dict[str, object]:
    return {"columns": 6, "slats": 3, "reserve": min(Fraction(6), ground.area.width / 100)}


PATTERN = Pattern(
    key="basket",
    title="Basket weave",
    summary="Blocks of slats, horizontal and vertical.",
    parameters=(
        columns(6, "Equal blocks"),
        Parameter(
            "block", "Block", "length", "each side, from the top left", least=Fraction(6), group="divide", repeats="both"
        ),
        Parameter("slats", "Slats in a block", "count", "", 3, Fraction(1), Fraction(12)),
        Parameter("colors", "Horizontal and vertical", "colors", "with more colours, slat by slat"),
        *ORIGIN,
        RESERVE,
    ),
    lay=lay,
    first=first,
    reserve_key="reserve",
)
