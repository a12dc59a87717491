"""Stripes as they came out: where a layer's bands really are once they were measured, for what is laid in them.

Only whole bands that run level or upright are measured, on the piece's first panel. The plan of the layer itself stays as it was: it is
on the wall.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import exact
from dividers.core.cells.layout import Layout
from dividers.core.geometry import polygons
from dividers.core.geometry.shapes import Floats
from dividers.core.job.layers import AsPainted
from dividers.core.job.method import PatternChoice

LINE = re.compile(r"band (\d{1,4}), (top|bottom|left|right)")
FIRST_SIDES = ("top", "left")
ON_LINE_MM = 0.01
LEVEL = 1e-7  # slopes less than this are none
CORNERS = 4
LEAST_SHARED = 3  # so many widths have one between them


@dataclass(frozen=True)
class EdgeLine:
    """Where an edge of a band came out: `at_mm` from the panel's top (or left) where `along` is 0, and its slope along it."""

    at_mm: float
    slope: float = 0.0

    def at(self, along: float) -> float:
        return self.at_mm + self.slope * along


@dataclass(frozen=True)
class PaintedBand:
    """A band across the run (`axis` 1 for level bands, 0 for upright ones): its edges as planned and as they came out."""

    number: int
    axis: int
    planned: tuple[EdgeLine, EdgeLine]
    edges: tuple[EdgeLine, EdgeLine]
    measured: bool

    @property
    def leans(self) -> bool:
        """Whether it runs along lines that aren't level or upright."""
        return any(edge.slope for edge in self.edges)

    def wide_at(self, along: float) -> float:
        return self.edges[1].at(along) - self.edges[0].at(along)


def axis_of(pattern: PatternChoice) -> int | None:
    """Along which axis the bands of a pattern follow each other: 1 down, 0 across; None where they can't be measured."""
    plain = pattern.kind == "stripes" and not pattern.values.get("along")
    direction = pattern.values.get("direction") if plain else None
    return {Fraction(0): 1, Fraction(90): 0}.get(direction) if direction is not None else None


def bands_of(layout: Layout, pattern: PatternChoice) -> list[tuple[EdgeLine, EdgeLine]]:
    """The two edges of each band, in order across the run; none where they can't be measured."""
    axis = axis_of(pattern)
    if axis is None or len(layout.parts) > 1 or layout.sheet.placed[0].moved:
        return []
    found = []
    for rings in layout.tiles.shapes:
        points = np.array(rings[0])
        if len(points) != CORNERS:
            return []
        order = np.argsort(points[:, axis], kind="stable")
        found.append((_through(points[order[:2]], axis), _through(points[order[2:]], axis)))
    return sorted(found, key=lambda edges: edges[0].at_mm)


def _through(two: Floats, axis: int) -> EdgeLine:
    """The line through two points."""
    (along, at), (other_along, other_at) = ((point[1 - axis], point[axis]) for point in two)
    slope = (other_at - at) / (other_along - along) if abs(other_along - along) > ON_LINE_MM else 0.0
    slope = 0.0 if abs(slope) < LEVEL else float(slope)
    return EdgeLine(float(at - slope * along), slope)


def sides_of(pattern: PatternChoice) -> tuple[str, str]:
    return ("top", "bottom") if axis_of(pattern) else ("left", "right")


def as_they_came_out(layout: Layout, pattern: PatternChoice, measured: Sequence[AsPainted]) -> list[PaintedBand]:
    """Every band with its edges where they were measured, else as planned. Raises BadInput at `as_painted.N`."""
    planned = bands_of(layout, pattern)
    if measured and not planned:
        raise BadInput("Only horizontal or vertical stripes on one panel can be measured band by band.", "as_painted.0.line")
    read: dict[tuple[int, int], list[AsPainted]] = {}
    for number, each in enumerate(measured):
        read.setdefault(_checked(number, each, planned, sides_of(pattern)), []).append(each)
    axis = axis_of(pattern) or 0
    bands = []
    for number, edges in enumerate(planned):
        lines = [read.get((number, side)) or read.get(_same(number, side)) for side in (0, 1)]
        found = [_line(own, edge) if own else edge for own, edge in zip(lines, edges, strict=True)]
        bands.append(PaintedBand(number + 1, axis, edges, (found[0], found[1]), any(lines)))
    return bands


def _same(number: int, side: int) -> tuple[int, int]:
    """The other name of a line between two bands."""
    return (number + 1, 0) if side else (number - 1, 1)


def _checked(
    number: int, each: AsPainted, planned: Sequence[tuple[EdgeLine, EdgeLine]], sides: tuple[str, str]
) -> tuple[int, int]:
    """Which band, and which of its edges, a reading is of."""
    path = f"as_painted.{number}"
    found = LINE.fullmatch(each.line.strip().lower())
    if not found or found[2] not in sides:
        raise BadInput(
            f"“{each.line}” is no line of these bands. Write it like “band 1, {sides[0]}” or “band 1, {sides[1]}”.",
            f"{path}.line",
        )
    band, side = int(found[1]) - 1, sides.index(found[2])
    if not 0 <= band < len(planned):
        raise BadInput(f"There are {len(planned)} bands; “{each.line}” isn't one of their lines.", f"{path}.line")
    along = float(each.along_mm or 0)
    low, high = (edge.at(along) for edge in planned[band])
    off = abs(float(each.at_mm) - (low, high)[side])
    if off > (high - low) / 2:
        raise BadInput("This is more than half a band away from where the line was planned. Read it again.", f"{path}.at")
    return band, side


def _line(readings: Sequence[AsPainted], planned: EdgeLine) -> EdgeLine:
    """The straight line through what was read of one edge, the best where there are several readings; one alone leans as planned."""
    along = np.array([float(each.along_mm or 0) for each in readings])
    at = np.array([float(each.at_mm) for each in readings])
    if len(readings) == 1 or np.ptp(along) < 1.0:
        return EdgeLine(float(at.mean() - planned.slope * along.mean()), planned.slope)
    slope, start = np.polyfit(along, at, 1)
    return EdgeLine(float(start), float(slope))


def moved(ground: polygons.Polygon, band: PaintedBand) -> polygons.Polygon:
    """A part of a band, its edges where they came out."""
    other = 1 - band.axis

    def place(points: Floats) -> Floats:
        found = points.copy()
        for edge, line in zip(band.planned, band.edges, strict=True):
            on = np.abs(points[:, band.axis] - edge.at_mm - edge.slope * points[:, other]) < ON_LINE_MM
            found[on, band.axis] = line.at_mm + line.slope * points[on, other]
        return found

    return polygons.redrawn(ground, place)


def holding(bands: Sequence[PaintedBand], ground: polygons.Polygon) -> PaintedBand | None:
    """The band that a cell is of, where that was measured or leans."""
    x, y = polygons.inner_points(np.array([ground], object))[0].tolist()
    for band in bands:
        at, along = (y, x) if band.axis else (x, y)
        if (band.measured or band.leans) and band.planned[0].at(along) < at < band.planned[1].at(along):
            return band
    return None


@dataclass(frozen=True)
class Middle:
    """The middle of a band as a line, and the run around it that a pattern is laid in: from `low` to `high` where `along` is `at`.

    `planned_mm` is how wide the band was meant to be there.
    """

    axis: int
    at: float
    slope: float
    low: Fraction
    high: Fraction
    planned_mm: float = 0.0


def middle_of(band: PaintedBand, ground: polygons.Polygon) -> Middle:
    """The run that is laid from a band's own middle: as wide as the band is at its widest."""
    other = 1 - band.axis
    ends = ground.bounds[other], ground.bounds[other + 2]
    at = (ends[0] + ends[1]) / 2
    middle = (band.edges[0].at(at) + band.edges[1].at(at)) / 2
    half = max(band.wide_at(end) for end in ends) / 2
    slope = (band.edges[0].slope + band.edges[1].slope) / 2
    planned_mm = band.planned[1].at(at) - band.planned[0].at(at)
    return Middle(band.axis, at, slope, exact(middle - half), exact(middle + half), planned_mm)


def shared_out(pattern: PatternChoice, band: Middle) -> PatternChoice:
    """Stripes whose widths filled a band as planned, in the band as it came out: what it is wider or narrower by is shared by the first and
    the last of them, so that those between keep their widths and the set its middle."""
    widths: Sequence[Fraction] = pattern.values.get("widths") or ()
    run = band.high - band.low
    fills = axis_of(pattern) == band.axis and pattern.values.get("start") == "edge" and len(widths) >= LEAST_SHARED
    if not fills or abs(float(sum(widths)) - band.planned_mm) > ON_LINE_MM:
        return pattern
    more = (run - sum(widths)) / 2
    shared = (widths[0] + more, *widths[1:-1], widths[-1] + more)
    if min(shared) <= 0:
        return pattern
    return replace(pattern, values={**pattern.values, "widths": shared})
