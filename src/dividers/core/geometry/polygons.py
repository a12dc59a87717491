"""Polygon algebra, borrowed from shapely: clipping, cutting back, what lies on what. Only this module knows shapely."""

from collections.abc import Callable, Sequence

import numpy as np
import numpy.typing as npt
import shapely

from dividers.core.base.tolerances import OVERLAY_GRID_MM, SAME_POINT_MM, SMALLEST_CELL_MM2, TOUCHING_MM
from dividers.core.geometry.shapes import NO_SHAPES, Bools, Floats, Ints, Point, Shapes, oriented

Region = shapely.Geometry
Polygon = shapely.Polygon
Polygons = npt.NDArray[np.object_]
MANY_GROUNDS = 12
MOST_TURNS = 8  # grounds with more on them are cut by the union of the rest


def ring(points: Sequence[Point]) -> Polygon:
    """The inside of one ring."""
    return shapely.Polygon(points)


def point(at: Point) -> shapely.Point:
    return shapely.Point(at)


def holds(points: Sequence[Point], at: Point) -> bool:
    """Whether a place lies inside a ring."""
    return bool(shapely.Polygon(points).contains(shapely.Point(at)))


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

    `whole` marks the shapes that are known to lie inside, which are passed on untouched. Parts below SMALLEST_CELL_MM2 are dropped.
    """
    polygons = to_polygons(shapes)
    origin = np.arange(len(shapes))
    pieces, index = clipped(polygons[~whole], field)
    parts = np.concatenate([polygons[whole], pieces])
    origins = np.concatenate([origin[whole], origin[~whole][index]])
    order = np.argsort(origins, kind="stable")
    return from_polygons(parts[order]), origins[order]


Tree = shapely.STRtree


def with_junctions(shapes: Shapes) -> Shapes:
    """The same shapes with a corner wherever a corner of a neighbour lies on an edge, so that neighbours share all their corners."""
    start, end = shapes.points, shapes.points[shapes.next_point()]
    corners = np.unique(np.round(start / SAME_POINT_MM), axis=0, return_index=True)[1]
    places = start[corners]
    tree = shapely.STRtree(np.asarray(shapely.points(places), object))
    edge, corner = tree.query(shapely.linestrings(np.stack([start, end], axis=1)), predicate="dwithin", distance=SAME_POINT_MM)
    here = places[corner]
    inside = (np.abs(here - start[edge]).max(axis=1) > 2 * SAME_POINT_MM) & (
        np.abs(here - end[edge]).max(axis=1) > 2 * SAME_POINT_MM
    )
    edge, here = edge[inside], here[inside]
    order = np.lexsort([((here - start[edge]) ** 2).sum(axis=1), edge])
    edge, here = edge[order], here[order]
    more = np.bincount(shapes.point_ring[edge], minlength=len(shapes.ring_starts) - 1)
    points = np.insert(shapes.points, edge + 1, here, axis=0)
    starts = shapes.ring_starts + np.concatenate([[0], np.cumsum(more)]).astype(np.int64)
    return Shapes(points, starts, shapes.shape_starts)


def listed(pieces: Sequence[Polygon]) -> Polygons:
    """Polygons as an array, however many."""
    found: Polygons = np.empty(len(pieces), object)
    found[:] = pieces
    return found


def outer_corners(pieces: Polygons) -> tuple[Floats, Ints]:
    """The corners of each polygon's outer ring (n, 2), each once, and which polygon each belongs to."""
    points, piece = shapely.get_coordinates(shapely.get_exterior_ring(pieces), return_index=True)
    last = np.append(piece[1:] != piece[:-1], True)  # a ring repeats its first point
    return points[~last], piece[~last]


def tree_of(bounds: Floats) -> Tree:
    """A search tree over bounding boxes (left, top, right, bottom)."""
    return shapely.STRtree(np.atleast_1d(np.asarray(_diagonals(bounds), object)))


def boxes_meeting(tree: Tree, bounds: Floats) -> tuple[Ints, Ints]:
    """Pairs (index in bounds, index in the tree) of bounding boxes that meet."""
    first, second = tree.query(_diagonals(bounds))
    return first, second


def _diagonals(bounds: Floats) -> Polygons:
    """Lines that have these boxes: a tree asks for boxes alone, and lines are made in a fraction of the time that rectangles take."""
    found: Polygons = np.asarray(shapely.linestrings(bounds.reshape(-1, 2, 2)), object)
    return found


def share_area(upper: Polygons, lower: Polygons) -> Bools:
    """Whether each pair of polygons shares an area. The upper ones are drawn in by TOUCHING_MM, so that touching isn't counted."""
    result: Bools = shapely.intersects(shapely.buffer(upper, -TOUCHING_MM, join_style="mitre"), lower)
    return result


def _polygonal(shapes: Polygons) -> Polygons:
    """Shapes without the lines and points that overlays may leave beside polygons: no overlay takes such mixtures."""
    for number in np.flatnonzero(shapely.get_type_id(shapes) == shapely.GeometryType.GEOMETRYCOLLECTION):
        parts = shapely.get_parts(shapes[number])
        shapes[number] = shapely.multipolygons(parts[shapely.get_type_id(parts) == shapely.GeometryType.POLYGON])
    return shapes


def cut_back(ground: Polygons, index: Ints, others: Polygons) -> dict[int, list[Polygon]]:
    """What is left, as single polygons, of each ground that others lie on: others[k] lies on ground[index[k]], in order."""
    touched = np.unique(index)
    turn = np.arange(len(index)) - np.searchsorted(index, index)  # the how-manieth of its ground each one is
    rest = dict(zip(touched.tolist(), ground[touched], strict=True))
    for number in range(min(int(turn.max(initial=-1)) + 1, MOST_TURNS)):
        now = turn == number
        before = solid([rest[k] for k in index[now].tolist()])
        after = _polygonal(shapely.difference(before, others[now], grid_size=OVERLAY_GRID_MM))
        rest |= zip(index[now].tolist(), after, strict=True)
    for k in np.unique(index[turn >= MOST_TURNS]).tolist():
        many = shapely.union_all(others[(index == k) & (turn >= MOST_TURNS)], grid_size=OVERLAY_GRID_MM)
        rest[k] = shapely.difference(rest[k], many, grid_size=OVERLAY_GRID_MM)
    return {
        k: [part for part in shapely.get_parts(left) if part.geom_type == "Polygon" and part.area > SMALLEST_CELL_MM2]
        for k, left in rest.items()
    }


def distances(start: Floats, end: Floats, others: Polygons) -> Floats:
    """Distance in mm of each segment start[i]-end[i] from polygon others[i]."""
    return shapely.distance(shapely.linestrings(np.stack([start, end], axis=1)), others)


def inner_points(shapes: Polygons) -> Floats:
    """A point well inside each polygon, shape (n, 2)."""
    return shapely.get_coordinates(shapely.point_on_surface(shapes))


def union(parts: Polygons) -> Region:
    """All parts as one region."""
    return shapely.union_all(parts, grid_size=OVERLAY_GRID_MM)


def solid(parts: Sequence[Region]) -> Polygons:
    """Polygons or regions as an array."""
    array = np.empty(len(parts), object)
    array[:] = parts
    return array


def common_to(one: Polygons, other: Polygons) -> Polygons:
    """What each polygon and its partner both cover; empty where they don't meet."""
    return shapely.intersection(one, other)


def hulls_within(shapes: Polygons, region: Region) -> Polygons:
    """The convex hull of what of each polygon lies in a region; of the whole polygon where nothing does."""
    inner = shapely.convex_hull(_polygonal(shapely.intersection(shapes, region)))
    there = (shapely.get_type_id(inner) == shapely.GeometryType.POLYGON) & ~shapely.is_empty(inner)
    hulls: Polygons = np.where(there, inner, shapely.convex_hull(shapes))
    return hulls


def less_outside(shapes: Polygons, region: Region) -> Polygons:
    """What of each polygon lies in a region, be it one polygon, several or none."""
    return _polygonal(shapely.intersection(shapes, region))


def boxes_of(shapes: Polygons) -> Floats:
    """Left, top, right and bottom of each, shape (4, n); NaN of what is empty."""
    found: Floats = shapely.bounds(shapes).T
    return found


def areas_of(shapes: Polygons) -> Floats:
    """The area of each, in mm²."""
    found: Floats = shapely.area(shapes)
    return found


def shared_areas(one: Polygons, other: Polygons) -> Floats:
    """How much each polygon and its partner both cover, in mm²."""
    found: Floats = shapely.area(shapely.intersection(one, other))
    return found


def left_bare(start: Floats, end: Floats, others: Polygons, mm: float) -> Floats:
    """How much of each line from `start` to `end` (n, 2) lies farther than that from its own of the others, (n,) in mm.

    >>> square = np.array([ring([(0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0)])])
    >>> left_bare(np.array([[0.0, 10.02]]), np.array([[12.0, 10.02]]), square, 0.03).round(1).tolist()
    [2.0]
    """
    found: Floats = shapely.length(
        shapely.difference(shapely.linestrings(np.stack([start, end], axis=1)), shapely.buffer(others, mm))
    )
    return found


def reached(parts: Polygons, others: Polygons, mm: float) -> Bools:
    """Whether each part and its partner lie no farther apart than that."""
    found: Bools = shapely.dwithin(parts, others, mm)
    return found


def corners_of(part: Polygon) -> tuple[Point, ...]:
    """A polygon's outer ring, clockwise to the eye."""
    ring = shapely.orient_polygons(part, exterior_cw=False).exterior  # y runs down
    return tuple((float(x), float(y)) for x, y in ring.coords[:-1])


def is_thin(part: Polygon, radius_mm: float) -> bool:
    """Whether no circle of a radius fits into a polygon."""
    return bool(part.buffer(-radius_mm).is_empty)


def one_of(parts: Sequence[Polygon]) -> Polygon | None:
    """Parts that lie against each other as one polygon; None where they don't make one."""
    whole = union(solid(parts))
    return whole if isinstance(whole, shapely.Polygon) else None


def mitred(points: Sequence[Point], width_mm: float) -> Polygon:
    """A band of a width along a bent line, its outer corner brought to a point and its ends square."""
    return shapely.buffer(shapely.LineString(points), width_mm / 2, cap_style="flat", join_style="mitre", mitre_limit=6.0)


def clipped(shapes: Polygons, region: Region) -> tuple[Polygons, Ints]:
    """The parts of polygons within a region, and which polygon each came from."""
    grounds = shapely.get_parts(region)
    if len(grounds) > MANY_GROUNDS:  # each with those that it meets: a region of many parts is slow to cut to
        first, second = shapely.STRtree(grounds).query(shapes, predicate="intersects")
        upper = np.arange(len(shapes))[first]
        cut = shapely.intersection(shapes[first], grounds[second], grid_size=OVERLAY_GRID_MM)
        pieces, at = shapely.get_parts(cut, return_index=True)
        index = upper[at]
    else:
        pieces, index = shapely.get_parts(shapely.intersection(shapes, region, grid_size=OVERLAY_GRID_MM), return_index=True)
    real = (shapely.get_type_id(pieces) == shapely.GeometryType.POLYGON) & (shapely.area(pieces) > SMALLEST_CELL_MM2)
    return pieces[real], index[real].astype(np.int64)


def parts_inside(whole: Region, region: Region) -> Shapes:
    """A region within another, as separate shapes."""
    return from_polygons(clipped(np.array([whole], object), region)[0])


def faces(segments: Floats, outer: Sequence[Point]) -> tuple[Shapes, float]:
    """What straight lines (n, 2, 2) cut the inside of a ring into, and the length in mm of lines that bound nothing."""
    inside = shapely.Polygon(outer)
    lines = shapely.intersection(shapely.linestrings(segments), inside)
    net = shapely.union_all([*shapely.get_parts(lines), inside.exterior], grid_size=OVERLAY_GRID_MM)
    polygonal, cuts, dangles, _ = shapely.polygonize_full([net])
    found = [face for face in shapely.get_parts(polygonal) if face.area > SMALLEST_CELL_MM2]
    found.sort(key=lambda face: (round(face.bounds[1], 3), round(face.bounds[0], 3), round(face.area, 3)))
    return from_polygons(found), float(cuts.length + dangles.length)


def holding(shapes: Polygons, points: Floats) -> Ints:
    """For each point the first polygon that it lies in, or -1."""
    found = np.full(len(points), -1, np.int64)
    if len(points) and len(shapes):
        at, inside = shapely.STRtree(shapes).query(shapely.points(points), predicate="within")
        for point, shape in zip(at[::-1], inside[::-1], strict=True):
            found[point] = shape
    return found


def within(corners: Sequence[Point], outer: Sequence[Point]) -> list[Polygon]:
    """The parts of one ring's inside that lie in another's."""
    return list(clipped(solid([shapely.Polygon(corners)]), shapely.Polygon(outer))[0])


def without(outer: Sequence[Point], corners: Sequence[Point]) -> list[Polygon]:
    """A ring's inside less another's, as single polygons."""
    return list(clipped(solid([shapely.Polygon(outer)]), shapely.Polygon(outer).difference(shapely.Polygon(corners)))[0])


def simple(corners: Sequence[Point]) -> bool:
    """Whether a ring has an inside and doesn't cross itself."""
    ring = shapely.Polygon(corners)
    return bool(ring.is_valid) and ring.area > SMALLEST_CELL_MM2


def lying_most_in(shapes: Polygons, others: Polygons) -> Ints:
    """For each polygon, which of the others it shares the largest area with; -1 where it shares none."""
    found = np.full(len(shapes), -1)
    most = np.zeros(len(shapes))
    if not len(shapes) or not len(others):
        return found
    first, second = shapely.STRtree(others).query(shapes, predicate="intersects")
    shared = shapely.area(shapely.intersection(shapes[first], others[second]))
    for one, other, area in zip(first.tolist(), second.tolist(), shared.tolist(), strict=True):
        if area > most[one]:
            most[one], found[one] = area, other
    return found


def middle(parts: Polygons) -> Point:
    """The centre of gravity of polygons that don't overlap."""
    points, areas = shapely.get_coordinates(shapely.centroid(parts)), shapely.area(parts)
    x, y = (points * areas[:, None]).sum(axis=0) / areas.sum()
    return float(x), float(y)


def redrawn(shape: Polygon, place: Callable[[Floats], Floats]) -> Polygon:
    """A polygon with every point (n, 2) elsewhere."""
    result: Polygon = shapely.transform(shape, place)
    return result


def lengths_within(start: Floats, end: Floats, region: Region) -> Floats:
    """How much of each straight line start[i]-end[i] lies in a region, mm."""
    lines = shapely.linestrings(np.stack([start, end], axis=1))
    return np.asarray(shapely.length(shapely.intersection(lines, region)))


def bounds_of(shape: Polygon) -> tuple[float, float, float, float]:
    """Left, top, right and bottom of a polygon."""
    left, top, right, bottom = shape.bounds
    return left, top, right, bottom


def less(shapes: Polygons, region: Region) -> Polygons:
    """Polygons less a region."""
    return _polygonal(shapely.difference(shapes, region, grid_size=OVERLAY_GRID_MM))


def rest(shape: Polygon, taken: Region) -> Shapes:
    """A polygon less a region, as separate shapes."""
    parts = shapely.get_parts(shapely.difference(shape, taken, grid_size=OVERLAY_GRID_MM))
    real = (shapely.get_type_id(parts) == shapely.GeometryType.POLYGON) & (shapely.area(parts) > SMALLEST_CELL_MM2)
    return from_polygons(parts[real])


def region_area(region: Region) -> float:
    """A region's area in mm²."""
    return float(shapely.area(region))
