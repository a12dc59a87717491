"""Slanting lines of a zone that end inside the field: marked on one vertical that all of them cross, in place of one for each end."""

import numpy as np

from dividers.core.geometry.shapes import Floats, Ints
from dividers.core.marks.mark_places import INSIDE, Places

SLANTS = 0.02  # a line that leans less from level or upright is left alone
LEAST_LINES = 3
LEAST_APART = 1 / 3  # of a line's own width across: its two marks lie at least so far apart
SAME_WAY = 1e-4


def on_common_verticals(places: Places, directions: Floats, step_mm: float) -> Places:
    """The same marks, the inner ends of parallel lines moved along them onto common verticals, which lie on whole steps from the left.

    `directions` (n, 2) are those of all supporting lines.
    """
    points = places.points.copy()
    lines = np.unique(places.lines[places.sides == INSIDE])
    lines = lines[(np.abs(directions[lines]) > SLANTS).all(axis=1)]
    slopes = np.round(directions[lines, 1] / directions[lines, 0] / SAME_WAY)
    for slope in np.unique(slopes):
        ends = [np.flatnonzero(places.lines == line) for line in lines[slopes == slope].tolist()]
        pairs = np.array([pair for pair in ends if len(pair) == 2]).reshape(-1, 2)
        if len(pairs) >= LEAST_LINES:
            _share(points, places.sides, pairs, step_mm)
    return Places(points, places.sides, places.lines)


def _share(points: Floats, sides: Ints, pairs: Ints, step_mm: float) -> None:
    """Move the inner ends of lines, each given by its two marks, in place; where that leaves the marks of every line far enough apart."""
    swap = points[pairs[:, 0], 0] > points[pairs[:, 1], 0]
    low, high = np.where(swap, pairs[:, 1], pairs[:, 0]), np.where(swap, pairs[:, 0], pairs[:, 1])
    (from_x, from_y), (to_x, to_y) = points[low].T, points[high].T
    inner_low, inner_high = sides[low] == INSIDE, sides[high] == INSIDE
    left = np.ceil(from_x[inner_low].max(initial=-np.inf) / step_mm) * step_mm
    right = np.floor(to_x[inner_high].min(initial=np.inf) / step_mm) * step_mm
    new_from, new_to = np.where(inner_low, left, from_x), np.where(inner_high, right, to_x)
    if (new_to - new_from < LEAST_APART * (to_x - from_x)).any():
        return
    slope = (to_y - from_y) / (to_x - from_x)
    points[low[inner_low]] = np.column_stack([new_from, from_y + slope * (new_from - from_x)])[inner_low]
    points[high[inner_high]] = np.column_stack([new_to, from_y + slope * (new_to - from_x)])[inner_high]
