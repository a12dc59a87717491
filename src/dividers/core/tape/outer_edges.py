"""The panel's own edges: which are taped, which are cut in by brush, which are free, and round which the paint goes."""

from dataclasses import dataclass

import numpy as np

from dividers.core.base.tolerances import SAME_POINT_MM
from dividers.core.cells.layout import Layout
from dividers.core.geometry.ledger import NOTHING
from dividers.core.geometry.shapes import Bools, Floats, Ints
from dividers.core.job.surface import CUT_IN, EDGE_KINDS, SIDES, TAPE, WRAP, Panel
from dividers.core.marks.mark_places import margins_of


@dataclass(frozen=True)
class HandEdge:
    """Paint along an edge that has no tape: on which panel and side, of which cell, how long, and how far it goes round."""

    kind: str
    panel: str
    side: str
    cell: int
    length_mm: float
    depth_mm: float


def _kind_of(panel: Panel, number: int) -> str:
    """How a side is done: where a margin lies before it the field ends inside, and is taped."""
    return TAPE if number in margins_of(panel) else panel.edges[number]


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
        for side, name in enumerate(SIDES):
            kind = _kind_of(placed.panel, side)
            if kind != TAPE:
                ends: Floats = placed.to_sheet(np.array(placed.panel.field_quad.side(side)))
                on: Bools = np.asarray((np.abs(lines.normals @ ends.T - lines.offsets[:, None]) < SAME_POINT_MM).all(axis=1))
                found.append((number, (name, kind, on)))
    return found


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
