"""Strips of tape: each stretch swept outward by the tape's actual width, cut back from painted cells, split at folds."""

import math
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np

from dividers.core.base.tolerances import SAME_POINT_MM
from dividers.core.cells import reserved_lines
from dividers.core.cells.layout import Layout, region_of
from dividers.core.geometry import polygons
from dividers.core.geometry.ledger import Lines
from dividers.core.geometry.overlaps import Groups, ShapeIndex, grouped, overlapping
from dividers.core.geometry.shapes import NO_SHAPES, Bools, Floats, Ints, Point, Shapes, chosen, from_rings, joined
from dividers.core.tape.stretches import Runs, footprints, without_twins

SQUARE_DEG = (
    5.0  # a strip that crosses a fold squarer than this is creased into it, else cut there (common practice, no source)
)
SHORTEST_PART_MM = 5.0  # of a strip cut in parts, shorter ones are left out: nobody can lay them
BEYOND_MM = 10_000.0  # how far a panel's ground is taken to reach past its edges: further than any tape is wide


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
    fold, or -1.
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

    def __len__(self) -> int:
        return len(self.start)

    @property
    def lengths(self) -> Floats:
        way = self.end - self.start
        return np.hypot(way[:, 0], way[:, 1])

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


def lay_strips(
    layout: Layout, runs: Runs, painted: Bools, width_mm: float, reserving: bool = False, turns: Ints | None = None
) -> Strips:
    """The strips for one round: along the runs that it needs, and with `reserving` along the reserved lines too.

    Where `turns` (a turn for each cell) are given, the tape of cells pulled first is laid last.
    """
    lines = layout.borders.lines
    keep, twin = without_twins(lines, runs, width_mm) if len(runs) else (np.zeros(0, np.int64), np.zeros(0, bool))
    rings = footprints(lines, runs.line[keep], runs.side[keep], runs.t0[keep], runs.t1[keep], width_mm)
    ground = ShapeIndex(from_rings(rings))
    strip, cell = overlapping(ground, layout.shape_index)
    wet = painted[cell]
    touched = strip[wet]
    parts = polygons.cut_back(ground.polygons, touched, layout.polygons[cell[wet]]) if len(touched) else {}
    beneath = Beneath(layout.shape_index, (strip, cell), np.zeros(0, np.int64))
    first = np.searchsorted(runs.stretch_run, np.arange(len(runs)))
    laid_first = -turns[runs.stretch_cell[first]] if turns is not None and len(runs) else np.zeros(len(runs), np.int64)
    strips = _from_parts(lines, runs, keep, twin, ground.shapes, parts, width_mm, beneath, laid_first)
    if reserving:
        strips = _joined(_reserving(layout, beneath), strips)
    if layout.sheet.creases:
        strips = _apart(layout, strips, layout.polygons[painted[: len(layout.polygons)]])
    return strips


def _from_parts(
    lines: Lines,
    runs: Runs,
    keep: Ints,
    twin: Bools,
    whole: Shapes,
    parts: dict[int, list[polygons.Polygon]],
    width_mm: float,
    beneath: Beneath,
    laid_first: Ints,
) -> Strips:
    """Columns from the kept runs' grounds, whole or in parts; parts that don't reach the line (beyond a painted cell) are dropped."""
    numbers = np.array([number for number, pieces in parts.items() for _ in pieces], np.int64)
    pieces = polygons.listed([piece for own in parts.values() for piece in own])
    line = runs.line[keep[numbers]]
    cut = _reaches(lines.directions[line], lines.normals[line], lines.offsets[line], pieces, width_mm)
    found = np.bincount(numbers[cut.there], minlength=len(keep))
    stay = cut.there & ((found[numbers] == 1) | (cut.span[:, 1] - cut.span[:, 0] >= SHORTEST_PART_MM))
    numbers, pieces = numbers[stay], pieces[stay]
    uncut = np.setdiff1d(np.arange(len(keep)), np.array(list(parts), np.int64))
    at = np.concatenate([uncut, numbers])
    plain = runs_span(runs, keep[uncut])
    span = np.concatenate([plain, cut.span[stay]])
    ends = np.concatenate([np.zeros_like(plain), cut.ends[stay]])
    slit = np.concatenate([np.full(len(uncut), np.nan), cut.slit[stay]])
    shapes = joined([chosen(whole, uncut), polygons.from_polygons(pieces)])
    source = np.where(np.arange(len(at)) < len(uncut), at, -1)
    order = _laying_order(lines, runs, keep[at], span[:, 0], laid_first[keep[at]])
    at, span = at[order], span[order]
    run = keep[at]
    along, normal = lines.directions[runs.line[run]], lines.normals[runs.line[run]]
    base = normal * lines.offsets[runs.line[run], None]
    return Strips(
        start=base + along * span[:, :1],
        end=base + along * span[:, 1:],
        out=normal * runs.side[run, None],
        perimeter=runs.perimeter[run],
        reserve=np.zeros(len(run), bool),
        twin=twin[at],
        shapes=chosen(shapes, order),
        ends=ends[order],
        slit_mm=slit[order],
        panel=np.zeros(len(run), np.int64),
        goes_on=np.full(len(run), -1),
        beneath=replace(beneath, source=source[order]),
    )


def runs_span(runs: Runs, which: Ints) -> Floats:
    """Where some runs start and end on their lines, (n, 2) in mm."""
    return np.column_stack([runs.t0[which], runs.t1[which]])


def _laying_order(lines: Lines, runs: Runs, run: Ints, t0: Floats, first: Ints) -> Ints:
    """The order to lay strips in: outer edges, then those to be laid first, then direction by direction from the left and the top."""
    line = runs.line[run]
    place = lines.offsets[line] * np.where(lines.normals[line].sum(axis=1) > 0, 1, -1)
    angle = np.arctan2(lines.directions[line, 0], lines.directions[line, 1])
    return np.lexsort([t0, -runs.side[run], place, angle, first, ~runs.perimeter[run]])


@dataclass(frozen=True)
class _Reaches:
    """Of cut strips: whether each reaches its line along a stretch, from where to where on it (n, 2), the angles at which its ends lean
    inward from square in degrees (n, 2), and its width where it is narrower than the tape, else NaN."""

    there: Bools
    span: Floats
    ends: Floats
    slit: Floats


def _reaches(directions: Floats, normals: Floats, offsets: Floats, pieces: polygons.Polygons, width_mm: float) -> _Reaches:
    """How cut strips lie on their lines (directions and normals (n, 2), offsets in mm)."""
    count = len(pieces)
    if not count:
        return _Reaches(np.zeros(0, bool), np.zeros((0, 2)), np.zeros((0, 2)), np.zeros(0))
    points, piece = polygons.outer_corners(pieces)
    starts = np.searchsorted(piece, np.arange(count + 1))
    along = (points * directions[piece]).sum(axis=1)
    away = np.abs((points * normals[piece]).sum(axis=1) - offsets[piece])
    on_line = away < SAME_POINT_MM
    enough = np.add.reduceat(on_line, starts[:-1]) >= 2
    corners = []
    for sign in (1.0, -1.0):  # the first and the last corner on the line
        far = np.where(on_line, sign * along, np.inf)
        order = np.lexsort([far, piece])
        corners.append(order[starts[:-1]])
    first, last = corners
    span = np.column_stack([along[first], along[last]])
    there = enough & (span[:, 1] - span[:, 0] >= SAME_POINT_MM)
    ends = np.column_stack([_end_angles(along, away, starts, first, 1), _end_angles(along, away, starts, last, -1)])
    most = np.maximum.reduceat(away, starts[:-1])
    return _Reaches(there, span, ends, np.where(most > width_mm - SAME_POINT_MM, np.nan, most))


def _end_angles(along: Floats, away: Floats, starts: Ints, corner: Ints, inward: int) -> Floats:
    """How far the ends that leave the line at a corner of each ring lean inward from square, in degrees."""
    begin, count = starts[:-1], np.diff(starts)
    before, after = begin + (corner - begin - 1) % count, begin + (corner - begin + 1) % count
    leaving = np.where(away[after] > away[before], after, before)
    angles: Floats = np.degrees(np.arctan2(inward * (along[leaving] - along[corner]), away[leaving]))
    return angles


def _reserving(layout: Layout, beneath: Beneath) -> Strips:
    """Reserve tape on every reserved line, cut at the field's edges and at openings: level lines first, then by direction."""
    tape = layout.tape_lines
    way = tape.end - tape.start
    steep = np.round(np.abs(np.arctan2(way[:, 1], way[:, 0])), 6)
    order = np.lexsort([tape.start[:, 0], tape.start[:, 1], np.minimum(steep, np.pi - steep)])
    tape = reserved_lines.TapeLines(tape.start[order], tape.end[order], tape.ground[order], tape.width_mm)
    found, origins, panels = [], [], []
    for number, placed in enumerate(layout.sheet.placed):
        pieces, origin = polygons.clipped(tape.ground, region_of(placed))
        found.append(pieces)
        origins.append(origin)
        panels.append(np.full(len(pieces), number))
    pieces, origin, panel = (np.concatenate(column) for column in (found, origins, panels))
    again = np.argsort(origin, kind="stable")
    pieces, origin, panel = pieces[again], origin[again], panel[again].astype(np.int64)
    shapes = polygons.from_polygons(pieces)
    start, end = _along(shapes, tape.start[origin], tape.end[origin])
    count = len(origin)
    goes_on = np.full(count, -1)
    again = np.flatnonzero((origin[1:] == origin[:-1]) & (panel[1:] != panel[:-1]))
    goes_on[again] = again + 1
    return Strips(
        start=start,
        end=end,
        out=np.zeros((count, 2)),
        perimeter=np.zeros(count, bool),
        reserve=np.ones(count, bool),
        twin=np.zeros(count, bool),
        shapes=shapes,
        ends=np.zeros((count, 2)),
        slit_mm=np.full(count, np.nan),
        panel=panel,
        goes_on=goes_on,
        beneath=replace(beneath, source=np.full(count, -1)),
    )


def _along(shapes: Shapes, start: Floats, end: Floats) -> tuple[Floats, Floats]:
    """The stretch of each line from start to end that its shape reaches along."""
    if not len(shapes):
        return start, end
    way = end - start
    way = way / np.hypot(way[:, 0], way[:, 1])[:, None]
    owner = np.repeat(np.arange(len(shapes)), np.diff(shapes.ring_starts[shapes.shape_starts]))
    t = ((shapes.points - start[owner]) * way[owner]).sum(axis=1)
    first = shapes.ring_starts[shapes.shape_starts[:-1]]
    return start + way * np.minimum.reduceat(t, first)[:, None], start + way * np.maximum.reduceat(t, first)[:, None]


def _joined(one: Strips, other: Strips) -> Strips:
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
    )


def _apart(layout: Layout, strips: Strips, paint: polygons.Polygons) -> Strips:
    """The strips panel by panel: one that crosses a fold becomes two, and the first says which it continues as.

    What reaches over a fold by less than SHORTEST_PART_MM is left out, unless paint lies beside it.
    """
    grounds = [_ground_of(layout, number) for number in range(len(layout.sheet.placed))]
    rows: list[tuple[int, polygons.Polygon, int]] = []
    shapes = polygons.to_polygons(strips.shapes)
    start, end, ends = [], [], []
    for strip in range(len(strips)):
        if strips.reserve[strip]:  # these are cut panel by panel already
            rows.append((strip, shapes[strip], int(strips.panel[strip])))
            start.append(strips.start[strip])
            end.append(strips.end[strip])
            ends.append(strips.ends[strip])
            continue
        way = (strips.end[strip] - strips.start[strip]) / strips.lengths[strip]
        normal = strips.out[strip]
        offset = float(normal @ strips.start[strip])
        rest = shapes[strip : strip + 1]
        parts: list[tuple[int, polygons.Polygon, tuple[float, float], tuple[float, float]]] = []
        for number, ground in enumerate(grounds):
            pieces = polygons.clipped(rest, ground)[0]
            many = (len(pieces), 2)
            cut = _reaches(
                np.broadcast_to(way, many), np.broadcast_to(normal, many), np.full(len(pieces), offset), pieces, math.inf
            )
            for own in np.flatnonzero(cut.there).tolist():
                parts.append((number, pieces[own], tuple(cut.span[own].tolist()), tuple(cut.ends[own].tolist())))
            rest = polygons.less(rest, ground)
        longest = max((part[2][1] - part[2][0] for part in parts), default=0.0)
        for number, piece, (begins, stops), leans in parts:
            middle = normal * offset + way * (begins + stops) / 2 - strips.out[strip] * 2 * SAME_POINT_MM
            if stops - begins >= min(SHORTEST_PART_MM, longest) or polygons.holding(paint, middle[None])[0] >= 0:
                rows.append((strip, piece, number))
                start.append(normal * offset + way * begins)
                end.append(normal * offset + way * stops)
                ends.append(np.array(leans))
    at = np.array([row[0] for row in rows], np.int64)
    on_next = np.flatnonzero(at[1:] == at[:-1])
    goes_on = np.where(strips.reserve[at], strips.goes_on[at], -1)
    goes_on[on_next] = on_next + 1
    return Strips(
        start=np.array(start).reshape(-1, 2),
        end=np.array(end).reshape(-1, 2),
        out=strips.out[at],
        perimeter=strips.perimeter[at],
        reserve=strips.reserve[at],
        twin=strips.twin[at],
        shapes=polygons.from_polygons([row[1] for row in rows]),
        ends=np.array(ends).reshape(-1, 2),
        slit_mm=strips.slit_mm[at],
        panel=np.array([row[2] for row in rows], np.int64),
        goes_on=goes_on,
        beneath=replace(strips.beneath, source=np.full(len(at), -1)),
    )


def _ground_of(layout: Layout, number: int) -> polygons.Region:
    """A panel's box on the sheet, drawn out on every side that is no fold."""
    sheet = layout.sheet
    placed = sheet.placed[number]
    box = placed.box(placed.panel.outline)
    sides = {"left": float(box.left), "top": float(box.top), "right": float(box.right), "bottom": float(box.bottom)}
    reach = {"left": -BEYOND_MM, "top": -BEYOND_MM, "right": BEYOND_MM, "bottom": BEYOND_MM}
    for crease in sheet.creases:
        if number in (crease.first, crease.second):
            near, far = ("left", "right") if crease.axis == 0 else ("top", "bottom")
            reach[near if abs(sides[near] - float(crease.at)) < SAME_POINT_MM else far] = 0.0
    left, top, right, bottom = (sides[side] + reach[side] for side in ("left", "top", "right", "bottom"))
    return polygons.region([(left, top), (right, top), (right, bottom), (left, bottom)])
