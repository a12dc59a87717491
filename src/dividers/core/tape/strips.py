"""Strips of tape in columns: where each lies, what it is, what it lies on."""

import math
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np

from dividers.core.base.tolerances import SAME_POINT_MM, SHORTEST_STRIP_MM
from dividers.core.cells.layout import Layout
from dividers.core.geometry.overlaps import Groups, ShapeIndex, grouped, overlapping
from dividers.core.geometry.shapes import NO_SHAPES, Bools, Floats, Ints, Point, Shapes, chosen, joined

SQUARE_DEG = (
    5.0  # a strip that crosses a fold squarer than this is creased into it, else cut there (common practice, no source)
)


@dataclass(frozen=True)
class Beneath:
    """What strips may lie on: the cells, and the pairs (ground, cell) found when the grounds that strips are cut from were tried.

    `source` is the ground that each strip is the whole of, or -1.
    """

    cells: ShapeIndex
    pairs: tuple[Ints, Ints]
    source: Ints


@dataclass(frozen=True)
class Strips:
    """Strips of tape on one sheet in one round, in columns, in the order in which to lay them.

    `start` and `end` (n, 2) are the ends of the edge that faces the paint, or of the middle of reserve tape; `out` the unit vector
    from it over the tape, (0, 0) for reserve tape. `perimeter` strips lie outside the field, `reserve` ones on their line, `twin`
    ones between two lines that they both serve. `ends` (n, 2) are the angles of both ends from square, in degrees; `slit_mm` the
    width it must be cut down to, or NaN; `panel` the sheet's panel it lies on; `goes_on` the strip that it continues as over a
    fold, or -1; `round_mm` how much further it goes on round edges that the paint goes round.
    """

    start: Floats
    end: Floats
    out: Floats
    perimeter: Bools
    reserve: Bools
    twin: Bools
    shapes: Shapes
    ends: Floats
    slit_mm: Floats
    panel: Ints
    goes_on: Ints
    beneath: Beneath
    by_brush: int = 0  # edges too short for any strip, which are cut in
    round_mm: Floats = field(default_factory=lambda: np.zeros(1))

    def __len__(self) -> int:
        return len(self.start)

    @cached_property
    def lengths(self) -> Floats:
        """How much tape each takes without its tab, in mm."""
        way = self.end - self.start
        return np.hypot(way[:, 0], way[:, 1]) + self.round_mm

    def segment(self, strip: int) -> tuple[Point, Point]:
        """The edge that faces the paint, from start to end."""
        (ax, ay), (bx, by) = self.start[strip], self.end[strip]
        return (float(ax), float(ay)), (float(bx), float(by))

    def kind(self, strip: int) -> str:
        return "reserve" if self.reserve[strip] else "perimeter" if self.perimeter[strip] else "edge"

    def crease(self, strip: int) -> bool:
        """Whether a strip that goes on over a fold crosses it squarely enough to be creased into it."""
        way = np.abs(self.end[strip] - self.start[strip])
        return math.degrees(math.atan2(way.min(), way.max())) < SQUARE_DEG

    @cached_property
    def covers(self) -> Groups:
        """The cells that each lies on: known for those that are whole grounds, looked up for the rest."""
        source, (first, cell) = self.beneath.source, self.beneath.pairs
        whole, rest = np.flatnonzero(source >= 0), np.flatnonzero(source < 0)
        place = np.full(int(source.max(initial=-1)) + 1, -1)
        place[source[whole]] = whole
        known = np.isin(first, source)
        strip, found = overlapping(ShapeIndex(self.shapes).pick(rest), self.beneath.cells) if len(rest) else (rest, rest)
        strip, found = np.concatenate([place[first[known]], rest[strip]]), np.concatenate([cell[known], found])
        order = np.lexsort([found, strip])
        return grouped(strip[order], found[order], len(self))

    @cached_property
    def after(self) -> Groups:
        """The strips, laid before, that each lies over."""
        laid = ShapeIndex(self.shapes)
        one, other = overlapping(laid, laid)
        over = one > other
        return grouped(one[over], other[over], len(self))

    def free_ends(self) -> list[str]:
        """The end of each strip, start or end, that fewer later strips lie on: where to fold a tab and pull from."""
        lower = self.after.members
        upper = np.repeat(np.arange(len(self)), np.diff(self.after.starts))
        left, top, right, bottom = self.shapes.bounds()[upper].T
        on = []
        for points in (self.start[lower], self.end[lower]):
            x, y = points.T
            there = (x > left - 1) & (x < right + 1) & (y > top - 1) & (y < bottom + 1)
            on.append(np.bincount(lower[there], minlength=len(self)))
        return ["start" if first else "end" for first in (on[0] < on[1]).tolist()]


def no_strips(layout: Layout) -> Strips:
    """None at all on a layout."""
    none, flags, ways = np.zeros(0, np.int64), np.zeros(0, bool), np.zeros((0, 2))
    beneath = Beneath(layout.shape_index, (none, none), none)
    return Strips(ways, ways, ways, flags, flags, flags, NO_SHAPES, ways, np.zeros(0), none, none, beneath)


def without_short(strips: Strips) -> Strips:
    """Without strips that nobody would lay; what they protected is cut in by brush."""
    keep = strips.lengths >= SHORTEST_STRIP_MM - SAME_POINT_MM
    if keep.all():
        return strips
    return replace(picked(strips, np.flatnonzero(keep)), by_brush=strips.by_brush + int((~keep).sum()))


def picked(strips: Strips, at: Ints) -> Strips:
    """Some of the strips, in the order given."""
    place = np.full(len(strips) + 1, -1)
    place[at] = np.arange(len(at))
    columns = ("start", "end", "out", "perimeter", "reserve", "twin", "ends", "slit_mm", "panel")
    return replace(
        strips,
        **{name: getattr(strips, name)[at] for name in columns},
        shapes=chosen(strips.shapes, at),
        goes_on=place[strips.goes_on[at]],
        beneath=replace(strips.beneath, source=strips.beneath.source[at]),
    )


def joined_strips(one: Strips, other: Strips) -> Strips:
    """Both, one after the other."""

    def column(name: str) -> Any:
        return np.concatenate([getattr(one, name), getattr(other, name)])

    return Strips(
        start=column("start"),
        end=column("end"),
        out=column("out"),
        perimeter=column("perimeter"),
        reserve=column("reserve"),
        twin=column("twin"),
        shapes=joined([one.shapes, other.shapes]),
        ends=column("ends"),
        slit_mm=column("slit_mm"),
        panel=column("panel"),
        goes_on=column("goes_on"),
        beneath=replace(one.beneath, source=np.concatenate([one.beneath.source, other.beneath.source])),
        by_brush=one.by_brush + other.by_brush,
    )
