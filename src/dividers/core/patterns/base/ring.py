"""Walls that close in a ring, as the four of a room: where the sheet is left open, and whether a pattern meets itself there."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from math import lcm

from dividers.core.job.model import Piece
from dividers.core.job.surface import SIDES, Fold
from dividers.core.patterns.base.origin import Run, begins_mm
from dividers.core.survey.sheet import Placed, Sheet

RIGHT, LEFT = SIDES.index("right"), SIDES.index("left")


@dataclass(frozen=True)
class Ring:
    """The walls at the corner where a ring is left open, on the sheet's left and right, and the length all round, mm."""

    first: str
    last: str
    round_mm: Fraction


def ring_of(sheet: Sheet) -> Ring | None:
    """The ring that a sheet closes, where a fold joins its far left with its far right and no margin lies there."""
    area = sheet.area
    for fold in sheet.left_open:
        ends = _ends(sheet.placed, fold)
        if ends is None:
            continue
        first, last = ends
        if first.left == area.left and last.box(last.panel.outline).right == area.right and first.top == last.top:
            return Ring(first.panel.name, last.panel.name, area.width)
    return None


def _ends(placed: Sequence[Placed], fold: Fold) -> tuple[Placed, Placed] | None:
    """The panels of a fold, the one whose left it is and the one whose right it is, as they lie on the sheet."""
    by_name = {each.panel.name: each for each in placed}
    sides = {}
    for name, side in ((fold.panel, fold.side), (fold.other_panel, fold.other_side)):
        sides[(SIDES.index(side) + by_name[name].quarters) % 4] = by_name[name]
    return (sides[LEFT], sides[RIGHT]) if set(sides) == {LEFT, RIGHT} else None


def colour_cycle(piece: Piece, run: Run) -> int:
    """After how many repeats along a run the colours come round again: bands and checks side by side take turns."""
    values = piece.pattern.values
    colors = len(values.get("colors") or ()) or 1
    parameter = run.counted if run.count else run.sized
    if piece.pattern.kind == "checker":
        return colors
    if parameter is None or "run" not in (parameter.divides, parameter.repeats):
        return 1
    bands = len(value) if isinstance(value := values.get(parameter.key), tuple) else 1
    return lcm(bands, colors) // bands


@dataclass(frozen=True)
class RingMeeting:
    """How a pattern comes round: whole repeats, what is left of one at the open corner, and the count that comes out, with its size."""

    ring: Ring
    whole: int
    rest_mm: Fraction
    meets: bool
    count: int
    size_mm: Fraction
    cycle: int


def meeting_of(piece: Piece, sheet: Sheet, run: Run) -> RingMeeting | None:
    """How a pattern meets itself round a ring, along the run across; None where walls don't close, or a border lies between."""
    ring = ring_of(sheet)
    if ring is None or run.axis != "across" or run.length != ring.round_mm:
        return None
    cycle = colour_cycle(piece, run)
    origin = piece.pattern.values.get(run.origin_key)
    begins = begins_mm(run, origin) if run.count is None and origin else Fraction(0)
    whole = int((run.length - begins) // run.size_mm)
    rest = run.length % run.size_mm
    count = max(round(run.length / run.size_mm / cycle), 1) * cycle
    return RingMeeting(ring, whole, rest, rest == 0 and whole % cycle == 0, count, run.length / count, cycle)
