"""Edges that are there: the straight stretches of a panel's rim that a tape measure can be hooked on and run along, and what they are called.

A side that an opening interrupts is read in stretches; an outline of its own has its straight sides, and none where it curves.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from dividers.core.base.tolerances import SAME_POINT_MM
from dividers.core.geometry.contours import ends_in, side_of
from dividers.core.geometry.quads import BOTTOM, LEFT, RIGHT, TOP
from dividers.core.geometry.shapes import Floats, Ints, Point
from dividers.core.job.method import NEARER
from dividers.core.job.surface import SIDES, Contour, Opening, Panel

RIM = 100  # sides of an outline of its own are numbered from here, in the order of `rims_of`
LEVEL_SLOPE = 1e-6  # a side that turns from level or plumb by less is level or plumb
ALONG_IT = 0.01  # a line that turns less from a side than this (half a degree) runs along it
PARALLEL = 1e-6
SHORTEST_EDGE_MM = 20.0  # an opening's straight stretch that is shorter may be a curve's chord
SMOOTH = 1.2  # of the turn between an arc's chords: a corner that turns by less is none

Said = Callable[[float], str]  # a length as the tape measure says it


@dataclass(frozen=True)
class Edge:
    """A straight stretch of edge, from the place it is read from to the other; which way it faces; its name, and what the place is called."""

    origin: Point
    far: Point
    facing: int
    name: str
    datum: str
    clockwise: bool = True


def rims_of(panel: Panel, datum: str = "left", say: Said = lambda mm: f"{mm:.0f} mm") -> tuple[Edge, ...]:
    """The straight sides of an outline of its own, clockwise; those of a field inside margins run on to the panel's edge.

    Each is read from an end that a tape measure can be hooked on: a corner that was written and begins no arc, where there is one.
    """
    if not panel.contour:
        return ()
    found = []
    for start, end, first, last in _straight_sides(panel):
        facing = side_of(start, end)
        name, ends = _named(panel, start, end)
        swap = _from_its_end(panel, start, end, datum)
        if first != last:  # one of its ends begins an arc
            swap = last
        origin, far = (end, start) if swap else (start, end)
        found.append(Edge(origin, far, facing, name, ends[1] if swap else ends[0], not swap))
    names = [edge.name for edge in found]
    return tuple(_told_apart(edge, say) if names.count(edge.name) > 1 else edge for edge in found)


def _told_apart(edge: Edge, say: Said) -> Edge:
    """An edge with where it lies in its name, as there is another of that name."""
    (x, y), (far_x, far_y) = edge.origin, edge.far
    level = abs(far_y - y) <= abs(far_x - x)
    if min(y if level else x, far_y if level else far_x) < SAME_POINT_MM:
        return edge  # the one at the top or the left goes by its plain name
    where = f"{say(y)} from the top" if level else f"{say(x)} from the left"
    return replace(edge, name=f"{edge.name}, {where}")


def _straight_sides(panel: Panel) -> list[tuple[Point, Point, bool, bool]]:
    """The straight sides of what is painted of an outline, and whether each end is a corner proper: no arc begins or ends there."""
    assert panel.contour
    outline, field = panel.contour.outline, panel.contour.field
    written = np.array(panel.contour.corners)
    own = [bool(len(written)) and bool((np.abs(written - point).max(axis=1) < SAME_POINT_MM).any()) for point in outline]
    ring = [*zip(outline, own, strict=True)]
    around = [*ring, ring[0]]
    straight = [one and other for (_, one), (_, other) in pairwise(around)]
    sides = []
    for turn, ((start, _), (end, _)) in enumerate(pairwise(around)):
        if straight[turn]:
            sides.append((start, end, straight[turn - 1], straight[(turn + 1) % len(straight)]))
    if field == outline:
        return sides
    found = []
    for start, end in pairwise([*field, field[0]]):
        length = math.dist(start, end)
        if length < 1.0:
            continue
        for a, b, first, last in sides:
            bend = (b[0] - a[0]) * (end[1] - start[1]) - (b[1] - a[1]) * (end[0] - start[0])
            if abs(bend) < PARALLEL * length * math.dist(a, b) and side_of(a, b) == side_of(start, end):
                out = ends_in(outline, start, end) or (start, end)
                way = (end[0] - start[0], end[1] - start[1])
                if (out[1][0] - out[0][0]) * way[0] + (out[1][1] - out[0][1]) * way[1] < 0:
                    out = out[::-1]
                found.append((*out, first, last))
                break
    return found


def sharp_corners(contour: Contour) -> list[Point]:
    """The written corners of an outline that one can feel: not those where an arc begins or goes on as the side before it ended."""
    ring = np.array(contour.outline)
    ahead, behind = np.roll(ring, -1, axis=0) - ring, ring - np.roll(ring, 1, axis=0)
    turns = np.abs(np.arctan2(behind[:, 0] * ahead[:, 1] - behind[:, 1] * ahead[:, 0], (behind * ahead).sum(axis=1)))
    written = np.array(
        [
            bool((np.abs(ring[n] - np.array(contour.corners).reshape(-1, 2)).max(axis=1) < SAME_POINT_MM).any())
            for n in range(len(ring))
        ]
    )
    found = []
    for corner in np.flatnonzero(written).tolist():
        beside = [n % len(ring) for n in (corner - 1, corner + 1) if not written[n % len(ring)]]  # on an arc
        if not beside or turns[corner] > SMOOTH * max(turns[n] for n in beside):
            found.append((float(ring[corner][0]), float(ring[corner][1])))
    return found


def _named(panel: Panel, start: Point, end: Point) -> tuple[str, tuple[str, str]]:
    """What a side of an outline is called, and its two ends."""
    wide, high = float(panel.width_mm), float(panel.height_mm)
    dx, dy = end[0] - start[0], end[1] - start[1]
    facing = side_of(start, end)
    if abs(dy) < LEVEL_SLOPE * abs(dx):
        name, ends = f"{SIDES[facing]} edge", ("its left end", "its right end") if dx > 0 else ("its right end", "its left end")
    elif abs(dx) < LEVEL_SLOPE * abs(dy):
        name, ends = f"{SIDES[facing]} edge", ("its top end", "its bottom end") if dy > 0 else ("its bottom end", "its top end")
    else:
        across, down = ("left" if dy < 0 else "right"), ("upper" if dx > 0 else "lower")
        name, ends = (
            f"{down} {across} slope",
            ("its upper end", "its lower end") if dy > 0 else ("its lower end", "its upper end"),
        )
    corners = {(0.0, 0.0): "top left", (wide, 0.0): "top right", (wide, high): "bottom right", (0.0, high): "bottom left"}
    said = [
        next((words for corner, words in corners.items() if math.dist(corner, place) < SAME_POINT_MM), word)
        for place, word in zip((start, end), ends, strict=True)
    ]
    return name, (said[0], said[1])


def _from_its_end(panel: Panel, start: Point, end: Point, datum: str) -> bool:
    """Whether a side is read from its end instead of its start: level ones from the left or as is asked, plumb ones from the top, slopes from
    below."""
    dx, dy = end[0] - start[0], end[1] - start[1]
    if abs(dy) < LEVEL_SLOPE * abs(dx):
        return (dx > 0) if datum == "right" else (dx < 0)
    if abs(dx) < LEVEL_SLOPE * abs(dy):
        return (dy > 0) if panel.on_fold else (dy < 0)
    return dy > 0


def on_rims(panel: Panel, points: Floats, normals: Floats | None = None) -> Ints:
    """The number of the straight side (RIM and more) that each point (n, 2) lies on, or -1; one that the line through it (by its normal) crosses,
    where there is one."""
    found = np.full(len(points), -1, np.int64)
    best = np.full(len(points), -1.0)
    for number, edge in enumerate(rims_of(panel)):
        length = math.dist(edge.origin, edge.far)
        way = np.array([(edge.far[0] - edge.origin[0]) / length, (edge.far[1] - edge.origin[1]) / length])
        off = points - np.array(edge.origin)
        along, across = off @ way, np.abs(off[:, 0] * way[1] - off[:, 1] * way[0])
        on = (across < SAME_POINT_MM) & (along > -SAME_POINT_MM) & (along < length + SAME_POINT_MM)
        crossing = np.abs(normals @ way) > ALONG_IT if normals is not None else np.ones(len(points), bool)
        worth = np.where(crossing, 1.0, 0.0)
        better = on & (worth > best)
        found[better], best[better] = RIM + number, worth[better]
    return found


def inward_of(panel: Panel) -> list[tuple[int, Point]]:
    """The numbers of a field's sides, and which way is in from each."""
    if not panel.contour:
        return [*enumerate(((0.0, 1.0), (-1.0, 0.0), (0.0, -1.0), (1.0, 0.0)))]
    found = []
    for number, edge in enumerate(rims_of(panel)):
        (ax, ay), (bx, by) = (edge.origin, edge.far) if edge.clockwise else (edge.far, edge.origin)
        length = math.dist(edge.origin, edge.far)
        found.append((RIM + number, ((ay - by) / length, (bx - ax) / length)))
    return found


def stretch_of(panel: Panel, side: int, point: Point, datum: str) -> Edge | None:
    """The stretch of a straight side that a point lies on, where an opening lies between it and the corner that it would be read from; None where
    the whole way is there."""
    axis = side % 2
    if panel.contour or panel.shape:
        return None
    gaps = sorted(_gaps(panel, side))
    at, whole = point[axis], float(panel.height_mm if axis else panel.width_mm)
    before = [gap for gap in gaps if gap[1] <= at + SAME_POINT_MM]
    after = [gap for gap in gaps if gap[0] >= at - SAME_POINT_MM]
    if not gaps or any(low + SAME_POINT_MM < at < high - SAME_POINT_MM for low, high, _ in gaps):
        return None
    from_far = panel.on_fold if axis else datum == "right" or (datum == NEARER and at > whole / 2)
    if not (after if from_far else before) and datum != "centre":
        return None
    if datum == "centre" and not axis and not before and not after:
        return None
    name = f"{SIDES[side]} edge"
    across = float(point[1 - axis])
    far_corner, near_corner = _corner_words(side)

    def edge(low: float, high: float, words: str) -> Edge:
        one, other = ((low, across), (high, across)) if axis == 0 else ((across, low), (across, high))
        return Edge(one, other, side, name, words)

    if not before:
        return edge(0.0, after[0][0], near_corner)
    if not after:
        return edge(whole, before[-1][1], far_corner)
    low, high = before[-1], after[0]
    if from_far:
        return edge(high[0], low[1], f"{high[2].name}, {f'top {SIDES[side]}' if axis else f'{SIDES[side]} left'}")
    return edge(low[1], high[0], f"{low[2].name}, {f'bottom {SIDES[side]}' if axis else f'{SIDES[side]} right'}")


def _corner_words(side: int) -> tuple[str, str]:
    """What the far and the near corner of a side are called, as read from the left and from the top."""
    if side in (TOP, BOTTOM):
        return f"{SIDES[side]} right", f"{SIDES[side]} left"
    return f"bottom {SIDES[side]}", f"top {SIDES[side]}"


def _gaps(panel: Panel, side: int) -> list[tuple[float, float, Opening]]:
    """The stretches of a side, along it, that openings take, and which."""
    field = panel.field
    line = float((field.top, field.right, field.bottom, field.left)[side])
    found = []
    for opening in panel.openings:
        box = opening.box
        low, high = (box.top, box.bottom) if side in (TOP, BOTTOM) else (box.left, box.right)
        if float(low) < line + SAME_POINT_MM and float(high) > line - SAME_POINT_MM:
            ends = (box.left, box.right) if side in (TOP, BOTTOM) else (box.top, box.bottom)
            found.append((float(ends[0]), float(ends[1]), opening))
    return found


def opening_edge(opening: Opening, edge: int) -> Edge:
    """An edge of an opening by its number (left, right, top, bottom), read from its own upper or left corner; from below where it has no upper ones."""
    start, end = straight_edge(opening, edge) or ((0.0, 0.0), (0.0, 0.0))
    facing, side = ((LEFT, "left side"), (RIGHT, "right side"), (TOP, "top"), (BOTTOM, "bottom"))[edge]
    name = f"{opening.name}, {side}"
    if edge >= 2:
        return Edge(start, end, facing, name, f"{opening.name}, {'top' if edge == 2 else 'bottom'} left")
    side = "left" if edge == 0 else "right"
    if opening.ring:
        return Edge(end, start, facing, name, f"{opening.name}, bottom {side}")
    return Edge(start, end, facing, name, f"{opening.name}, top {side}")


def straight_edge(opening: Opening, edge: int) -> tuple[Point, Point] | None:
    """From where to where, down or across, an opening's edge on a side of its box is straight: the whole side, unless it has a ring of its own."""
    left, top, right, bottom = (float(v) for v in (opening.box.left, opening.box.top, opening.box.right, opening.box.bottom))
    if not opening.ring:
        return (((left, top), (left, bottom)), ((right, top), (right, bottom)), ((left, top), (right, top)), ((left, bottom), (right, bottom)))[edge]  # fmt: skip
    across, place = (0, (left, right)[edge]) if edge < 2 else (1, (top, bottom)[edge - 2])
    for one, other in pairwise([*opening.ring, opening.ring[0]]):
        if (
            max(abs(one[across] - place), abs(other[across] - place)) < SAME_POINT_MM
            and math.dist(one, other) > SHORTEST_EDGE_MM
        ):
            return (one, other) if one[1 - across] < other[1 - across] else (other, one)
    return None
