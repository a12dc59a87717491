"""What stands in the way on each kind of surface, in painters' words, with its usual size to be measured. Sizes are common practice, no source."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from dividers.core.base.units import INCH_MM


@dataclass(frozen=True)
class InTheWay:
    """A thing that isn't painted: its word, usual width and height, and how far above the bottom it stands, in inches; None where it is anywhere."""

    word: str
    width: Fraction
    height: Fraction
    up: Fraction | None = None
    round: bool = False


def _of(word: str, width: str, height: str, up: str = "", round_: bool = False) -> InTheWay:
    return InTheWay(word, Fraction(width), Fraction(height), Fraction(up) if up else None, round_)


OTHER = _of("something else", "6", "6")
DOOR, WINDOW, OUTLET, RADIATOR = (
    _of("door", "32", "80", "0"),
    _of("window", "36", "48", "30"),
    _of("outlet", "3", "5", "12"),
    _of("radiator", "40", "24", "4"),
)
POST, PILLAR, DRAIN, HATCH = (
    _of("post", "4", "4"),
    _of("pillar", "12", "12", round_=True),
    _of("drain", "4", "4", round_=True),
    _of("hatch", "24", "24"),
)
LIGHT, VENT, KNOB, HANDLE = (
    _of("light", "6", "6", round_=True),
    _of("vent", "12", "12"),
    _of("knob", "3/2", "3/2", round_=True),
    _of("handle", "5", "1"),
)
BY_SURFACE: Mapping[str, tuple[InTheWay, ...]] = {
    "wall": (DOOR, WINDOW, OUTLET, RADIATOR, OTHER),
    "ceiling": (LIGHT, VENT, HATCH, OTHER),
    "floor": (POST, PILLAR, DRAIN, HATCH, OTHER),
    "furniture": (KNOB, HANDLE, OTHER),
}


def offered_on(surface: str) -> tuple[InTheWay, ...]:
    """What is offered on a kind of surface.

    >>> [each.word for each in offered_on("ceiling")]
    ['light', 'vent', 'hatch', 'something else']
    """
    return BY_SURFACE.get(surface, (OTHER,))


Box = tuple[Fraction, Fraction, Fraction, Fraction]  # left, top, width and height, mm


def placed(thing: InTheWay, width: Fraction, height: Fraction, others: Sequence[Box], step: Fraction) -> Box:
    """Where it is put on a panel of that size, in mm, in whole steps: beside the others, smaller where there is no room for it as it usually is.

    >>> [float(each / INCH_MM) for each in placed(DOOR, 120 * INCH_MM, 96 * INCH_MM, (), INCH_MM / 4)]
    [44.0, 16.0, 32.0, 80.0]
    """
    tries = [_at(thing, width, height, share, left, step) for share in SMALLER for left in ACROSS]
    return next((box for box in tries if not any(_meet(box, other) for other in others)), tries[0])


SMALLER = tuple(Fraction(1, part) for part in (1, 2, 4, 8, 16))
ACROSS = tuple(Fraction(part, 8) for part in (4, 6, 2, 7, 1, 8, 0, 5, 3))  # the middle first


def _at(thing: InTheWay, width: Fraction, height: Fraction, share: Fraction, left: Fraction, step: Fraction) -> Box:
    """It at a share of its usual size, so far across what is left of a panel's width; no larger than half of the panel, or as high as it."""

    def even(mm: Fraction) -> Fraction:
        return mm // step * step

    wide = max(even(min(thing.width * INCH_MM, width / 2) * share), step)
    high = max(even(min(thing.height * INCH_MM, height if thing.up == 0 else height / 2) * share), step)
    above = (height - high) / 2 if thing.up is None else height - high - thing.up * INCH_MM
    return even((width - wide) * left), above if thing.up == 0 else max(even(above), Fraction(0)), wide, high


def _meet(one: Box, other: Box) -> bool:
    return all(one[axis] < other[axis] + other[axis + 2] and other[axis] < one[axis] + one[axis + 2] for axis in (0, 1))
