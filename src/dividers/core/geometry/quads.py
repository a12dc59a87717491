"""Four-sided outlines that are nearly rectangles: a measured wall, and the bilinear map of a true rectangle onto it.

Corners run from the top left clockwise to the eye: top left, top right, bottom right, bottom left; x right, y down, in mm.
"""

import math
from dataclasses import dataclass

import numpy as np

from dividers.core.geometry.shapes import Bools, Floats, Point

Box = tuple[float, float, float, float]  # left, top, right, bottom
CORNERS = ("top left", "top right", "bottom right", "bottom left")
TOP, RIGHT, BOTTOM, LEFT = range(4)  # side k runs from corner k to the next


@dataclass(frozen=True)
class Quad:
    """A convex four-sided outline by its corners."""

    corners: tuple[Point, Point, Point, Point]

    @classmethod
    def of(cls, points: Floats) -> "Quad":
        a, b, c, d = ((float(x), float(y)) for x, y in points)
        return cls((a, b, c, d))

    @property
    def points(self) -> Floats:
        return np.array(self.corners)

    @property
    def box(self) -> Box:
        """The smallest axis-aligned rectangle around it."""
        (left, top), (right, bottom) = self.points.min(axis=0).tolist(), self.points.max(axis=0).tolist()
        return left, top, right, bottom

    @property
    def inner_box(self) -> Box:
        """The axis-aligned rectangle inside its corners: right for outlines that lean no more than walls do."""
        (ax, ay), (bx, by), (cx, cy), (dx, dy) = self.corners
        return max(ax, dx), max(ay, by), min(bx, cx), min(cy, dy)

    def side(self, number: int) -> tuple[Point, Point]:
        """A side from its corner clockwise to the next: TOP, RIGHT, BOTTOM, LEFT."""
        return self.corners[number], self.corners[(number + 1) % 4]

    def length(self, number: int) -> float:
        return math.dist(*self.side(number))

    def angle_deg(self, corner: int) -> float:
        """The angle inside a corner."""
        here = self.points[corner]
        one, other = self.points[(corner - 1) % 4] - here, self.points[(corner + 1) % 4] - here
        share = float(one @ other) / float(np.hypot(*one) * np.hypot(*other))
        return math.degrees(math.acos(min(max(share, -1.0), 1.0)))

    def away(self, points: Floats) -> Floats:
        """How far inside each side points (n, 2) lie, in mm, shape (n, 4); negative outside."""
        starts = self.points
        way = np.roll(starts, -1, axis=0) - starts
        way = way / np.hypot(way[:, 0], way[:, 1])[:, None]
        inward = np.column_stack([-way[:, 1], way[:, 0]])
        offsets: Floats = np.einsum("nkd,kd->nk", points[:, None, :] - starts[None, :, :], inward)
        return offsets

    def holds(self, points: Floats, slack_mm: float) -> Bools:
        """Which points lie inside, or outside by no more than the slack."""
        return np.asarray((self.away(points) > -slack_mm).all(axis=1))

    def inset(self, top: float, right: float, bottom: float, left: float) -> "Quad":
        """What is left inside margins, each measured square to its side."""
        starts = self.points
        way = np.roll(starts, -1, axis=0) - starts
        way = way / np.hypot(way[:, 0], way[:, 1])[:, None]
        inward = np.column_stack([-way[:, 1], way[:, 0]])
        on = starts + inward * np.array([top, right, bottom, left])[:, None]
        found = [_crossing(on[k - 1], way[k - 1], on[k], way[k]) for k in range(4)]
        return Quad.of(np.array(found))

    def at(self, shares: Floats) -> Floats:
        """Points (n, 2) at shares (across, down) of the way, bilinearly: (0, 0) is the top left, (1, 1) the bottom right."""
        u, v = shares[:, :1], shares[:, 1:]
        a, b, c, d = self.points
        found: Floats = a * (1 - u) * (1 - v) + b * u * (1 - v) + c * u * v + d * (1 - u) * v
        return found

    def shares(self, points: Floats) -> Floats:
        """The inverse of `at`, by Newton's steps: quick and sure for outlines that are nearly rectangles."""
        a, b, c, d = self.points
        found = np.full(points.shape, 0.5)
        for _ in range(12):
            u, v = found[:, :1], found[:, 1:]
            miss = self.at(found) - points
            du = (b - a) * (1 - v) + (c - d) * v
            dv = (d - a) * (1 - u) + (c - b) * u
            det = du[:, 0] * dv[:, 1] - du[:, 1] * dv[:, 0]
            step = np.column_stack(
                [miss[:, 0] * dv[:, 1] - miss[:, 1] * dv[:, 0], du[:, 0] * miss[:, 1] - du[:, 1] * miss[:, 0]]
            )
            step = step / det[:, None]
            found = found - step
            if np.abs(step).max(initial=0.0) < 1e-13:
                break
        return found

    def down_at(self, x: float, side: int = TOP) -> float:
        """The y of the top or the bottom side straight above or below an x."""
        (ax, ay), (bx, by) = self.side(side)
        return ay + (by - ay) * (x - ax) / (bx - ax)


def rectangle(left: float, top: float, right: float, bottom: float) -> Quad:
    return Quad(((left, top), (right, top), (right, bottom), (left, bottom)))


def crossing(one: tuple[Point, Point], other: tuple[Point, Point]) -> Point:
    """Where two lines, each through two points, meet; they must not be parallel."""
    a, b = np.array(one[0]), np.array(other[0])
    x, y = _crossing(a, np.array(one[1]) - a, b, np.array(other[1]) - b)
    return float(x), float(y)


def _crossing(a: Floats, way: Floats, b: Floats, other: Floats) -> Floats:
    det = way[0] * other[1] - way[1] * other[0]
    t = ((b[0] - a[0]) * other[1] - (b[1] - a[1]) * other[0]) / det
    found: Floats = a + way * t
    return found
