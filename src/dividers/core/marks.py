"""Which points to mark, in which order, and what the tape measure reads at each.

Marks lie where the lines to be taped meet the field's sides, or down verticals where a line ends inside; a line is snapped
or taped between its marks. Every mark is read from one datum and rounded once; nothing is stepped off.
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


def _meeting(layout: Layout) -> Bools:
    """The borders that paint meets: between cells of two colours, or on a margin that isn't the panel's own edge."""
    borders = layout.borders
    none = len(layout.colors)
    slots = np.append(layout.slots, none)
    first = {color: slot for slot, color in reversed(list(enumerate(layout.colors)))}
    alike = np.array([first[color] for color in layout.colors] + [none])
    plus, minus = alike[slots[borders.plus]], alike[slots[borders.minus]]
    inside = (borders.plus != NOTHING) & (borders.minus != NOTHING)
    painted = np.array([color is not None for color in layout.colors] + [False])
    meets: Bools = (plus != minus) & (painted[plus] | painted[minus]) & (inside | _on_margin(layout))
    return meets


def lines_to_mark(layout: Layout) -> Ints:
    """The supporting lines that paint will meet."""
    return np.unique(layout.borders.line[_meeting(layout)])


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


@dataclass(frozen=True)
class Place:
    """Where a mark goes: on a mark line, which is read from `datum` along x (axis 0) or y (axis 1)."""

    line: str
    datum: str
    axis: int
    point: Point


def places(layout: Layout, graduation: Graduation) -> list[Place]:
    """Every place to mark, once, by mark line: the field's sides, then the verticals from the left.

    A line that paint meets from one side of the field to another is marked on those two sides and snapped between. One that
    ends inside is marked where it ends: on an opening's edge, or down a vertical, itself marked at the field's top and bottom.
    """
    sides: dict[tuple[int, int], tuple[int, Point]] = {}
    inner: dict[tuple[int, int], Point] = {}
    meeting = _meeting(layout)
    for line in np.unique(layout.borders.line[meeting]):
        ends = _ends_on_sides(layout, int(line))
        reach = _stretches(layout, meeting, int(line))
        if all(_side_of(layout.panel, point) is not None for point in (reach[0], reach[-1])):
            for side, point in ends:
                sides.setdefault(_grid(point), (side, point))
            continue
        for point in reach:
            reached = _side_of(layout.panel, point)
            if reached is None:
                inner.setdefault(_grid(point), point)
            else:
                sides.setdefault(_grid(point), (reached, point))
    on_openings = {key: place for key, point in inner.items() if (place := _on_opening(layout.panel, point))}
    down = [point for key, point in inner.items() if key not in on_openings]
    field = layout.panel.field
    for x in sorted({x for x, _ in down}):
        for number, y in ((0, float(field.top)), (2, float(field.bottom))):
            sides.setdefault(_grid((x, y)), (number, (x, y)))
    bare = {_grid(corner) for corner in corners(layout.panel.outline)}  # a corner of the panel itself needs no mark
    found = [
        Place(*SIDES[side], point)
        for key, (side, point) in sides.items()
        if key not in bare and _on_surface(layout.panel, side, point)
    ]
    return found + list(on_openings.values()) + [_on_vertical(point, graduation) for point in down]


def _on_opening(panel: Panel, point: Point) -> Place | None:
    """A place on the edge of an opening, which is there to be measured along; None elsewhere."""
    x, y = point
    for opening in panel.openings:
        box, name = opening.box, opening.name
        if not (_within(x, box.left, box.right) and _within(y, box.top, box.bottom)):
            continue
        for coordinate, edge, side, axis in (
            (x, box.left, "left side", 1),
            (x, box.right, "right side", 1),
            (y, box.top, "top", 0),
            (y, box.bottom, "bottom", 0),
        ):
            if abs(coordinate - float(edge)) < SAME_POINT_MM:
                return Place(f"{name}, {side}", ("left", "top")[axis], axis, point)
    return None


def _within(coordinate: float, low: Fraction, high: Fraction) -> bool:
    return float(low) - SAME_POINT_MM < coordinate < float(high) + SAME_POINT_MM


def _on_surface(panel: Panel, side: int, point: Point) -> bool:
    """Whether there is something to mark on just inside a side: not so in a doorway."""
    inward = ((0, 1), (-1, 0), (0, -1), (1, 0))[side]
    x, y = (place + step * 10 * SAME_POINT_MM for place, step in zip(point, inward, strict=True))
    boxes = (opening.box for opening in panel.openings)
    return not any(box.left < x < box.right and box.top < y < box.bottom for box in boxes)


def _grid(point: Point) -> tuple[int, int]:
    return round(point[0] / SAME_POINT_MM), round(point[1] / SAME_POINT_MM)


def _on_vertical(point: Point, graduation: Graduation) -> Place:
    """A place down the vertical through it, named by what the tape measure reads across."""
    return Place(f"vertical at {read_off(exact(point[0]), graduation).text}", "top", 1, point)


def _stretches(layout: Layout, meeting: Bools, line: int) -> list[Point]:
    """Both ends of every stretch of a line that paint meets, in order along it; stretches that follow each other are one."""
    borders = layout.borders
    on = np.flatnonzero(meeting & (borders.line == line))
    starts = np.concatenate([[True], borders.t0[on][1:] - borders.t1[on][:-1] > SAME_POINT_MM])
    ends = np.append(starts[1:], True)
    pairs = zip(borders.t0[on][starts], borders.t1[on][ends], strict=True)
    return [borders.lines.point(line, float(t)) for pair in pairs for t in pair]


def _side_of(panel: Panel, point: Point) -> int | None:
    """The number of the field's side that a point lies on, or None inside."""
    field = panel.field
    gaps = (
        point[1] - float(field.top),
        float(field.right) - point[0],
        float(field.bottom) - point[1],
        point[0] - float(field.left),
    )
    return next((number for number, gap in enumerate(gaps) if abs(gap) < SAME_POINT_MM), None)


def _ends_on_sides(layout: Layout, line: int) -> list[tuple[int, Point]]:
    """Where a line, drawn out, meets the field's sides: (side number, point), sides in order."""
    lines = layout.borders.lines
    box = corners(layout.panel.field)
    normal, offset = lines.normals[line], lines.offsets[line]
    points: list[tuple[int, Point]] = []
    for side in range(4):
        start, end = np.array(box[side]), np.array(box[(side + 1) % 4])
        a, b = normal @ start - offset, normal @ end - offset
        if abs(a - b) < SAME_POINT_MM or a * b > SAME_POINT_MM**2:
            continue
        share = min(max(a / (a - b), 0.0), 1.0)
        x, y = start + (end - start) * share
        points.append((side, (float(x), float(y))))
    return points


def exact(coordinate: float) -> Fraction:
    """A coordinate freed of float noise, so that what lies on a half graduation is rounded as one."""
    return Fraction(round(coordinate / MARK_GRID_MM)) * Fraction(MARK_GRID_MM).limit_denominator(10**9)


def plan_marks(layout: Layout, method: Method, graduation: Graduation) -> tuple[Mark, ...]:
    """All marks of a panel by mark line: top, right, bottom and left, then the verticals, each line in its working order."""
    marks: list[Mark] = []
    found = places(layout, graduation)
    number = {line: index for index, (line, _, _) in enumerate(SIDES)}
    lines = sorted(
        dict.fromkeys((place.line, place.datum, place.axis) for place in found),
        key=lambda line: (number.get(line[0], 4), min(place.point[0] for place in found if place.line == line[0])),
    )
    for line, datum, axis in lines:
        here = sorted((place.point for place in found if place.line == line), key=lambda point: point[axis])
        order = working_order(len(here), method.mark_order if line in number else "along")
        for turn, index in enumerate(order, 1):
            x, y = here[index]
            reading = read_off(exact((x, y)[axis]), graduation)
            marks.append(Mark(layout.panel.name, x, y, line, datum, reading, turn))
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
