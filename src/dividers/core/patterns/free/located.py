"""From places as people give them to points on an area: edges first, then points along lines and where lines cross."""

import math
from collections.abc import Mapping

from dividers.core.base.errors import BadInput
from dividers.core.geometry.shapes import Point
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.free.points import Mirror, OwnLine, Place


def located(places: Mapping[str, Place], area: Rectangle) -> dict[str, Point]:
    """Where every named point is, in mm. Raises BadInput at ``points.NAME`` for one that can't be found or lies outside."""
    found: dict[str, Point] = {}
    for name in places:
        _locate(name, places, area, found, ())
    return {name: found[name] for name in places}


def _locate(name: str, places: Mapping[str, Place], area: Rectangle, found: dict[str, Point], asked: tuple[str, ...]) -> Point:
    if name in found:
        return found[name]
    first = asked[0] if asked else name
    if name not in places:
        raise BadInput(f"There is no point “{name}”. Points so far: {', '.join(places)}.", f"points.{first}")
    if name in asked:
        raise BadInput(
            f"“{name}” is found from itself ({' from '.join((*asked, name))}). Measure one of them.", f"points.{first}"
        )
    place = places[name]
    for need in place.needs:
        _locate(need, places, area, found, (*asked, name))
    found[name] = point = _point(name, place, area, found)
    x, y = point
    slack = 1e-6
    if not (
        float(area.left) - slack <= x <= float(area.right) + slack
        and float(area.top) - slack <= y <= float(area.bottom) + slack
    ):
        raise BadInput(f"“{name}” lies outside the field. Points lie on the field or its edges.", f"points.{name}")
    return point


def _point(name: str, place: Place, area: Rectangle, found: Mapping[str, Point]) -> Point:
    if place.cross:
        (a, b), (c, d) = ((found[one], found[other]) for one, other in place.cross)
        return _crossing(name, a, b, c, d)
    if place.way:
        return _met(name, place.way, area, found)
    if place.mirror:
        return _mirrored(name, place.mirror, area, found)
    if place.on:
        a, b = (found[end] for end in place.on)
        length = math.dist(a, b)
        if not length:
            raise BadInput(f"{' and '.join(place.on)} are the same place, so nothing lies between them.", f"points.{name}")
        share = float(place.at_mm) / length
        return a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share
    edges = dict(place.edges)
    x = area.left + edges["left"] if "left" in edges else area.right - edges["right"]
    y = area.top + edges["top"] if "top" in edges else area.bottom - edges["bottom"]
    return float(x), float(y)


def _met(name: str, way: OwnLine, area: Rectangle, found: Mapping[str, Point]) -> Point:
    """Where a line of its own meets an edge, or the line through two points; or so far along it."""
    through, ahead = _way_of(name, way, found)
    if way.meets is None:
        far = float(way.length_mm)
        return through[0] + ahead[0] * far, through[1] + ahead[1] * far
    if isinstance(way.meets, str):
        left, top, right, bottom = (float(side) for side in (area.left, area.top, area.right, area.bottom))
        sides = {
            "left": ((left, top), (left, bottom)),
            "right": ((right, top), (right, bottom)),
            "top": ((left, top), (right, top)),
        }
        one, other = sides.get(way.meets, ((left, bottom), (right, bottom)))
    else:
        one, other = (found[end] for end in way.meets)
    return _crossing(name, one, other, through, (through[0] + ahead[0], through[1] + ahead[1]))


def _way_of(name: str, way: OwnLine, found: Mapping[str, Point]) -> tuple[Point, Point]:
    """A place on a line of its own, and its direction (y runs down)."""
    if way.turn is not None and way.start:
        angle = math.radians(float(way.turn))
        return found[way.start], (math.cos(angle), -math.sin(angle))
    assert way.line
    a, b = (found[end] for end in way.line)
    length = math.dist(a, b)
    if not length:
        raise BadInput(f"{' and '.join(way.line)} are the same place, so no line runs along them.", f"points.{name}")
    along = ((b[0] - a[0]) / length, (b[1] - a[1]) / length)
    if way.start:
        return found[way.start], (-along[1], along[0]) if way.square else along
    off = float(way.by_mm) * way.side
    return (a[0] + along[1] * off, a[1] - along[0] * off), along


def _mirrored(name: str, mirror: Mirror, area: Rectangle, found: Mapping[str, Point]) -> Point:
    x, y = found[mirror.point]
    if mirror.axis == "x":
        return float(area.left + area.right) - x, y
    if mirror.axis == "y":
        return x, float(area.top + area.bottom) - y
    a, b = (found[end] for end in mirror.axis)
    way = (b[0] - a[0], b[1] - a[1])
    length = math.hypot(*way)
    if not length:
        raise BadInput(f"{' and '.join(mirror.axis)} are the same place, so nothing mirrors in them.", f"points.{name}")
    off = ((x - a[0]) * way[1] - (y - a[1]) * way[0]) / length**2
    return x - 2 * off * way[1], y + 2 * off * way[0]


def _crossing(name: str, a: Point, b: Point, c: Point, d: Point) -> Point:
    one, other = (b[0] - a[0], b[1] - a[1]), (d[0] - c[0], d[1] - c[1])
    across = one[0] * other[1] - one[1] * other[0]
    if abs(across) < 1e-9 * (math.hypot(*one) * math.hypot(*other) + 1e-9):
        raise BadInput("Those two lines are parallel and never cross.", f"points.{name}")
    share = ((c[0] - a[0]) * other[1] - (c[1] - a[1]) * other[0]) / across
    return a[0] + one[0] * share, a[1] + one[1] * share
