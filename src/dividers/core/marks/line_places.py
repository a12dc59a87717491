"""On which mark line each place goes: an edge of the panel or of an opening, a line struck already, or the vertical through it."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from dividers.core.base.lengths import Graduation, exact, read_off
from dividers.core.base.tolerances import GRID_SKEW, POINT_GRID_MM, SAME_POINT_MM
from dividers.core.cells.layout import Layout
from dividers.core.geometry import polygons
from dividers.core.geometry.contours import ends_in
from dividers.core.geometry.ledger import numbered
from dividers.core.geometry.shapes import Point
from dividers.core.job.surface import Panel
from dividers.core.marks.along_lines import Host
from dividers.core.marks.mark_distances import LEVEL, OPENING, VERTICAL, as_laid, level_ends, run_to, vertical
from dividers.core.marks.mark_places import INSIDE, MARKED_SIDES, corners_of, on_opening, sides_of
from dividers.core.marks.rims import RIM, Edge, opening_edge, rims_of, stretch_of

OWN_MARKS = ("dot", "middle")  # marks that say what they are for
Inner = Sequence[tuple[Point, str]]  # places inside, each with what its mark says


@dataclass(frozen=True)
class MarkPlace:
    """Where a mark goes: on a mark line (`key` orders lines and keeps like-named ones apart), read along x (axis 0) or y, or along `host` from
    its origin, which `datum` names."""

    key: tuple[int, int]
    line: str
    axis: int
    point: Point
    what: str = ""
    side: str = ""
    host: Host | None = None
    datum: str = ""

    def along(self, upward: bool) -> float:
        """Where it comes along its line, as the tape measure runs."""
        if self.host:
            return math.dist(self.host.origin, self.point)
        return self.point[self.axis] * (-1 if upward and self.axis else 1)


@dataclass(frozen=True)
class LinePlaces:
    """A panel whose places are put on mark lines, read from `datum` with a tape measure of some graduation."""

    layout: Layout
    graduation: Graduation
    datum: str

    @property
    def panel(self) -> Panel:
        return self.layout.panel

    def said(self, mm: float) -> str:
        return read_off(exact(mm), self.graduation).text

    def on_edge(self, side: int, point: Point, what: str = "", words: str = "") -> MarkPlace:
        """A place on a side of the field, by its number: along the stretch of edge that is there."""
        if side >= RIM:
            edge = rims_of(self.panel, self.datum, self.said)[side - RIM]
            return _along_edge((edge.facing, side - RIM + 1), edge, point, what, words)
        stretch = stretch_of(self.panel, side, point, self.datum)
        if stretch:
            return _along_edge((side, 0), stretch, point, what, words)
        return MarkPlace((side, 0), *MARKED_SIDES[side], point, what, words)

    def on_opening(self, point: Point, words: str) -> MarkPlace | None:
        """A place on an edge of an opening, along that edge."""
        found = on_opening(self.panel, point)
        if not found:
            return None
        number = found[0]
        edge = opening_edge(self.panel.openings[number // 4], number % 4)
        return _along_edge((OPENING, number), edge, point, "", words)

    def on_host(self, number: int, host: Host, point: Point, words: str, along: int) -> MarkPlace:
        """A place on a line that is struck already."""
        ends = (
            ", ".join(read_off(run_to(self.panel, VERTICAL, axis, end, "left")[0], self.graduation).text for axis in (0, 1))
            for end in (host.origin, host.far)
        )
        return MarkPlace((along, number), f"line from {' to '.join(ends)}", 0, point, "", words, host, "its first end")

    def of_start_line(self, line: tuple[Point, Point], carried: bool) -> list[MarkPlace]:
        """The marks of a line that the first strip of spacer tape is laid along: where it leaves the field; one where it is `carried` level or
        plumb from there."""
        if self.panel.contour:
            met = ends_in(self.panel.contour.field, *line)
            sides = sides_of(self.panel, np.array(met or np.zeros((0, 2))))
            places = [*zip(met or (), sides.tolist(), strict=True)]
            on = [self.on_edge(side, spot, "start line") for spot, side in places if side != INSIDE]
            return on + self.down_verticals([(spot, "") for spot, side in places if side == INSIDE], set())
        ends = np.array(line)
        low, high = 0.0, 1.0
        for first, last in self.layout.panel.field_quad.away(ends).T.tolist():
            if abs(last - first) < 1e-9:
                if first < -SAME_POINT_MM:
                    return []
                continue
            meets = first / (first - last)
            low, high = (max(low, meets), high) if last > first else (low, min(high, meets))
        if low >= high:
            return []
        points = np.array([ends[0] + (ends[1] - ends[0]) * t for t in (low, high)])
        sides = sides_of(self.panel, points)
        found = [
            self.on_edge(side, (point[0], point[1]), "start line")
            for point, side in zip(points.tolist(), sides.tolist(), strict=True)
            if side != INSIDE
        ]
        true = np.abs(ends[1] - ends[0]).min() < SAME_POINT_MM
        return found[:1] if carried and true else found

    def down_verticals(self, inner: Inner, taken: set[tuple[int, int]], bare: Iterable[float] = ()) -> list[MarkPlace]:
        """Places inside the field, down the vertical through each, and each vertical's own marks: two at the field's top and bottom, or one that
        it is carried plumb from. `bare` are verticals (mm across) that are lines themselves, without a place on them."""
        panel = self.panel
        places: list[MarkPlace] = []
        verticals: dict[int, list[tuple[Point, str]]] = {}
        across: dict[int, float] = {}
        spots = [spot for spot, _ in inner] + [(x, 0.0) for x in bare]
        laid = as_laid(panel, np.array(spots).reshape(-1, 2))[:, 0]
        own = [*inner, *[(None, "")] * (len(spots) - len(inner))]
        for (spot, words), key, x in zip(own, numbered(laid, POINT_GRID_MM).tolist(), laid.tolist(), strict=True):
            what = words if words in OWN_MARKS else ""
            at = int(sides_of(panel, np.array([spot]))[0]) if spot and what == "dot" else INSIDE
            if spot and at != INSIDE:
                if self._open(spot, taken):
                    places.append(self.on_edge(at, spot, what))
                continue
            across.setdefault(key, x)
            verticals.setdefault(key, [])
            if spot:
                verticals[key].append((spot, words))
        if panel.contour:
            return places + self._in_outline(verticals, across, taken)
        for key, guests in verticals.items():
            ends = vertical(panel, across[key])
            run = run_to(panel, 0, 0, ends[0], "left")[0] if panel.shape else exact(across[key])
            name = f"vertical at {read_off(run, self.graduation).text}"
            for spot, words in guests:
                what = words if words in OWN_MARKS else ""
                places.append(MarkPlace((VERTICAL, key), name, 1, spot, what, "" if what else words))
            for side, end in zip((0, 2), ends, strict=True):
                inward = (end[0], end[1] + (1 if side == 0 else -1) * 10 * SAME_POINT_MM)
                if self._open(end, taken) and not in_opening(self.layout, inward):
                    taken.add(grid_square(end))
                    places.append(self.on_edge(side, end, "vertical"))
        return places

    def _in_outline(
        self, verticals: dict[int, list[tuple[Point, str]]], across: dict[int, float], taken: set[tuple[int, int]]
    ) -> list[MarkPlace]:
        """The same in an outline of its own, where a vertical begins at a straight side: it is struck between two of them, carried plumb from
        one, or from the level line across the widest place where it meets none."""
        panel = self.panel
        assert panel.contour
        places: list[MarkPlace] = []
        base: list[float] = []
        middle = self._widest() if verticals else None
        for key, guests in verticals.items():
            x = across[key]
            ends = vertical(panel, x)
            sides = sides_of(panel, np.array(ends)).tolist()
            corners = [_at(end, corners_of(panel)) for end in ends]
            there = [side != INSIDE or corner for side, corner in zip(sides, corners, strict=True)]
            name = f"vertical at {self.said(x)}"
            if not any(there):
                assert middle
                (_, height), _ = middle
                base.append(x)
                hosts = [
                    (Host((x, height), end), f"the level centre line, {way}")
                    for end, way in zip(ends, ("up", "down"), strict=True)
                ]
                name += ", plumb from the level centre line"
            else:
                first = 1 if not there[0] or (there[1] and panel.on_fold) else 0
                hosts = [(Host(ends[first], ends[1 - first]), ("its top end", "its bottom end")[first])] * 2
                if not all(there):
                    name += f", plumb from its {('top', 'bottom')[first]} end"
                for end, side, corner in zip(ends, sides, corners, strict=True):
                    if side != INSIDE and not corner and self._open(end, taken):
                        taken.add(grid_square(end))
                        places.append(self.on_edge(side, end, "vertical"))
            made: list[Point] = []
            for spot, words in guests:
                if _at(spot, made):
                    continue
                made.append(spot)
                host, datum = hosts[0 if spot[1] < hosts[0][0].origin[1] else 1]
                what = words if words in OWN_MARKS else ""
                if math.dist(spot, host.origin) > SAME_POINT_MM:
                    places.append(MarkPlace((VERTICAL, key), name, 1, spot, what, "" if what else words, host, datum))
        if base and middle:
            host, words = Host(*middle), "its left end, where the piece is widest"
            line = ((VERTICAL, -1), "level centre line", 0)
            places += [MarkPlace(*line, end, "level", "", host, words) for end in middle]
            inside = [(x, middle[0][1]) for x in base if not _at((x, middle[0][1]), middle)]
            places += [MarkPlace(*line, spot, "vertical", "", host, words) for spot in inside]
        return places

    def _widest(self) -> tuple[Point, Point]:
        """The level line across an outline where it is widest, from the left; across its middle where that is as wide."""
        assert self.panel.contour
        ring = self.panel.contour.field
        box = self.panel.field
        heights = [float(box.top + box.height / 2), *(y for _, y in ring)]
        chords = [ends_in(ring, (float(box.left), y), (float(box.right), y)) for y in heights]
        return max((chord for chord in chords if chord), key=lambda chord: round(math.dist(*chord), 2))

    def across_levels(self, points: Sequence[Point], taken: set[tuple[int, int]]) -> list[MarkPlace]:
        """Places inside the field, across the level line through each, and each level line's own two marks at the field's sides."""
        panel = self.panel
        places: list[MarkPlace] = []
        levels = numbered(np.array([y for _, y in points]), POINT_GRID_MM).tolist()
        seen: set[int] = set()
        for point, key in zip(points, levels, strict=True):
            name = f"across at {read_off(run_to(panel, VERTICAL, 1, point, '')[0], self.graduation).text}"
            ends = level_ends(panel, point)
            host = Host(*ends) if panel.contour else None
            places.append(MarkPlace((LEVEL, key), name, 0, point, "middle", "", host, "its left end" if host else ""))
            if key in seen:
                continue
            seen.add(key)
            sides = sides_of(panel, np.array(ends)).tolist() if panel.contour else (3, 1)
            for side, end, inward in zip(sides, ends, (10, -10), strict=True):
                if (
                    side != INSIDE
                    and self._open(end, taken)
                    and not in_opening(self.layout, (end[0] + inward * SAME_POINT_MM, end[1]))
                ):
                    taken.add(grid_square(end))
                    places.append(self.on_edge(side, end, "level"))
        return places

    def _open(self, end: Point, taken: set[tuple[int, int]]) -> bool:
        """Whether a place wants a mark of its own: none is there yet, and no corner."""
        column, row = grid_square(end)
        near = ((column + across, row + down) for across in (-1, 0, 1) for down in (-1, 0, 1))
        return taken.isdisjoint(near) and not _at(end, corners_of(self.panel))


def _at(place: Point, corners: Sequence[Point]) -> bool:
    return any(math.dist(place, corner) < SAME_POINT_MM for corner in corners)


def _along_edge(key: tuple[int, int], edge: Edge, point: Point, what: str, words: str) -> MarkPlace:
    return MarkPlace(key, edge.name, 0, point, what, words, Host(edge.origin, edge.far), edge.datum)


def in_opening(layout: Layout, point: Point) -> bool:
    """Whether a place lies in an opening."""
    x, y = point
    for opening in layout.panel.openings:
        box = opening.box
        if box.left < x < box.right and box.top < y < box.bottom and (not opening.ring or polygons.holds(opening.ring, point)):
            return True
    return False


def grid_square(point: Point) -> tuple[int, int]:
    """The square of the grid that a place lies in."""
    return round(point[0] / POINT_GRID_MM + GRID_SKEW), round(point[1] / POINT_GRID_MM + GRID_SKEW)
