"""The ledger of supporting lines: every cell edge entered under the straight line it lies on.

On one line the edges are intervals, and what lies on its two sides is interval arithmetic: no polygon unions, exact where
three cells meet in a T. A line is a unit direction u with angle in [0, 180) degrees and an offset along its normal
n = (-u.y, u.x); its plus side is where n points: below a level line, left of a plumb one (y runs down).
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from dividers.core.base.tolerances import SAME_DIRECTION_RAD, SAME_LINE_MM, SAME_POINT_MM, SHORTEST_EDGE_MM
from dividers.core.geometry.shapes import Bools, Floats, Ints, Point, Shapes

WIDEST = 8  # a group of one direction may span so many tolerances
CLOSEST = 1000  # directions are distinguished to this part of the tolerance
NOTHING = -1  # in place of a cell's index, for what lies outside all cells


@dataclass(frozen=True)
class Lines:
    """Supporting lines in columns: unit directions (n, 2) and offsets (n,) in mm along the normals."""

    directions: Floats
    offsets: Floats

    @cached_property
    def normals(self) -> Floats:
        return np.column_stack([-self.directions[:, 1], self.directions[:, 0]])

    def point(self, line: int, t: float) -> Point:
        """The point of a line at distance t (mm) along its direction."""
        x, y = self.directions[line] * t + self.normals[line] * self.offsets[line]
        return float(x), float(y)


@dataclass(frozen=True)
class Borders:
    """Stretches of lines with one neighbour on each side, in columns, in order of line and t.

    Stretch k lies on line[k] from t0[k] to t1[k] (mm) and has the cells plus[k] and minus[k] on its sides, or NOTHING.
    """

    lines: Lines
    line: Ints
    t0: Floats
    t1: Floats
    plus: Ints
    minus: Ints

    def __len__(self) -> int:
        return len(self.line)

    @property
    def lengths(self) -> Floats:
        return self.t1 - self.t0

    def neighbours(self) -> Ints:
        """Pairs of cells (n, 2) that share a border longer than a point, each pair once, the smaller index first."""
        both = (self.plus != NOTHING) & (self.minus != NOTHING)
        pairs = np.sort(np.column_stack([self.plus[both], self.minus[both]]), axis=1)
        return np.unique(pairs, axis=0)


def borders_of(cells: Shapes) -> Borders:
    """Enter all edges of cells that don't overlap in a ledger, and read off who borders on whom."""
    start = cells.points
    end = start[cells.next_point()]
    cell = cells.ring_shape[cells.point_ring]
    step = end - start
    length = np.hypot(step[:, 0], step[:, 1])
    real = length > SHORTEST_EDGE_MM
    start, end, step, cell, length = start[real], end[real], step[real], cell[real], length[real]
    if not len(start):
        empty = np.zeros(0, np.int64)
        return Borders(Lines(np.zeros((0, 2)), np.zeros(0)), empty, np.zeros(0), np.zeros(0), empty, empty)

    direction_of, directions = _directions(step, length)
    unit = directions[direction_of]
    normal = np.column_stack([-unit[:, 1], unit[:, 0]])
    offset = (normal * (start + end)).sum(axis=1) / 2
    line, lines = _lines(direction_of, directions, offset)
    along = (unit * step).sum(axis=1) > 0  # the edge runs with its line, so its cell lies on the plus side
    ends = np.sort(np.column_stack([(unit * start).sum(axis=1), (unit * end).sum(axis=1)]), axis=1)
    return _sweep(lines, line, ends[:, 0], ends[:, 1], cell, along)


def _directions(step: Floats, length: Floats) -> tuple[Ints, Floats]:
    """Group edges by direction: the group of each edge, and each group's unit direction, taken from its longest edge."""
    angle = np.arctan2(step[:, 1], step[:, 0]) % np.pi
    angle = np.where(angle > np.pi - SAME_DIRECTION_RAD, angle - np.pi, angle)
    group = _apart(angle, SAME_DIRECTION_RAD)
    by_length = np.lexsort([length, group])
    longest = by_length[np.searchsorted(group[by_length], np.arange(group.max() + 1), side="right") - 1]
    unit = step[longest] / length[longest, None]
    unit[np.abs(unit) < SAME_DIRECTION_RAD / 100] = 0.0
    backwards = (unit[:, 1] < 0) | ((unit[:, 1] == 0) & (unit[:, 0] < 0))
    unit[backwards] *= -1
    return group, unit + 0.0


def _lines(direction_of: Ints, directions: Floats, offset: Floats) -> tuple[Ints, Lines]:
    """Group edges by supporting line: the line of each edge, and the lines in order of direction and offset."""
    spread = float(np.ptp(offset)) + 1.0
    line = numbered(direction_of * (2 * spread) + (offset - offset.min()), SAME_LINE_MM)
    order = np.argsort(line, kind="stable")
    first = np.searchsorted(line[order], np.arange(line.max() + 1))
    mean = np.add.reduceat(offset[order], first) / np.diff(np.append(first, len(order)))
    return line, Lines(directions[direction_of[order[first]]], mean)


def _apart(angle: Floats, tolerance: float) -> Ints:
    """Groups of one direction. Where many slightly different directions follow each other they would all run together: there a
    closer look separates them."""
    group = numbered(angle, tolerance)
    order = np.lexsort([angle, group])
    first = np.searchsorted(group[order], np.arange(group.max() + 1))
    spans = angle[order[np.append(first[1:], len(order)) - 1]] - angle[order[first]]
    wide = spans > WIDEST * tolerance
    if tolerance < SAME_DIRECTION_RAD / CLOSEST or not wide.any():
        return group
    for number in np.flatnonzero(wide).tolist():
        here = group == number
        group[here] = group.max() + 1 + _apart(angle[here], tolerance / 10)
    numbers: Ints = np.unique(group, return_inverse=True)[1].astype(np.int64)
    return numbers


def numbered(values: Floats, tolerance: float) -> Ints:
    """Number values in rising order, giving values that follow within the tolerance the same number."""
    if not len(values):
        return np.zeros(0, np.int64)
    order = np.argsort(values, kind="stable")
    numbers = np.concatenate([[0], np.cumsum(np.diff(values[order]) > tolerance)])
    result = np.empty(len(values), np.int64)
    result[order] = numbers
    return result


def _sweep(lines: Lines, line: Ints, t0: Floats, t1: Floats, cell: Ints, plus_side: Bools) -> Borders:
    """Cut each line at every edge's end and say what lies on both sides of each stretch."""
    low = t0.min()
    reach = t1.max() - low + 1.0
    s0, s1 = (line * reach + (t - low) for t in (t0, t1))  # all lines one after the other on one axis
    stops = np.sort(np.concatenate([s0, s1]))
    stops = stops[np.concatenate([[True], np.diff(stops) > SAME_POINT_MM])]
    middle = (stops[:-1] + stops[1:]) / 2
    sides = [_cell_at(middle, s0[side], s1[side], cell[side]) for side in (plus_side, ~plus_side)]
    plus, minus = sides
    there = plus != minus
    on = (middle // reach).astype(np.int64)
    b0, b1 = stops[:-1] - on * reach + low, stops[1:] - on * reach + low
    return _merge(Borders(lines, on[there], b0[there], b1[there], plus[there], minus[there]))


def _cell_at(at: Floats, s0: Floats, s1: Floats, cell: Ints) -> Ints:
    """The cell whose interval [s0, s1] holds each place, or NOTHING. Intervals of one side don't overlap."""
    if not len(s0):
        return np.full(len(at), NOTHING)
    order = np.argsort(s0, kind="stable")
    found = np.searchsorted(s0[order], at) - 1
    inside = (found >= 0) & (s1[order][found] > at)
    return np.where(inside, cell[order][found], NOTHING)


def _merge(borders: Borders) -> Borders:
    """Join stretches that follow each other with the same neighbours."""
    if len(borders) < 2:
        return borders
    same = (
        (np.diff(borders.line) == 0)
        & (np.diff(borders.plus) == 0)
        & (np.diff(borders.minus) == 0)
        & (borders.t0[1:] - borders.t1[:-1] < SAME_POINT_MM)
    )
    first = np.concatenate([[True], ~same])
    last = np.concatenate([~same, [True]])
    return Borders(
        borders.lines, borders.line[first], borders.t0[first], borders.t1[last], borders.plus[first], borders.minus[first]
    )
