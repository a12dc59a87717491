"""Parts thinner than a pencil line, which nobody can tape or paint: each becomes a corner of the part beside it."""

from dataclasses import replace

import numpy as np

from dividers.core.base.tolerances import SAME_POINT_MM, THINNEST_MM
from dividers.core.cells.layout import Layout
from dividers.core.geometry import ledger, polygons
from dividers.core.geometry.shapes import Ints, chosen, joined
from dividers.core.patterns.base.parameters import Note

SAID = Note("crumbs", "Corners thinner than a pencil line are left to the part beside them.", fact=True)


def without_thin(layout: Layout) -> Layout:
    """The same with every part thinner than THINNEST_MM joined to the part that it has the longest border with."""
    if layout.plain:
        layout = replace(layout, plain=without_thin(layout.plain))
    thin = _thin(layout)
    if not len(thin):
        return layout
    shapes = polygons.to_polygons(layout.cells)
    into = _neighbours(layout, thin)
    into |= _touching(layout, [cell for cell in thin.tolist() if cell not in into], thin, shapes)
    if not into:
        return layout
    grown: dict[int, polygons.Polygon] = {}
    for to in sorted(set(into.values())):
        own = [shapes[cell] for cell in thin.tolist() if into.get(cell) == to]
        whole = polygons.one_of([shapes[to], *own])
        if whole is not None:
            grown[to] = whole
    gone = np.array(sorted(cell for cell, to in into.items() if to in grown), np.int64)
    if not len(gone):
        return layout
    kept = np.setdiff1d(np.arange(len(layout.cells)), gone)
    changed = np.array(sorted(grown), np.int64)
    same = np.setdiff1d(kept, changed)
    every = joined([chosen(layout.cells, same), polygons.from_polygons([grown[to] for to in changed.tolist()])])
    cells = chosen(every, np.argsort(np.concatenate([same, changed]), kind="stable"))
    notes = tuple(dict.fromkeys([*layout.tiles.notes, SAID]))
    return replace(layout.picked(cells, kept), tiles=replace(layout.tiles, notes=notes))


def _thin(layout: Layout) -> Ints:
    """The cells that nothing THINNEST_MM wide fits into: twice the area over the perimeter is at least the radius of what fits."""
    radius = THINNEST_MM / 2
    half = layout.cells.areas() / np.maximum(layout.cells.perimeters(), 1e-9)
    maybe = np.flatnonzero((half < radius) & ~layout.reserved)
    if not len(maybe):
        return maybe
    shapes = polygons.to_polygons(chosen(layout.cells, maybe))
    return maybe[[polygons.is_thin(shape, radius) for shape in shapes]]


def _neighbours(layout: Layout, thin: Ints) -> dict[int, int]:
    """For each thin cell the one on its panel that it has the longest border with; of a chain of thin ones all go where the first does."""
    borders = layout.borders
    is_thin = np.zeros(len(layout.cells), bool)
    is_thin[thin] = True
    into: dict[int, int] = {}
    chained: dict[int, list[int]] = {}
    for cell in thin.tolist():
        at = np.flatnonzero((borders.plus == cell) | (borders.minus == cell))
        other = np.where(borders.plus[at] == cell, borders.minus[at], borders.plus[at])
        near = (other != ledger.NOTHING) & (layout.panels[other] == layout.panels[cell])
        broad = near & ~is_thin[other]
        if broad.any():
            shared = np.bincount(other[broad], borders.lengths[at[broad]])
            into[cell] = int(shared.argmax())
        else:
            chained[cell] = other[near].tolist()
    while found := {cell: into[on] for cell, beside in chained.items() if cell not in into for on in beside if on in into}:
        into |= found
    return into


def _touching(layout: Layout, lone: list[int], thin: Ints, shapes: polygons.Polygons) -> dict[int, int]:
    """For thin cells whose border is too short to be one: the first cell on their panel that they make one part with."""
    into = {}
    broad = np.ones(len(layout.cells), bool)
    broad[thin] = False
    boxes = layout.cells.bounds()
    low, high = boxes[:, :2] - SAME_POINT_MM, boxes[:, 2:] + SAME_POINT_MM
    for cell in lone:
        meet = ((low <= high[cell]) & (high >= low[cell])).all(axis=1)
        beside = np.flatnonzero(broad & meet & (layout.panels == layout.panels[cell]))
        touched = (other for other in beside.tolist() if polygons.one_of([shapes[other], shapes[cell]]) is not None)
        first = next(touched, None)
        if first is not None:
            into[cell] = first
    return into
