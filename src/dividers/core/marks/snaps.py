"""Which two marks a line is snapped between."""

from collections.abc import Sequence

import numpy as np

from dividers.core.cells.layout import Layout
from dividers.core.marks.mark_places import lines_to_mark
from dividers.core.marks.marks import Mark

ON_LINE_MM = 0.05
MOST_COMPARED = 4_000_000  # lines times marks; beyond that nobody snaps them one by one


def snaps_of(layout: Layout, marks: Sequence[Mark]) -> dict[int, int]:
    """For each mark of a panel at an end of a straight line, by its place in `marks`, the one at the line's other end.

    A mark that ends several lines, as where two meet, goes with none.
    """
    shown = lines_to_mark(layout)
    if not len(shown) or not marks or len(shown) * len(marks) > MOST_COMPARED:
        return {}
    lines = layout.borders.lines
    points = np.array([(mark.x, mark.y) for mark in marks])
    on = np.abs(points @ lines.normals[shown].T - lines.offsets[shown]) < ON_LINE_MM
    found: dict[int, int] = {}
    several: set[int] = set()
    for turn, line in enumerate(shown.tolist()):
        own = np.flatnonzero(on[:, turn])
        if len(own) < 2:
            continue
        along = points[own] @ lines.directions[line]
        ends = int(own[along.argmin()]), int(own[along.argmax()])
        several |= set(ends) & set(found)
        found |= {ends[0]: ends[1], ends[1]: ends[0]}
    return {one: other for one, other in found.items() if one not in several and other not in several}
