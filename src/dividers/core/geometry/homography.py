"""The one way to see a rectangle in perspective: from its four corners in a photo to where any of its points lies there."""

from dataclasses import dataclass

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry.shapes import Floats, Point

LEAST_TURN = 1e-3  # how far from a straight line three corners must be, as a share of the sides


@dataclass(frozen=True)
class Homography:
    """A 3 x 3 matrix that maps (x, y, 1) on the panel to the photo, up to scale."""

    matrix: tuple[tuple[float, float, float], ...]

    def at(self, points: Floats) -> Floats:
        """Points (n, 2) of the panel as they lie in the photo."""
        matrix = np.array(self.matrix)
        raised = np.column_stack([points, np.ones(len(points))]) @ matrix.T
        found: Floats = raised[:, :2] / raised[:, 2:]
        return found


def homography(width: float, height: float, corners: tuple[Point, Point, Point, Point]) -> Homography:
    """From a panel of a size to its corners in a photo: top left, top right, bottom right, bottom left.

    The eight unknowns solve eight linear equations, two a corner, with the last entry of the matrix set to 1. Raises BadInput where
    the corners aren't those of a convex quadrilateral seen from the front.
    """
    _check(corners)
    rows, right = [], []
    for (x, y), (u, v) in zip(((0.0, 0.0), (width, 0.0), (width, height), (0.0, height)), corners, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
        right += [u, v]
    scale = np.array([1 / width, 1 / height, 1, 1 / width, 1 / height, 1, 1 / width, 1 / height])  # even sizes solve exactly
    solved = np.linalg.solve(np.array(rows, float) * scale, np.array(right, float)) * scale
    a, b, c, d, e, f, g, h = (float(value) for value in solved)
    return Homography(((a, b, c), (d, e, f), (g, h, 1.0)))


def _check(corners: tuple[Point, ...]) -> None:
    for turn in range(4):
        (ax, ay), (bx, by), (cx, cy) = (corners[(turn + k) % 4] for k in range(3))
        cross = (bx - ax) * (cy - by) - (by - ay) * (cx - bx)
        sides = np.hypot(bx - ax, by - ay) * np.hypot(cx - bx, cy - by)
        if sides <= 0 or cross <= LEAST_TURN * sides:
            raise BadInput(
                "The four corners must go clockwise round the panel from its top left, with no corner folded in or on a straight line.",
                "corners",
            )
