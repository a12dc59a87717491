"""Where to stand to make the marks: as few places of ladder, feet and knees as reach them all, and what line by line would take.

At one place everything within reach, side to side, is marked before moving; heights fall into knees, feet and ladder.
"""

from collections.abc import Sequence
from dataclasses import dataclass

KNEES, FEET, LADDER = HEIGHTS = ("on your knees", "standing", "on a ladder")
KNEES_MM = 500.0  # what lies lower is marked on one's knees (common practice, no source)


@dataclass(frozen=True)
class Spot:
    """A mark as a body reaches it: its number, how far across, how high above the floor (mm), and the line that it is on."""

    number: int
    across_mm: float
    height_mm: float
    line: str


@dataclass(frozen=True)
class Stance:
    """A place to stand: how, between what it reaches across (mm), and the marks made there, from the left."""

    how: str
    low_mm: float
    high_mm: float
    marks: tuple[int, ...]


def how_reached(height_mm: float, standing_mm: float) -> str:
    """How a mark at a height is reached by someone who reaches `standing_mm` standing."""
    return KNEES if height_mm < KNEES_MM else FEET if height_mm <= standing_mm else LADDER


def stances(spots: Sequence[Spot], reach_mm: float, standing_mm: float) -> tuple[Stance, ...]:
    """The fewest places that reach every spot, standing before knees before ladder, each from the left.

    Of spots on a line the fewest intervals of a length are found by beginning each at the first spot not reached yet.
    """
    found = []
    for how in (FEET, KNEES, LADDER):
        left = sorted((spot for spot in spots if how_reached(spot.height_mm, standing_mm) == how), key=_place)
        while left:
            low = left[0].across_mm
            here = [spot for spot in left if spot.across_mm <= low + reach_mm]
            left = left[len(here) :]
            found.append(Stance(how, low, here[-1].across_mm, tuple(spot.number for spot in here)))
    return tuple(found)


def _place(spot: Spot) -> tuple[float, float, int]:
    return spot.across_mm, spot.height_mm, spot.number


def moves_by_line(spots: Sequence[Spot], reach_mm: float, standing_mm: float) -> int:
    """How many places one stands at, making the marks in their order, line by line: moving when the next one is out of reach."""
    places = 0
    how, low, high = "", 0.0, 0.0
    for spot in spots:
        own = how_reached(spot.height_mm, standing_mm)
        reached = min(low, spot.across_mm), max(high, spot.across_mm)
        if own != how or reached[1] - reached[0] > reach_mm:
            places, how, reached = places + 1, own, (spot.across_mm, spot.across_mm)
        low, high = reached
    return places
