"""A pattern laid over a panel: its cells, cut to the field less the openings, and who borders on whom."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from dividers.core.geometry import ledger, polygons
from dividers.core.geometry.shapes import Bools, Floats, Ints, Point, Shapes, from_rings
from dividers.core.job import Panel, PatternChoice, Rectangle
from dividers.core.patterns import BY_KEY
from dividers.core.patterns.parameters import Note
from dividers.core.tolerances import SAME_POINT_MM


@dataclass(frozen=True)
class Layout:
    """The partition of one panel's field. `slots` (n,) picks each cell's palette key from `colors`; None stays base."""

    panel: Panel
    cells: Shapes
    slots: Ints
    colors: tuple[str | None, ...]
    borders: ledger.Borders
    notes: tuple[Note, ...] = ()

    def color(self, cell: int) -> str | None:
        return self.colors[int(self.slots[cell])]

    def in_color(self, key: str | None) -> Bools:
        """Which cells have that colour."""
        return np.isin(self.slots, [slot for slot, color in enumerate(self.colors) if color == key])

    @cached_property
    def polygons(self) -> polygons.Polygons:
        """The cells as polygons for the algebra in `geometry.polygons`."""
        return polygons.to_polygons(self.cells)


def corners(box: Rectangle) -> tuple[Point, ...]:
    """A rectangle's corners from the top left, clockwise to the eye."""
    left, top, right, bottom = (float(side) for side in (box.left, box.top, box.right, box.bottom))
    return (left, top), (right, top), (right, bottom), (left, bottom)


def lay_out(panel: Panel, pattern: PatternChoice, base: str) -> Layout:
    """Lay a pattern over a panel's field; what has the base colour stays base. Raises BadInput for values that don't fit this field, with the parameter's key as path."""
    tiles = BY_KEY[pattern.kind].lay(panel.field, pattern.values)
    shapes = from_rings(tiles.rings)
    holes = [corners(opening.box) for opening in panel.openings]
    region = polygons.region(corners(panel.field), holes)
    cells, origin = polygons.cut_to(shapes, region, _inside(shapes, panel))
    colors = tuple(None if color == base else color for color in tiles.colors)
    return Layout(panel, cells, tiles.slots[origin], colors, ledger.borders_of(cells), tiles.notes)


def _inside(shapes: Shapes, panel: Panel) -> Bools:
    """The shapes that surely lie in the field and off every opening, judged by their bounding boxes."""
    left, top, right, bottom = shapes.bounds().T
    field = panel.field
    inside = (left >= float(field.left)) & (top >= float(field.top))
    inside &= (right <= float(field.right)) & (bottom <= float(field.bottom))
    for opening in panel.openings:
        box = opening.box
        inside &= (
            (right <= float(box.left) + SAME_POINT_MM)
            | (left >= float(box.right) - SAME_POINT_MM)
            | (bottom <= float(box.top) + SAME_POINT_MM)
            | (top >= float(box.bottom) - SAME_POINT_MM)
        )
    result: Bools = inside
    return result


def widths_of(cells: Shapes) -> Floats:
    """A cell's width as a long band of the same area and perimeter would have it, in mm: small for slivers of any shape."""
    half = cells.perimeters() / 2
    return 2 * cells.areas() / (half + np.sqrt(np.maximum(half**2 - 4 * cells.areas(), 0)))
