"""Moving a flat shape without bending or stretching it: turned about the origin, then shifted. Millimetres, y down."""

import math
from dataclasses import dataclass

import numpy as np

from dividers.core.geometry.shapes import Floats, Point


@dataclass(frozen=True)
class Motion:
    """A turn by `angle` (radians, clockwise to the eye), then a shift by (`dx`, `dy`) mm."""

    angle: float = 0.0
    dx: float = 0.0
    dy: float = 0.0

    def at(self, points: Floats) -> Floats:
        """Where points (n, 2) come to lie."""
        found: Floats = points @ self._turn + np.array([self.dx, self.dy])
        return found

    def back(self, points: Floats) -> Floats:
        """The inverse of `at`."""
        found: Floats = (points - np.array([self.dx, self.dy])) @ self._turn.T
        return found

    def turned_back(self, direction: Floats) -> Floats:
        """A direction (2,) before the turn."""
        found: Floats = direction @ self._turn.T
        return found

    @property
    def _turn(self) -> Floats:
        cos, sin = math.cos(self.angle), math.sin(self.angle)
        return np.array([[cos, sin], [-sin, cos]])


def laying(pin: Point, ahead: Point, onto: Point, towards: Point) -> Motion:
    """The motion that brings `pin` onto a point, so that `ahead` lies in the direction of another."""
    angle = math.atan2(towards[1] - onto[1], towards[0] - onto[0]) - math.atan2(ahead[1] - pin[1], ahead[0] - pin[0])
    turned = Motion(angle).at(np.array([pin]))[0]
    return Motion(angle, onto[0] - float(turned[0]), onto[1] - float(turned[1]))
