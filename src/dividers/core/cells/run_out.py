"""Tiles of a true rectangle run out to the sides of a field that isn't one.

Where the field is wider than the rectangle that the pattern is laid on, no new part begins: the outermost parts go on to the edge. The
line between two of them goes on straight; where lines meet in a tip on the rectangle's side, what lies beyond is parted square to it.
"""

from collections import defaultdict
from dataclasses import dataclass, replace

import numpy as np

from dividers.core.base.tolerances import GRID_SKEW, POINT_GRID_MM, SAME_POINT_MM
from dividers.core.geometry import polygons
from dividers.core.geometry.quads import Box
from dividers.core.geometry.shapes import Floats, Point, Shapes
from dividers.core.patterns.base.parameters import Tiles

STEEPEST = 3.0  # a line that runs further along the side than so many times outward is not drawn on
SAME_SLOPE = 1e-4
LEAST_END_MM = 0.5  # lines that would close a part to less than this before the edge are not drawn on


@dataclass(frozen=True)
class _Side:
    """A side of the rectangle: x (axis 0) or y (axis 1) is `edge` along it, from `low` to `high`; parts go on to `reach`."""

    axis: int
    edge: float
    reach: float
    low: float
    high: float

    def on(self, points: Floats) -> list[bool]:
        result: list[bool] = (np.abs(points[:, self.axis] - self.edge) < SAME_POINT_MM).tolist()
        return result

    def slope(self, inner: Floats, end: Floats) -> float:
        """How far along the side a line from `inner` to its `end` goes for each mm outward."""
        if min(end[1 - self.axis] - self.low, self.high - end[1 - self.axis]) < SAME_POINT_MM:
            return 0.0  # a corner of the rectangle
        out = float(end[self.axis] - inner[self.axis])
        return float(end[1 - self.axis] - inner[1 - self.axis]) / out if abs(out) > SAME_POINT_MM else np.inf

    def point(self, along: float, slope: float) -> Point:
        """Where a line that meets the side at `along` meets the reach."""
        there = along + slope * (self.reach - self.edge)
        return (self.reach, there) if self.axis == 0 else (there, self.reach)


@dataclass(frozen=True)
class _Stretch:
    """A part's edge on a side, from one place along it to another, with the slopes of the part's own lines there."""

    shape: int
    ends: tuple[float, float]
    slopes: tuple[float, float]


def run_out(tiles: Tiles, laid_on: Box, reach: Box) -> Tiles:
    """Tiles laid on a rectangle, cut to it and run out to a larger one around it; both are left, top, right, bottom in mm."""
    left, top, right, bottom = laid_on
    outline = polygons.region([(left, top), (right, top), (right, bottom), (left, bottom)])
    cut, origin = polygons.cut_to(tiles.shapes, outline, np.zeros(len(tiles.shapes), bool))
    low, high = min(top, reach[1]), max(bottom, reach[3])
    for side in (
        _Side(1, top, low, left, right),
        _Side(1, bottom, high, left, right),
        _Side(0, left, min(left, reach[0]), low, high),
        _Side(0, right, max(right, reach[2]), low, high),
    ):
        if abs(side.reach - side.edge) > SAME_POINT_MM:
            cut = _extended(cut, side)
    return replace(
        tiles,
        shapes=cut,
        slots=tiles.slots[origin],
        regions=(tiles.regions if tiles.regions is not None else np.arange(len(tiles.shapes)))[origin],
        under=None if tiles.under is None else tiles.under[origin],
        layers=None if tiles.layers is None else tiles.layers[origin],
    )


def _extended(shapes: Shapes, side: _Side) -> Shapes:
    stretches = [stretch for number, rings in enumerate(shapes) for stretch in _stretches(number, np.array(rings[0]), side)]
    slopes = _slopes(stretches, side)
    found = polygons.to_polygons(shapes)
    for stretch in stretches:
        one, other = stretch.ends
        near = [(side.edge, along) if side.axis == 0 else (along, side.edge) for along in (other, one)]
        far = [side.point(along, slopes[_place(along)]) for along in (one, other)]
        found[stretch.shape] = polygons.union(np.array([found[stretch.shape], polygons.ring([*near, *far])]))
    return polygons.from_polygons(found)


def _stretches(shape: int, ring: Floats, side: _Side) -> list[_Stretch]:
    """The parts of a ring on a side, each as one."""
    on = side.on(ring)
    count = len(ring)
    starts = [n for n in range(count) if on[n] and not on[n - 1]]
    found = []
    for start in starts:
        stop = start
        while on[(stop + 1) % count]:
            stop = (stop + 1) % count
        if stop == start:
            continue  # a tip
        ends = [(float(ring[n][1 - side.axis]), side.slope(ring[beside % count], ring[n])) for n, beside in ((start, start - 1), (stop, stop + 1))]  # fmt: skip
        (one, first), (other, last) = sorted(ends)
        found.append(_Stretch(shape, (one, other), (first, last)))
    return found


def _place(along: float) -> int:
    return round(along / POINT_GRID_MM + GRID_SKEW)


def _slopes(stretches: list[_Stretch], side: _Side) -> dict[int, float]:
    """The slope with which the line at each place goes on: its own where there is one line there, none where lines meet."""
    arriving = defaultdict(list)
    for stretch in stretches:
        for along, slope in zip(stretch.ends, stretch.slopes, strict=True):
            arriving[_place(along)].append(slope)
    slopes = {
        place: min(found) if max(found) - min(found) < SAME_SLOPE and abs(min(found)) <= STEEPEST else 0.0
        for place, found in arriving.items()
    }
    while True:
        crossing = [
            place
            for stretch in stretches
            for place in map(_place, stretch.ends)
            if slopes[place] and _closes(stretch, slopes, side)
        ]
        if not crossing:
            return slopes
        slopes.update(dict.fromkeys(crossing, 0.0))


def _closes(stretch: _Stretch, slopes: dict[int, float], side: _Side) -> bool:
    one, other = (side.point(along, slopes[_place(along)])[1 - side.axis] for along in stretch.ends)
    return other - one < min(LEAST_END_MM, stretch.ends[1] - stretch.ends[0])
