"""Level and plumb lines that end on a curve, where nothing is read along: each is carried from one mark, by a level or a square."""

from dataclasses import dataclass

import numpy as np

from dividers.core.base.tolerances import SAME_POINT_MM
from dividers.core.cells.layout import Layout
from dividers.core.geometry import polygons
from dividers.core.geometry.shapes import Point
from dividers.core.marks.mark_places import CARRIED, INSIDE, Places, on_opening


@dataclass(frozen=True)
class Carried:
    """Places that are left out, by number; level lines by a place of theirs (number) and where each is marked; verticals, mm across."""

    left_out: frozenset[int] = frozenset()
    levels: tuple[tuple[int, Point], ...] = ()
    verticals: tuple[float, ...] = ()


def carried_in(layout: Layout, places: Places, hosted: set[int]) -> Carried:
    """The level and plumb lines of an outline of its own that end on a curve, with one mark for each that has no other place left."""
    contour = layout.panel.contour
    if not contour:
        return Carried()
    rim = polygons.ring(contour.field).exterior
    normals = layout.borders.lines.normals
    left_out: set[int] = set()
    for number in np.flatnonzero(places.sides == INSIDE).tolist():
        x, y = places.points[number].tolist()
        true = np.abs(normals[places.lines[number]]).max() > CARRIED
        if (
            true
            and number not in hosted
            and rim.distance(polygons.point((x, y))) < SAME_POINT_MM
            and not on_opening(layout.panel, (x, y))
        ):
            left_out.add(number)
    kept = {line for number, line in enumerate(places.lines.tolist()) if number not in left_out}
    levels: list[tuple[int, Point]] = []
    verticals: list[float] = []
    box = layout.panel.field
    middle = float(box.left + box.width / 2)
    for line in dict.fromkeys(int(places.lines[number]) for number in sorted(left_out)):
        if line in kept:
            continue
        own = [number for number in sorted(left_out) if places.lines[number] == line]
        if abs(normals[line][0]) > CARRIED:
            verticals.append(float(places.points[own[0]][0]))
            continue
        xs, y = places.points[own][:, 0], float(places.points[own[0]][1])
        inside = xs.min() < middle < xs.max()
        levels.append((own[0], (middle if inside else float(xs.mean()), y)))
    return Carried(frozenset(left_out), tuple(levels), tuple(verticals))
