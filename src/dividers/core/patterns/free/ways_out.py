"""For each near miss of a free design the two clear positions of the point that it is about: exactly onto it, or clearly past it."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from dividers.core.base.lengths import Graduation, exact, write_kept
from dividers.core.geometry.shapes import Point
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.free.construction import guides_of, legs_of, places_of
from dividers.core.patterns.free.located import located
from dividers.core.patterns.free.near_misses import NearMiss, Pair, find

MOST_WAYS = 6
ON_EDGE_MM = 0.01


@dataclass(frozen=True)
class WayOut:
    """A point and where to put it, as the job file has it, with the words of the button."""

    words: str
    point: str
    place: Any


@dataclass(frozen=True)
class MissAdvice:
    miss: NearMiss
    ways: tuple[WayOut, ...]


def advice(pattern: Mapping[str, Any], area: Rectangle, unit: str, graduation: Graduation) -> list[MissAdvice]:
    """The first near misses of a written design with their ways out. Raises BadInput."""
    points = located(places_of(pattern, unit), area)
    guides = guides_of(pattern)
    fixed = {name for pair in guides for name in pair}
    clear = _Clear(points, area, unit, graduation.step_mm)
    found = []
    for miss in find(legs_of(pattern), points, area, guides)[:MOST_WAYS]:
        ways = clear.ways(miss, pattern) if miss.point not in fixed else []
        if ways:
            found.append(MissAdvice(miss, tuple(ways)))
    return found


@dataclass(frozen=True)
class _Clear:
    points: Mapping[str, Point]
    area: Rectangle
    unit: str
    step: Fraction

    def ways(self, miss: NearMiss, pattern: Mapping[str, Any]) -> list[WayOut]:
        name = miss.point
        if miss.code in ("nearly-corner", "nearly-edge"):
            return self._at_rim(miss)
        if miss.code == "sharp-tip":
            return []
        against = miss.other if miss.other else miss.strip
        if name in against:
            return []
        on_edge = self._edge_of(name)
        if miss.code == "nearly-parallel":
            start = next(each for each in miss.strip if each != name)
            onto = {"meets": on_edge, "from": start, "along": list(against)} if on_edge else None
            return [WayOut(f"Make it parallel to {' '.join(against)}", name, onto)] if onto else []
        apart = miss.clear_mm
        words = (
            f"Exactly in line with {' '.join(against)}"
            if miss.code == "nearly-continues"
            else f"Exactly onto {' '.join(against)}"
        )
        return [
            WayOut(words, name, self._onto(name, against, on_edge)),
            WayOut(f"Clearly off: {self._written(self._up(apart))}", name, self._off(name, against, on_edge, apart)),
        ]

    def _at_rim(self, miss: NearMiss) -> list[WayOut]:
        x, y = self.points[miss.point]
        zero = self._written(Fraction(0))
        if miss.code == "nearly-edge":
            edge = miss.edge.split()[0]
            across, down = (
                self._written(self._round(x - float(self.area.left))),
                self._written(self._round(y - float(self.area.top))),
            )
            onto = {"left": across, edge: zero} if edge in ("top", "bottom") else {edge: zero, "top": down}
            return [WayOut(f"Exactly to the {miss.edge}", miss.point, onto)]
        down, across, _ = miss.edge.split()
        return [WayOut(f"Exactly into the {miss.edge}", miss.point, {across: zero, down: zero})]

    def _onto(self, name: str, line: Pair, edge: str) -> Any:
        if edge:
            return {"meets": edge, "from": line[0], "along": list(line)}
        a, b = (self.points[end] for end in line)
        x, y = self.points[name]
        along = ((x - a[0]) * (b[0] - a[0]) + (y - a[1]) * (b[1] - a[1])) / math.dist(a, b)
        return {"on": list(line), "at": self._written(self._round(along))}

    def _off(self, name: str, line: Pair, edge: str, apart: float) -> Any:
        a, b = (self.points[end] for end in line)
        x, y = self.points[name]
        length = math.dist(a, b)
        left = (
            (b[1] - a[1]) * (x - a[0]) - (b[0] - a[0]) * (y - a[1])
        ) / length  # to the left of the way from a to b, as y runs down
        side, by = ("left" if left > 0 else "right"), self._up(apart)
        if edge:
            return {"meets": edge, "beside": list(line), "by": self._written(by), "side": side}
        away = (float(by) + float(self.step) - abs(left)) * (1 if left > 0 else -1)
        new = (x + (b[1] - a[1]) / length * away, y - (b[0] - a[0]) / length * away)
        return [
            self._written(self._round(new[0] - float(self.area.left))),
            self._written(self._round(new[1] - float(self.area.top))),
        ]

    def _edge_of(self, name: str) -> str:
        """The edge of the field that a point lies on; "" inside and in corners."""
        x, y = self.points[name]
        gaps = {
            "left": x - float(self.area.left),
            "right": float(self.area.right) - x,
            "top": y - float(self.area.top),
            "bottom": float(self.area.bottom) - y,
        }
        on = [edge for edge, gap in gaps.items() if abs(gap) < ON_EDGE_MM]
        return on[0] if len(on) == 1 else ""

    def _up(self, mm: float) -> Fraction:
        """The next whole graduation."""
        return Fraction(math.ceil(exact(mm) / self.step)) * self.step

    def _round(self, mm: float) -> Fraction:
        return max(round(exact(mm) / self.step) * self.step, Fraction(0))

    def _written(self, mm: Fraction) -> str:
        return write_kept(mm, self.unit)
