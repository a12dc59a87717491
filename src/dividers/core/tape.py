"""Where every strip of masking tape goes: which line, which side, how long, how its ends are cut, what it lies on.

A need is a stretch of a line with a painted cell on one side and one to keep, or nothing, on the other. Needs that follow
each other make a strip; a strip is its stretch swept outward by the tape's actual width and cut back from painted cells.
"""

import math
from dataclasses import dataclass, replace

import numpy as np

from dividers.core.geometry import polygons
from dividers.core.geometry.ledger import NOTHING, Lines
from dividers.core.geometry.shapes import Bools, Floats, Ints, Point, Shapes, from_rings
from dividers.core.layout import Layout, corners
from dividers.core.tolerances import SAME_POINT_MM

# Tape runs on over a part that needs none when that is no longer than the strip itself, or than this: cutting and
# starting anew takes longer than the tape is worth (common practice, no source).
ALWAYS_BRIDGED_MM = 300.0


@dataclass(frozen=True)
class Runs:
    """Stretches of lines to be taped, in columns, in order of line, side and t.

    `side` is +1 where the tape lies on the line's plus side, -1 on its minus side; `perimeter` where nothing lies there.
    `stretch_run` and `stretch_cell` list which painted cells each run protects the outside of.
    """

    line: Ints
    side: Ints
    t0: Floats
    t1: Floats
    perimeter: Bools
    stretch_run: Ints
    stretch_cell: Ints

    def __len__(self) -> int:
        return len(self.line)


@dataclass(frozen=True)
class Strips:
    """Strips of tape on one panel in one pass, in columns, in the order in which to lay them.

    `ends` (n, 2) are the angles of both ends from square, in degrees; `slit_mm` the width it must be cut down to, or NaN;
    `covers` the cells that each lies on; `after` the strips, laid before, that each lies over.
    """

    lines: Lines
    line: Ints
    side: Ints
    t0: Floats
    t1: Floats
    perimeter: Bools
    shapes: Shapes
    ends: Floats
    slit_mm: Floats
    covers: tuple[Ints, ...]
    after: tuple[Ints, ...]

    def __len__(self) -> int:
        return len(self.line)

    @property
    def lengths(self) -> Floats:
        return self.t1 - self.t0

    def segment(self, strip: int) -> tuple[Point, Point]:
        """The edge that faces the paint, from start to end."""
        return self.lines.point(self.line[strip], self.t0[strip]), self.lines.point(self.line[strip], self.t1[strip])

    def side_in_words(self, strip: int) -> str:
        normal = self.lines.normals[self.line[strip]] * self.side[strip]
        if abs(normal[1]) >= abs(normal[0]):
            return "below the line" if normal[1] > 0 else "above the line"
        return "right of the line" if normal[0] > 0 else "left of the line"


def find_runs(layout: Layout, painted: Bools, kept: Bools) -> Runs:
    """The runs that a pass needs: along every border between a painted cell and a kept one, or nothing."""
    borders = layout.borders
    paint, keep = np.append(painted, False), np.append(kept, True)  # index -1, NOTHING: never painted, always kept
    found = []
    for number, near, far in ((1, borders.minus, borders.plus), (-1, borders.plus, borders.minus)):
        at = np.flatnonzero(paint[near] & keep[far])
        ways = np.full(len(at), number)
        found.append((borders.line[at], ways, borders.t0[at], borders.t1[at], far[at] == NOTHING, near[at]))
    line, side, t0, t1, perimeter, cell = (np.concatenate(column) for column in zip(*found, strict=True))
    order = np.lexsort([t0, perimeter, side, line])
    line, side, t0, t1, perimeter, cell = (c[order] for c in (line, side, t0, t1, perimeter, cell))
    if not len(line):
        return Runs(line, side, t0, t1, perimeter, line, cell)
    starts = np.concatenate([[True], ~_follow(line, side, perimeter) | (t0[1:] - t1[:-1] > SAME_POINT_MM)])
    ends = np.concatenate([starts[1:], [True]])
    return Runs(line[starts], side[starts], t0[starts], t1[ends], perimeter[starts], np.cumsum(starts) - 1, cell)


def _follow(line: Ints, side: Ints, perimeter: Bools) -> Bools:
    """Whether each entry and the next lie on the same side of the same line, over the same sort of ground."""
    same: Bools = (np.diff(line) == 0) & (np.diff(side) == 0) & (perimeter[1:] == perimeter[:-1])
    return same


def gaps_between(runs: Runs) -> Ints:
    """The runs whose next one lies on the same line and side, near enough to run the tape on."""
    if len(runs) < 2:
        return np.zeros(0, np.int64)
    length = runs.t1 - runs.t0
    gap = runs.t0[1:] - runs.t1[:-1]
    near = gap <= np.maximum(np.maximum(length[1:], length[:-1]) * 1.01, ALWAYS_BRIDGED_MM)
    return np.flatnonzero(_follow(runs.line, runs.side, runs.perimeter) & near)


def footprints(lines: Lines, line: Ints, side: Ints, t0: Floats, t1: Floats, width_mm: float) -> Floats:
    """What tape of that width lies on, beside stretches of lines: rings (n, 4, 2), the first two corners on the line."""
    along, normal = lines.directions[line], lines.normals[line]
    base = normal * lines.offsets[line, None]
    near = [base + along * t[:, None] for t in (t0, t1)]
    out = normal * (side * width_mm)[:, None]
    return np.stack([near[0], near[1], near[1] + out, near[0] + out], axis=1)


def bridged(layout: Layout, runs: Runs, painted: polygons.Polygons, width_mm: float) -> Runs:
    """Join runs where tape can run on between them: no painted cell under it, and a surface to stick to."""
    after = gaps_between(runs)
    if not len(after):
        return runs
    rings = footprints(layout.borders.lines, runs.line[after], runs.side[after], runs.t1[after], runs.t0[after + 1], width_mm)
    ground = polygons.to_polygons(from_rings(rings))
    free = np.ones(len(after), bool)
    if len(painted):
        free[polygons.overlapping(ground, painted)[0]] = False
    holes = from_rings(np.array([corners(o.box) for o in layout.panel.openings])) if layout.panel.openings else None
    if holes:
        over = polygons.overlapping(ground, polygons.to_polygons(holes))[0]
        free[over] &= runs.perimeter[after[over]]
    joins = np.zeros(len(runs), bool)
    joins[after[free] + 1] = True
    starts = ~joins
    ends = np.append(starts[1:], True)
    number = np.cumsum(starts) - 1
    return replace(
        runs,
        line=runs.line[starts],
        side=runs.side[starts],
        t0=runs.t0[starts],
        t1=runs.t1[ends],
        perimeter=runs.perimeter[starts],
        stretch_run=number[runs.stretch_run],
    )


def lay_strips(layout: Layout, painted: Bools, kept: Bools, width_mm: float, join: bool = True) -> Strips:
    """The strips for one pass: `painted` cells are painted in it, `kept` ones must stay as they are, the rest may be run over."""
    cells = layout.polygons
    wet = cells[painted]
    runs = find_runs(layout, painted, kept)
    if join:
        runs = bridged(layout, runs, wet, width_mm)
    lines = layout.borders.lines
    ground = polygons.to_polygons(from_rings(footprints(lines, runs.line, runs.side, runs.t0, runs.t1, width_mm)))
    parts = _cut_back(ground, wet)
    strips = _from_parts(lines, runs, parts, width_mm)
    laid = polygons.to_polygons(strips.shapes)
    lower, upper = polygons.overlapping(laid, laid)
    on_top = lower > upper
    lies_over = np.split(upper[on_top], np.searchsorted(lower[on_top], np.arange(1, len(laid)))) if len(laid) else []
    return replace(strips, covers=tuple(polygons.covered(laid, cells)) if len(laid) else (), after=tuple(lies_over))


def _cut_back(ground: polygons.Polygons, wet: polygons.Polygons) -> list[list[polygons.Polygon]]:
    """Each strip's ground where no painted cell lies, as one or more parts."""
    parts: list[list[polygons.Polygon]] = [[polygon] for polygon in ground]
    if not len(wet):
        return parts
    strip, cell = polygons.overlapping(ground, wet)
    for index in np.unique(strip):
        parts[index] = polygons.cut_back(ground[index], list(wet[cell[strip == index]]))
    return parts


def _from_parts(lines: Lines, runs: Runs, parts: list[list[polygons.Polygon]], width_mm: float) -> Strips:
    """Columns from each run's parts; parts that don't reach the line (beyond a painted cell) are dropped."""
    rows: list[tuple[int, polygons.Polygon, tuple[float, float], tuple[float, float], float]] = []
    for run, pieces in enumerate(parts):
        whole = len(pieces) == 1 and len(pieces[0].exterior.coords) == 5
        for piece in pieces:
            if whole and math.isclose(piece.area, (runs.t1[run] - runs.t0[run]) * width_mm, rel_tol=1e-9):
                rows.append((run, piece, (runs.t0[run], runs.t1[run]), (0.0, 0.0), math.nan))
            elif reach := _reach(lines, int(runs.line[run]), piece, width_mm):
                rows.append((run, piece, *reach))
    order = _laying_order(lines, runs, np.array([row[0] for row in rows], np.int64), np.array([row[2][0] for row in rows]))
    rows = [rows[index] for index in order]
    at = np.array([row[0] for row in rows], np.int64)
    pair = np.array([row[2] for row in rows]).reshape(-1, 2)
    return Strips(
        lines=lines,
        line=runs.line[at],
        side=runs.side[at],
        t0=pair[:, 0],
        t1=pair[:, 1],
        perimeter=runs.perimeter[at],
        shapes=polygons.from_polygons([row[1] for row in rows]),
        ends=np.array([row[3] for row in rows]).reshape(-1, 2),
        slit_mm=np.array([row[4] for row in rows]),
        covers=(),
        after=(),
    )


def _laying_order(lines: Lines, runs: Runs, run: Ints, t0: Floats) -> Ints:
    """The order to lay strips in: outer edges first, then direction by direction from the left and the top."""
    line = runs.line[run]
    place = lines.offsets[line] * np.where(lines.normals[line].sum(axis=1) > 0, 1, -1)
    angle = np.arctan2(lines.directions[line, 0], lines.directions[line, 1])
    return np.lexsort([t0, -runs.side[run], place, angle, ~runs.perimeter[run]])


def _reach(
    lines: Lines, line: int, piece: polygons.Polygon, width_mm: float
) -> tuple[tuple[float, float], tuple[float, float], float] | None:
    """A cut strip's stretch on its line, the angles of its ends and, where it is narrower than the tape, its width."""
    points = np.array(piece.exterior.coords[:-1])
    along = points @ lines.directions[line]
    away = np.abs(points @ lines.normals[line] - lines.offsets[line])
    on_line = np.flatnonzero(away < SAME_POINT_MM)
    if len(on_line) < 2 or np.ptp(along[on_line]) < SAME_POINT_MM:
        return None
    first, last = (on_line[pick(along[on_line])] for pick in (np.argmin, np.argmax))
    ends = tuple(_end_angle(along, away, int(corner), inward) for corner, inward in ((first, 1), (last, -1)))
    slit = math.nan if away.max() > width_mm - SAME_POINT_MM else float(away.max())
    return (float(along[first]), float(along[last])), (ends[0], ends[1]), slit


def _end_angle(along: Floats, away: Floats, corner: int, inward: int) -> float:
    """How far the end that leaves the line at a corner leans inward from square, in degrees."""
    count = len(along)
    leaving = max(((corner - 1) % count, (corner + 1) % count), key=lambda neighbour: away[neighbour])
    return math.degrees(math.atan2(inward * (along[leaving] - along[corner]), away[leaving]))
