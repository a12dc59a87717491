"""Polygon algebra, borrowed from shapely: clipping, cutting back, what lies on what. Only this module knows shapely."""

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt
import shapely

from dividers.core.geometry.shapes import NO_SHAPES, Bools, Floats, Ints, Point, Shapes, oriented
from dividers.core.tolerances import OVERLAY_GRID_MM, SMALLEST_CELL_MM2, TOUCHING_MM

Region = shapely.Geometry
Polygon = shapely.Polygon
Polygons = npt.NDArray[np.object_]


def region(outer: Sequence[Point], holes: Sequence[Sequence[Point]] = ()) -> Region:
    """The inside of a ring less some holes, which may cross it or each other."""
    inside = shapely.Polygon(outer)
    return shapely.difference(inside, shapely.union_all([shapely.Polygon(hole) for hole in holes])) if holes else inside


def to_polygons(shapes: Shapes) -> Polygons:
    """The shapes as an array of shapely polygons."""
    if not len(shapes):
        return np.zeros(0, object)
    following = shapes.ring_starts[1:]
    closed = np.insert(shapes.points, following, shapes.points[shapes.ring_starts[:-1]], axis=0)
    ring_starts = shapes.ring_starts + np.arange(len(shapes.ring_starts))
    return shapely.from_ragged_array(shapely.GeometryType.POLYGON, closed, (ring_starts, shapes.shape_starts))


def from_polygons(polygons: Sequence[Polygon] | Polygons) -> Shapes:
    """Shapes from shapely polygons, all of them single and not empty."""
    if not len(polygons):
        return NO_SHAPES
    _, points, (ring_starts, shape_starts) = shapely.to_ragged_array(np.asarray(polygons, object))
    keep = np.ones(len(points), bool)
    keep[ring_starts[1:] - 1] = False
    starts = ring_starts - np.arange(len(ring_starts))
    return oriented(Shapes(points[keep][:, :2], starts.astype(np.int64), shape_starts.astype(np.int64)))


def cut_to(shapes: Shapes, field: Region, whole: Bools) -> tuple[Shapes, Ints]:
    """The parts of shapes inside a region, and which shape each part came from.

    `whole` tells the shapes that are known to lie inside, which are passed on untouched. Parts below SMALLEST_CELL_MM2 are dropped.
    """
    untouched = whole
    polygons = to_polygons(shapes)
    origin = np.arange(len(shapes))
    pieces, index = shapely.get_parts(
        shapely.intersection(polygons[~untouched], field, grid_size=OVERLAY_GRID_MM), return_index=True
    )
    solid = (shapely.get_type_id(pieces) == shapely.GeometryType.POLYGON) & (shapely.area(pieces) > SMALLEST_CELL_MM2)
    parts = np.concatenate([polygons[untouched], pieces[solid]])
    origins = np.concatenate([origin[untouched], origin[~untouched][index[solid]]])
    order = np.argsort(origins, kind="stable")
    return from_polygons(parts[order]), origins[order]


def overlapping(upper: Polygons, lower: Polygons) -> tuple[Ints, Ints]:
    """Pairs (index in upper, index in lower) of polygons that share an area, not just an edge; in order.

    The upper ones are drawn in by TOUCHING_MM first, so that neighbours along an edge are told apart without cutting them.
    """
    tree = shapely.STRtree(lower)
    first, second = tree.query(shapely.buffer(upper, -TOUCHING_MM, join_style="mitre"), predicate="intersects")
    order = np.lexsort([second, first])
    return first[order], second[order]


def cut_back(polygon: Polygon, others: Sequence[Polygon]) -> list[Polygon]:
    """What is left of a polygon where the others lie on it, as single polygons."""
    rest = shapely.difference(polygon, shapely.union_all(list(others), grid_size=OVERLAY_GRID_MM), grid_size=OVERLAY_GRID_MM)
    return [part for part in shapely.get_parts(rest) if part.geom_type == "Polygon" and part.area > SMALLEST_CELL_MM2]


def covered(polygons: Polygons, cells: Polygons) -> list[Ints]:
    """For each polygon, the indices of the cells that it lies on."""
    first, second = overlapping(polygons, cells)
    return np.split(second, np.searchsorted(first, np.arange(1, len(polygons))))


def distances(start: Floats, end: Floats, others: Polygons) -> Floats:
    """Distance in mm of each segment start[i]-end[i] from polygon others[i]."""
    return shapely.distance(shapely.linestrings(np.stack([start, end], axis=1)), others)


def inner_points(shapes: Polygons) -> Floats:
    """A point well inside each polygon, shape (n, 2)."""
    return shapely.get_coordinates(shapely.point_on_surface(shapes))
