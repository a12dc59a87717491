"""A pattern laid over a sheet: its cells, cut to the fields less the openings, the lines it reserves, and who borders on whom."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from dividers.core import reserve
from dividers.core.errors import BadInput
from dividers.core.geometry import ledger, polygons
from dividers.core.geometry.overlaps import Crowd
from dividers.core.geometry.shapes import Bools, Floats, Ints, Point, Shapes, chosen, joined, moved_to
from dividers.core.job import Panel, PatternChoice, Rectangle
from dividers.core.patterns import BY_KEY
from dividers.core.patterns.ground import Ground
from dividers.core.patterns.parameters import Note, Tiles
from dividers.core.sheet import Placed, Sheet
from dividers.core.tolerances import SAME_POINT_MM

MOST_RESERVED = 20_000  # tiles whose lines are all reserved: each is cut by polygon algebra


@dataclass(frozen=True)
class Layout:
    """The partition of one sheet's fields, in columns, first the cells and then the reserves.

    `slots` (n,) picks each cell's palette key from `colors`, None stays base; `under` a translucent colour painted below it, or
    NOTHING; `layers` the coat it belongs to, 0 but for translucent patterns. `panels` tells the sheet's panel that each lies on; `reserved` which of them are reserves; `origins` the tile
    that each cell came from, or NOTHING. `tape_lines` are the centre
    lines of the tape that reserves them. Studs are points (n, 2).
    """

    sheet: Sheet
    cells: Shapes
    slots: Ints
    colors: tuple[str | None, ...]
    borders: ledger.Borders
    panels: Ints
    under: Ints
    layers: Ints
    reserved: Bools
    origins: Ints
    tiles: Tiles
    tape_lines: reserve.Lines = reserve.NO_LINES

    @property
    def notes(self) -> tuple[Note, ...]:
        return self.tiles.notes

    @cached_property
    def painted(self) -> Bools:
        """Which cells get any colour."""
        has = np.array([color is not None for color in self.colors] + [False])
        result: Bools = has[self.slots] | has[self.under]
        return result

    def color(self, cell: int) -> str | None:
        return self.colors[int(self.slots[cell])]

    def in_color(self, key: str | None) -> Bools:
        """Which cells get that colour, as their own or below it; for None, which stay base."""
        slots = [slot for slot, color in enumerate(self.colors) if color == key]
        if key is None:
            return ~self.painted & ~self.reserved
        return np.isin(self.slots, slots) | np.isin(self.under, slots)

    @cached_property
    def crowd(self) -> Crowd:
        """The cells without the reserves, which come behind them; to be asked what lies on which."""
        return Crowd(chosen(self.cells, np.flatnonzero(~self.reserved)))

    @property
    def polygons(self) -> polygons.Polygons:
        """The cells without the reserves as polygons for the algebra in `geometry.polygons`."""
        return self.crowd.polygons

    @property
    def translucent(self) -> bool:
        return bool((self.under != ledger.NOTHING).any())

    @cached_property
    def by_panel(self) -> tuple["Layout", ...]:
        """The same, panel by panel, in each panel's own coordinates and as if it stood alone."""
        if len(self.sheet.placed) == 1 and not self.sheet.placed[0].moved:
            return (self,)
        return tuple(self._on(number, placed) for number, placed in enumerate(self.sheet.placed))

    def _on(self, number: int, placed: Placed) -> "Layout":
        here = np.flatnonzero(self.panels == number)
        cells = moved_to(chosen(self.cells, here), placed.to_panel(chosen(self.cells, here).points))
        return replace(
            self,
            sheet=Sheet((Placed(placed.panel),)),
            cells=cells,
            slots=self.slots[here],
            borders=ledger.borders_of(cells),
            panels=np.zeros(len(here), np.int64),
            under=self.under[here],
            layers=self.layers[here],
            reserved=self.reserved[here],
            origins=self.origins[here],
            tiles=self.tiles.seen_by(placed),
        )

    @property
    def panel(self) -> Panel:
        """The panel of a sheet that has only one."""
        return self.sheet.placed[0].panel


def corners(box: Rectangle) -> tuple[Point, ...]:
    """A rectangle's corners from the top left, clockwise to the eye."""
    left, top, right, bottom = (float(side) for side in (box.left, box.top, box.right, box.bottom))
    return (left, top), (right, top), (right, bottom), (left, bottom)


def lay_out(sheet: Sheet, pattern: PatternChoice, base: str, tape_mm: float) -> Layout:
    """Lay a pattern over a sheet's fields; what has the base colour stays base.

    Raises BadInput for values that don't fit these fields, with the parameter's key as path.
    """
    kind = BY_KEY[pattern.kind]
    tiles = kind.lay(Ground.of(sheet, tape_mm), pattern.values)
    width_mm = float(kind.reserve_mm(pattern.values))
    taken = reserve.NOTHING_RESERVED
    if width_mm:
        if len(tiles.shapes) > MOST_RESERVED:
            raise BadInput(
                f"That makes {len(tiles.shapes)} parts with lines between them; at most {MOST_RESERVED} are allowed.",
                kind.reserve_key,
            )
        taken = reserve.along_lines(tiles, sheet.area, width_mm, base)
    parts, origins, panels, reserves, on = [], [], [], [], []
    for number, placed in enumerate(sheet.placed):
        field = placed.box(placed.panel.field)
        holes = [placed.box(opening.box) for opening in placed.panel.openings]
        region = polygons.region(corners(field), [corners(hole) for hole in holes])
        cells, origin = polygons.cut_to(tiles.shapes, region, _inside(tiles.shapes, field, holes))
        if width_mm:
            cells, kept = taken.cut_from(cells)
            origin = origin[kept]
            left = taken.inside(region)
            reserves.append(left)
            on.append(np.full(len(left), number))
        parts.append(cells)
        origins.append(origin)
        panels.append(np.full(len(cells), number))
    origin = np.concatenate(origins)
    colors = (*(None if color == base else color for color in tiles.colors), None)
    lines = sum(len(part) for part in reserves)
    cells = joined([*parts, *reserves])
    none = len(colors) - 1
    under = tiles.under[origin] if tiles.under is not None else np.full(len(origin), ledger.NOTHING)
    layers = tiles.layers[origin] if tiles.layers is not None else np.zeros(len(origin))
    return Layout(
        sheet=sheet,
        cells=cells,
        slots=np.concatenate([tiles.slots[origin], np.full(lines, none)]).astype(np.int64),
        colors=colors,
        borders=ledger.borders_of(cells),
        panels=np.concatenate([*panels, *on]).astype(np.int64),
        under=np.concatenate([under, np.full(lines, ledger.NOTHING)]).astype(np.int64),
        layers=np.concatenate([layers, np.zeros(lines)]).astype(np.int64),
        reserved=np.arange(len(cells)) >= len(origin),
        origins=np.concatenate([origin, np.full(lines, ledger.NOTHING)]).astype(np.int64),
        tape_lines=taken.lines,
        tiles=tiles,
    )


def _inside(shapes: Shapes, field: Rectangle, holes: list[Rectangle]) -> Bools:
    """The shapes that surely lie in the field and off every opening, judged by their bounding boxes."""
    left, top, right, bottom = shapes.bounds().T
    inside = (left >= float(field.left)) & (top >= float(field.top))
    inside &= (right <= float(field.right)) & (bottom <= float(field.bottom))
    for box in holes:
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
