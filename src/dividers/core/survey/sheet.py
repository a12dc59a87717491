"""Panels that meet at folds, unrolled: a pattern runs over them as over one flat sheet.

Round a corner, from wall to ceiling, over the edge of a box: the panels are laid flat side by side, turned by quarters where a
fold joins unlike sides. What is computed on the sheet is given back panel by panel, in each panel's own coordinates.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

import numpy as np

from dividers.core.geometry.shapes import Floats, Point
from dividers.core.job.surface import SIDES, Fold, Panel, Rectangle, Surface


@dataclass(frozen=True)
class Placed:
    """A panel on its sheet: turned clockwise by `quarters`, its box's top left at (`left`, `top`) mm on the sheet."""

    panel: Panel
    left: Fraction = Fraction(0)
    top: Fraction = Fraction(0)
    quarters: int = 0

    def box(self, part: Rectangle) -> Rectangle:
        """A rectangle of the panel as it lies on the sheet."""
        x0, y0 = self._turned(part.left, part.top)
        x1, y1 = self._turned(part.right, part.bottom)
        return Rectangle(min(x0, x1) + self.left, min(y0, y1) + self.top, max(x0, x1) + self.left, max(y0, y1) + self.top)

    def _turned(self, x: Fraction, y: Fraction) -> tuple[Fraction, Fraction]:
        wide, high = self.panel.width_mm, self.panel.height_mm
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
        return bool(self.quarters or self.left or self.top)

    def to_panel(self, points: Floats) -> Floats:
        """Points (n, 2) of the sheet in the panel's coordinates."""
        x, y = points[:, 0] - float(self.left), points[:, 1] - float(self.top)
        wide, high = float(self.panel.width_mm), float(self.panel.height_mm)
        turned = ((x, y), (y, high - x), (wide - x, high - y), (wide - y, x))[self.quarters]
        return np.column_stack(turned)

    def to_sheet(self, points: Floats) -> Floats:
        """Points (n, 2) of the panel where they lie on the sheet."""
        x, y = points[:, 0], points[:, 1]
        wide, high = float(self.panel.width_mm), float(self.panel.height_mm)
        turned = ((x, y), (high - y, x), (wide - x, high - y), (y, wide - x))[self.quarters]
        return np.column_stack([turned[0] + float(self.left), turned[1] + float(self.top)])

    def to_panel_direction(self, direction: Floats) -> Floats:
        """A direction (2,) of the sheet in the panel's coordinates."""
        x, y = direction
        return np.array(((x, y), (y, -x), (-x, -y), (-y, x))[self.quarters])


@dataclass(frozen=True)
class Crease:
    """A fold as it lies on the sheet: vertical at x = `at` (axis 0) or horizontal at y = `at` (axis 1), between two panels by number."""

    axis: int
    at: Fraction
    first: int
    second: int


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

    @property
    def openings(self) -> tuple[Rectangle, ...]:
        return tuple(each.box(opening.box) for each in self.placed for opening in each.panel.openings)


def sheets_of(surface: Surface) -> tuple[Sheet, ...]:
    """The sheets of a surface, in the order of their first panels. A fold that closes a ring of those before it is left open."""
    numbers = {panel.name: number for number, panel in enumerate(surface.panels)}
    joins: dict[int, list[tuple[int, int, int]]] = {number: [] for number in numbers.values()}
    part = list(numbers.values())  # of each panel, the least number it is joined with so far
    left_open: dict[int, list[Fold]] = {}
    for fold in surface.folds:
        one, other = numbers[fold.panel], numbers[fold.other_panel]
        if part[one] == part[other]:
            left_open.setdefault(part[one], []).append(fold)
            continue
        least, most = sorted((part[one], part[other]))
        part = [least if each == most else each for each in part]
        left_open.setdefault(least, []).extend(left_open.pop(most, []))
        a, b = SIDES.index(fold.side), SIDES.index(fold.other_side)
        joins[one].append((a, other, b))
        joins[other].append((b, one, a))
    seen: set[int] = set()
    sheets = []
    for number in range(len(surface.panels)):
        if number not in seen:
            sheet = _unrolled(surface.panels, joins, number, seen)
            sheets.append(replace(sheet, left_open=tuple(left_open.get(part[number], ()))))
    return tuple(sheets)


def _unrolled(panels: Sequence[Panel], joins: dict[int, list[tuple[int, int, int]]], first: int, seen: set[int]) -> Sheet:
    placed = {first: Placed(panels[first])}
    creases: list[tuple[int, Fraction, int, int]] = []
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
            placed[other], crease = _beside(here, side, panels[other], other_side)
            creases.append((*crease, number, other))
    order = list(placed)
    return Sheet(tuple(placed.values()), tuple(Crease(axis, at, order.index(a), order.index(b)) for axis, at, a, b in creases))


def _beside(here: Placed, side: int, panel: Panel, other_side: int) -> tuple[Placed, tuple[int, Fraction]]:
    """A panel laid against one side of another, level with its top or its left; and the crease's axis and place."""
    way = (side + here.quarters) % 4  # the way out on the sheet
    quarters = (way + 2 - other_side) % 4
    box = here.box(here.panel.outline)
    wide, high = (panel.width_mm, panel.height_mm) if quarters % 2 == 0 else (panel.height_mm, panel.width_mm)
    left = {1: box.right, 3: box.left - wide}.get(way, box.left)
    top = {0: box.top - high, 2: box.bottom}.get(way, box.top)
    crease = (0, box.right if way == 1 else box.left) if way % 2 else (1, box.top if way == 0 else box.bottom)
    return Placed(panel, left, top, quarters), crease
