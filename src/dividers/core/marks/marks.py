"""Which marks to make, in which order, what the tape measure reads at each, and whether paint will cover it.

Every mark is read from one datum and rounded once; nothing is stepped off.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from dividers.core.base.lengths import Graduation, Reading, exact, read_off
from dividers.core.cells.layout import Layout
from dividers.core.geometry.quads import LEFT, RIGHT
from dividers.core.geometry.shapes import Point
from dividers.core.job.method import LASER, Method
from dividers.core.job.products import Colour
from dividers.core.marks.along_lines import Host, distance_along, read_along
from dividers.core.marks.carried import carried_in
from dividers.core.marks.common_verticals import on_common_verticals
from dividers.core.marks.level_line import NAME as LEVEL_NAME
from dividers.core.marks.level_line import LevelLine, level_line_of
from dividers.core.marks.line_places import LinePlaces, MarkPlace, grid_square, in_opening
from dividers.core.marks.mark_distances import ALONG, DOWN_FROM, run_to
from dividers.core.marks.mark_places import INSIDE, MARKED_SIDES, corners_of, find_places, margins_of, marks_made
from dividers.core.marks.pencil_sides import pencil_sides
from dividers.core.marks.third_marks import third_marks

BEFORE_ALL = -1  # the line that others are read from


@dataclass(frozen=True)
class Mark:
    """A pencil mark at (x, y) mm on a mark line, read from its datum; `order` counts along that line's working order.

    `origin` is where one is read from that is read along a line inside; `hook` the place on an edge or a vertical, where that isn't plain. `what` is what it is for, where that isn't a pattern's line: stud, start line, vertical, level; or the middle of one. `side` says where to put the pencil.
    """

    panel: str
    x: float
    y: float
    line: str
    datum: str
    reading: Reading
    order: int
    what: str = ""
    side: str = ""
    inside_margins: bool = False
    layer: int = 0
    on_fold: bool = False
    origin: Point | None = None
    hook: Point | None = None

    @property
    def run_mm(self) -> Fraction:
        """What it reads, negative to the left of the centre and above the level line, so that the marks of a line ascend."""
        backward = self.datum.endswith(("to the left", "upward"))
        return -self.reading.rounded_mm if backward else self.reading.rounded_mm

    @property
    def from_where(self) -> str:
        """The datum in words: the panel's own, where the field begins elsewhere; the fold, where the panel stands on one."""
        words = f"the panel's {self.datum}" if self.inside_margins else self.datum
        return f"{words}, at the fold" if self.on_fold and self.datum.startswith("bottom") else words


@dataclass(frozen=True)
class Check:
    """A distance to measure once the marks are made, and what it must read."""

    panel: str
    what: str
    start: Point
    end: Point
    reading: Reading


def plan_marks(
    layout: Layout,
    method: Method,
    graduation: Graduation,
    palette: Mapping[str, Colour] | None = None,
    reserve_tape: bool = True,
) -> tuple[Mark, ...]:
    """All marks of a panel by mark line: top, right, bottom and left, then the verticals, each line in its working order.

    Lines that are left in the base colour are marked in their middle where reserve tape goes on them, else where tape's edge goes.
    """
    layout = layout.plain if layout.plain and reserve_tape else layout
    places = _places(layout, method, graduation, palette or {})
    level = level_line_of(layout.panel, method)
    if level and any(place.axis == 1 or place.key[0] in (LEFT, RIGHT) for place in places):
        places = [MarkPlace((BEFORE_ALL, 0), LEVEL_NAME, 1, level.start(), LEVEL_NAME), *places]
    return _as_marks(layout, places, method, graduation)


def plan_dots(layout: Layout, points: Sequence[Point], method: Method, graduation: Graduation) -> tuple[Mark, ...]:
    """The marks of points of their own on a panel, such as motifs: down the vertical through each."""
    inner = [(point, "dot") for point in points if not in_opening(layout, point)]
    return _as_marks(layout, LinePlaces(layout, graduation, method.datum).down_verticals(inner, set()), method, graduation)


def _as_marks(layout: Layout, places: Sequence[MarkPlace], method: Method, graduation: Graduation) -> tuple[Mark, ...]:
    lines: dict[tuple[int, int], list[MarkPlace]] = {}
    for place in places:
        lines.setdefault(place.key, []).append(place)
    names: dict[str, int] = {}
    marks: list[Mark] = []
    margins = bool(margins_of(layout.panel))
    level = level_line_of(layout.panel, method)
    for key in sorted(lines):
        upward = layout.panel.on_fold  # as the tape measure runs
        here = sorted(lines[key], key=lambda place: place.along(upward))
        name = here[0].line
        names[name] = names.get(name, 0) + 1
        if names[name] > 1:
            name = f"{name} ({names[name]})"
        made = [_mark(layout, place, name, method.datum, graduation, 0, margins, level) for place in here]
        if key[0] >= len(MARKED_SIDES) or method.mark_order == "along":
            made = _from_the_hook(made)
        else:
            made = [made[index] for index in working_order(len(made), method.mark_order)]
        marks += [replace(mark, order=turn) for turn, mark in enumerate(made, 1)]
    return tuple(marks)


def _from_the_hook(marks: Sequence[Mark]) -> list[Mark]:
    """The marks of a line datum by datum, as they are met first, each from where the tape hooks outwards."""
    datums = list(dict.fromkeys(mark.datum for mark in marks))
    return sorted(marks, key=lambda mark: (datums.index(mark.datum), mark.reading.rounded_mm - mark.reading.error_mm))


def _mark(
    layout: Layout,
    place: MarkPlace,
    name: str,
    datum: str,
    graduation: Graduation,
    turn: int,
    margins: bool,
    level: LevelLine | None,
) -> Mark:
    x, y = place.point
    if level and place.what == LEVEL_NAME:
        return Mark(layout.panel.name, x, y, name, DOWN_FROM[LEFT], read_off(level.down, graduation), turn, place.what)
    if level and (place.key[0] in (LEFT, RIGHT) or (place.axis == 1 and not place.host)):
        run, start = level.run_to(place.key[0], place.point)
        return Mark(layout.panel.name, x, y, name, start, read_off(run, graduation), turn, place.what, place.side)
    if place.host:
        run = exact(distance_along(place.host, place.point))
        reading = read_off(run, graduation)
        inside = place.key[0] == ALONG
        origin, hook = (place.host.origin, None) if inside else (None, place.host.origin)
        return Mark(layout.panel.name, x, y, name, place.datum, reading, turn, place.what, place.side, origin=origin, hook=hook)
    run, start = run_to(layout.panel, place.key[0], place.axis, place.point, datum)
    upward = layout.panel.on_fold and place.axis == 1
    return Mark(
        layout.panel.name, x, y, name, start, read_off(run, graduation), turn, place.what, place.side, margins, on_fold=upward
    )


def _places(layout: Layout, method: Method, graduation: Graduation, palette: Mapping[str, Colour]) -> list[MarkPlace]:
    tiles, panel = layout.tiles, layout.panel
    to = LinePlaces(layout, graduation, method.datum)
    if tiles.start_lines is not None:
        return [place for line in tiles.start_lines for place in to.of_start_line(line, method.mark_way == LASER)]
    found = find_places(layout, method.mark_way)
    hosts: dict[int, Host] = {}
    if method.mark_way == "auto" and not (panel.shape and panel.shape.follows):
        hosts = read_along(layout, found)
    if layout.parts and not panel.shape and method.mark_way not in ("perimeter", "verticals"):
        shared = on_common_verticals(found, layout.borders.lines.directions, float(graduation.step_mm))
    else:
        shared = found
    if marks_made(layout, found.pick([n for n in range(len(found)) if n not in hosts])) + len(hosts) >= marks_made(
        layout, shared
    ):
        found, hosts = shared, {}
    carried = carried_in(layout, found, set(hosts))
    sides = pencil_sides(layout, found.points, found.lines, method.marks, palette)
    places: list[MarkPlace] = []
    taken: set[tuple[int, int]] = set()
    inner: list[tuple[Point, str]] = []
    numbers = {host: number for number, host in enumerate(dict.fromkeys(hosts.values()))}
    for turn, (point, side, words) in enumerate(zip(found.points.tolist(), found.sides.tolist(), sides, strict=True)):
        spot = (point[0], point[1])
        if turn in carried.left_out:
            continue
        if host := hosts.get(turn):
            places.append(to.on_host(numbers[host], host, spot, words, ALONG))
        elif side != INSIDE:
            places.append(to.on_edge(side, spot, "", words))
            taken.add(grid_square(spot))
        elif edge := to.on_opening(spot, words):
            places.append(edge)
        else:
            inner.append((spot, words))
    inner += [(point, sides[turn]) for turn, point in carried.levels]
    across: list[Point] = []
    if method.third_mark_mm and not tiles.torn:
        known = [*map(tuple, found.points.tolist()), *corners_of(panel)]
        down, across = third_marks(layout, known, float(method.third_mark_mm), float(graduation.step_mm))
        inner += [(point, "middle") for point in down]
    inner += [(dot.point, "dot") for dot in tiles.dots if not in_opening(layout, dot.point)]
    return places + to.down_verticals(inner, taken, carried.verticals) + to.across_levels(across, taken)


def working_order(count: int, order_name: str) -> Sequence[int]:
    """The order in which to make `count` marks along a line: as the tape measure runs, or centre first, then outside inwards."""
    if order_name == "along" or count < 3:
        return range(count)
    middle = count // 2
    low, high = 0, count - 1
    order = [middle]
    while low <= high:
        order += [index for index in dict.fromkeys((low, high)) if index != middle]
        low, high = low + 1, high - 1
    return order


def plan_checks(layout: Layout, graduation: Graduation) -> tuple[Check, ...]:
    """Both diagonals of the field. Of a true rectangle they read the same. None of an outline of its own."""
    if layout.panel.contour:
        return ()
    whose = " of the field, inside the margins," if margins_of(layout.panel) else ""
    top_left, top_right, bottom_right, bottom_left = layout.panel.field_quad.corners
    ends = (("top left to bottom right", top_left, bottom_right), ("top right to bottom left", top_right, bottom_left))
    return tuple(
        Check(layout.panel.name, f"Diagonal{whose} from {what}", start, end, read_off(exact(math.dist(start, end)), graduation))
        for what, start, end in ends
    )
