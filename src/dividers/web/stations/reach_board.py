"""Where to stand to make the marks of a wall: fewer places than line by line."""

from dataclasses import dataclass

from dividers.core.base.lengths import exact, read_off
from dividers.core.marks.stances import LADDER, Spot, Stance, moves_by_line, stances
from dividers.core.plan.piece_plan import PiecePlan

LEAST_MARKS = 6
MOST_MARKS = 2000


@dataclass(frozen=True)
class ReachRow:
    """A place to stand, in words, and the numbers of the marks made there."""

    words: str
    marks: tuple[int, ...]


@dataclass(frozen=True)
class ReachBoard:
    """The places for one panel, and how many places it would be line by line; `ladder` is how many of them are on one."""

    panel: str
    rows: tuple[ReachRow, ...]
    by_line: int
    ladder: int


def reach_boards(plan: PiecePlan) -> list[ReachBoard]:
    """One for each panel of a wall with more than a few marks, where standing well spares moves."""
    if plan.piece.surface.kind not in ("wall", "stairs") or len(plan.marks) > MOST_MARKS:
        return []
    reach, standing = (float(mm) for mm in (plan.piece.method.reach_mm, plan.piece.method.standing_mm))
    found = []
    for panel in plan.piece.surface.panels:
        above = max((float(each.height_mm) for each in plan.piece.surface.panels), default=0.0) if panel.on_fold else 0.0
        spots = [
            Spot(number, mark.x, float(panel.height_mm) - mark.y + above, mark.line)
            for number, mark in enumerate(plan.marks, 1)
            if mark.panel == panel.name
        ]
        places = stances(spots, reach, standing)
        by_line = moves_by_line(spots, reach, standing)
        if len(spots) >= LEAST_MARKS and by_line > len(places):
            name = panel.name if len(plan.piece.surface.panels) > 1 else ""
            rows = tuple(ReachRow(_words(plan, each), each.marks) for each in places)
            found.append(ReachBoard(name, rows, by_line, sum(each.how == LADDER for each in places)))
    return found


def _words(plan: PiecePlan, stance: Stance) -> str:
    low, high = (read_off(exact(mm), plan.job.graduation).text for mm in (stance.low_mm, stance.high_mm))
    return (
        f"{stance.how.capitalize()}, {low} to {high} from the left"
        if low != high
        else f"{stance.how.capitalize()}, at {low} from the left"
    )
