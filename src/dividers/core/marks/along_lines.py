"""Marks read along a line that is struck already, from its end: where other lines end on it, as stripes do on the sides of a facet.

So read, they take no verticals. A line is read along only if its own ends are found without such marks.
"""

import math
from collections import Counter
from dataclasses import dataclass

import numpy as np

from dividers.core.base.tolerances import POINT_GRID_MM
from dividers.core.cells.layout import Layout
from dividers.core.geometry.ledger import NOTHING
from dividers.core.geometry.shapes import Bools, Floats, Ints, Point
from dividers.core.marks.mark_places import INSIDE, Places, corners_of, meeting, on_bare_edge, on_opening

MOST_COMPARED = 4_000_000  # points times stretches of line; of pieces with more nobody reads along single lines


@dataclass(frozen=True)
class Host:
    """A line that marks are read along, from its upper or its left end, which is known, to the other."""

    origin: Point
    far: Point


def read_along(layout: Layout, places: Places) -> dict[int, Host]:
    """The places inside, by number, that lie on a line whose end is known, and that line."""
    inner = [
        number
        for number in np.flatnonzero(places.sides == INSIDE).tolist()
        if not on_opening(layout.panel, _point(places.points[number]))
    ]
    stretches = _stretches(layout)
    if not inner or not stretches.count or len(inner) * stretches.count > MOST_COMPARED:
        return {}
    points = places.points[inner]
    on = _lies_inside(points, stretches) & (places.lines[inner][:, None] != stretches.line[None, :])
    guests = points[on.any(axis=1)]
    known = np.vstack(
        [np.delete(places.points, inner, axis=0), points[~on.any(axis=1)], np.array(corners_of(layout.panel)).reshape(-1, 2)]
    )
    hosts: dict[int, Host] = {}
    for number in np.flatnonzero(on.any(axis=0)).tolist():
        ends = [stretches.start[number], stretches.end[number]]
        own = bool(stretches.below[number])
        if any(_near(guests, end) for end in ends) and not own:
            continue
        origin, far = sorted(ends, key=lambda end: (round(float(end[1]), 3), round(float(end[0]), 3)))
        if not own and not _near(known, origin):
            origin, far = far, origin
        if own or _near(known, origin):
            hosts[number] = Host(_point(origin), _point(far))
    many = Counter({number: int(on[:, number].sum()) for number in hosts})
    found = {}
    for turn, number in enumerate(inner):
        choice = [host for host in np.flatnonzero(on[turn]).tolist() if host in hosts]
        if choice:
            found[number] = hosts[max(choice, key=lambda host: (many[host], -host))]
    return found


@dataclass(frozen=True)
class _Stretches:
    """Whole stretches of lines, in columns; those `below` are sides of a cell that this layer is laid in, found already."""

    line: Ints
    start: Floats
    end: Floats
    below: Bools

    @property
    def count(self) -> int:
        return len(self.line)


def _stretches(layout: Layout) -> _Stretches:
    borders = layout.borders
    in_cells = bool(layout.parts) and all(part.cell for part in layout.parts)
    edge = ((borders.plus == NOTHING) != (borders.minus == NOTHING)) & ~on_bare_edge(layout)
    parts = []
    for which, below in ((meeting(layout) & ~(edge & in_cells), False), (edge & in_cells, True)):
        at = np.flatnonzero(which)
        if not len(at):
            continue
        line, t0, t1 = borders.line[at], borders.t0[at], borders.t1[at]
        apart = (np.diff(line) != 0) | (t0[1:] - t1[:-1] > POINT_GRID_MM)
        first, last = np.append(True, apart), np.append(apart, True)
        along, base = borders.lines.directions, borders.lines.normals * borders.lines.offsets[:, None]
        start = base[line[first]] + along[line[first]] * t0[first, None]
        end = base[line[last]] + along[line[last]] * t1[last, None]
        parts.append((line[first], start, end, np.full(int(first.sum()), below)))
    if not parts:
        none = np.zeros((0, 2))
        return _Stretches(np.zeros(0, np.int64), none, none, np.zeros(0, bool))
    line, start, end, own = (np.concatenate(column) for column in zip(*parts, strict=True))
    return _Stretches(line, start, end, own)


def _lies_inside(points: Floats, stretches: _Stretches) -> Bools:
    """Which points (n, 2) lie on which stretches, off their ends: (n, stretches)."""
    way = stretches.end - stretches.start
    length = np.hypot(way[:, 0], way[:, 1])
    way = way / length[:, None]
    off = points[:, None, :] - stretches.start[None, :, :]
    along = (off * way[None]).sum(axis=2)
    across = np.abs(off[:, :, 0] * way[None, :, 1] - off[:, :, 1] * way[None, :, 0])
    found: Bools = (across < POINT_GRID_MM) & (along > POINT_GRID_MM) & (along < length[None] - POINT_GRID_MM)
    return found


def _near(points: Floats, place: Floats) -> bool:
    return bool(len(points)) and bool((np.abs(points - place).max(axis=1) < 2 * POINT_GRID_MM).any())


def _point(place: Floats) -> Point:
    return float(place[0]), float(place[1])


def distance_along(host: Host, point: Point) -> float:
    """How far a point lies from the end that a line is read from, mm."""
    return math.dist(host.origin, point)
