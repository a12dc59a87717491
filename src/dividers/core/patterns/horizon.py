"""Horizon: one level line across the field, a colour above it and one below."""

from fractions import Fraction

import numpy as np

from dividers.core.errors import BadInput
from dividers.core.job import Rectangle
from dividers.core.patterns.parameters import Parameter, Pattern, Tiles, Values


def lay(area: Rectangle, values: Values) -> Tiles:
    """Above and below a line `drop` under the panel's top."""
    if not area.top < values["drop"] < area.bottom:
        raise BadInput("The line must lie inside the field: below its top margin and above its bottom one.", "drop")
    left, top, line, right, bottom = (float(n) for n in (area.left, area.top, values["drop"], area.right, area.bottom))
    above = [(left, top), (right, top), (right, line), (left, line)]
    below = [(left, line), (right, line), (right, bottom), (left, bottom)]
    colors: tuple[str | None, ...] = (*values["colors"], None)
    return Tiles(np.array([above, below]), np.array([0, 1]), colors[:2])


def first(area: Rectangle) -> dict[str, object]:
    return {"drop": area.top + area.height * 3 / 5}


PATTERN = Pattern(
    key="horizon",
    title="Horizon",
    summary="One level line, a colour on each side.",
    parameters=(
        Parameter("drop", "Drop", "length", "from the panel's top down to the line", least=Fraction(1), needed=True),
        Parameter("colors", "Above and below", "colors", "base leaves a part unpainted"),
    ),
    lay=lay,
    first=first,
)
