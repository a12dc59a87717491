"""Panels that meet at folds, unrolled: a pattern runs over them as over one flat sheet.

Round a corner, from wall to ceiling, over the edge of a box: the panels are laid flat side by side, turned by quarters where a
fold joins unlike sides. What is computed on the sheet is given back panel by panel, in each panel's own coordinates.

A pattern is laid on the stated rectangles. Where panels were measured and are none, each is laid flat with its own corners, turned a
little so that its side lies along its neighbour's: cells are on that sheet, and what is laid is moved there panel by panel.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

import numpy as np

from dividers.core.geometry.motion import Motion, laying
from dividers.core.geometry.quads import Box
from dividers.core.geometry.shapes import Floats, Point
from dividers.core.job.surface import SIDES, Fold, Panel, Rectangle, Surface


@dataclass(frozen=True)
class Placed:
    """A panel on its sheet: turned clockwise by `quarters`, its box's top left at (`left`, `top`) mm on the sheet.

    Where it was measured, `turned` says how its corners lie beside its neighbours', and what is laid on its box is moved by `shift` mm
    on the panel, so that what is level goes on level from the neighbour; `scale` makes up for folds that lean by unlike angles, along which
    the same height is a hair more or less.
    """

    panel: Panel
    left: Fraction = Fraction(0)
    top: Fraction = Fraction(0)
    quarters: int = 0
    turned: Motion | None = None
    shift: Point = (0.0, 0.0)
    scale: Point = (1.0, 1.0)

    def box(self, part: Rectangle) -> Rectangle:
        """A rectangle of the stated panel where a pattern is laid on the sheet."""
        x0, y0 = self._quartered(part.left, part.top)
        x1, y1 = self._quartered(part.right, part.bottom)
        return Rectangle(min(x0, x1) + self.left, min(y0, y1) + self.top, max(x0, x1) + self.left, max(y0, y1) + self.top)

    def _quartered(self, x: Fraction, y: Fraction) -> tuple[Fraction, Fraction]:
        wide, high = self.panel.sheet_size
        return ((x, y), (high - y, x), (wide - x, high - y), (y, wide - x))[self.quarters]

    def ring(self, points: Sequence[Point]) -> list[Point]:
        """A ring of the panel as it lies on the sheet; quarter turns keep its way round."""
        return [(x, y) for x, y in self.to_sheet(np.array(points, float)).tolist()] if self.moved else list(points)

    @property
    def holes(self) -> list[list[Point]]:
        """The rings of the panel's openings on the sheet."""
        return [self.ring(opening.corners) for opening in self.panel.openings]

    @property
    def moved(self) -> bool:
        """Whether the sheet's coordinates differ from the panel's own."""
        return bool(self.quarters or self.left or self.top or self.turned)

    def to_panel(self, points: Floats) -> Floats:
        """Points (n, 2) of the sheet in the panel's coordinates."""
        return self.turned.back(points) if self.turned else self.laid_to_panel(points)

    def laid_to_panel(self, points: Floats) -> Floats:
        """Points (n, 2) of what is laid on the stated boxes in the panel's coordinates, as if it were what was stated."""
        x, y = points[:, 0] - float(self.left), points[:, 1] - float(self.top)
        wide, high = map(float, self.panel.sheet_size)
        turned = ((x, y), (y, high - x), (wide - x, high - y), (wide - y, x))[self.quarters]
        return np.column_stack(turned)

    def settled(self, points: Floats) -> Floats:
        """Points (n, 2) of what is laid on the stated boxes where they come to lie on the measured panel."""
        found: Floats = self.laid_to_panel(points) * np.array(self.scale) + np.array(self.shift)
        return found

    def unsettled(self, points: Floats) -> Floats:
        """Points (n, 2) of the measured panel where they would be on the stated one: the inverse of what `settled` adds."""
        found: Floats = (points - np.array(self.shift)) / np.array(self.scale)
        return found

    def settled_box(self, part: Rectangle) -> Box:
        """Where a rectangle of the stated panel comes to lie on the measured one."""
        low, high = (
            np.array(ends, float) * self.scale + self.shift for ends in ((part.left, part.top), (part.right, part.bottom))
        )
        return float(low[0]), float(low[1]), float(high[0]), float(high[1])

    def to_sheet(self, points: Floats) -> Floats:
        """Points (n, 2) of the panel where they lie on the sheet."""
        if self.turned:
            return self.turned.at(points)
        x, y = points[:, 0], points[:, 1]
        wide, high = map(float, self.panel.sheet_size)
        turned = ((x, y), (high - y, x), (wide - x, high - y), (y, wide - x))[self.quarters]
        return np.column_stack([turned[0] + float(self.left), turned[1] + float(self.top)])

    def to_panel_direction(self, direction: Floats) -> Floats:
        """A direction (2,) of the sheet in the panel's coordinates."""
        return self.turned.turned_back(direction) if self.turned else self.laid_to_panel_direction(direction)

    def laid_to_panel_direction(self, direction: Floats) -> Floats:
        """A direction (2,) of what is laid on the stated boxes in the panel's coordinates."""
        x, y = direction
        return np.array(((x, y), (y, -x), (-x, -y), (-y, x))[self.quarters])

    def side_on_sheet(self, side: int) -> tuple[Point, Point]:
        """A side of the outline where it lies on the sheet, from its corner clockwise to the next."""
        (ax, ay), (bx, by) = self.to_sheet(np.array(self.panel.outline_quad.side(side))).tolist()
        return (ax, ay), (bx, by)


@dataclass(frozen=True)
class Crease:
    """A fold as patterns are laid over it: vertical at x = `at` (axis 0) or horizontal at y = `at` (axis 1), between two panels by number,
    and the number of the side of each."""

    axis: int
    at: Fraction
    first: int
    second: int
    side: int
    other_side: int


@dataclass(frozen=True)
class Sheet:
    """One or more panels laid flat, and the folds between them; `left_open` are those that close a ring."""

    placed: tuple[Placed, ...]
    creases: tuple[Crease, ...] = ()
    left_open: tuple[Fold, ...] = ()

    @property
    def area(self) -> Rectangle:
        """The least rectangle around all fields."""
        boxes = [each.box(each.panel.field) for each in self.placed]
        return Rectangle(
            min(b.left for b in boxes), min(b.top for b in boxes), max(b.right for b in boxes), max(b.bottom for b in boxes)
        )

    def folded_sides(self, number: int) -> frozenset[int]:
        """The numbers of a panel's sides over which the sheet goes on."""
        first = (crease.side for crease in self.creases if crease.first == number)
        return frozenset(first) | {crease.other_side for crease in self.creases if crease.second == number}

    @property
    def openings(self) -> tuple[Rectangle, ...]:
        return tuple(each.box(opening.box) for each in self.placed for opening in each.panel.openings)


def leaves_open(panels: Sequence[Panel], folds: Sequence[Fold]) -> list[Fold]:
    """The folds that close a ring of those before them: there the sheet is left open."""
    part = {
        panel.name: number for number, panel in enumerate(panels)
    }  # of each panel, the least number it is joined with so far
    found = []
    for fold in folds:
        least, most = sorted((part[fold.panel], part[fold.other_panel]))
        if least == most:
            found.append(fold)
        part = {name: least if each == most else each for name, each in part.items()}
    return found


def sheets_of(surface: Surface) -> tuple[Sheet, ...]:
    """The sheets of a surface, in the order of their first panels. A fold that closes a ring of those before it is left open."""
    numbers = {panel.name: number for number, panel in enumerate(surface.panels)}
    joins: dict[int, list[tuple[int, int, int]]] = {number: [] for number in numbers.values()}
    left_open = leaves_open(surface.panels, surface.folds)
    for fold in surface.folds:
        if fold not in left_open:
            one, other = numbers[fold.panel], numbers[fold.other_panel]
            a, b = SIDES.index(fold.side), SIDES.index(fold.other_side)
            joins[one].append((a, other, b))
            joins[other].append((b, one, a))
    seen: set[int] = set()
    sheets = []
    for number in range(len(surface.panels)):
        if number not in seen:
            sheet = _unrolled(surface.panels, joins, number, seen)
            names = {placed.panel.name for placed in sheet.placed}
            sheets.append(replace(sheet, left_open=tuple(fold for fold in left_open if fold.panel in names)))
    return tuple(sheets)


def _unrolled(panels: Sequence[Panel], joins: dict[int, list[tuple[int, int, int]]], first: int, seen: set[int]) -> Sheet:
    placed = {first: Placed(panels[first])}
    creases: list[tuple[int, Fraction, int, int, int, int]] = []
    queue = [first]
    seen.add(first)
    while queue:
        number = queue.pop(0)
        here = placed[number]
        for side, other, other_side in joins[number]:
            if other in seen:
                continue
            seen.add(other)
            queue.append(other)
            beside, (axis, at) = _beside(here, side, panels[other], other_side)
            measured = here.panel.shape and panels[other].shape
            placed[other] = _along_its_side(here, side, beside, other_side, axis) if measured else beside
            creases.append((axis, at, number, other, side, other_side))
    order = list(placed)
    found = (Crease(axis, at, order.index(a), order.index(b), *sides) for axis, at, a, b, *sides in creases)
    return Sheet(tuple(placed.values()), tuple(found))


def _along_its_side(here: Placed, side: int, beside: Placed, other_side: int, axis: int) -> Placed:
    """A measured panel laid beside another one, with its own side along the other's: from the upper or the left end of the fold."""
    start, end = here.side_on_sheet(side)
    own_start, own_end = beside.panel.outline_quad.side(other_side)
    if start[1 - axis] <= end[1 - axis]:  # its side runs the other way
        near, far, own_near, own_far = start, end, own_end, own_start
    else:
        near, far, own_near, own_far = end, start, own_start, own_end
    turned = laying(own_near, own_far, near, far)
    along = np.array([0.0, 1.0] if axis == 0 else [1.0, 0.0])
    shift, scale = _settling(here, (here.to_panel(np.array([near, far]))), beside, np.array([own_near, own_far]), along)
    return replace(beside, turned=turned, shift=shift, scale=scale)


def _settling(here: Placed, fold: Floats, beside: Placed, own_fold: Floats, along: Floats) -> tuple[Point, Point]:
    """Shift and scale of what is laid on a panel, so that each place along the fold (a direction of the sheet) meets its neighbour's.

    The fold's ends (2, 2) are given on each panel.
    """
    way, own_way = here.laid_to_panel_direction(along), beside.laid_to_panel_direction(along)
    axis, own_axis = int(np.argmax(np.abs(way))), int(np.argmax(np.abs(own_way)))
    upright, own_upright = (
        float(w @ (ends[1] - ends[0]) / np.hypot(*(ends[1] - ends[0]))) for w, ends in ((way, fold), (own_way, own_fold))
    )
    origin = np.zeros((1, 2))  # anywhere would do: only where it lies along the fold counts
    scale = here.scale[axis] * own_upright / upright
    there = float(way @ (here.settled(origin)[0] - fold[0])) * own_upright / upright
    off = float(own_way @ own_fold[0]) + there - scale * float(own_way @ beside.laid_to_panel(origin)[0])
    shift = own_way * off
    scales = [scale, 1.0] if own_axis == 0 else [1.0, scale]
    return (float(shift[0]), float(shift[1])), (scales[0], scales[1])


def _beside(here: Placed, side: int, panel: Panel, other_side: int) -> tuple[Placed, tuple[int, Fraction]]:
    """A panel laid against one side of another, level with its top or its left; and the crease's axis and place."""
    way = (side + here.quarters) % 4  # the way out on the sheet
    quarters = (way + 2 - other_side) % 4
    box = here.box(Rectangle(Fraction(0), Fraction(0), *here.panel.sheet_size))
    wide, high = panel.sheet_size if quarters % 2 == 0 else panel.sheet_size[::-1]
    left = {1: box.right, 3: box.left - wide}.get(way, box.left)
    top = {0: box.top - high, 2: box.bottom}.get(way, box.top)
    crease = (0, box.right if way == 1 else box.left) if way % 2 else (1, box.top if way == 0 else box.bottom)
    return Placed(panel, left, top, quarters), crease
