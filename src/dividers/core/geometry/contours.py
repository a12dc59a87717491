"""Outlines of straight sides and arcs: flattened to rings, sides by the way they face, and what is left inside margins.

Rings go clockwise to the eye (x right, y down, mm); a side's outside lies to the left as one goes along it.
"""

import math
from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from dividers.core.base.tolerances import SAME_POINT_MM
from dividers.core.geometry import polygons
from dividers.core.geometry.shapes import Point

FLAT_MM = 0.2  # an arc's chords lie no farther from it
MOST_CHORDS = 400
CRUMB_MM2 = 500.0  # what margins leave of that size in a corner is not painted
TOP, RIGHT, BOTTOM, LEFT = range(4)


def flattened(corners: Sequence[tuple[Point, float]]) -> list[Point]:
    """The ring of corners, each with the rise of the arc (outward positive, 0 for a straight side) that begins there; made clockwise."""
    if _area([point for point, _ in corners]) < 0:
        points = [point for point, _ in corners][::-1]
        rises = [rise for _, rise in corners][::-1]
        corners = list(zip(points, rises[1:] + rises[:1], strict=True))
    found: list[Point] = []
    for (start, rise), (end, _) in zip(corners, [*corners[1:], corners[0]], strict=True):
        found += _arc(start, end, rise) if rise else [start]
    return found


def _area(ring: Sequence[Point]) -> float:
    """Twice a ring's area, positive where it goes clockwise to the eye."""
    return sum(ax * by - bx * ay for (ax, ay), (bx, by) in pairwise([*ring, ring[0]]))


def _arc(start: Point, end: Point, rise: float) -> list[Point]:
    """Points on an arc over a side from its start on, its end left out."""
    chord = math.dist(start, end)
    radius = chord * chord / (8 * abs(rise)) + abs(rise) / 2
    half = 2 * math.atan2(2 * abs(rise), chord)  # half of the angle that the arc spans
    step = 2 * math.acos(max(1 - FLAT_MM / radius, -1.0))
    count = min(max(math.ceil(2 * half / step), 2), MOST_CHORDS)
    ux, uy = (end[0] - start[0]) / chord, (end[1] - start[1]) / chord
    ox, oy = (uy, -ux) if rise > 0 else (-uy, ux)
    found = []
    for turn in range(count):
        angle = -half + 2 * half * turn / count
        along = chord / 2 + radius * math.sin(angle)
        out = radius * math.cos(angle) - (radius - abs(rise))
        found.append((start[0] + ux * along + ox * out, start[1] + uy * along + oy * out))
    return found


def ellipse(left: float, top: float, width: float, height: float) -> list[Point]:
    """The ring of an ellipse in a box."""
    radius = max(width, height) / 2
    count = min(max(math.ceil(math.pi / math.acos(max(1 - FLAT_MM / radius, -1.0))), 8), MOST_CHORDS)
    turns = (2 * math.pi * turn / count for turn in range(count))
    return [(left + width / 2 * (1 + math.cos(turn)), top + height / 2 * (1 + math.sin(turn))) for turn in turns]


def side_of(start: Point, end: Point) -> int:
    """The side that a stretch of outline belongs to by the way it faces: TOP, RIGHT, BOTTOM or LEFT; slopes of 45 degrees face up or down."""
    ox, oy = end[1] - start[1], start[0] - end[0]
    if abs(oy) >= abs(ox) - 1e-9:
        return TOP if oy < 0 else BOTTOM
    return RIGHT if ox > 0 else LEFT


def inset(ring: Sequence[Point], margins: Sequence[float]) -> list[list[Point]]:
    """What is left of a ring inside margins (top, right, bottom, left), each measured square to the sides that face that way; largest first."""
    bands = []
    for start, end in pairwise([*ring, ring[0]]):
        margin = margins[side_of(start, end)]
        length = math.dist(start, end)
        if margin and length:
            inx, iny = -(end[1] - start[1]) / length * margin, (end[0] - start[0]) / length * margin
            bands.append([start, end, (end[0] + inx, end[1] + iny), (start[0] + inx, start[1] + iny)])
    if not bands:
        return [list(ring)]
    taken = polygons.union(polygons.solid([polygons.ring(band) for band in bands]))
    left = polygons.rest(polygons.ring(ring), taken)
    rings = [left.points[a:b].tolist() for a, b in zip(left.ring_starts, left.ring_starts[1:], strict=False)]
    real = [each for each in rings if abs(_area(each)) > 2 * CRUMB_MM2]
    return [[(x, y) for x, y in each] for each in sorted(real, key=lambda each: -abs(_area(each)))]


def ends_in(ring: Sequence[Point], start: Point, end: Point) -> tuple[Point, Point] | None:
    """Where a line through two points first and last meets a ring."""
    points = np.array(ring)
    ahead = np.roll(points, -1, axis=0)
    length = math.dist(start, end)
    along = np.array([(end[0] - start[0]) / length, (end[1] - start[1]) / length])
    normal = np.array([-along[1], along[0]])
    before, behind = (points - start) @ normal, (ahead - start) @ normal
    meets = (np.minimum(before, behind) <= SAME_POINT_MM) & (np.maximum(before, behind) >= -SAME_POINT_MM)
    if not meets.any():
        return None
    step = np.where(np.abs(before - behind) < 1e-9, 1.0, before - behind)
    share = np.clip(before[meets] / step[meets], 0.0, 1.0)
    found = points[meets] + (ahead[meets] - points[meets]) * share[:, None]
    t = found @ along
    (ax, ay), (bx, by) = found[int(t.argmin())].tolist(), found[int(t.argmax())].tolist()
    return (ax, ay), (bx, by)


def crossings_at(ring: Sequence[Point], x: float) -> list[float]:
    """The heights at which a vertical meets a ring, from the top."""
    found = []
    for (ax, ay), (bx, by) in pairwise([*ring, ring[0]]):
        if min(ax, bx) <= x <= max(ax, bx) and ax != bx:
            found.append(ay + (by - ay) * (x - ax) / (bx - ax))
        elif ax == bx == x:
            found += [ay, by]
    return sorted(found)


def box_of(ring: Sequence[Point]) -> tuple[float, float, float, float]:
    """Left, top, right and bottom of a ring."""
    (left, top), (right, bottom) = np.min(ring, axis=0).tolist(), np.max(ring, axis=0).tolist()
    return left, top, right, bottom
