"""Frames: borders of given widths from the outside in; what is left in the middle stays base unless it has a colour."""

from fractions import Fraction

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry.shapes import from_rings
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import RESERVE, Parameter, Pattern, Tiles, Values


def lay(ground: Ground, values: Values) -> Tiles:
    """Four mitred sides for each border, then the middle."""
    area = ground.area
    widths, colors = values["widths"], tuple(values["colors"])
    if 2 * sum(widths) >= min(area.width, area.height):
        raise BadInput(
            f"Borders of {float(sum(widths)):.0f} mm in all leave nothing in the middle. Make them narrower.", "widths"
        )
    rings: list[list[tuple[float, float]]] = []
    slots: list[int] = []
    regions: list[int] = []
    outside = _corners(area, Fraction(0))
    inset = Fraction(0)
    for number, width in enumerate(widths):
        inset += width
        inside = _corners(area, inset)
        for side in range(4):
            following = (side + 1) % 4
            rings.append([outside[side], outside[following], inside[following], inside[side]])
            slots.append(number % len(colors))
            regions.append(number)
        outside = inside
    shapes = from_rings(np.array([*rings, outside]))
    return Tiles(
        shapes, np.array([*slots, len(colors)]), (*colors, values["middle"]), regions=np.array([*regions, len(widths)])
    )


def _corners(area: Rectangle, inset: Fraction) -> list[tuple[float, float]]:
    left, top, right, bottom = (
        float(number) for number in (area.left + inset, area.top + inset, area.right - inset, area.bottom - inset)
    )
    return [(left, top), (right, top), (right, bottom), (left, bottom)]


def first(ground: Ground) -> dict[str, object]:
    area = ground.area
    least = min(area.width, area.height)
    return {"widths": [least / 8, least / 16]}


PATTERN = Pattern(
    key="frame",
    title="Frame",
    summary="Borders, one inside another.",
    parameters=(
        Parameter("widths", "Borders", "lengths", "from the outside in", least=Fraction(1), needed=True),
        Parameter("colors", "Colours, repeating", "colors", "from the outside in; base leaves a border unpainted"),
        Parameter("middle", "Middle", "color", "base leaves it unpainted"),
        RESERVE,
    ),
    lay=lay,
    first=first,
    reserve_key="reserve",
)
