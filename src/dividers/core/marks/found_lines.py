"""How each line is found at the wall: from which marks, corners and edges, and by what it is carried."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from dividers.core.base.tolerances import POINT_GRID_MM, SAME_POINT_MM
from dividers.core.cells.layout import Layout
from dividers.core.geometry import polygons
from dividers.core.geometry.shapes import Floats, Ints, Point
from dividers.core.job.method import BY_EYE, LASER, Method
from dividers.core.marks.mark_places import CARRIED, corners_of, meeting

STRUCK, LEVEL, PLUMB, EDGE, BESIDE, EYE, ENDS = HOWS = ("struck", "level", "plumb", "edge", "beside", "by eye", "ends")
APART = 0.3  # of a line's length lie the places that it is struck through at least
BLOCK = 64  # lines compared with all places at a time
MOST_COMPARED = 100_000_000  # lines times places; of pieces with more nobody finds lines one by one
SAMPLES = 8
BARE_MM = 3.0  # of a struck line that may stay in sight: a pencil dot
SHORT_MM = 25.0  # a line that short is struck through any two places


@dataclass(frozen=True)
class FoundLine:
    """A line of a panel from `start` to `end`, and how it is found.

    STRUCK: between two places or more, marks (by their places in what was given, in order along it) or corners. LEVEL, PLUMB: from a mark, by a level or a
    laser. EDGE: an edge of the panel or of an opening. BESIDE: along the strip before, by the tape's own width. EYE: by eye. ENDS: a
    seam whose ends lie on other lines. A struck line is drawn in `chalk` that is wiped off where it crosses what isn't painted.
    """

    panel: str
    start: Point
    end: Point
    how: str
    marks: tuple[int, ...] = ()
    corners: tuple[Point, ...] = ()
    chalk: bool = False


def found_lines(layout: Layout, marks: Sequence[Point], method: Method) -> list[FoundLine]:
    """The lines of a panel that paint will meet, in the order of the ledger, with how each is found from its `marks`; none of panels with
    more than MOST_COMPARED."""
    borders, panel = layout.borders, layout.panel
    at = np.flatnonzero(meeting(layout))
    shown, first = np.unique(borders.line[at], return_index=True)
    last = np.append(first[1:], len(at))[: len(first)] - 1
    places = np.array([*marks, *_corners(layout)], float).reshape(-1, 2)
    if len(shown) * len(places) > MOST_COMPARED:
        return []
    found: list[FoundLine] = []
    gaps: dict[int, list[tuple[float, float]]] = {}
    away = np.zeros((0, 0))
    for turn, (line, low, high) in enumerate(
        zip(shown.tolist(), borders.t0[at[first]].tolist(), borders.t1[at[last]].tolist(), strict=True)
    ):
        along, normal = borders.lines.directions[line], borders.lines.normals[line]
        if not turn % BLOCK:
            block = shown[turn : turn + BLOCK]
            away = np.abs(places @ borders.lines.normals[block].T - borders.lines.offsets[block])
        on = np.flatnonzero(away[:, turn % BLOCK] < POINT_GRID_MM)
        t = places[on] @ along
        own = [number for number in on[np.argsort(t, kind="stable")].tolist() if number < len(marks)]
        corners: tuple[Point, ...] = ()
        spread, length = float(np.ptp(t)) if len(t) else 0.0, high - low
        if spread >= APART * length or (length < SHORT_MM and spread > 1):
            how = STRUCK
            if method.marks != BY_EYE and not layout.lined:
                gaps[line] = _gaps(layout, at[first[turn] : last[turn] + 1], t)
            outer = {int(on[t.argmin()]), int(on[t.argmax()])}
            corners = tuple((float(places[n, 0]), float(places[n, 1])) for n in sorted(outer) if n >= len(marks))
        elif (method.mark_way == LASER or panel.contour) and own and np.abs(normal).max() > CARRIED:
            how = LEVEL if abs(normal[1]) > abs(normal[0]) else PLUMB
        elif _on_edge(layout, normal, float(borders.lines.offsets[line])):
            how, own = EDGE, []
        else:
            how = (
                BESIDE if layout.tiles.start_lines is not None else EYE if layout.tiles.torn or method.marks == BY_EYE else ENDS
            )
        ends = borders.lines.point(line, low), borders.lines.point(line, high)
        found.append(FoundLine(panel.name, *ends, how, tuple(own), corners))
    chalked = _in_chalk(layout, gaps)
    return [replace(each, chalk=line in chalked) for each, line in zip(found, shown.tolist(), strict=True)]


def _gaps(layout: Layout, borders: Ints, places: Floats) -> list[tuple[float, float]]:
    """The stretches of a line, as struck through places on it (by how far along it they lie), that no paint meets. None where each stretch that
    paint meets has places of its own: it is struck by itself."""
    t0, t1 = layout.borders.t0[borders], layout.borders.t1[borders]
    order = np.argsort(t0, kind="stable")
    stretches: list[tuple[float, float]] = []
    for start, end in zip(t0[order].tolist(), t1[order].tolist(), strict=True):
        if stretches and start - stretches[-1][1] < POINT_GRID_MM:
            stretches[-1] = (stretches[-1][0], max(stretches[-1][1], end))
        else:
            stretches.append((start, end))
    own = [places[(places > low - SAME_POINT_MM) & (places < high + SAME_POINT_MM)] for low, high in stretches]
    if all(len(on) and np.ptp(on) >= APART * (high - low) for on, (low, high) in zip(own, stretches, strict=True)):
        return []
    reached = float(places.min())
    gaps = []
    for low, high in [*stretches, (float(places.max()), float(places.max()))]:
        if low > reached:
            gaps.append((reached, low))
        reached = max(reached, high)
    return gaps


def _in_chalk(layout: Layout, gaps: Mapping[int, Sequence[tuple[float, float]]]) -> set[int]:
    """The lines, by number, of whose `gaps` in paint more than a dot lies on what this layer leaves as it is, looked at in a few places."""
    lines, panel = layout.borders.lines, layout.panel
    every = [(line, low, high) for line, own in gaps.items() for low, high in own]
    if not every:
        return set()
    spots = np.concatenate(
        [
            lines.directions[line] * (low + (high - low) * (np.arange(SAMPLES)[:, None] + 0.5) / SAMPLES)
            + lines.normals[line] * lines.offsets[line]
            for line, low, high in every
        ]
    )
    cells = polygons.holding(layout.polygons, spots)
    rings = polygons.solid([polygons.ring(opening.corners) for opening in panel.openings])
    bare = (polygons.holding(rings, spots) < 0) & ~np.append(layout.painted[: len(layout.polygons)], False)[cells]
    bare_mm = dict.fromkeys(gaps, 0.0)
    for (line, low, high), share in zip(every, bare.reshape(-1, SAMPLES).mean(axis=1).tolist(), strict=True):
        bare_mm[line] += share * (high - low)
    return {line for line, mm in bare_mm.items() if mm > BARE_MM}


def _corners(layout: Layout) -> list[Point]:
    panel = layout.panel
    return corners_of(panel) + [corner for opening in panel.openings if not opening.ring for corner in opening.corners]


def _on_edge(layout: Layout, normal: Floats, offset: float) -> bool:
    """Whether a line runs along an edge of the panel or of an opening."""
    panel = layout.panel
    for ring in (panel.outline_ring, *(opening.corners for opening in panel.openings)):
        on = np.abs(np.array(ring) @ normal - offset) < SAME_POINT_MM
        if (on & np.roll(on, -1)).any():
            return True
    return False
