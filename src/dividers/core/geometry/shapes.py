"""Many polygons in columns, so that a wall of 100,000 cells is a few arrays and not 100,000 objects.

Axes: x right, y down. Rings are closed without repeating their first point. Outer rings run so that the inside lies on
the plus side of every edge, holes the other way round: an edge from p to q with d = q - p has its inside towards (-d.y, d.x).
"""

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]
Ints = npt.NDArray[np.int64]
Bools = npt.NDArray[np.bool_]

Point = tuple[float, float]


@dataclass(frozen=True)
class Shapes:
    """Polygons with holes. Ring r is points[ring_starts[r]:ring_starts[r+1]]; shape s has rings shape_starts[s]:shape_starts[s+1], the outer first."""

    points: Floats
    ring_starts: Ints
    shape_starts: Ints

    def __len__(self) -> int:
        return len(self.shape_starts) - 1

    @property
    def ring_shape(self) -> Ints:
        """The shape that each ring belongs to."""
        return np.repeat(np.arange(len(self)), np.diff(self.shape_starts))

    @property
    def point_ring(self) -> Ints:
        return np.repeat(np.arange(len(self.ring_starts) - 1), np.diff(self.ring_starts))

    def next_point(self) -> Ints:
        """For each point, the index of the next one in its ring."""
        following = np.arange(1, len(self.points) + 1)
        following[self.ring_starts[1:] - 1] = self.ring_starts[:-1]
        return following

    def ring_areas(self) -> Floats:
        """Signed area of each ring in mm²: positive for outer rings, negative for holes."""
        if not len(self.points):
            return np.zeros(0)
        x, y = self.points.T
        following = self.next_point()
        cross = x * y[following] - x[following] * y
        return np.add.reduceat(cross, self.ring_starts[:-1]) / 2

    def areas(self) -> Floats:
        """Area of each shape in mm², holes taken off."""
        rings = self.ring_areas()
        return np.add.reduceat(rings, self.shape_starts[:-1]) if len(self) else np.zeros(0)

    def perimeters(self) -> Floats:
        """Length of each shape's boundary in mm, holes included."""
        if not len(self):
            return np.zeros(0)
        sides = np.hypot(*(self.points[self.next_point()] - self.points).T)
        return np.add.reduceat(sides, self.ring_starts[self.shape_starts[:-1]])

    def bounds(self) -> Floats:
        """(left, top, right, bottom) of each shape, shape (n, 4)."""
        if not len(self):
            return np.zeros((0, 4))
        starts = self.ring_starts[self.shape_starts[:-1]]
        return np.hstack([np.minimum.reduceat(self.points, starts), np.maximum.reduceat(self.points, starts)])

    def __iter__(self) -> Iterator[list[list[Point]]]:
        """The rings of each shape, one shape after the other."""
        points = [(x, y) for x, y in self.points.tolist()]
        rings = [points[a:b] for a, b in itertools.pairwise(self.ring_starts.tolist())]
        return (rings[a:b] for a, b in itertools.pairwise(self.shape_starts.tolist()))

    def shifted(self, by: Point) -> "Shapes":
        """The same shapes elsewhere."""
        return Shapes(self.points + np.array(by), self.ring_starts, self.shape_starts)


NO_SHAPES = Shapes(np.zeros((0, 2)), np.zeros(1, np.int64), np.zeros(1, np.int64))


def from_rings(rings: Floats) -> Shapes:
    """Shapes from many rings with equally many points each, shape (n, points, 2); turned the right way round."""
    count, corners = rings.shape[:2]
    return oriented(
        Shapes(rings.reshape(-1, 2).astype(float), np.arange(count + 1) * corners, np.arange(count + 1, dtype=np.int64))
    )


def oriented(shapes: Shapes) -> Shapes:
    """The same shapes with outer rings and holes running the way this module states."""
    areas = shapes.ring_areas()
    outer = np.zeros(len(areas), bool)
    outer[shapes.shape_starts[:-1]] = True
    wrong = (areas > 0) != outer
    if not wrong.any():
        return shapes
    ring = shapes.point_ring
    index = np.arange(len(shapes.points))
    mirrored = shapes.ring_starts[ring] + shapes.ring_starts[ring + 1] - 1 - index
    return Shapes(shapes.points[np.where(wrong[ring], mirrored, index)], shapes.ring_starts, shapes.shape_starts)


def chosen(shapes: Shapes, keep: Ints) -> Shapes:
    """Some of the shapes, in the order given."""
    rings_each = np.diff(shapes.shape_starts)[keep]
    ring_index = _ranges(shapes.shape_starts[keep], rings_each)
    points_each = np.diff(shapes.ring_starts)[ring_index]
    point_index = _ranges(shapes.ring_starts[ring_index], points_each)
    return Shapes(shapes.points[point_index], _starts(points_each), _starts(rings_each))


def joined(parts: Sequence[Shapes]) -> Shapes:
    """All shapes of several collections as one, in order."""
    return Shapes(
        np.vstack([part.points for part in parts]),
        _starts(np.concatenate([np.diff(part.ring_starts) for part in parts])),
        _starts(np.concatenate([np.diff(part.shape_starts) for part in parts])),
    )


def moved_to(shapes: Shapes, points: Floats) -> Shapes:
    """The same shapes with their points elsewhere, turned the right way round."""
    return oriented(Shapes(points, shapes.ring_starts, shapes.shape_starts))


def from_corner_lists(rings: Sequence[Sequence[Point]]) -> Shapes:
    """Shapes from rings with any number of corners each, one ring a shape; turned the right way round."""
    if not rings:
        return NO_SHAPES
    counts = np.array([len(ring) for ring in rings])
    points = np.array([point for ring in rings for point in ring], float)
    return oriented(Shapes(points, _starts(counts), np.arange(len(rings) + 1, dtype=np.int64)))


def _starts(lengths: Ints) -> Ints:
    return np.concatenate([[0], np.cumsum(lengths)]).astype(np.int64)


def _ranges(starts: Ints, lengths: Ints) -> Ints:
    """All indices of the ranges start..start+length, one range after the other."""
    total = int(lengths.sum())
    offsets = np.repeat(starts - np.concatenate([[0], np.cumsum(lengths)[:-1]]), lengths) if total else np.zeros(0)
    return (offsets + np.arange(total)).astype(np.int64)
