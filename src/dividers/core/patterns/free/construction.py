"""A free design as construction: strips laid one by one, points moved, regions coloured. Works on a pattern as the job file has it.

Everything that hangs on a point follows it, as points are found from each other; regions keep their colours, whichever way the lines go.
"""

import copy
import itertools
import math
import re
from collections.abc import Iterator, Mapping, Sequence
from fractions import Fraction
from typing import Any

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import Graduation, exact, write_kept
from dividers.core.geometry import polygons
from dividers.core.geometry.shapes import Floats, Point, Shapes
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.free.located import located
from dividers.core.patterns.free.points import NAME, Place, read_path, read_place

Written = dict[str, Any]
SAME_MM = 0.05  # places nearer than this are one
START = "$start"  # in the place of a strip's end: the point that it starts from
MOST_LINES = 200


def places_of(pattern: Mapping[str, Any], unit: str) -> dict[str, Place]:
    """The points of a written pattern. Raises BadInput."""
    return {name: read_place(written, unit) for name, written in (pattern.get("points") or {}).items()}


def legs_of(pattern: Mapping[str, Any]) -> list[tuple[str, str]]:
    """Every leg of every line, by the names of its ends."""
    return [leg for line in pattern.get("lines") or () for leg in itertools.pairwise(read_path(line))]


def guides_of(pattern: Mapping[str, Any]) -> list[tuple[str, str]]:
    """Every leg of every guide, by the names of its ends."""
    return legs_of({"lines": pattern.get("guides")})


def regions_of(pattern: Mapping[str, Any], area: Rectangle, unit: str) -> Shapes:
    """The regions that its lines cut an area into. Raises BadInput."""
    points = located(places_of(pattern, unit), area)
    for a, b in legs_of(pattern):
        for name in (a, b):
            if name not in points:
                raise BadInput(f"There is no point “{name}”.", "lines")
    segments = np.array([(points[a], points[b]) for a, b in legs_of(pattern)]).reshape(-1, 2, 2)
    return faces(area, segments)[0]


def faces(area: Rectangle, segments: Floats) -> tuple[Shapes, float]:
    """What segments (n, 2, 2) cut an area into, and how much of them bounds nothing, mm."""
    left, top, right, bottom = (float(side) for side in (area.left, area.top, area.right, area.bottom))
    return polygons.faces(segments, [(left, top), (right, top), (right, bottom), (left, bottom)])


def with_strip(pattern: Written, area: Rectangle, unit: str, start: Any, end: Any) -> Written:
    """With another strip of tape from one place to another. Each is the name of a point or a place as the job file has it; in the end's, START
    stands for the start. Raises BadInput."""
    return _with_line(pattern, area, unit, start, end, "lines", "strip")


def with_guide(pattern: Written, area: Rectangle, unit: str, start: Any, end: Any) -> Written:
    """With a line that is on the picture already, as `with_strip`: nothing is laid along it, but strips should not nearly line up with it."""
    return _with_line(pattern, area, unit, start, end, "guides", "guide")


def _with_line(pattern: Written, area: Rectangle, unit: str, start: Any, end: Any, key: str, word: str) -> Written:
    made = copy.deepcopy(pattern)
    made.setdefault("points", {})
    first = _point(made, area, unit, start)
    last = _point(made, area, unit, _put_in(end, first))
    if first == last:
        raise BadInput(f"A {word} ends where it starts. Draw it a little longer.", "lines")
    if {first, last} in [set(leg) for leg in legs_of({"lines": made.get(key)})]:
        raise BadInput(f"There is a {word} from {first} to {last} already.", "lines")
    lines = [*(made.get(key) or []), [first, last]]
    if len(lines) > MOST_LINES:
        raise BadInput(f"There are {MOST_LINES} {word}s; no more are allowed.", "lines")
    return made | {key: lines}


def _put_in(place: Any, start: str) -> Any:
    """A place with the name of the start in it."""
    if isinstance(place, dict):
        return {key: _put_in(each, start) for key, each in place.items()}
    if isinstance(place, list):
        return [_put_in(each, start) for each in place]
    return start if place == START else place


def _point(made: Written, area: Rectangle, unit: str, place: Any) -> str:
    """The name of a point at a place: one that is there already, or a new one."""
    if isinstance(place, str):
        if place not in made["points"]:
            raise BadInput(f"There is no point “{place}”.", "points")
        return place
    names = free_names(made["points"])
    name = next(names)
    here = located(places_of({"points": {**made["points"], name: place}}, unit), area)
    for other, point in here.items():
        if other != name and math.dist(point, here[name]) < SAME_MM:
            return other
    made["points"] = {**made["points"], name: place}
    return name


def free_names(taken: Mapping[str, Any]) -> Iterator[str]:
    """A, B, ... Z, A2, B2, ... without those that are taken."""
    for turn in itertools.count(1):
        for letter in "ABCDEFGHIJKLMNOPQRSTUVWXYZ":
            name = letter if turn == 1 else f"{letter}{turn}"
            if name not in taken:
                yield name


def with_stripes_beside(
    pattern: Written, area: Rectangle, unit: str, line: tuple[str, str], by: Sequence[Fraction], side: str
) -> Written:
    """With strips parallel to a line, so far off it on one side, each from edge to edge. Raises BadInput."""
    made = pattern
    points = located(places_of(pattern, unit), area)
    if not all(name in points for name in line):
        raise BadInput("That line isn't there any more.", "lines")
    for off in by:
        met = _edges_met(points[line[0]], points[line[1]], off, side, area)
        if len(met) < 2:
            raise BadInput(f"{write_kept(off, unit)} off that line lies outside the field.", "points")
        ends = [{"meets": edge, "beside": list(line), "by": write_kept(off, unit), "side": side} for edge in met]
        made = with_strip(made, area, unit, ends[0], ends[1])
    return made


def _edges_met(a: Point, b: Point, off: Fraction, side: str, area: Rectangle) -> list[str]:
    """The two edges of the field that a line beside two points meets."""
    length = math.dist(a, b)
    along = ((b[0] - a[0]) / length, (b[1] - a[1]) / length)
    by = float(off) * (1 if side == "left" else -1)
    x, y = a[0] + along[1] * by, a[1] - along[0] * by
    left, top, right, bottom = (float(each) for each in (area.left, area.top, area.right, area.bottom))
    found: list[tuple[float, str]] = []
    for edge, at, axis in (("left", left, 0), ("right", right, 0), ("top", top, 1), ("bottom", bottom, 1)):
        if abs(along[axis]) < 1e-9:
            continue
        t = (at - (x, y)[axis]) / along[axis]
        other = (y + along[1] * t, x + along[0] * t)[axis]
        low, high = ((top, bottom), (left, right))[axis]
        if low - 1e-6 <= other <= high + 1e-6 and all(abs(t - each) > SAME_MM for each, _ in found):
            found.append((t, edge))
    return [edge for _, edge in sorted(found)]


def without_strip(pattern: Written, number: int) -> Written:
    """Without a strip, by the number of its leg from 0; and without points that then nothing needs."""
    return swept(pattern | {"lines": _lines_with(pattern, number, None, None)})


def without_guide(pattern: Written, number: int) -> Written:
    """Without a guide, as `without_strip`."""
    return swept(pattern | {"guides": _lines_with({"lines": pattern.get("guides") or []}, number, None, None)})


def _lines_with(pattern: Written, number: int, stop: str | None, start: str | None) -> list[list[str]]:
    """The lines with one leg taken out, as far as `stop` from its first end and from `start` on to its last, where these are given."""
    if not 0 <= number < len(legs_of(pattern)):
        raise BadInput("That strip isn't there any more.", "lines")
    lines: list[list[str]] = []
    at = 0
    for line in pattern["lines"]:
        run: list[str] = [line[0]]
        for name in line[1:]:
            if at == number:
                lines.append([*run, stop] if stop else run)
                run = [start, name] if start else [name]
            else:
                run.append(name)
            at += 1
        lines.append(run)
    return [line for line in lines if len(line) > 1]


def cut_away(pattern: Written, area: Rectangle, unit: str, number: int, at: Point) -> Written:
    """Without the piece of a strip that lies at a place, from one strip that it meets to the next; all of it where it meets none.

    What is left ends where those strips are, and follows when they are moved. Raises BadInput.
    """
    points = located(places_of(pattern, unit), area)
    legs = legs_of(pattern)
    if not 0 <= number < len(legs):
        raise BadInput("That strip isn't there any more.", "lines")
    a, b = legs[number]
    (ax, ay), (bx, by) = points[a], points[b]
    length = math.dist((ax, ay), (bx, by))
    here = ((at[0] - ax) * (bx - ax) + (at[1] - ay) * (by - ay)) / length**2
    met = sorted(
        _met_along((a, b), [leg for turn, leg in enumerate(legs) if turn != number], points), key=lambda found: found[0]
    )
    before = [place for t, place in met if t <= here]
    behind = [place for t, place in met if t > here]
    made = copy.deepcopy(pattern)
    stop, start = (
        _point(made, area, unit, place) if place else None for place in ((before or [None])[-1], (behind or [None])[0])
    )
    return swept(made | {"lines": _lines_with(made, number, stop if stop != a else None, start if start != b else None)})


def _met_along(
    leg: tuple[str, str], others: Sequence[tuple[str, str]], points: Mapping[str, Point]
) -> Iterator[tuple[float, Any]]:
    """Where other strips meet one between its ends: the share of its length, and the place."""
    a, b = leg
    (ax, ay), (bx, by) = points[a], points[b]
    for c, d in others:
        (cx, cy), (dx, dy) = points[c], points[d]
        across = (bx - ax) * (dy - cy) - (by - ay) * (dx - cx)
        if abs(across) < 1e-6:
            continue
        t = ((cx - ax) * (dy - cy) - (cy - ay) * (dx - cx)) / across
        u = ((cx - ax) * (by - ay) - (cy - ay) * (bx - ax)) / across
        if 1e-6 < t < 1 - 1e-6 and -1e-6 <= u <= 1 + 1e-6:
            yield t, c if abs(u) <= 1e-6 else d if abs(u - 1) <= 1e-6 else {"cross": [[a, b], [c, d]]}


def swept(pattern: Written) -> Written:
    """Without points that no line runs through and no other point is found from."""
    points = dict(pattern["points"])
    used = {name for line in (*pattern["lines"], *(pattern.get("guides") or ())) for name in line}
    while True:
        needed = used | {name for place in points.values() for name in _named_in(place)}
        if set(points) <= needed:
            return pattern | {"points": points}
        points = {name: place for name, place in points.items() if name in needed}


def _named_in(place: Any) -> set[str]:
    if isinstance(place, dict):
        keys = ("cross", "on", "meets", "beside", "from", "along", "square", "mirror", "in")
        return {name for key in keys if key in place for name in _names(place[key])}
    return set()


def _names(value: Any) -> set[str]:
    if isinstance(value, str):
        return {value} if re.fullmatch(NAME, value) else set()
    return {name for each in value for name in _names(each)} if isinstance(value, list) else set()


def with_point(pattern: Written, name: str, place: Any) -> Written:
    """With a point elsewhere; all that is found from it follows. Raises BadInput for one that would be found from itself."""
    if name not in (pattern.get("points") or {}):
        raise BadInput(f"There is no point “{name}”.", "points")
    return pattern | {"points": {**pattern["points"], name: place}}


def with_color(pattern: Written, area: Rectangle, unit: str, at: Point, color: str | None, graduation: Graduation) -> Written:
    """With the region at a place (mm on the area's sheet) in a colour; None for the base, as somebody wants it. Raises BadInput."""
    regions = polygons.to_polygons(regions_of(pattern, area, unit))
    region = int(polygons.holding(regions, np.array([at]))[0])
    if region < 0:
        raise BadInput("That place lies on a line. Point into a region.", "fills")
    owner = _fill_of(pattern, regions, area, unit)
    fills = [fill for number, fill in enumerate(pattern.get("fills") or []) if owner[number] != region]
    fills.append({"at": _place_in(regions[region], area, unit, graduation), "color": color})
    return pattern | {"fills": fills}


def without_color(pattern: Mapping[str, Any], area: Rectangle, unit: str) -> list[Point]:
    """A place (mm on the area's sheet) in each region that nobody coloured or left as base. Raises BadInput."""
    regions = polygons.to_polygons(regions_of(pattern, area, unit))
    owner = set(_fill_of(pattern, regions, area, unit))
    inner = polygons.inner_points(regions).tolist()
    return [(x, y) for number, (x, y) in enumerate(inner) if number not in owner]


def with_colors_kept(before: Written, after: Written, area: Rectangle, unit: str, graduation: Graduation) -> Written:
    """A changed design with the colours that its regions had: each new region has that of the old one it lies in most. Raises BadInput."""
    if not before.get("fills"):
        return after
    old = polygons.to_polygons(regions_of(before, area, unit))
    new = polygons.to_polygons(regions_of(after, area, unit))
    owner = _fill_of(before, old, area, unit)
    fill_in = {region: before["fills"][number] for number, region in enumerate(owner) if region >= 0}
    fills = []
    for number, most in enumerate(polygons.lying_most_in(new, old).tolist()):
        fill = fill_in.get(most)
        if fill is not None:
            place = fill["at"] if _holds(new[number], fill, area, unit) else _place_in(new[number], area, unit, graduation)
            fills.append({**fill, "at": place})
    return after | {"fills": fills}


def _fill_of(pattern: Mapping[str, Any], regions: polygons.Polygons, area: Rectangle, unit: str) -> list[int]:
    """The region that each fill's place lies in, or -1."""
    fills = pattern.get("fills") or []
    places = np.array([_at(fill, area, unit) for fill in fills]).reshape(-1, 2)
    found: list[int] = polygons.holding(regions, places).tolist()
    return found


def _at(fill: Mapping[str, Any], area: Rectangle, unit: str) -> Point:
    edges = dict(read_place(fill["at"], unit).edges)
    return float(area.left + edges["left"]), float(area.top + edges["top"])


def _holds(region: polygons.Polygon, fill: Mapping[str, Any], area: Rectangle, unit: str) -> bool:
    return bool(polygons.holding(polygons.solid([region]), np.array([_at(fill, area, unit)]))[0] >= 0)


def _place_in(region: polygons.Polygon, area: Rectangle, unit: str, graduation: Graduation) -> list[str]:
    """A place well inside a region, on whole graduations where one of those still lies in it."""
    (point,) = polygons.inner_points(polygons.solid([region])).tolist()
    x, y = (exact(point[0]) - area.left, exact(point[1]) - area.top)
    step = graduation.step_mm
    rounded = tuple(round(each / step) * step for each in (x, y))
    on_sheet = np.array([[float(area.left + rounded[0]), float(area.top + rounded[1])]])
    kept = rounded if polygons.holding(polygons.solid([region]), on_sheet)[0] >= 0 else (x, y)
    return [write_kept(each, unit) for each in kept]
