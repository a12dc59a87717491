"""Which sides of cells face the light and which lie in shadow: for a highlight and a shadow painted along them."""

from dataclasses import dataclass

import numpy as np

from dividers.core.base.tolerances import SHORTEST_STRIP_MM
from dividers.core.cells.layout import Layout
from dividers.core.geometry.shapes import Point

FACING = 0.2  # a side whose outward normal is nearer square to the light than this gets neither


@dataclass(frozen=True)
class LitSide:
    """One side of a cell: bright where it faces the light, shade where it faces away."""

    cell: int
    kind: str
    start: Point
    end: Point


def lit_sides(layout: Layout, light: Point | None = None) -> list[LitSide]:
    """All sides of a sheet's cells that light (a unit vector towards it) or shadow falls on, cell by cell; none where the pattern has no
    light and none is given; sides too short for a line of paint get none."""
    light = light or layout.tiles.light
    if not light:
        return []
    cells = layout.shape_index.shapes
    start, end = cells.points, cells.points[cells.next_point()]
    way = end - start
    length = np.maximum(np.hypot(way[:, 0], way[:, 1]), 1e-9)
    outward = np.column_stack([way[:, 1], -way[:, 0]]) / length[:, None]  # a ring's inside lies towards (-dy, dx)
    facing = outward @ np.array(light)
    owner = cells.ring_shape[cells.point_ring]
    return [
        LitSide(
            int(owner[k]),
            "bright" if facing[k] > 0 else "shade",
            (float(start[k][0]), float(start[k][1])),
            (float(end[k][0]), float(end[k][1])),
        )
        for k in np.flatnonzero((np.abs(facing) > FACING) & (length >= SHORTEST_STRIP_MM))
    ]
