"""Which points to mark, in which order, and what the tape measure reads at each.

Marks lie where the lines to be taped meet the field's sides; a line is snapped or levelled between its two marks. Every
mark is read from one datum, a corner of the panel, and rounded once; nothing is stepped off.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from dividers.core.geometry.ledger import NOTHING
from dividers.core.geometry.shapes import Bools, Ints, Point
from dividers.core.job import Method, Panel
from dividers.core.layout import Layout, corners
from dividers.core.lengths import Graduation, Reading, read_off
from dividers.core.tolerances import MARK_GRID_MM, SAME_POINT_MM

# The sides of a field: name, where its readings start, and which coordinate they read.
SIDES = (
    ("top edge", "top left", 0),
    ("right edge", "top right", 1),
    ("bottom edge", "bottom left", 0),
    ("left edge", "top left", 1),
)


@dataclass(frozen=True)
class Mark:
    """A pencil mark at (x, y) mm on a mark line, read from its datum corner; `order` counts along that line's working order."""

    panel: str
    x: float
    y: float
    line: str
    datum: str
    reading: Reading
    order: int


@dataclass(frozen=True)
class Check:
    """A distance to measure once the marks are made, and what it must read."""

    panel: str
    what: str
    start: Point
    end: Point
    reading: Reading


def lines_to_mark(layout: Layout) -> Ints:
    """The supporting lines that paint will meet: between cells of two colours, or on a margin that isn't the panel's own edge."""
    borders = layout.borders
    none = len(layout.colors)
    slots = np.append(layout.slots, none)
    first = {color: slot for slot, color in reversed(list(enumerate(layout.colors)))}
    alike = np.array([first[color] for color in layout.colors] + [none])
    plus, minus = alike[slots[borders.plus]], alike[slots[borders.minus]]
    inside = (borders.plus != NOTHING) & (borders.minus != NOTHING)
    painted = np.array([color is not None for color in layout.colors] + [False])
    meets_paint = painted[plus] | painted[minus]
    wanted = (plus != minus) & meets_paint & (inside | _on_margin(layout))
    return np.unique(borders.line[wanted])


def _on_margin(layout: Layout) -> Bools:
    """Which borders lie on a side of the field that is set in from the panel's edge."""
    lines, field, outline = layout.borders.lines, layout.panel.field, layout.panel.outline
    on = np.zeros(len(lines.offsets), bool)
    for along, sign, side, edge in (
        (0, 1, field.top, outline.top),
        (0, 1, field.bottom, outline.bottom),
        (1, -1, field.left, outline.left),
        (1, -1, field.right, outline.right),
    ):
        if side != edge:
            on |= (lines.directions[:, along] == 1) & (np.abs(lines.offsets - sign * float(side)) < SAME_POINT_MM)
    result: Bools = on[layout.borders.line]
    return result


def mark_points(layout: Layout) -> list[tuple[int, Point]]:
    """Where the lines to mark meet the field's sides: (side number, point), each place once."""
    lines = layout.borders.lines
    box = corners(layout.panel.field)
    points: list[tuple[int, Point]] = []
    for line in lines_to_mark(layout):
        normal, offset = lines.normals[line], lines.offsets[line]
        for side in range(4):
            start, end = np.array(box[side]), np.array(box[(side + 1) % 4])
            a, b = normal @ start - offset, normal @ end - offset
            if abs(a - b) < SAME_POINT_MM or a * b > SAME_POINT_MM**2:
                continue
            share = min(max(a / (a - b), 0.0), 1.0)
            x, y = start + (end - start) * share
            points.append((side, (float(x), float(y))))
    return _once(points, layout.panel)


def _once(points: list[tuple[int, Point]], panel: Panel) -> list[tuple[int, Point]]:
    """Each place once, by side and along it; a corner of the panel itself needs no mark."""
    outline = corners(panel.outline)
    kept: dict[tuple[int, int], tuple[int, Point]] = {}
    for side, (x, y) in sorted(points):
        place = (round(x / SAME_POINT_MM), round(y / SAME_POINT_MM))
        if not any(math.hypot(x - cx, y - cy) < SAME_POINT_MM for cx, cy in outline):
            kept.setdefault(place, (side, (x, y)))
    return list(kept.values())


def exact(coordinate: float) -> Fraction:
    """A coordinate freed of float noise, so that what lies on a half graduation is rounded as one."""
    return Fraction(round(coordinate / MARK_GRID_MM)) * Fraction(MARK_GRID_MM).limit_denominator(10**9)


def plan_marks(layout: Layout, method: Method, graduation: Graduation) -> tuple[Mark, ...]:
    """All marks of a panel by mark line, each line in its working order."""
    marks: list[Mark] = []
    points = mark_points(layout)
    for number, (line, datum, axis) in enumerate(SIDES):
        here = sorted((point for side, point in points if side == number), key=lambda point: point[axis])
        for order, index in enumerate(working_order(len(here), method.mark_order), 1):
            x, y = here[index]
            reading = read_off(exact((x, y)[axis]), graduation)
            marks.append(Mark(layout.panel.name, x, y, line, datum, reading, order))
    return tuple(marks)


def working_order(count: int, school: str) -> Sequence[int]:
    """The order in which to make `count` marks along a line: as the tape measure runs, or centre first, then outside inwards."""
    if school == "along" or count < 3:
        return range(count)
    middle = count // 2
    low, high = 0, count - 1
    order = [middle]
    while low <= high:
        order += [index for index in dict.fromkeys((low, high)) if index != middle]
        low, high = low + 1, high - 1
    return order


def plan_checks(layout: Layout, graduation: Graduation) -> tuple[Check, ...]:
    """Both diagonals of the field: they must read the same, or the field isn't square."""
    top_left, top_right, bottom_right, bottom_left = corners(layout.panel.field)
    ends = (("top left to bottom right", top_left, bottom_right), ("top right to bottom left", top_right, bottom_left))
    return tuple(
        Check(layout.panel.name, f"Diagonal from {what}", start, end, read_off(exact(math.dist(start, end)), graduation))
        for what, start, end in ends
    )
