"""Where tape is needed: which line, which side, from where to where.

A need is a stretch of a line with a painted cell on one side and one to keep, or nothing, on the other. Needs that follow
each other make a run; where tape can run on between runs, they are joined.
"""

from dataclasses import dataclass, replace

import numpy as np

from dividers.core.base.tolerances import BIT_MM, SAME_POINT_MM, SHORTEST_LINE_MM, SHORTEST_PART_MM, SHORTEST_STRIP_MM
from dividers.core.cells.layout import Layout, off_surface
from dividers.core.geometry.ledger import NOTHING, Lines
from dividers.core.geometry.overlaps import ShapeIndex, overlapping
from dividers.core.geometry.shapes import Bools, Floats, Ints, from_rings
from dividers.core.tape.outer_edges import kinds_along

# Tape runs on over a part that needs none when that is no longer than the strip itself, or than this: cutting and
# starting again takes longer than the tape is worth (common practice, no source).
ALWAYS_BRIDGED_MM = 300.0

# Two lines as far apart as the tape is wide, give or take this, are served by one strip that lies between them.
TWIN_MM = 0.05


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


def find_runs(layout: Layout, painted: Bools, kept: Bools) -> Runs:
    """The runs that a pass needs: along every border between a painted cell and a kept one, or nothing."""
    borders = layout.borders
    paint, keep = np.append(painted, False), np.append(kept, True)  # index -1, NOTHING: never painted, always kept
    paint_meets = _layable(layout)
    found = []
    for number, near, far in ((1, borders.minus, borders.plus), (-1, borders.plus, borders.minus)):
        at = np.flatnonzero(paint[near] & keep[far] & paint_meets)
        ways = np.full(len(at), number)
        found.append((borders.line[at], ways, borders.t0[at], borders.t1[at], far[at] == NOTHING, near[at]))
    line, side, t0, t1, perimeter, cell = (np.concatenate(column) for column in zip(*found, strict=True))
    order = np.lexsort([t0, perimeter, side, line])
    line, side, t0, t1, perimeter, cell = (c[order] for c in (line, side, t0, t1, perimeter, cell))
    if not len(line):
        return Runs(line, side, t0, t1, perimeter, line, cell)
    taped = ~perimeter | (kinds_along(layout, line, cell) == 0)
    line, side, t0, t1, perimeter, cell = (c[taped] for c in (line, side, t0, t1, perimeter, cell))
    if not len(line):
        return Runs(line, side, t0, t1, perimeter, line, cell)
    starts = np.concatenate([[True], ~_follow(line, side, perimeter) | (t0[1:] - t1[:-1] > SAME_POINT_MM)])
    ends = np.concatenate([starts[1:], [True]])
    run = np.cumsum(starts) - 1
    long = t1[ends] - t0[starts] >= SHORTEST_LINE_MM
    if not long.all():
        kept = long[run]
        line, side, t0, t1, perimeter, cell, starts, ends, run = (
            c[kept] for c in (line, side, t0, t1, perimeter, cell, starts, ends, (np.cumsum(long) - 1)[run])
        )
    return Runs(line[starts], side[starts], t0[starts], t1[ends], perimeter[starts], run, cell)


def _layable(layout: Layout) -> Bools:
    """The borders that tape can be laid along: all but short stretches of a fold where parts meet that shouldn't."""
    borders = layout.borders
    if not any(placed.turned for placed in layout.sheet.placed):
        return np.ones(len(borders), bool)
    both = (borders.plus != NOTHING) & (borders.minus != NOTHING)
    over_fold = both & (layout.panels[borders.plus] != layout.panels[borders.minus])
    result: Bools = ~over_fold | (borders.lengths >= SHORTEST_PART_MM)
    return result


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


def bridged(layout: Layout, runs: Runs, painted: Bools, width_mm: float) -> Runs:
    """Join runs where tape can run on between them: no painted cell under it, and a surface to stick to."""
    after = gaps_between(runs)
    if not len(after):
        return runs
    ground = gap_grounds(layout.borders.lines, runs, after, width_mm)
    free = np.ones(len(after), bool)
    gap, cell = overlapping(ground, layout.shape_index)
    free[gap[painted[cell]]] = False
    nowhere = off_surface(layout.sheet)
    if len(nowhere):
        over = overlapping(ground, ShapeIndex(nowhere))[0]
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


def gap_grounds(lines: Lines, runs: Runs, after: Ints, width_mm: float) -> ShapeIndex:
    """What tape lies on that runs on from each of some runs to the next."""
    rings = footprints(lines, runs.line[after], runs.side[after], runs.t1[after], runs.t0[after + 1], width_mm)
    return ShapeIndex(from_rings(rings))


def merged_twins(layout: Layout, runs: Runs, painted: Bools, width_mm: float) -> tuple[Ints, Bools, Runs]:
    """The runs to lay: of those that would cover the same band from both sides one, as long as all of them; which of them serve two lines; and
    all runs, those to lay made that long, and long enough for a hand."""
    lines = layout.borders.lines
    along = lines.directions[runs.line]
    near = lines.offsets[runs.line] - np.where(runs.side > 0, 0.0, width_mm)
    angle = np.arctan2(along[:, 1], along[:, 0]) * 1000
    band = np.zeros(len(runs), np.int64)
    for column in (angle, near):  # alike within TWIN_MM
        order = np.lexsort([column, band])
        new = (np.diff(column[order]) > TWIN_MM) | (np.diff(band[order]) > 0)
        band[order] = np.concatenate([[0], np.cumsum(new)])
    order = np.lexsort([runs.t0, band])
    first, reach, here = np.arange(len(runs)), -np.inf, -1
    head = 0
    for run in order.tolist():
        if band[run] == here and runs.t0[run] < reach - SAME_POINT_MM:
            first[run], reach = head, max(reach, float(runs.t1[run]))
        else:
            head, here, reach = run, int(band[run]), float(runs.t1[run])
    many = np.bincount(first, minlength=len(runs))
    low, high = runs.t0.copy(), runs.t1.copy()
    np.minimum.at(low, first, runs.t0)
    np.maximum.at(high, first, runs.t1)
    wider = np.flatnonzero((many > 1) & ((low < runs.t0 - SAME_POINT_MM) | (high > runs.t1 + SAME_POINT_MM)))
    if len(wider):  # a longer one must not lie on paint: else each keeps its own
        rings = footprints(lines, runs.line[wider], runs.side[wider], low[wider], high[wider], width_mm)
        strip, cell = overlapping(ShapeIndex(from_rings(rings)), layout.shape_index)
        on_paint = wider[np.unique(strip[painted[cell]])]
        alone = np.isin(first, on_paint)
        first[alone] = np.flatnonzero(alone)
        low[on_paint], high[on_paint] = runs.t0[on_paint], runs.t1[on_paint]
        many = np.bincount(first, minlength=len(runs))
    short = np.maximum(BIT_MM - (high - low), 0) / 2 * (high - low < SHORTEST_STRIP_MM)
    return np.flatnonzero(many), many[many > 0] > 1, replace(runs, t0=low - short, t1=high + short)
