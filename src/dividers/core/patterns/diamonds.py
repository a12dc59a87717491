"""Diamonds: rows and columns of diamonds that touch at their points, long or square on point, and the diamonds between them."""

from fractions import Fraction

import numpy as np

from dividers.core.errors import BadInput
from dividers.core.geometry.shapes import Floats, Ints
from dividers.core.job import Rectangle
from dividers.core.patterns.checker import nearest_rows
from dividers.core.patterns.grids import MOST_CELLS, MOST_COUNT, steps_of
from dividers.core.patterns.parameters import Parameter, Pattern, Tiles, Values


def lay(area: Rectangle, values: Values) -> Tiles:
    """The diamonds in the grid's cells, then those about its corners, which tile the rest."""
    columns, width = values["columns"], values["width"]
    across = len(steps_of(area.left, area.right, columns, width))
    step_x = width or area.width / columns
    step_y = _step_down(area, values, step_x)
    down = -(-area.height // step_y)
    if across * down > MOST_CELLS // 2:
        raise BadInput(
            f"That makes {across * down} diamonds; at most {MOST_CELLS // 2} are allowed.", "columns" if columns else "width"
        )
    half = values["shift"] == "half"
    inner = _diamonds(area, step_x, step_y, np.arange(across, dtype=float) + 0.5, np.arange(int(down), dtype=float) + 0.5)
    corner = _diamonds(area, step_x, step_y, np.arange(across + 1.0), np.arange(int(down) + 1.0))
    slots: Ints = np.concatenate([np.full(len(inner), int(half)), np.full(len(corner), int(not half))])
    colors: tuple[str | None, ...] = (*values["colors"], None)
    return Tiles(np.concatenate([inner, corner]), slots, colors[:2])


def _step_down(area: Rectangle, values: Values, step_x: Fraction) -> Fraction:
    if values["columns"]:
        return area.height / (values["rows"] or nearest_rows(area, values["columns"]))
    return values["height"] or step_x


def _diamonds(area: Rectangle, step_x: Fraction, step_y: Fraction, across: Floats, down: Floats) -> Floats:
    """Diamonds about the grid places (across, down), shape (n, 4, 2), from the top point clockwise to the eye."""
    x, y = (grid.ravel() for grid in np.meshgrid(across, down))
    left, top, wide, high = (float(number) for number in (area.left, area.top, step_x, step_y))
    points = [(x, y - 0.5), (x + 0.5, y), (x, y + 0.5), (x - 0.5, y)]
    return np.stack([np.column_stack([left + wide * px, top + high * py]) for px, py in points], axis=1)


def first(area: Rectangle) -> dict[str, object]:
    return {"columns": 5, "shift": "whole"}


PATTERN = Pattern(
    key="diamonds",
    title="Diamonds",
    summary="Diamonds that touch at their points.",
    parameters=(
        Parameter("columns", "Equal columns", "count", "how many across", 5, Fraction(1), Fraction(MOST_COUNT), group="divide"),
        Parameter("width", "Width", "length", "point to point, from the left", least=Fraction(4), group="divide"),
        Parameter(
            "rows",
            "Rows",
            "count",
            "with columns; empty makes them nearly square on point",
            None,
            Fraction(1),
            Fraction(MOST_COUNT),
        ),
        Parameter("height", "Height", "length", "with width, point to point; empty is as wide", None, Fraction(4)),
        Parameter("shift", "Begin with", "choice", "a whole or a half diamond at the edge", "whole", choices=("whole", "half")),
        Parameter("colors", "Diamonds and between", "colors", "first the diamonds, then what lies between them"),
    ),
    lay=lay,
    first=first,
)
