"""What is measured to a place, and from where: along the panel's sides and down its verticals, whatever shape it has."""

import math
from collections.abc import Sequence
from fractions import Fraction

import numpy as np

from dividers.core.base.lengths import exact
from dividers.core.base.tolerances import SAME_POINT_MM
from dividers.core.geometry.contours import crossings_at, ends_in
from dividers.core.geometry.quads import BOTTOM, LEFT, RIGHT, TOP, Quad, crossing
from dividers.core.geometry.shapes import Floats, Point
from dividers.core.job.method import NEARER
from dividers.core.job.surface import Panel

OPENING, VERTICAL, LEVEL, ALONG = (
    4,
    5,
    6,
    7,
)  # mark lines inside: an opening's sides, verticals, level lines across, lines struck already
NAMES = {TOP: "top ", BOTTOM: "bottom "}
DOWN_FROM = {RIGHT: "top right", LEFT: "top left"}
UP_FROM = {RIGHT: "bottom right", LEFT: "bottom left"}


def run_to(panel: Panel, line: int, axis: int, point: Point, datum: str) -> tuple[Fraction, str]:
    """What is measured to a point on a mark line, and from where: down from the top, or up from a fold or below a slope; across from
    left, right or the centre.

    `line` is a side of the field (TOP, RIGHT, BOTTOM, LEFT), OPENING, VERTICAL or LEVEL. Where the panel is no true rectangle,
    everything is measured along the line itself, from where it meets the panel's edge.
    """
    if panel.shape:
        return _along(panel, panel.shape.outline, line, axis, point, datum)
    x, y = point
    if axis == 1:
        if panel.on_fold or (panel.contour and _up(panel.contour.outline, x, float(panel.height_mm))):
            return panel.height_mm - exact(y), UP_FROM.get(line, "bottom")
        return exact(y), DOWN_FROM.get(line, "top")
    width, where = panel.width_mm, NAMES.get(line, "")
    if datum == "right" or (datum == NEARER and exact(x) > width / 2):
        return width - exact(x), f"{where}right"
    if datum == "centre":
        return _from_centre(exact(x) - width / 2)
    return exact(x), f"{where}left"


def _up(outline: Sequence[Point], x: float, height: float) -> bool:
    """Whether an outline is measured up from its bottom at an x: where its top lies lower than its box, as under a slope, and its bottom doesn't."""
    heights = crossings_at(outline, x)
    return bool(heights) and heights[0] > SAME_POINT_MM and heights[-1] > height - SAME_POINT_MM


def _from_centre(off: Fraction) -> tuple[Fraction, str]:
    return abs(off), "centre" if not off else f"centre, to the {'right' if off > 0 else 'left'}"


def _along(panel: Panel, outline: Quad, line: int, axis: int, point: Point, datum: str) -> tuple[Fraction, str]:
    """The same for a panel with a measured outline."""
    x, y = point
    if axis == 1:
        through = panel.field_quad.side(line) if line in DOWN_FROM else (point, (x, y + 1.0))
        if line == VERTICAL:
            through = down_vertical(panel, point)
        if panel.on_fold:
            return exact(math.dist(point, crossing(through, outline.side(BOTTOM)))), UP_FROM.get(line, "bottom")
        return exact(math.dist(point, crossing(through, outline.side(TOP)))), DOWN_FROM.get(line, "top")
    through = panel.field_quad.side(line) if line in NAMES else ((x, y), (x + 1.0, y))
    left, right = crossing(through, outline.side(LEFT)), crossing(through, outline.side(RIGHT))
    where = NAMES.get(line, "")
    if datum == "right" or (datum == NEARER and math.dist(point, right) < math.dist(point, left)):
        return exact(math.dist(point, right)), f"{where}right"
    if datum == "centre":
        return _from_centre(exact(math.dist(point, left) - math.dist(left, right) / 2))
    return exact(math.dist(point, left)), f"{where}left"


def down_vertical(panel: Panel, point: Point) -> tuple[Point, Point]:
    """The vertical through a point: plumb, or leaning as the field does where the pattern follows it."""
    x, y = point
    if not (panel.shape and panel.shape.follows):
        return point, (x, y + 1.0)
    return vertical(panel, float(as_laid(panel, np.array([point]))[0, 0]))


def as_laid(panel: Panel, points: Floats) -> Floats:
    """Points (n, 2) where they lie on the rectangle that the pattern is laid on."""
    if not (panel.shape and panel.shape.follows) or not len(points):
        return points
    field = panel.field
    size = np.array([float(field.width), float(field.height)])
    laid: Floats = panel.shape.field.shares(points) * size + np.array([float(field.left), float(field.top)])
    return laid


def level_ends(panel: Panel, point: Point) -> tuple[Point, Point]:
    """Where the level line through a point meets the field's left and right."""
    y = point[1]
    if panel.contour:
        meets = ends_in(panel.contour.field, point, (point[0] + 1.0, y))
        return meets or (point, point)
    across = ((0.0, y), (1.0, y))
    return crossing(across, panel.field_quad.side(LEFT)), crossing(across, panel.field_quad.side(RIGHT))


def vertical(panel: Panel, across_mm: float) -> tuple[Point, Point]:
    """The ends, on the field's top and bottom, of the vertical that is so far across on the rectangle the pattern is laid on."""
    field, quad = panel.field, panel.field_quad
    if panel.shape and panel.shape.follows:
        share = (across_mm - float(field.left)) / float(field.width)
        (ax, ay), (bx, by) = quad.at(np.array([[share, 0.0], [share, 1.0]])).tolist()
        return (ax, ay), (bx, by)
    if panel.contour:
        heights = crossings_at(panel.contour.field, across_mm)
        return (across_mm, min(heights, default=float(field.top))), (across_mm, max(heights, default=float(field.bottom)))
    if panel.shape:
        return (across_mm, quad.down_at(across_mm, TOP)), (across_mm, quad.down_at(across_mm, BOTTOM))
    return (across_mm, float(field.top)), (across_mm, float(field.bottom))
