"""Where motifs lie over a layer: at its crossings, in the middle of what it paints, or between that; and how much air they have there."""

import math
from collections import defaultdict
from collections.abc import Iterator, Sequence

import numpy as np

from dividers.core.cells.layout import Layout
from dividers.core.geometry import polygons
from dividers.core.geometry.shapes import Floats, Point
from dividers.core.job.layers import CENTRES, CROSSINGS, HandLayer

SAME_PLACE_MM = 0.25
SKEW = 0.0137  # keeps round coordinates off the limits between grid squares
SAME_WAY = 1e-3  # how nearly opposite two directions are, as unit vectors
LONG = 2.0  # what is this many times longer than wide is a band, and gets several motifs
AIR_TIMES = 3  # motifs in a band are so many widths apart, where nothing else is asked for


def places_of(layout: Layout, hand: HandLayer) -> list[Point]:
    """The middles of a layer's motifs on one panel, in its coordinates: row by row from the top, from the left in each.

    In that order a right hand never rests on a wet one, nor does a brush pass over it.
    """
    if not isinstance(hand.at, str):
        found = [(float(x), float(y)) for x, y in hand.at]
    elif hand.at == CROSSINGS:
        found = crossings(layout)
    elif hand.at == CENTRES:
        found = _every(_centres(layout, hand.inside), hand.every)
    else:
        found = list(_between(layout, hand))
    return [point for row in rows_of(found) for point in row]


def rows_of(points: Sequence[Point]) -> list[list[Point]]:
    """Points in rows from the top, each from the left; what lies at one height makes a row."""
    rows: dict[int, list[Point]] = defaultdict(list)
    for x, y in points:
        rows[_square(y)].append((x, y))
    return [sorted(rows[key]) for key in sorted(rows)]


def crossings(layout: Layout) -> list[Point]:
    """Inside the field, where at least two of a pattern's lines go through a place, each on both sides of it."""
    plain = layout.plain or layout
    cells = plain.cells
    start, end = cells.points, cells.points[cells.next_point()]
    ways: dict[tuple[int, int], list[Point]] = defaultdict(list)
    at: dict[tuple[int, int], Point] = {}
    step = end - start
    length = np.maximum(np.hypot(step[:, 0], step[:, 1]), 1e-9)
    units = step / length[:, None]
    for points, outward in ((start, units), (end, -units)):
        for (x, y), (dx, dy) in zip(points.tolist(), outward.tolist(), strict=True):
            key = (_square(x), _square(y))
            at.setdefault(key, (x, y))
            ways[key].append((dx, dy))
    rim = plain.panel.field_quad.away(np.array(list(at.values())).reshape(-1, 2)).min(axis=1)
    return [
        point
        for (key, point), away in zip(at.items(), np.abs(rim).tolist(), strict=True)
        if away > SAME_PLACE_MM and len(_through(ways[key])) >= 2
    ]


def _through(ways: Sequence[Point]) -> set[tuple[float, float]]:
    """The directions that go on on both sides of a place, each once."""
    found: set[tuple[float, float]] = set()
    for number, (ax, ay) in enumerate(ways):
        for bx, by in ways[number + 1 :]:
            if math.hypot(ax + bx, ay + by) < SAME_WAY:
                way = (ax, ay) if (ax, ay) > (bx, by) else (bx, by)
                if all(abs(way[0] * y - way[1] * x) > SAME_WAY for x, y in found):
                    found.add(way)
    return found


def _centres(layout: Layout, inside: str) -> list[Point]:
    shapes = layout.polygons
    wanted = layout.in_color(inside) if inside else layout.painted
    return [_middle(shape) for shape in shapes[wanted[: len(shapes)]]]


def _middle(shape: polygons.Polygon) -> Point:
    """The centre of gravity, where it lies inside; else a point well inside."""
    middle = shape.centroid
    if not shape.contains(middle):
        x, y = polygons.inner_points(polygons.solid([shape]))[0].tolist()
        return x, y
    return middle.x, middle.y


def _every(points: Sequence[Point], every: int) -> list[Point]:
    """One of so many, row by row, each row begun one further on."""
    return [
        point
        for number, row in enumerate(rows_of(points))
        for at, point in enumerate(row)
        if (at + number % every) % every == 0
    ]


def _between(layout: Layout, hand: HandLayer) -> Iterator[Point]:
    """Along the middle of each unpainted band, evenly; one in the middle of what is no band."""
    shapes = layout.polygons
    apart = float(hand.spacing_mm if hand.spacing_mm is not None else hand.width_mm * AIR_TIMES)
    for shape in shapes[~layout.painted[: len(shapes)]]:
        ring = np.array(shape.minimum_rotated_rectangle.exterior.coords)[:4]
        sides = np.roll(ring, -1, axis=0) - ring
        lengths = np.hypot(*sides.T)
        along = int(np.argmax(lengths[:2]))
        if lengths[along] < LONG * lengths[1 - along]:
            yield _middle(shape)
            continue
        count = max(int(lengths[along] / apart + 1e-9), 1)
        first = ring[along] + sides[1 - along] * (0.5 if along == 0 else -0.5)
        places = first + np.outer((np.arange(count) + 0.5) / count, sides[along])
        for x, y in places.tolist():
            if polygons.holding(polygons.solid([shape]), np.array([(x, y)]))[0] >= 0:
                yield x, y


def air_of(layout: Layout, hand: HandLayer, points: Sequence[Point]) -> float | None:
    """The least distance between a motif and the edge of the part that it lies in, mm; below 0 where one reaches over it. None at crossings."""
    if hand.at == CROSSINGS or not points:
        return None
    owners = polygons.holding(layout.polygons, np.array(points)).tolist()
    half = np.array([float(hand.width_mm), float(hand.height_mm)]) / 2
    least = math.inf
    for point, owner in zip(points, owners, strict=True):
        if owner >= 0:
            least = min(least, _air(layout.polygons[owner], np.array(point), half))
    return None if least == math.inf else least


def _air(part: polygons.Polygon, middle: Floats, half: Floats) -> float:
    low, high = middle - half, middle + half
    box = polygons.ring([(low[0], low[1]), (high[0], low[1]), (high[0], high[1]), (low[0], high[1])])
    if not part.covers(box):
        return -float(box.difference(part).area) / float(max(half) * 2)
    return float(box.distance(part.boundary))


def _square(coordinate: float) -> int:
    return round(coordinate / SAME_PLACE_MM + SKEW)
