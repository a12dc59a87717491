"""A level line struck across a panel, from which everything above and below is measured: ceilings and floors are rarely level."""

import math
from dataclasses import dataclass
from fractions import Fraction

from dividers.core.base.lengths import exact
from dividers.core.geometry.quads import LEFT, RIGHT, crossing
from dividers.core.geometry.shapes import Point
from dividers.core.job.method import Method
from dividers.core.job.surface import Panel
from dividers.core.marks.mark_distances import VERTICAL, down_vertical

UP, DOWN, ON = "level line, upward", "level line, downward", "level line"
NAME = "level line"


@dataclass(frozen=True)
class LevelLine:
    """A level line on a panel at `y` mm of it, struck `down` mm from the top along the left side."""

    panel: Panel
    y: float
    down: Fraction

    def start(self) -> Point:
        """Where it begins: on the panel's left side, as high as it is struck."""
        return crossing(((0.0, self.y), (1.0, self.y)), self.panel.outline_quad.side(LEFT))

    def run_to(self, line: int, point: Point) -> tuple[Fraction, str]:
        """What is measured to a point on a side of the field or down a vertical, and from where, in words."""
        through = self.panel.field_quad.side(line) if line in (LEFT, RIGHT) else (point, (point[0], point[1] + 1.0))
        if line == VERTICAL:
            through = down_vertical(self.panel, point)
        met = crossing(through, ((0.0, self.y), (1.0, self.y)))
        run = exact(math.dist(point, met))
        return run, ON if not run else UP if point[1] < self.y else DOWN


def level_line_of(panel: Panel, method: Method) -> LevelLine | None:
    """The line that a method asks for, where the panel has it: not on one that stands on a fold, nor on an outline of its own.

    It is struck as far down the left side as the method says.
    """
    if method.level_line_mm is None or panel.on_fold or panel.contour:
        return None
    top, bottom = panel.outline_quad.corners[0], panel.outline_quad.corners[3]
    share = float(method.level_line_mm) / math.dist(top, bottom)
    return LevelLine(panel, top[1] + share * (bottom[1] - top[1]), method.level_line_mm) if 0 < share < 1 else None
