"""The strips of a round: each stretch swept outward by the tape's actual width, cut back from painted cells, split at folds."""

from dataclasses import replace

import numpy as np

from dividers.core.base.tolerances import SHORTEST_PART_MM
from dividers.core.cells import reserved_lines
from dividers.core.cells.layout import Layout, region_of, surface_of
from dividers.core.geometry import polygons
from dividers.core.geometry.ledger import Lines
from dividers.core.geometry.overlaps import ShapeIndex, overlapping
from dividers.core.geometry.shapes import Bools, Floats, Ints, Shapes, chosen, from_rings, joined
from dividers.core.tape.line_reach import reaches
from dividers.core.tape.outer_edges import round_the_edges
from dividers.core.tape.over_folds import apart
from dividers.core.tape.same_band import one_each_band
from dividers.core.tape.stretches import Runs, footprints, merged_twins
from dividers.core.tape.strips import Beneath, Strips, joined_strips, without_short


def lay_strips(
    layout: Layout, runs: Runs, painted: Bools, width_mm: float, reserving: bool = False, turns: Ints | None = None
) -> Strips:
    """The strips for one round: along the runs that it needs, and with `reserving` along the reserved lines too.

    Where `turns` (a turn for each cell) are given, the tape of cells pulled first is laid last.
    """
    lines = layout.borders.lines
    keep, twin, runs = (
        merged_twins(layout, runs, painted, width_mm) if len(runs) else (np.zeros(0, np.int64), np.zeros(0, bool), runs)
    )
    rings = footprints(lines, runs.line[keep], runs.side[keep], runs.t0[keep], runs.t1[keep], width_mm)
    ground = ShapeIndex(from_rings(rings))
    strip, cell = overlapping(ground, layout.shape_index)
    wet = painted[cell]
    touched = strip[wet]
    parts = polygons.cut_back(ground.polygons, touched, layout.polygons[cell[wet]]) if len(touched) else {}
    beneath = Beneath(layout.shape_index, (strip, cell), np.zeros(0, np.int64))
    first = np.searchsorted(runs.stretch_run, np.arange(len(runs)))
    laid_first = -turns[runs.stretch_cell[first]] if turns is not None and len(runs) else np.zeros(len(runs), np.int64)
    strips = _from_parts(layout, runs, keep, twin, ground.shapes, parts, width_mm, beneath, laid_first)
    if reserving:
        strips = joined_strips(_reserving(layout, beneath), strips)
    strips = one_each_band(strips, layout, width_mm)
    if layout.sheet.creases:
        strips = apart(layout, strips, layout.polygons[painted[: len(layout.polygons)]], width_mm)
    strips = without_short(strips)
    return replace(strips, round_mm=round_the_edges(layout, strips.start, strips.end, strips.panel))


def _from_parts(
    layout: Layout,
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
    lines = layout.borders.lines
    numbers = np.array([number for number, pieces in parts.items() for _ in pieces], np.int64)
    pieces = polygons.listed([piece for own in parts.values() for piece in own])
    line = runs.line[keep[numbers]]
    inside = polygons.hulls_within(pieces, surface_of(layout.sheet))
    cut = reaches(lines.directions[line], lines.normals[line], lines.offsets[line], pieces, inside, width_mm)
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
