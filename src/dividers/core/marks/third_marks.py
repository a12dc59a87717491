"""A third mark in the middle of long lines, for those who strike them by eye or along a short straightedge.

Slanting and level lines get it on a vertical, plumb ones on a level line across; lines share both where they can.
"""

from collections.abc import Sequence

import numpy as np

from dividers.core.base.tolerances import POINT_GRID_MM, SAME_POINT_MM
from dividers.core.cells.layout import Layout
from dividers.core.geometry.shapes import Floats, Point
from dividers.core.marks.mark_places import lines_to_mark

PLUMB = 0.02  # a line that leans less is crossed by a level line, others by a vertical
MIDDLE = (1 / 3, 2 / 3)  # a mark between these shares of a line is in its middle


def third_marks(layout: Layout, marked: Sequence[Point], longer_mm: float, step_mm: float) -> tuple[list[Point], list[Point]]:
    """Points in the middle of lines whose outer marks lie farther apart than `longer_mm`, and that have none there: those on
    verticals, those on level lines across. Both lie on whole steps of the tape measure where lines share them.

    `marked` are the places marked already and the panel's corners.
    """
    box = layout.panel.field_quad.box
    middle = np.array([round((box[axis] + box[axis + 2]) / 2 / step_mm) * step_mm for axis in (0, 1)])
    places = np.array(marked).reshape(-1, 2)
    lines = layout.borders.lines
    found: tuple[list[Point], list[Point]] = ([], [])
    for line in lines_to_mark(layout).tolist():
        along, normal = lines.directions[line], lines.normals[line]
        on = np.sort(places[np.abs(places @ normal - lines.offsets[line]) < POINT_GRID_MM] @ along)
        if len(on) < 2 or on[-1] - on[0] <= longer_mm:
            continue
        shares = (on - on[0]) / (on[-1] - on[0])
        if ((shares > MIDDLE[0]) & (shares < MIDDLE[1])).any():
            continue
        base: Floats = normal * lines.offsets[line]
        axis = 1 if abs(along[0]) < PLUMB else 0
        at = (middle[axis] - base[axis]) / along[axis]
        share = (at - on[0]) / (on[-1] - on[0])
        point = base + along * (at if MIDDLE[0] < share < MIDDLE[1] else (on[0] + on[-1]) / 2)
        if not _on_opening(layout, point):
            found[axis].append((float(point[0]), float(point[1])))
    return found


def _on_opening(layout: Layout, point: Floats) -> bool:
    """Whether a place lies in an opening or on its edge."""
    x, y = point
    return any(
        float(box.left) - SAME_POINT_MM < x < float(box.right) + SAME_POINT_MM
        and float(box.top) - SAME_POINT_MM < y < float(box.bottom) + SAME_POINT_MM
        for box in (opening.box for opening in layout.panel.openings)
    )
