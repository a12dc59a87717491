"""Frames: borders of given widths from the outside in; what is left in the middle stays base."""

from fractions import Fraction

import numpy as np

from dividers.core.errors import BadInput
from dividers.core.job import Rectangle
from dividers.core.patterns.parameters import Parameter, Pattern, Tiles, Values


def lay(area: Rectangle, values: Values) -> Tiles:
    """Four mitred sides for each border, then the middle."""
    widths, colors = values["widths"], tuple(values["colors"])
    if 2 * sum(widths) >= min(area.width, area.height):
        raise BadInput(
            f"Borders of {float(sum(widths)):.0f} mm in all leave nothing in the middle. Make them narrower.", "widths"
        )
    rings: list[list[tuple[float, float]]] = []
    slots: list[int] = []
    outside = _corners(area, Fraction(0))
    inset = Fraction(0)
    for number, width in enumerate(widths):
        inset += width
        inside = _corners(area, inset)
        for side in range(4):
            following = (side + 1) % 4
            rings.append([outside[side], outside[following], inside[following], inside[side]])
            slots.append(number % len(colors))
        outside = inside
    return Tiles(np.array([*rings, outside]), np.array([*slots, len(colors)]), (*colors, None))


def _corners(area: Rectangle, inset: Fraction) -> list[tuple[float, float]]:
    left, top, right, bottom = (
        float(number) for number in (area.left + inset, area.top + inset, area.right - inset, area.bottom - inset)
    )
    return [(left, top), (right, top), (right, bottom), (left, bottom)]


def first(area: Rectangle) -> dict[str, object]:
    least = min(area.width, area.height)
    return {"widths": [least / 8, least / 16]}


PATTERN = Pattern(
    key="frame",
    title="Frame",
    summary="Borders, one inside the other.",
    parameters=(
        Parameter("widths", "Borders", "lengths", "from the outside in", least=Fraction(1), needed=True),
        Parameter("colors", "Colours in turn", "colors", "from the outside in; the middle stays base"),
    ),
    lay=lay,
    first=first,
)
