"""Strips that lie on several panels of a sheet, taken apart at the folds."""

import itertools
import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from scipy.spatial import KDTree

from dividers.core.base.tolerances import SAME_POINT_MM, SHORTEST_LINE_MM, SHORTEST_PART_MM
from dividers.core.cells.layout import Layout
from dividers.core.geometry import polygons
from dividers.core.geometry.shapes import Bools, Floats
from dividers.core.tape.line_reach import reaches
from dividers.core.tape.strips import Strips

BEYOND_MM = 10_000.0  # how far a panel's ground is taken to reach past its edges: further than any tape is wide

# A strip goes on over a fold that leans where the next one begins this near to its end and lies on the same side.
MEETS_MM = 0.5
SAME_SIDE = 0.99


@dataclass(frozen=True)
class _StripPart:
    """What of a strip lies on one panel: the edge that faces the paint, which way the tape lies from it, its end angles in degrees."""

    strip: int
    ground: polygons.Polygon
    panel: int
    start: Floats
    end: Floats
    out: Floats
    ends: Floats

    @property
    def length(self) -> float:
        return float(np.hypot(*(self.end - self.start)))

    @property
    def turned(self) -> "_StripPart":
        """The same from its other end."""
        return replace(self, start=self.end, end=self.start, ends=self.ends[::-1])


def apart(layout: Layout, strips: Strips, paint: polygons.Polygons, width_mm: float) -> Strips:
    """The strips panel by panel: one that crosses a fold becomes two, and the first says which it continues as.

    What reaches over a fold by less than SHORTEST_PART_MM is left out, unless paint lies beside it.
    """
    panels = len(layout.sheet.placed)
    grounds = [_ground_of(layout, number) for number in range(panels)]
    outlines = [polygons.region(placed.ring(placed.panel.outline_ring)) for placed in layout.sheet.placed]
    shapes = polygons.to_polygons(strips.shapes)
    found: list[_StripPart] = []
    for strip in range(len(strips)):
        if strips.reserve[strip]:  # these are cut panel by panel already
            panel = int(strips.panel[strip])
            ends = strips.start[strip], strips.end[strip]
            found.append(_StripPart(strip, shapes[strip], panel, *ends, strips.out[strip], strips.ends[strip]))
            continue
        parts = list(_parts(strips, strip, shapes[strip : strip + 1], grounds, outlines, width_mm))
        longest = max((part.length for part in parts), default=0.0)
        for part in parts:
            middle = (part.start + part.end) / 2 - part.out * 2 * SAME_POINT_MM
            if part.length >= min(SHORTEST_PART_MM, longest) or polygons.holding(paint, middle[None])[0] >= 0:
                found.append(part)
    if any(placed.turned for placed in layout.sheet.placed):
        found, goes_on = _meeting(found, strips)
    else:
        goes_on = _goes_on(found, strips)
    at = np.array([part.strip for part in found], np.int64)
    return Strips(
        start=np.array([part.start for part in found]).reshape(-1, 2),
        end=np.array([part.end for part in found]).reshape(-1, 2),
        out=np.array([part.out for part in found]).reshape(-1, 2),
        perimeter=strips.perimeter[at],
        reserve=strips.reserve[at],
        twin=strips.twin[at],
        shapes=polygons.from_polygons([part.ground for part in found]),
        ends=np.array([part.ends for part in found]).reshape(-1, 2),
        slit_mm=strips.slit_mm[at],
        panel=np.array([part.panel for part in found], np.int64),
        goes_on=np.array(goes_on, np.int64),
        beneath=replace(strips.beneath, source=np.full(len(at), -1)),
    )


def _parts(
    strips: Strips,
    strip: int,
    rest: polygons.Polygons,
    grounds: list[polygons.Region],
    outlines: list[polygons.Region],
    width_mm: float,
) -> Iterator[_StripPart]:
    """A strip's parts on each panel, along its line; of one between two lines, along the other where the fold lies between them."""
    way = (strips.end[strip] - strips.start[strip]) / strips.lengths[strip]
    near, out = float(strips.out[strip] @ strips.start[strip]), strips.out[strip]
    across = width_mm if np.isnan(strips.slit_mm[strip]) else float(strips.slit_mm[strip])
    lines = [(near, out), (near + across, -out)] if strips.twin[strip] else [(near, out)]
    for number, ground in enumerate(grounds):
        pieces = polygons.clipped(rest, ground)[0]
        here = np.zeros(len(pieces), bool)
        for offset, tape in lines:
            many = (len(pieces), 2)
            cut = reaches(
                np.broadcast_to(way, many), np.broadcast_to(out, many), np.full(len(pieces), offset), pieces, pieces, math.inf
            )
            starts, stops = out * offset + way * cut.span[:, :1], out * offset + way * cut.span[:, 1:]
            now = cut.there & _beside(outlines[number], starts, stops, tape) & ~here
            here |= now
            for own in np.flatnonzero(now).tolist():
                start, end = (out * offset + way * t for t in cut.span[own])
                yield _StripPart(strip, pieces[own], number, start, end, tape, cut.ends[own])
        rest = polygons.less(rest, ground) if here.any() else rest


def _goes_on(parts: list[_StripPart], strips: Strips) -> list[int]:
    """Which part each strip continues as, or -1: parts of one strip, end to end."""
    found = [int(strips.goes_on[part.strip]) if strips.reserve[part.strip] else -1 for part in parts]
    for number, (one, other) in enumerate(itertools.pairwise(parts)):
        if one.strip == other.strip and one.out @ other.out > 0:
            found[number] = number + 1
    return found


def _meeting(parts: list[_StripPart], strips: Strips) -> tuple[list[_StripPart], list[int]]:
    """Parts in an order in which those that meet at folds follow each other, each turned to run on, and which part each continues as."""
    beside = _joints(parts, strips)
    order: list[_StripPart] = []
    goes_on: list[int] = []
    seen: set[int] = set()
    for first_end in (0, 1):  # chains that begin with a strip's start; then those whose first strip must be turned
        for first in range(len(parts)):
            if first in seen or (first, first_end) in beside or (first_end and (first, 0) not in beside):
                continue
            here: tuple[int, int] | None = (first, first_end)
            while here and here[0] not in seen:
                number, entered = here
                seen.add(number)
                order.append(parts[number] if entered == 0 else parts[number].turned)
                here = beside.get((number, 1 - entered))
                goes_on.append(len(order) if here else -1)
    return order, goes_on


def _joints(parts: list[_StripPart], strips: Strips) -> dict[tuple[int, int], tuple[int, int]]:
    """The ends of parts (number, 0 for its start or 1) that meet at a fold with their tape on one side, the nearest first, both ways round."""
    if len(parts) < 2:
        return {}
    points = np.array([point for part in parts for point in (part.start, part.end)])
    pairs = KDTree(points).query_pairs(MEETS_MM, output_type="ndarray")
    gaps = np.hypot(*(points[pairs[:, 0]] - points[pairs[:, 1]]).T)
    found: dict[tuple[int, int], tuple[int, int]] = {}
    for one, other in pairs[np.lexsort([pairs[:, 1], pairs[:, 0], np.round(gaps, 3)])].tolist():
        here, there = divmod(one, 2), divmod(other, 2)
        if here not in found and there not in found and _runs_on(parts, strips, here, there):
            found |= {here: there, there: here}
    return found


def _runs_on(parts: list[_StripPart], strips: Strips, here: tuple[int, int], there: tuple[int, int]) -> bool:
    """Whether two ends that meet belong to strips on two panels that run on into each other."""
    one, other = parts[here[0]], parts[there[0]]
    alike = all(column[one.strip] == column[other.strip] for column in (strips.perimeter, strips.reserve, strips.twin))
    into = (one.end - one.start) * (-1 if here[1] == 0 else 1), (other.end - other.start) * (1 if there[1] == 0 else -1)
    straight = float(into[0] @ into[1]) > SAME_SIDE * one.length * other.length
    return one.panel != other.panel and alike and straight and (not one.out.any() or float(one.out @ other.out) > SAME_SIDE)


def _beside(outline: polygons.Region, start: Floats, end: Floats, out: Floats) -> Bools:
    """Which stretches of a line (start and end (n, 2)) have a panel beside them, under the tape or under the paint: beyond the corner of two
    folds several panels' grounds lie on each other."""
    nudge = out * 2 * SAME_POINT_MM
    reach = np.maximum(*(polygons.lengths_within(start + way, end + way, outline) for way in (nudge, -nudge)))
    found: Bools = reach > np.minimum(SHORTEST_LINE_MM, np.hypot(*(end - start).T) / 2)
    return found


def _ground_of(layout: Layout, number: int) -> polygons.Region:
    """A panel on the sheet, drawn out on every side that is no fold, along the folds beside it."""
    sheet = layout.sheet
    placed = sheet.placed[number]
    folds = sheet.folded_sides(number)
    corners = placed.to_sheet(placed.panel.outline_quad.points)
    way = np.roll(corners, -1, axis=0) - corners
    way = way / np.hypot(way[:, 0], way[:, 1])[:, None]
    out = np.column_stack([way[:, 1], -way[:, 0]])
    ring = []
    for corner, point in enumerate(corners):
        before, after = (corner - 1) % 4, corner  # the sides that end and begin here
        if before in folds:
            drawn = way[before] if after not in folds else np.zeros(2)
        else:
            drawn = -way[after] if after in folds else out[before] + out[after]
        ring.append(tuple((point + drawn * BEYOND_MM).tolist()))
    return polygons.region(ring)
