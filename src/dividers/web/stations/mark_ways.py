"""What the ways of carrying lines take: how many marks each, and with what."""

import sqlite3
from collections.abc import Callable
from dataclasses import dataclass, replace
from fractions import Fraction

from dividers.core.base.errors import DividersError
from dividers.core.job.method import LASER, Method
from dividers.core.marks.error_budget import BOTH_ENDS, STEPPED, Far, worst
from dividers.core.marks.error_budget import LASER as LASER_CARRIED
from dividers.core.plan.piece_plan import PiecePlan
from dividers.services.jobs.tools import CHALK, EDGE, LASER_TOOL, LEVEL_TOOL, POLE, lacking

TOOLS_FOR = {"auto": (CHALK, EDGE), LASER: (LASER_TOOL, LEVEL_TOOL)}
LEVEL = ("left edge", "right edge")
MOST_CELLS = 3000  # more would take a while to compare
WORDS = {
    "auto": "marks at both ends, lines snapped or struck between them",
    LASER: "one mark a line, horizontal and vertical lines carried by a level or a laser",
}


@dataclass(frozen=True)
class MarkWay:
    """A way with its marks in all; `action` takes it, "" where there is nothing to take; or it is `here` already."""

    marks: int
    words: str
    action: str
    here: bool = False
    tools: tuple[str, ...] = ()  # any one of them will do
    lacking: str = ""
    off_mm: Fraction | None = None  # the farthest line, in 19 of 20


def mark_ways(connection: sqlite3.Connection, plan: PiecePlan) -> tuple[MarkWay, ...]:
    """The ways that take different numbers of marks, the fewest first, those that a tool is missing for last; nothing where there is only
    one, or much to compare.
    """
    if plan.cell_count > MOST_CELLS or plan.piece.layered or plan.piece.method.mark_way not in WORDS:
        return ()
    found = []
    far = _farthest(plan)
    for way, words in WORDS.items():
        here = plan if way == plan.piece.method.mark_way else plan.anew(plan.job, plan.piece.with_method(_by(way)))
        try:
            count = len(here.marks) - len(here.hand_marks)
        except DividersError:
            continue
        action = "" if here is plan else f'use:{{"method.mark_way": "{way}"}}'
        off = worst(LASER_CARRIED if way == LASER else BOTH_ENDS, far) if far else None
        found.append(MarkWay(count, words, action, here is plan, TOOLS_FOR[way], off_mm=_rounded(off)))
    if far and found:
        found.append(
            MarkWay(
                found[0].marks,
                "stepped from each line to the next, in place of reading from the datum",
                "",
                off_mm=_rounded(worst(STEPPED, far)),
            )
        )
    if plan.marks and all(mark.line in LEVEL for mark in plan.marks):
        ticks = len({mark.reading.text for mark in plan.marks})
        found.append(MarkWay(ticks, "ticks on a story pole, held at both sides; lines struck between them", "", tools=(POLE,)))
    if len({each.marks for each in found}) < 2:
        return ()
    found = [replace(each, lacking=lacking(connection, each.tools)) for each in found]
    return tuple(sorted(found, key=lambda each: (bool(each.lacking), each.marks)))


def _farthest(plan: PiecePlan) -> Far | None:
    """The line that is measured farthest from the datum."""
    if not plan.marks:
        return None
    panel = max((panel.panel for panel in plan.panel_layouts), key=lambda each: each.width_mm * each.height_mm)
    reach = max(float(mark.reading.rounded_mm) for mark in plan.marks)
    lines = len({mark.reading.text for mark in plan.marks})
    return Far(reach, float(max(panel.width_mm, panel.height_mm)), lines, float(plan.job.graduation.step_mm))


def _rounded(mm: float | None) -> Fraction | None:
    return None if mm is None else Fraction(round(mm * 10), 10)


def _by(way: str) -> Callable[[Method], Method]:
    def change(method: Method) -> Method:
        return replace(method, mark_way=way)

    return change
