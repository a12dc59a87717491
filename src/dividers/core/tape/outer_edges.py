"""The panel's own edges: which are taped, which are cut in by brush, which are free, and round which the paint goes."""

import itertools
from dataclasses import dataclass

import numpy as np

from dividers.core.base.tolerances import SAME_POINT_MM
from dividers.core.cells.layout import Layout
from dividers.core.geometry import polygons
from dividers.core.geometry.contours import side_of
from dividers.core.geometry.ledger import NOTHING
from dividers.core.geometry.shapes import Bools, Floats, Ints, Point
from dividers.core.job.surface import CUT_IN, EDGE_KINDS, SIDES, TAPE, WRAP, Panel
from dividers.core.marks.mark_places import margins_of

LEAST_STEEP = 0.2  # tape nearer to along an edge ends at it


@dataclass(frozen=True)
class HandEdge:
    """Paint along an edge that has no tape: on which panel and side, of which cell, how long, and how far it goes round."""

    kind: str
    panel: str
    side: str
    cell: int
    length_mm: float
    depth_mm: float


def _kinds_of(panel: Panel) -> tuple[str, ...]:
    """How each side is done: where a margin lies before it the field ends inside, and is taped."""
    if all(kind == TAPE for kind in panel.edges):
        return tuple(panel.edges)
    inside = margins_given(panel) if panel.contour else margins_of(panel)
    return tuple(TAPE if number in inside else kind for number, kind in enumerate(panel.edges))


def margins_given(panel: Panel) -> list[int]:
    """The sides of an outline inside which the field begins."""
    assert panel.contour
    outline = polygons.ring(panel.contour.outline)
    return [
        side
        for side in range(len(SIDES))
        if any(outline.exterior.distance(polygons.point(_middle(*pair))) > SAME_POINT_MM for pair in _stretches(panel, side))
    ]


def _middle(start: Point, end: Point) -> Point:
    return (start[0] + end[0]) / 2, (start[1] + end[1]) / 2


def kinds_along(layout: Layout, line: Ints, cell: Ints) -> Ints:
    """For borders with nothing beyond, by their supporting line and the cell that they bound: the number of EDGE_KINDS that they are."""
    found = np.zeros(len(line), np.int64)
    for panel, (_, kind, on) in _sides(layout):
        found[on[line] & (layout.panels[cell] == panel)] = EDGE_KINDS.index(kind)
    return found


def _sides(layout: Layout) -> list[tuple[int, tuple[str, str, Bools]]]:
    """The sides of panels that aren't taped: (panel, (side, kind, which supporting lines lie on it))."""
    lines = layout.borders.lines
    found = []
    for number, placed in enumerate(layout.sheet.placed):
        kinds = _kinds_of(placed.panel)
        for side, name in enumerate(SIDES):
            kind = kinds[side]
            if kind == TAPE:
                continue
            on = np.zeros(len(lines.offsets), bool)
            for stretch in _stretches(placed.panel, side):
                ends: Floats = placed.to_sheet(np.array(stretch))
                on |= np.asarray((np.abs(lines.normals @ ends.T - lines.offsets[:, None]) < SAME_POINT_MM).all(axis=1))
            found.append((number, (name, kind, on)))
    return found


def _stretches(panel: Panel, side: int) -> list[tuple[Point, Point]]:
    """What of a field's edge belongs to a side: of an outline, all that faces that way."""
    if not panel.contour:
        return [panel.field_quad.side(side)]
    ring = panel.contour.field
    return [pair for pair in itertools.pairwise([*ring, ring[0]]) if side_of(*pair) == side]


def wrapped_mm2(layout: Layout) -> Floats:
    """How much paint goes round edges from each cell, shape (cells,), in mm²."""
    found = np.zeros(len(layout.cells))
    for edge in hand_edges(layout, np.ones(len(layout.cells), bool)):
        found[edge.cell] += edge.length_mm * edge.depth_mm
    return found


def round_the_edges(layout: Layout, start: Floats, end: Floats, on_panel: Ints) -> Floats:
    """How much further tape from `start` to `end` (n, 2) goes on round edges that the paint goes round, at both ends together, in mm.

    What crosses an edge at a slant goes on at that slant, as far as the paint does.
    """
    way = end - start
    length = np.hypot(way[:, 0], way[:, 1])
    more = np.zeros(len(start))
    for number, placed in enumerate(layout.sheet.placed):
        depth = float(placed.panel.wrap_depth_mm)
        sides = [side for side in range(len(SIDES)) if depth and _kinds_of(placed.panel)[side] == WRAP]
        for stretch in (stretch for side in sides for stretch in _stretches(placed.panel, side)):
            one, other = placed.to_sheet(np.array(stretch, float))
            along = (other - one) / np.hypot(*(other - one))
            across = np.array([-along[1], along[0]])
            steep = np.abs(way @ across) / np.maximum(length, SAME_POINT_MM)
            for tip in (start - one, end - one):
                on = (on_panel == number) & (np.abs(tip @ across) < SAME_POINT_MM) & (steep > LEAST_STEEP)
                on &= (tip @ along > -SAME_POINT_MM) & (tip @ along < (other - one) @ along + SAME_POINT_MM)
                more += np.where(on, depth / np.maximum(steep, LEAST_STEEP), 0.0)
    return more


def hand_edges(layout: Layout, painted: Bools) -> list[HandEdge]:
    """Where paint meets edges that are cut in or painted round, cell by cell."""
    sides = _sides(layout)
    if not sides:
        return []
    borders = layout.borders
    found = []
    for near, far in ((borders.minus, borders.plus), (borders.plus, borders.minus)):
        outer = np.flatnonzero((far == NOTHING) & (near != NOTHING) & np.append(painted, False)[near])
        for panel, (name, kind, on) in sides:
            if kind not in (CUT_IN, WRAP):
                continue
            at = outer[on[borders.line[outer]] & (layout.panels[near[outer]] == panel)]
            own = layout.sheet.placed[panel].panel
            depth = float(own.wrap_depth_mm) if kind == WRAP else 0.0
            for each in at.tolist():
                found.append(HandEdge(kind, own.name, name, int(near[each]), float(borders.t1[each] - borders.t0[each]), depth))
    return found
