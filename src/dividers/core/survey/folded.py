"""Panels that are joined at folds and were measured: the shape of each, with one length for every fold that two of them share."""

import math
from collections.abc import Iterator, Mapping, Sequence, Set
from dataclasses import replace
from fractions import Fraction

import numpy as np

from dividers.core.base.lengths import Graduation
from dividers.core.geometry.quads import Box, Quad, crossing
from dividers.core.geometry.shapes import Point
from dividers.core.job.method import Method
from dividers.core.job.surface import SIDES, Fold, Panel, Rectangle, Shape, Surface
from dividers.core.survey.adjustment import stated
from dividers.core.survey.blunders import NOTHING_MM
from dividers.core.survey.outline import CORNER_DIGITS, LEAST_FIELD_MM, adjusted_outline, margins_of
from dividers.core.survey.sheet import Placed, Sheet, leaves_open, sheets_of

ROUNDS = 4  # setting one side's length changes the next by far less than a thousandth of it


def folded(
    panels: Sequence[Panel], folds: Sequence[Fold], method: Method, graduation: Graduation, unit: str
) -> tuple[Panel, ...]:
    """Joined panels with the shapes that their readings give, as `survey.outline.measured` does for one that stands alone.

    All panels of a group that are joined get one where any of them is off its stated rectangle by more than anybody can mark; a group with
    an outline that is no rectangle keeps its stated shapes. Where two panels give a fold two lengths, it gets their mean. A pattern that
    is not to follow is laid on true rectangles inside the fields, up to the folds; a border lies along the sides that are no folds.
    """
    quads: dict[str, Quad] = {}
    for group in groups(panels, folds):
        own = {panel.name: measured_quad(panel, graduation, unit) for panel in group}
        if all(quad is None for quad in own.values()) or any(panel.contour for panel in group):
            continue
        names = [panel.name for panel in group]
        shared = [fold for fold in folds if fold.panel in names]
        quads |= _agreed(group, own, [fold for fold in shared if fold not in leaves_open(panels, folds)])
    follows = method.fit == "follow"
    step_mm = graduation.step_mm
    over = {(fold.panel, fold.side) for fold in folds} | {(fold.other_panel, fold.other_side) for fold in folds}

    def shaped_one(panel: Panel) -> Panel:
        quad = quads[panel.name]
        size = None if follows else _size(panel, quad, {side for name, side in over if name == panel.name}, step_mm)
        return replace(panel, shape=Shape(quad, quad.inset(*margins_of(panel)), panel.field, follows, size))

    shaped = tuple(shaped_one(panel) if panel.name in quads else panel for panel in panels)
    if follows or not quads:
        return shaped
    border_mm = method.border_mm if method.fit == "hide" else None
    laid: dict[str, Panel] = {}
    for sheet in sheets_of(Surface("", "", "", shaped, tuple(folds))):
        if any(placed.turned for placed in sheet.placed):
            laid |= {panel.name: panel for panel in _laid_true(sheet, border_mm, step_mm)}
    return tuple(laid.get(panel.name, panel) for panel in shaped)


def groups(panels: Sequence[Panel], folds: Sequence[Fold]) -> list[list[Panel]]:
    """The panels that are joined, group by group; those that stand alone are left out."""
    part = {panel.name: number for number, panel in enumerate(panels)}
    for fold in folds:
        one, other = part[fold.panel], part[fold.other_panel]
        part = {name: one if number == other else number for name, number in part.items()}
    found: dict[int, list[Panel]] = {}
    for panel in panels:
        found.setdefault(part[panel.name], []).append(panel)
    return [group for group in found.values() if len(group) > 1]


def measured_quad(panel: Panel, graduation: Graduation, unit: str) -> Quad | None:
    """The outline that a panel's readings give; None where they show the stated rectangle."""
    if not any(not reading.aside for reading in panel.readings):
        return None
    quad = Quad.of(np.round(adjusted_outline(panel, graduation.step_mm, unit)[0].quad.points, CORNER_DIGITS))
    return quad if np.abs(quad.points - stated(panel).points).max() >= NOTHING_MM else None


def sides_of_fold(fold: Fold, quads: Mapping[str, Quad]) -> tuple[float, float]:
    """How long a fold is by its first and by its second panel, mm."""
    return quads[fold.panel].length(SIDES.index(fold.side)), quads[fold.other_panel].length(SIDES.index(fold.other_side))


def _agreed(group: Sequence[Panel], own: Mapping[str, Quad | None], folds: Sequence[Fold]) -> dict[str, Quad]:
    """The quads of a group, with one length for each fold along the whole of both sides: of those who measured, the mean."""
    quads = {panel.name: own[panel.name] or stated(panel) for panel in group}
    sizes = {panel.name: panel for panel in group}
    whole = [
        fold
        for fold in folds
        if _stated_length(sizes[fold.panel], fold.side) == _stated_length(sizes[fold.other_panel], fold.other_side)
    ]
    for fold in whole * ROUNDS:
        one, other = sides_of_fold(fold, quads)
        measured = [length for name, length in ((fold.panel, one), (fold.other_panel, other)) if own[name]] or [one, other]
        length = sum(measured) / len(measured)
        for name, side in ((fold.panel, fold.side), (fold.other_panel, fold.other_side)):
            quads[name] = _with_length(quads[name], SIDES.index(side), length)
    return quads


def _stated_length(panel: Panel, side: str) -> Fraction:
    return panel.width_mm if side in ("top", "bottom") else panel.height_mm


def _with_length(quad: Quad, side: int, length: float) -> Quad:
    """A quad with one side so long, from its upper or left end."""
    ends = (side, (side + 1) % 4)
    pinned, moved = (
        ends if side in (0, 1) else ends[::-1]
    )  # a ring runs from right to left along the bottom and up the left side
    points = quad.points
    way = points[moved] - points[pinned]
    points[moved] = points[pinned] + way * (length / math.hypot(*way))
    return Quad.of(points)


def _size(panel: Panel, outline: Quad, at_folds: Set[str], step_mm: Fraction) -> tuple[Fraction, Fraction]:
    """The width and height of a panel on a sheet: as far as the middle of a fold at its right or its foot as measured, on the tape's marks."""
    right, foot = (float(outline.points[list(ends), axis].mean()) for ends, axis in (((1, 2), 0), ((2, 3), 1)))
    step = float(step_mm)
    return (
        math.floor(round(right / step, 6)) * step_mm if "right" in at_folds else panel.width_mm,
        math.floor(round(foot / step, 6)) * step_mm if "bottom" in at_folds else panel.height_mm,
    )


def _laid_true(sheet: Sheet, border_mm: Fraction | None, step_mm: Fraction) -> Iterator[Panel]:
    """The panels of a sheet with the rectangles that a true pattern is laid on: inside all fields, or so far inside, on the tape's marks.

    Sides that lie in one line are set in alike, so that what begins at a ceiling begins at the same level on every wall.
    """
    insets = [_insets(placed, float(border_mm or 0)) for placed in sheet.placed]
    area = sheet.area
    edges = (area.top, area.right, area.bottom, area.left)
    for number, placed in enumerate(sheet.placed):
        at_folds = sheet.folded_sides(number)
        field = placed.panel.field
        sides = [field.top, field.right, field.bottom, field.left]
        for side in range(4):
            if side in at_folds:
                if side in (1, 2):  # where the panel ends on the sheet
                    sides[side] += placed.panel.sheet_size[side - 1] - (placed.panel.width_mm, placed.panel.height_mm)[side - 1]
                continue
            way = (side + placed.quarters) % 4
            alike = [number]
            if _edge(placed, way) == edges[way]:
                alike = [n for n, other in enumerate(sheet.placed) if _edge(other, way) == edges[way]]
            own = [
                insets[n][(way - sheet.placed[n].quarters) % 4]
                for n in alike
                if (way - sheet.placed[n].quarters) % 4 not in sheet.folded_sides(n)
            ]
            inset = math.ceil(round(max(own) / float(step_mm), 6)) * step_mm
            sides[side] += inset if side in (0, 3) else -inset
        top, right, bottom, left = sides
        laid = Rectangle(left, top, right, bottom)
        if min(laid.width, laid.height) < LEAST_FIELD_MM:
            yield placed.panel
        elif border_mm is None or not placed.panel.shape:
            yield replace(placed.panel, field=laid)
        else:
            shape = placed.panel.shape
            yield replace(
                placed.panel, field=laid, shape=replace(shape, field=_bordered(shape.field, placed.settled_box(laid), at_folds))
            )


def _insets(placed: Placed, border_mm: float) -> tuple[float, float, float, float]:
    """How far inside its stated sides (top, right, bottom, left) a panel's field really is, at most, and a border more; mm."""
    own = placed.panel.field
    left, top, right, bottom = Quad.of(placed.unsettled(placed.panel.field_quad.points)).inner_box
    return (
        top - float(own.top) + border_mm,
        float(own.right) - right + border_mm,
        float(own.bottom) - bottom + border_mm,
        left - float(own.left) + border_mm,
    )


def _edge(placed: Placed, way: int) -> Fraction:
    """Where a panel's laid field ends on the sheet, up, right, down or left."""
    box = placed.box(placed.panel.field)
    return (box.top, box.right, box.bottom, box.left)[way]


def _bordered(field: Quad, inside: Box, at_folds: Set[int]) -> Quad:
    """A field whose sides are true inside a border, but for those at folds."""
    left, top, right, bottom = inside
    true: list[tuple[Point, Point]] = [
        ((left, top), (right, top)),
        ((right, top), (right, bottom)),
        ((right, bottom), (left, bottom)),
        ((left, bottom), (left, top)),
    ]
    lines = [field.side(side) if side in at_folds else true[side] for side in range(4)]
    return Quad.of(np.array([crossing(lines[side - 1], lines[side]) for side in range(4)]))
