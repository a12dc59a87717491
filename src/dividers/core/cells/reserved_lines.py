"""Lines left in the base colour by tape laid on them: reserve tape, its centre on the pattern's line.

The lines are those between tiles, read off the ledger. Where lines kink, the tape is drawn on to its mitre.
"""

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from dividers.core.base.tolerances import GRID_SKEW, POINT_GRID_MM, SAME_POINT_MM, SHORTEST_PART_MM
from dividers.core.geometry import ledger, polygons
from dividers.core.geometry.overlaps import ShapeIndex, overlapping, trimmed
from dividers.core.geometry.quads import Quad
from dividers.core.geometry.shapes import NO_SHAPES, Bools, Floats, Ints, Shapes, chosen, from_rings, joined
from dividers.core.patterns.base.parameters import Tiles

LEAVING = 1e-6  # a line that turns out of the field by less runs along its edge
BEYOND = 6.0  # tape that ends at the field's edge is drawn on by this many widths, then cut there: slanting ends leave no gap


@dataclass(frozen=True)
class TapeLines:
    """Centre lines of reserve tape, start and end (n, 2) in mm, the ground (n polygons) that each tape lies on, and its width."""

    start: Floats
    end: Floats
    ground: polygons.Polygons
    width_mm: float

    def __len__(self) -> int:
        return len(self.start)


NO_LINES = TapeLines(np.zeros((0, 2)), np.zeros((0, 2)), np.zeros(0, object), 0.0)


@dataclass(frozen=True)
class Reserve:
    """All that is reserved on a sheet: the tape's lines, and the ground in pieces, which may lie on each other."""

    lines: TapeLines
    pieces: Shapes

    def cut_from(self, cells: Shapes) -> tuple[Shapes, Ints]:
        """The cells less the reserve, and which cell each part came from."""
        pieces = ShapeIndex(self.pieces)
        return _cut(ShapeIndex(cells), pieces, *overlapping(ShapeIndex(cells), pieces))

    def inside(self, region: polygons.Region) -> Shapes:
        """The reserve within a region, as shapes that don't overlap."""
        pieces = ShapeIndex(self.pieces)
        if pieces.axis_aligned.all():
            first, second = overlapping(pieces, pieces)
            later = first > second
            apart, _ = _cut(pieces, pieces, first[later], second[later])
            return polygons.from_polygons(polygons.clipped(polygons.to_polygons(apart), region)[0])
        return polygons.parts_inside(polygons.union(pieces.polygons), region)


NOTHING_RESERVED = Reserve(NO_LINES, NO_SHAPES)


def _cut(shape_index: ShapeIndex, others: ShapeIndex, index: Ints, other: Ints) -> tuple[Shapes, Ints]:
    """Shapes less others that lie on them, others[other[k]] on crowd[index[k]] in order; and the shape each part came from.

    Axis-aligned rectangles that stay rectangles are trimmed; the rest goes to polygon algebra.
    """
    axis_aligned = np.ones(len(shape_index), bool)
    axis_aligned[index[~others.axis_aligned[other]]] = False
    axis_aligned &= shape_index.axis_aligned
    boxes, whole = trimmed(shape_index.bounds, index, others.bounds[other])
    whole &= axis_aligned
    touched = np.zeros(len(shape_index), bool)
    touched[index] = True
    simple = np.flatnonzero(whole & touched)
    left, top, right, bottom = boxes[simple].T
    solid = (right - left > SAME_POINT_MM) & (bottom - top > SAME_POINT_MM)
    corners = np.stack([np.column_stack(c) for c in ((left, top), (right, top), (right, bottom), (left, bottom))], axis=1)
    hard = ~whole[index]
    parts = polygons.cut_back(shape_index.polygons, index[hard], others.polygons[other[hard]]) if hard.any() else {}
    rows = [(number, part) for number, several in parts.items() for part in several]
    untouched = np.flatnonzero(~touched)
    found = [chosen(shape_index.shapes, untouched)]
    found += [from_rings(corners[solid])] if solid.any() else []
    found += [polygons.from_polygons([part for _, part in rows])] if rows else []
    origin = np.concatenate([untouched, simple[solid], np.array([number for number, _ in rows], np.int64)])
    order = np.argsort(origin, kind="stable")
    return chosen(joined(found), order), origin[order]


@dataclass(frozen=True)
class Rim:
    """A ground that lines are laid on, and which of its four sides are no folds: there they are drawn on over the edge."""

    ground: Quad
    open_sides: tuple[bool, ...] = (True,) * 4


def along_lines(tiles: Tiles, rims: Sequence[Rim], width_mm: float, base: str, panels: Ints | None = None) -> Reserve:
    """Reserve every line between tiles of different regions; tape goes on those with any paint beside them.

    Where tiles lie on measured `panels` (n,), short stretches of a fold where lines don't quite meet are no lines.
    """
    borders = ledger.borders_of(tiles.shapes)
    between = (borders.plus != ledger.NOTHING) & (borders.minus != ledger.NOTHING)
    regions = np.append(tiles.regions, -1) if tiles.regions is not None else np.append(np.arange(len(tiles.shapes)), -1)
    between &= regions[borders.plus] != regions[borders.minus]
    if panels is not None:
        between &= (panels[borders.plus] == panels[borders.minus]) | (borders.lengths >= SHORTEST_PART_MM)
    has = np.array([color is not None and color != base for color in tiles.colors])
    painted = np.append(has[tiles.slots], False)
    needed = between & (painted[borders.plus] | painted[borders.minus])
    lines, t0, t1 = _long(borders, between)
    start, end = _ends(borders, lines, t0, t1)
    start, end = _beyond(start, end, rims, width_mm)
    mitres = _mitres(borders, between, width_mm)
    bands = from_rings(_bands(start, end, width_mm)) if len(start) else NO_SHAPES
    taped = _with_any(borders, lines, t0, t1, needed)
    taped |= _overhanging(bands, taped, chosen(tiles.shapes, np.flatnonzero(painted[:-1])))
    tape = polygons.to_polygons(from_rings(_bands(start[taped], end[taped], width_mm))) if taped.any() else np.zeros(0, object)
    return Reserve(
        TapeLines(start[taped], end[taped], _with_mitres(tape, polygons.solid(mitres)), width_mm),
        joined([bands, polygons.from_polygons(mitres)]) if mitres else bands,
    )


def _long(borders: ledger.Borders, which: Bools) -> tuple[Ints, Floats, Floats]:
    """Stretches that follow each other on a line, joined: line, t0, t1."""
    at = np.flatnonzero(which)
    if not len(at):
        return np.zeros(0, np.int64), np.zeros(0), np.zeros(0)
    line, t0, t1 = borders.line[at], borders.t0[at], borders.t1[at]
    starts = np.concatenate([[True], (np.diff(line) != 0) | (t0[1:] - t1[:-1] > SAME_POINT_MM)])
    ends = np.append(starts[1:], True)
    return line[starts], t0[starts], t1[ends]


def _with_any(borders: ledger.Borders, line: Ints, t0: Floats, t1: Floats, needed: Bools) -> Bools:
    """Which long stretches hold any border that needs tape: the tape runs all along them, as no paint comes there."""
    found = np.zeros(len(line), bool)
    at = np.flatnonzero(needed)
    low = borders.t0.min(initial=0.0)
    reach = borders.t1.max(initial=0.0) - low + 1.0  # puts all lines one after the other on one axis
    starts = line * reach + (t0 - low)
    middles = borders.line[at] * reach + ((borders.t0 + borders.t1)[at] / 2 - low)
    found[np.searchsorted(starts, middles, side="right") - 1] = True
    return found


def _overhanging(bands: Shapes, taped: Bools, paint: Shapes) -> Bools:
    """Which bands without tape of their own lie on paint past all taped ones: tips of lines that end at another one's slant."""
    found = np.zeros(len(taped), bool)
    free = np.flatnonzero(~taped)
    if not len(free) or not taped.any() or not len(paint):
        return found
    bare, covered = ShapeIndex(chosen(bands, free)), ShapeIndex(chosen(bands, np.flatnonzero(taped)))
    parts, origin = _cut(bare, covered, *overlapping(bare, covered))
    found[free[origin[overlapping(ShapeIndex(parts), ShapeIndex(paint))[0]]]] = True
    return found


def _ends(borders: ledger.Borders, line: Ints, t0: Floats, t1: Floats) -> tuple[Floats, Floats]:
    along, normal = borders.lines.directions[line], borders.lines.normals[line]
    base = normal * borders.lines.offsets[line, None]
    return base + along * t0[:, None], base + along * t1[:, None]


def _beyond(start: Floats, end: Floats, rims: Sequence[Rim], width_mm: float) -> tuple[Floats, ...]:
    """Lines (start and end points) drawn on where they leave a ground over its edge."""
    if not len(start):
        return start, end
    way = end - start
    way = way / np.hypot(way[:, 0], way[:, 1])[:, None]
    return tuple(
        np.where(_leaves(points, out, rims)[:, None], points + out * BEYOND * width_mm, points)
        for points, out in ((start, -way), (end, way))
    )


def _leaves(points: Floats, out: Floats, rims: Sequence[Rim]) -> Bools:
    """Which points lie on a ground's open edge with their line running on outside it."""
    found = np.zeros(len(points), bool)
    for rim in rims:
        away, after = rim.ground.away(points), rim.ground.away(points + out)
        inside = rim.ground.holds(points, SAME_POINT_MM)[:, None]
        found |= np.asarray((inside & rim.open_sides & (away < SAME_POINT_MM) & (after < away - LEAVING)).any(axis=1))
    return found


def _bands(start: Floats, end: Floats, width_mm: float) -> Floats:
    """Rectangles of a width around lines, shape (n, 4, 2)."""
    way = end - start
    way = way / np.hypot(way[:, 0], way[:, 1])[:, None]
    out = np.column_stack([-way[:, 1], way[:, 0]]) * width_mm / 2
    return np.stack([start + out, end + out, end - out, start - out], axis=1)


def _mitres(borders: ledger.Borders, which: Bools, width_mm: float) -> list[polygons.Polygon]:
    """What two bands that meet at a kink leave bare on its outer side, with a piece of both bands around it."""
    at = np.flatnonzero(which)
    start, end = _ends(borders, borders.line[at], borders.t0[at], borders.t1[at])
    arms: dict[tuple[int, int], list[tuple[float, float, float, float, float]]] = {}
    for (ax, ay), (bx, by) in zip(start.tolist(), end.tolist(), strict=True):
        length = math.hypot(bx - ax, by - ay)
        for x, y, dx, dy in ((ax, ay, bx - ax, by - ay), (bx, by, ax - bx, ay - by)):
            key = (round(x / POINT_GRID_MM + GRID_SKEW), round(y / POINT_GRID_MM + GRID_SKEW))
            arms.setdefault(key, []).append((math.atan2(dy, dx), dx / length, dy / length, x, y))
    found = []
    for meeting in arms.values():
        if len(meeting) < 2:
            continue
        meeting.sort()
        turns = [(b[0] - a[0]) % (2 * math.pi) for a, b in itertools.pairwise([*meeting, meeting[0]])]
        widest = turns.index(max(turns))
        if turns[widest] > math.pi + 1e-6:
            one, other = meeting[widest], meeting[(widest + 1) % len(meeting)]
            x, y = one[3], one[4]
            reach = width_mm
            points = [(x + one[1] * reach, y + one[2] * reach), (x, y), (x + other[1] * reach, y + other[2] * reach)]
            found.append(polygons.mitred(points, width_mm))
    return found


def _with_mitres(tape: polygons.Polygons, mitres: polygons.Polygons) -> polygons.Polygons:
    """Each mitre joined to the first tape that lies on most of it."""
    if not len(tape) or not len(mitres):
        return tape
    upper, lower = overlapping(ShapeIndex(polygons.from_polygons(mitres)), ShapeIndex(polygons.from_polygons(tape)))
    joined = tape.copy()
    seen: set[int] = set()
    for mitre, strip in zip(upper.tolist(), lower.tolist(), strict=True):
        if mitre not in seen:
            seen.add(mitre)
            joined[strip] = polygons.union(np.array([joined[strip], mitres[mitre]]))
    return joined
