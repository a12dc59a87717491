"""Which marks to make, in which order, what the tape measure reads at each, and whether paint will cover it.

Every mark is read from one datum and rounded once; nothing is stepped off.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from dividers.core.base.colour import luminance
from dividers.core.base.lengths import Graduation, Reading, exact, read_off
from dividers.core.base.tolerances import GRID_SKEW, POINT_GRID_MM, SAME_POINT_MM
from dividers.core.cells.layout import Layout
from dividers.core.geometry import polygons
from dividers.core.geometry.contours import ends_in
from dividers.core.geometry.ledger import NOTHING, numbered
from dividers.core.geometry.shapes import Bools, Floats, Ints, Point
from dividers.core.job.method import BY_EYE, LASER, Method
from dividers.core.job.products import Colour
from dividers.core.marks.along_lines import Host, distance_along, read_along
from dividers.core.marks.common_verticals import on_common_verticals
from dividers.core.marks.mark_distances import ALONG, LEVEL, OPENING, VERTICAL, as_laid, level_ends, run_to, vertical
from dividers.core.marks.mark_places import (
    INSIDE,
    MARKED_SIDES,
    corners_of,
    find_places,
    margins_of,
    marks_made,
    on_opening,
    sides_of,
)
from dividers.core.marks.third_marks import third_marks

OWN_MARKS = ("dot", "middle")  # marks that say what they are for

# Paint darker than this covers a soft pencil line in its usual coats (common practice, no source).
COVERS_PENCIL = 0.4


@dataclass(frozen=True)
class Mark:
    """A pencil mark at (x, y) mm on a mark line, read from its datum; `order` counts along that line's working order.

    `origin` is where one is read from that is read along a line inside. `what` is what it is for, where that isn't a pattern's line: stud, start line, vertical, level; or the middle of one. `side` says where to put the pencil.
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


@dataclass(frozen=True)
class _MarkPlace:
    """Where a mark goes: on a mark line (`key` orders lines and keeps like-named ones apart), read along x (axis 0) or y, or along `host`."""

    key: tuple[int, int]
    line: str
    axis: int
    point: Point
    what: str = ""
    side: str = ""
    host: Host | None = None

    def along(self, upward: bool) -> float:
        """Where it comes along its line, as the tape measure runs."""
        if self.host:
            return distance_along(self.host, self.point)
        return self.point[self.axis] * (-1 if upward and self.axis else 1)


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
    return _as_marks(layout, _places(layout, method, graduation, palette or {}), method, graduation)


def plan_dots(layout: Layout, points: Sequence[Point], method: Method, graduation: Graduation) -> tuple[Mark, ...]:
    """The marks of points of their own on a panel, such as motifs: down the vertical through each."""
    inner = [(point, "dot") for point in points if not _in_opening(layout, point)]
    return _as_marks(layout, _down_verticals(layout, inner, set(), graduation), method, graduation)


def _as_marks(layout: Layout, places: Sequence[_MarkPlace], method: Method, graduation: Graduation) -> tuple[Mark, ...]:
    lines: dict[tuple[int, int], list[_MarkPlace]] = {}
    for place in places:
        lines.setdefault(place.key, []).append(place)
    names: dict[str, int] = {}
    marks: list[Mark] = []
    margins = bool(margins_of(layout.panel))
    for key in sorted(lines):
        upward = layout.panel.on_fold  # as the tape measure runs
        here = sorted(lines[key], key=lambda place: place.along(upward))
        name = here[0].line
        names[name] = names.get(name, 0) + 1
        if names[name] > 1:
            name = f"{name} ({names[name]})"
        made = [_mark(layout, place, name, method.datum, graduation, 0, margins) for place in here]
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


def _mark(layout: Layout, place: _MarkPlace, name: str, datum: str, graduation: Graduation, turn: int, margins: bool) -> Mark:
    x, y = place.point
    if place.host:
        run = exact(distance_along(place.host, place.point))
        reading = read_off(run, graduation)
        return Mark(
            layout.panel.name, x, y, name, "its first end", reading, turn, place.what, place.side, origin=place.host.origin
        )
    run, start = run_to(layout.panel, place.key[0], place.axis, place.point, datum)
    upward = layout.panel.on_fold and place.axis == 1
    return Mark(
        layout.panel.name, x, y, name, start, read_off(run, graduation), turn, place.what, place.side, margins, on_fold=upward
    )


def _places(layout: Layout, method: Method, graduation: Graduation, palette: Mapping[str, Colour]) -> list[_MarkPlace]:
    tiles = layout.tiles
    if tiles.start_lines is not None:
        return [
            place for line in tiles.start_lines for place in _of_start_line(layout, line, graduation, method.mark_way == LASER)
        ]
    found = find_places(layout, method.mark_way)
    hosts: dict[int, Host] = {}
    if method.mark_way == "auto" and not (layout.panel.shape and layout.panel.shape.follows):
        hosts = read_along(layout, found)
    if layout.parts and not layout.panel.shape and method.mark_way not in ("perimeter", "verticals"):
        shared = on_common_verticals(found, layout.borders.lines.directions, float(graduation.step_mm))
    else:
        shared = found
    if marks_made(layout, found.pick([n for n in range(len(found)) if n not in hosts])) + len(hosts) >= marks_made(
        layout, shared
    ):
        found, hosts = shared, {}
    sides = _pencil_sides(layout, found.points, found.lines, method.marks, palette)
    places: list[_MarkPlace] = []
    taken: set[tuple[int, int]] = set()
    inner: list[tuple[Point, str]] = []
    numbers = {host: number for number, host in enumerate(dict.fromkeys(hosts.values()))}
    for turn, (point, side, words) in enumerate(zip(found.points.tolist(), found.sides.tolist(), sides, strict=True)):
        spot = (point[0], point[1])
        if host := hosts.get(turn):
            places.append(_MarkPlace((ALONG, numbers[host]), _host_name(layout, host, graduation), 0, spot, "", words, host))
        elif side != INSIDE:
            places.append(_MarkPlace((side, 0), *MARKED_SIDES[side], spot, side=words))
            taken.add(_grid(spot))
        elif edge := on_opening(layout.panel, spot):
            number, name, axis = edge
            places.append(_MarkPlace((OPENING, number), name, axis, spot, side=words))
        else:
            inner.append((spot, words))
    across: list[Point] = []
    if method.third_mark_mm and not tiles.torn:
        known = [*map(tuple, found.points.tolist()), *corners_of(layout.panel)]
        down, across = third_marks(layout, known, float(method.third_mark_mm), float(graduation.step_mm))
        inner += [(point, "middle") for point in down]
    inner += [(dot.point, "dot") for dot in tiles.dots if not _in_opening(layout, dot.point)]
    return places + _down_verticals(layout, inner, taken, graduation) + _across_levels(layout, across, taken, graduation)


def _host_name(layout: Layout, host: Host, graduation: Graduation) -> str:
    """A line that marks are read along, by where it begins and ends, from the left and from the top (or up from the fold)."""
    ends = (
        ", ".join(read_off(run_to(layout.panel, VERTICAL, axis, end, "left")[0], graduation).text for axis in (0, 1))
        for end in (host.origin, host.far)
    )
    return f"line from {' to '.join(ends)}"


def _down_verticals(
    layout: Layout, inner: Sequence[tuple[Point, str]], taken: set[tuple[int, int]], graduation: Graduation
) -> list[_MarkPlace]:
    """Places inside the field, down the vertical through each, and each vertical's own two marks at the field's top and bottom."""
    panel = layout.panel
    places: list[_MarkPlace] = []
    verticals: dict[int, tuple[Point, Point]] = {}
    names: dict[int, str] = {}
    laid = as_laid(panel, np.array([spot for spot, _ in inner]).reshape(-1, 2))[:, 0]
    for ((x, y), words), key, across in zip(inner, numbered(laid, POINT_GRID_MM).tolist(), laid.tolist(), strict=True):
        what = words if words in OWN_MARKS else ""
        at = int(sides_of(layout.panel, np.array([[x, y]]))[0]) if what == "dot" else INSIDE
        if at != INSIDE:
            if _grid((x, y)) not in taken:
                places.append(_MarkPlace((at, 0), *MARKED_SIDES[at], (x, y), what))
            continue
        if key not in names:
            verticals[key] = vertical(panel, across)
            run = run_to(panel, 0, 0, verticals[key][0], "left")[0] if panel.shape else exact(x)
            names[key] = f"vertical at {read_off(run, graduation).text}"
        places.append(_MarkPlace((VERTICAL, key), names[key], 1, (x, y), what, "" if what else words))
    if panel.contour:  # a vertical often ends in the very place it was drawn through
        taken |= {_grid(spot) for spot, _ in inner}
    for ends in verticals.values():
        for side, (x, y) in zip((0, 2), ends, strict=True):
            corner = any(math.dist((x, y), c) < SAME_POINT_MM for c in panel.outline_quad.corners)
            inward = (x, y + (1 if side == 0 else -1) * 10 * SAME_POINT_MM)
            if _grid((x, y)) not in taken and not corner and not _in_opening(layout, inward):
                taken.add(_grid((x, y)))
                places.append(_MarkPlace((side, 0), *MARKED_SIDES[side], (x, y), "vertical"))
    return places


def _across_levels(
    layout: Layout, points: Sequence[Point], taken: set[tuple[int, int]], graduation: Graduation
) -> list[_MarkPlace]:
    """Places inside the field, across the level line through each, and each level line's own two marks at the field's sides."""
    panel = layout.panel
    places: list[_MarkPlace] = []
    levels = numbered(np.array([y for _, y in points]), POINT_GRID_MM).tolist()
    seen: set[int] = set()
    for point, key in zip(points, levels, strict=True):
        name = f"across at {read_off(run_to(panel, VERTICAL, 1, point, '')[0], graduation).text}"
        places.append(_MarkPlace((LEVEL, key), name, 0, point, "middle"))
        if key in seen:
            continue
        seen.add(key)
        for side, end in zip((3, 1), level_ends(panel, point), strict=True):
            if _grid(end) not in taken and not _in_opening(
                layout, (end[0] + (10 if side == 3 else -10) * SAME_POINT_MM, end[1])
            ):
                taken.add(_grid(end))
                places.append(_MarkPlace((side, 0), *MARKED_SIDES[side], end, "level"))
    return places


def _in_opening(layout: Layout, point: Point) -> bool:
    x, y = point
    for opening in layout.panel.openings:
        box = opening.box
        if box.left < x < box.right and box.top < y < box.bottom and (not opening.ring or polygons.holds(opening.ring, point)):
            return True
    return False


def _grid(point: Point) -> tuple[int, int]:
    return _square(point[0]), _square(point[1])


def _square(coordinate: float) -> int:
    """The number of the grid square that a coordinate lies in."""
    return round(coordinate / POINT_GRID_MM + GRID_SKEW)


def _of_start_line(layout: Layout, line: tuple[Point, Point], graduation: Graduation, carried: bool) -> list[_MarkPlace]:
    """The marks of a line that the first strip of spacer tape is laid along: where it leaves the field; one where it is `carried` level or
    plumb from there."""
    if layout.panel.contour:
        met = ends_in(layout.panel.contour.field, *line)
        return _down_verticals(layout, [(spot, "") for spot in met or ()], set(), graduation)
    ends = np.array(line)
    low, high = 0.0, 1.0
    for first, last in layout.panel.field_quad.away(ends).T.tolist():
        if abs(last - first) < 1e-9:
            if first < -SAME_POINT_MM:
                return []
            continue
        meets = first / (first - last)
        low, high = (max(low, meets), high) if last > first else (low, min(high, meets))
    if low >= high:
        return []
    points = np.array([ends[0] + (ends[1] - ends[0]) * t for t in (low, high)])
    sides = sides_of(layout.panel, points)
    found = [
        _MarkPlace((side, 0), *MARKED_SIDES[side], (point[0], point[1]), "start line")
        for point, side in zip(points.tolist(), sides.tolist(), strict=True)
        if side != INSIDE
    ]
    true = np.abs(ends[1] - ends[0]).min() < SAME_POINT_MM
    return found[:1] if carried and true else found


def _pencil_sides(layout: Layout, points: Floats, lines: Ints, wish: str, palette: Mapping[str, Colour]) -> list[str]:
    """For each mark, a point (n, 2) on its supporting line, where to put the pencil: on the side that dark paint will cover there, or under
    the tape, to be erased. Never off the surface."""
    if layout.lined:
        return ["under the tape, to erase"] * len(lines)
    borders = layout.borders
    dark = np.array(
        [c is not None and c in palette and luminance(palette[c].hex) < COVERS_PENCIL for c in layout.colors] + [False]
    )
    first = np.searchsorted(borders.line, np.arange(len(borders.lines.offsets) + 1))
    along = (points * borders.lines.directions[lines]).sum(axis=1)
    words: dict[tuple[int, tuple[int, ...]], str] = {}
    found = []
    for line, t in zip(lines.tolist(), along.tolist(), strict=True):
        here = np.arange(first[line], first[line + 1])
        near = here[(borders.t0[here] - SAME_POINT_MM <= t) & (t <= borders.t1[here] + SAME_POINT_MM)]
        here = near if len(near) else here
        key = (line, tuple(here.tolist()) if len(near) else ())
        if key not in words:
            words[key] = _pencil_side(layout, line, _beside(layout, here, dark), wish)
        found.append(words[key])
    return found


@dataclass(frozen=True)
class _Beside:
    """What lies on one side of a line: length of border with any cell there, with paint, and with paint that covers a pencil line; mm."""

    there: float
    painted: float
    dark: float


def _beside(layout: Layout, here: Ints, dark: Bools) -> tuple[_Beside, _Beside]:
    """What lies on the plus and on the minus side of some borders."""
    borders = layout.borders
    reach = borders.t1[here] - borders.t0[here]
    sides = []
    for cells in (borders.plus[here], borders.minus[here]):
        there = cells != NOTHING
        painted, covers = layout.painted[cells] & there, dark[layout.slots[cells]] & there
        sides.append(_Beside(*(float(reach[which].sum()) for which in (there, painted, covers))))
    return sides[0], sides[1]


def _pencil_side(layout: Layout, line: int, beside: tuple[_Beside, _Beside], wish: str) -> str:
    normal = layout.borders.lines.normals[line]
    level = abs(normal[1]) >= abs(normal[0])
    if wish == BY_EYE:
        return ""
    names = ("below the line", "above the line") if level else ("right of the line", "left of the line")
    if normal[1 if level else 0] < 0:
        names = names[::-1]
    plus, minus = beside
    on_surface = [side for side, what in enumerate(beside) if what.there]
    if wish != "tape-side" and (plus.dark or minus.dark or wish == "painted-side"):
        more = plus.dark >= minus.dark if plus.dark or minus.dark else plus.painted >= minus.painted
        return f"{names[0] if more else names[1]}, under the paint"
    if len(on_surface) == 1:
        return f"{names[on_surface[0]]}, to erase"
    return f"{names[0] if plus.painted <= minus.painted else names[1]}, to erase"


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
