"""A pattern laid over a sheet: its cells, cut to the fields less the openings, the lines it reserves, and who borders on whom."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.base.tolerances import SAME_POINT_MM
from dividers.core.cells import reserved_lines
from dividers.core.cells.following import following
from dividers.core.cells.measured_sheet import is_measured, on_measured, rims_of
from dividers.core.cells.run_out import run_out
from dividers.core.geometry import ledger, polygons
from dividers.core.geometry.overlaps import ShapeIndex
from dividers.core.geometry.quads import Box
from dividers.core.geometry.shapes import Bools, Floats, Ints, Point, Shapes, chosen, joined, moved_to
from dividers.core.job.method import PatternChoice
from dividers.core.job.surface import Panel, Rectangle, quad_of
from dividers.core.patterns import BY_KEY
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.origin import begun, within
from dividers.core.patterns.base.parameters import Note, Tiles
from dividers.core.survey.sheet import Placed, Sheet

MOST_RESERVED = 20_000  # tiles whose lines are all reserved: each is cut by polygon algebra


@dataclass(frozen=True)
class ZonePart:
    """A part of the zone that a layer is laid in: on which panel of the sheet, and the name of the cell that it is; "" for a part that is
    not on the surface yet. `bare` are the stretches of a cell's edge that the layer below paints on neither side, or alike on both: nothing shows there."""

    panel: int
    cell: str = ""
    bare: tuple[tuple[Point, Point], ...] = ()


@dataclass(frozen=True)
class Layout:
    """The partition of one sheet's fields, in columns, first the cells and then the reserves.

    `slots` (n,) picks each cell's palette key from `colors`, None stays base; `under` a translucent colour painted below it, or
    NOTHING; `layers` the coat it belongs to, 0 but for translucent patterns. `panels` says which panel of the sheet each lies on; `reserved` which of them are reserves; `origins` the tile
    that each cell came from, or NOTHING. `tape_lines` are the centre
    lines of the tape that reserves them. `plain` is the same without its reserves, for marks: reserve tape is centred on the pattern's
    lines; it is `lined`, that is, its lines are marked between any two regions. `parts` are those of its zone, none where that is the
    whole field.
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
    tape_lines: reserved_lines.TapeLines = reserved_lines.NO_LINES
    plain: "Layout | None" = None
    lined: bool = False
    parts: tuple[ZonePart, ...] = ()

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
    def shape_index(self) -> ShapeIndex:
        """The cells without the reserves, which come behind them; to be asked what lies on which."""
        return ShapeIndex(chosen(self.cells, np.flatnonzero(~self.reserved)))

    @property
    def polygons(self) -> polygons.Polygons:
        """The cells without the reserves as polygons for the algebra in `geometry.polygons`."""
        return self.shape_index.polygons

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
            plain=self.plain.by_panel[number] if self.plain else None,
            parts=tuple(_part_on(part, placed) for part in self.parts if part.panel == number),
        )

    def picked(self, cells: Shapes, origin: Ints) -> "Layout":
        """The same with other cells, each from one of its own by number."""
        return replace(
            self,
            cells=cells,
            slots=self.slots[origin],
            borders=ledger.borders_of(cells),
            panels=self.panels[origin],
            under=self.under[origin],
            layers=self.layers[origin],
            reserved=self.reserved[origin],
            origins=self.origins[origin],
        )

    @property
    def panel(self) -> Panel:
        """The panel of a sheet that has only one."""
        return self.sheet.placed[0].panel


def _part_on(part: ZonePart, placed: Placed) -> ZonePart:
    """A part of a zone in its panel's own coordinates."""
    bare = []
    for stretch in part.bare:
        (ax, ay), (bx, by) = placed.to_panel(np.array(stretch)).tolist()
        bare.append(((ax, ay), (bx, by)))
    return replace(part, panel=0, bare=tuple(bare))


def corners(box: Rectangle) -> tuple[Point, ...]:
    """A rectangle's corners from the top left, clockwise to the eye."""
    left, top, right, bottom = (float(side) for side in (box.left, box.top, box.right, box.bottom))
    return (left, top), (right, top), (right, bottom), (left, bottom)


def lay_out(sheet: Sheet, pattern: PatternChoice, base: str, tape_mm: float, amid: Point | None = None) -> Layout:
    """Lay a pattern over a sheet's fields; what has the base colour stays base. `amid` is a place amid what will be seen of it.

    Raises BadInput for values that don't fit these fields, with the parameter's key as path.
    """
    kind = BY_KEY[pattern.kind]
    ground, values, notes = begun(Ground.of(sheet, tape_mm, amid), kind, pattern.values)
    tiles = _dots_on(sheet, kind.lay(ground, values))
    if notes:
        tiles = replace(within(tiles, sheet.area), notes=(*tiles.notes, *notes))
    shape = sheet.placed[0].panel.shape
    rims = [reserved_lines.Rim(shape.field if shape else quad_of(sheet.area))]
    own: Ints | None = None
    if is_measured(sheet):
        tiles, own = on_measured(tiles, sheet)
        rims = rims_of(sheet)
    elif shape and shape.follows:
        tiles = following(tiles, sheet.placed[0].panel.field, shape.field)
    elif shape:
        tiles = run_out(tiles, _box(sheet.placed[0].panel.field), shape.field.box)
    width_mm = float(kind.reserve_mm(pattern.values))
    taken = reserved_lines.NOTHING_RESERVED
    if width_mm:
        if len(tiles.shapes) > MOST_RESERVED:
            raise BadInput(
                f"That makes {len(tiles.shapes)} parts with lines between them; at most {MOST_RESERVED} are allowed.",
                kind.reserve_key,
            )
        taken = reserved_lines.along_lines(tiles, rims, width_mm, base, own)
    plain = _cut(sheet, tiles, base, own)
    return replace(_less(plain, taken), plain=replace(plain, lined=True)) if width_mm else plain


def _dots_on(sheet: Sheet, tiles: Tiles) -> Tiles:
    """Tiles without dots that lie off their panels' outlines."""
    if not tiles.dots or not any(placed.panel.contour for placed in sheet.placed):
        return tiles
    rings = [placed.ring(placed.panel.field_ring) for placed in sheet.placed]
    return replace(tiles, dots=tuple(dot for dot in tiles.dots if any(polygons.holds(ring, dot.point) for ring in rings)))


def _cut(sheet: Sheet, tiles: Tiles, base: str, own: Ints | None) -> Layout:
    """The tiles cut to every field of a sheet less the openings; where panels have tiles of their `own`, each to its own panel's."""
    parts, origins, panels = [], [], []
    for number, placed in enumerate(sheet.placed):
        here = np.arange(len(tiles.shapes)) if own is None else np.flatnonzero(own == number)
        shapes = tiles.shapes if own is None else chosen(tiles.shapes, here)
        shape = placed.panel.shape
        field = shape.field.inner_box if shape else _box(placed.box(placed.panel.field))
        holes = [placed.box(opening.box) for opening in placed.panel.openings]
        unsure = placed.panel.contour or own is not None
        cells, origin = polygons.cut_to(
            shapes, region_of(placed), np.zeros(len(shapes), bool) if unsure else _inside(shapes, field, holes)
        )
        parts.append(cells)
        origins.append(here[origin])
        panels.append(np.full(len(cells), number))
    cells, origin = joined(parts), np.concatenate(origins).astype(np.int64)
    none = np.full(len(origin), ledger.NOTHING)
    return Layout(
        sheet=sheet,
        cells=cells,
        slots=tiles.slots[origin].astype(np.int64),
        colors=(*(None if color == base else color for color in tiles.colors), None),
        borders=ledger.borders_of(cells),
        panels=np.concatenate(panels).astype(np.int64),
        under=tiles.under[origin].astype(np.int64) if tiles.under is not None else none,
        layers=(tiles.layers[origin] if tiles.layers is not None else np.zeros(len(origin))).astype(np.int64),
        reserved=np.zeros(len(origin), bool),
        origins=origin,
        tiles=tiles,
    )


def region_of(placed: Placed) -> polygons.Region:
    """A panel's field less its openings, on the sheet."""
    return polygons.region(placed.ring(placed.panel.field_ring), placed.holes)


def surface_of(sheet: Sheet) -> polygons.Region:
    """The fields of all panels of a sheet less their openings."""
    return polygons.union(polygons.solid([region_of(placed) for placed in sheet.placed]))


def off_surface(sheet: Sheet) -> Shapes:
    """Where inside its panels' boxes a sheet has nothing for tape to stick to: openings, and what lies off an outline."""
    found = [polygons.ring(hole) for placed in sheet.placed for hole in placed.holes]
    for placed in sheet.placed:
        if placed.panel.contour:
            box = corners(placed.box(placed.panel.outline))
            found += polygons.without(box, placed.ring(placed.panel.contour.outline))
    return polygons.from_polygons(found)


def _box(box: Rectangle) -> Box:
    return float(box.left), float(box.top), float(box.right), float(box.bottom)


def _less(plain: Layout, taken: reserved_lines.Reserve) -> Layout:
    """A layout less what is reserved, which follows its cells as cells of its own."""
    cells, kept = taken.cut_from(plain.cells)
    lines = [taken.inside(region_of(placed)) for placed in plain.sheet.placed]
    count = sum(len(each) for each in lines)
    every = joined([cells, *lines])

    def followed(column: Ints, value: int) -> Ints:
        return np.concatenate([column[kept], np.full(count, value)]).astype(np.int64)

    return replace(
        plain,
        cells=every,
        slots=followed(plain.slots, len(plain.colors) - 1),
        borders=ledger.borders_of(every),
        panels=np.concatenate([plain.panels[kept], *(np.full(len(each), n) for n, each in enumerate(lines))]).astype(np.int64),
        under=followed(plain.under, ledger.NOTHING),
        layers=followed(plain.layers, 0),
        reserved=np.arange(len(every)) >= len(kept),
        origins=followed(plain.origins, ledger.NOTHING),
        tape_lines=taken.lines,
    )


def _inside(shapes: Shapes, field: Box, holes: list[Rectangle]) -> Bools:
    """The shapes that surely lie in the field and off every opening, judged by their bounding boxes."""
    left, top, right, bottom = shapes.bounds().T
    inside = (left >= field[0]) & (top >= field[1]) & (right <= field[2]) & (bottom <= field[3])
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
