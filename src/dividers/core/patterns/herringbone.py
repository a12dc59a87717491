"""Herringbone: rectangular blocks set at right angles, each against the side of the next, straight or turned by 45 degrees."""

import math
from fractions import Fraction

import numpy as np

from dividers.core.geometry.shapes import Bools, Floats, from_rings
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.base.grids import MOST_COUNT, refuse_too_many
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import RESERVE, Parameter, Pattern, Tiles, Values


def lay(ground: Ground, values: Values) -> Tiles:
    """Blocks on a grid of squares of the block's width. Along a row, squares lie alternately in one horizontal block and one column of vertical ones.

    With d = (column - row) modulo twice the ratio, a horizontal block starts where d is 0 and a vertical one where d is the last.
    """
    area, ratio = ground.area, values["ratio"]
    size = float(values["width"] or area.width / values["columns"])
    turned = values["turn"] == "45"
    reach = math.hypot(float(area.width), float(area.height)) / 2 if turned else 0.0
    middle = ((float(area.left + area.right)) / 2, float(area.top + area.bottom) / 2)
    x0, y0 = (middle[0] - reach, middle[1] - reach) if turned else (float(area.left), float(area.top))
    wide, high = (2 * reach, 2 * reach) if turned else (float(area.width), float(area.height))
    across, down = math.ceil(wide / size - 1e-9) + 2 * ratio, math.ceil(high / size - 1e-9) + 2 * ratio
    refuse_too_many(across * down // ratio, "columns" if values["columns"] else "width", "blocks")
    column, row = (grid.ravel() for grid in np.meshgrid(np.arange(across) - ratio, np.arange(down) - ratio))
    d = (column - row) % (2 * ratio)
    level, vertical = d == 0, d == 2 * ratio - 1
    rings, slots = [], []
    for number, which, (w, h) in ((0, level, (ratio, 1)), (1, vertical, (1, ratio))):
        left, top = x0 + size * column[which], y0 + size * row[which]
        right, bottom = left + size * w, top + size * h
        rings.append(
            np.stack([np.column_stack(c) for c in ((left, top), (right, top), (right, bottom), (left, bottom))], axis=1)
        )
        slots.append(number + 2 * ((column[which] - row[which]) // (2 * ratio)))
    colors: tuple[str | None, ...] = tuple(values["colors"])
    all_rings = np.concatenate(rings)
    if turned:
        all_rings = _turned(all_rings, middle)
    reaching = _reaching(all_rings, area)
    return Tiles(from_rings(all_rings[reaching]), (np.concatenate(slots) % len(colors))[reaching], colors)


def _turned(rings: Floats, middle: tuple[float, float]) -> Floats:
    """Rings turned by 45 degrees about a point."""
    part = 0.5**0.5
    x, y = rings[..., 0] - middle[0], rings[..., 1] - middle[1]
    return np.stack([middle[0] + part * (x - y), middle[1] + part * (x + y)], axis=-1)


def _reaching(rings: Floats, area: Rectangle) -> Bools:
    """Which rings' bounding boxes reach into an area."""
    low, high = rings.min(axis=1), rings.max(axis=1)
    inside: Bools = (
        (high[:, 0] > float(area.left))
        & (low[:, 0] < float(area.right))
        & (high[:, 1] > float(area.top))
        & (low[:, 1] < float(area.bottom))
    )
    return inside


def first(ground: Ground) -> dict[str, object]:
    return {"columns": 16, "ratio": 3, "turn": "45", "reserve": min(Fraction(6), ground.area.width / 150)}


PATTERN = Pattern(
    key="herringbone",
    title="Herringbone",
    summary="Blocks at right angles, end against side.",
    parameters=(
        Parameter("columns", "Widths across", "count", "how many block widths make up the field's width", 16, Fraction(2), Fraction(MOST_COUNT), group="divide"),
        Parameter("width", "Block width", "length", "its length is a multiple of this", least=Fraction(4), group="divide"),
        Parameter("ratio", "Length in widths", "count", "how many times as long as wide", 3, Fraction(2), Fraction(8)),
        Parameter("turn", "Turned by", "choice", "degrees", "45", choices=("0", "45")),
        Parameter("colors", "The two ways", "colors", "with more colours, zigzag by zigzag"),
        RESERVE,
    ),
    lay=lay,
    first=first,
    reserve_key="reserve",
)  # fmt: skip
