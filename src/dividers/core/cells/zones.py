"""Where a layer is laid: the parts of each sheet that its zone covers, from the layers below; and a pattern laid in them."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import exact
from dividers.core.cells import as_painted, reserved_lines
from dividers.core.cells.as_painted import Middle, PaintedBand
from dividers.core.cells.layout import Layout, ZonePart, lay_out, region_of
from dividers.core.geometry import ledger, polygons
from dividers.core.geometry.shapes import NO_SHAPES, Floats, Ints, Point, chosen, joined, moved_to
from dividers.core.job.layers import ALL, CELLS, RECT, Zone
from dividers.core.job.method import PatternChoice
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.base.parameters import Note, Tiles
from dividers.core.survey.sheet import Placed, Sheet

NOT_PAINTED = ""  # no colour of a layer that lies on others is left out as the base is


@dataclass(frozen=True)
class Below:
    """A layer below: its name, its layouts by sheet, what its cells are called, and its bands where they were measured."""

    name: str
    layouts: tuple[Layout, ...]
    keys: tuple[Sequence[str], ...]
    bands: Sequence[PaintedBand] = ()


@dataclass(frozen=True)
class _ZoneGround:
    """A part of a zone: on which panel of its sheet, its ground there, its name where it is a cell, its middle where that was measured."""

    panel: int
    ground: polygons.Polygon
    name: str = ""
    middle: Middle | None = None
    bare: tuple[tuple[Point, Point], ...] = ()


def lay_layer(
    sheets: Sequence[Sheet], zone: Zone, pattern: PatternChoice, base: str, tape_mm: float, below: Sequence[Below]
) -> tuple[Layout, ...]:
    """A layer on every sheet. Raises BadInput, with a key of the zone as path or else one of the pattern."""
    upon = NOT_PAINTED if below else base
    if zone.kind == ALL:
        return tuple(lay_out(sheet, pattern, upon, tape_mm) for sheet in sheets)
    if below and zone.layer == below[0].name and zone.color == base:
        zone = replace(zone, color=None)  # the first layer leaves what has the base colour unpainted
    parts = [list(found) for found in _parts(sheets, zone, below)]
    if not any(parts):
        raise BadInput(_nothing(zone), "zone")
    named = zone.kind == CELLS
    if named and not zone.each:
        whole = [lay_out(sheet, pattern, upon, tape_mm, _amid(own)) for sheet, own in zip(sheets, parts, strict=True)]
        return tuple(_seen_in(layout, own) for layout, own in zip(whole, parts, strict=True))
    return tuple(_laid_in(sheet, own, pattern, upon, tape_mm) for sheet, own in zip(sheets, parts, strict=True))


def area_of(sheets: Sequence[Sheet], zone: Zone) -> Rectangle | None:
    """The rectangle that a layer's pattern is laid on, on the only sheet; None where there are several sheets or several grounds."""
    if len(sheets) != 1 or (zone.kind == CELLS and zone.each):
        return None
    if zone.kind in (ALL, CELLS):
        return sheets[0].area
    parts = list(_drawn(sheets[0], zone, zone.panel or sheets[0].placed[0].panel.name))
    return Sheet((_narrowed(sheets[0].placed[parts[0].panel], parts[0]),)).area if len(parts) == 1 else None


def _nothing(zone: Zone) -> str:
    if zone.kind != CELLS:
        return "This part lies off the field. Give one that lies on it."
    where = "at these places" if zone.at else f"in {zone.color or 'the base colour'}"
    return f"“{zone.layer}” has no part {where}. Choose parts that are there."


def _parts(sheets: Sequence[Sheet], zone: Zone, below: Sequence[Below]) -> Iterator[Iterator[_ZoneGround]]:
    if zone.kind == CELLS:
        under = next(each for each in below if each.name == zone.layer)
        for number, (sheet, layout, keys) in enumerate(zip(sheets, under.layouts, under.keys, strict=True)):
            yield _cells_of(sheet, layout, keys, zone, under.bands if not number else ())
        return
    first = zone.panel or sheets[0].placed[0].panel.name
    for sheet in sheets:
        yield _drawn(sheet, zone, first)


def _drawn(sheet: Sheet, zone: Zone, panel: str) -> Iterator[_ZoneGround]:
    """A rectangle or a ring on one panel, as far as it lies in the field."""
    for number, placed in enumerate(sheet.placed):
        if placed.panel.name != panel:
            continue
        if zone.kind == RECT and zone.box:
            box = zone.box
            corners = [(box.left, box.top), (box.right, box.top), (box.right, box.bottom), (box.left, box.bottom)]
        else:
            corners = list(zone.points)
        ring = placed.to_sheet(np.array([[float(x), float(y)] for x, y in corners]))
        outer = [(x, y) for x, y in ring.tolist()]
        if not polygons.simple(outer):
            raise BadInput("These points make no ring, or one that crosses itself. Give them in turn.", "zone.points")
        for ground in polygons.clipped(polygons.solid([polygons.ring(outer)]), region_of(placed))[0]:
            yield _ZoneGround(number, ground)


def _cells_of(
    sheet: Sheet, layout: Layout, keys: Sequence[str], zone: Zone, bands: Sequence[PaintedBand]
) -> Iterator[_ZoneGround]:
    """The cells that a zone chooses on a sheet, in their own order; those of measured bands where these came out."""
    count = int((~layout.reserved).sum())
    if zone.at:
        name = zone.panel or sheet.placed[0].panel.name
        placed = next((each for each in sheet.placed if each.panel.name == name), None)
        if placed is None:
            return
        points = placed.to_sheet(np.array([[float(x), float(y)] for x, y in zone.at]))
        found = polygons.holding(layout.polygons, points)
        which = np.unique(found[found >= 0])
    else:
        which = np.flatnonzero(layout.in_color(zone.color)[:count])
    for cell in which.tolist():
        panel, ground = int(layout.panels[cell]), layout.polygons[cell]
        band = as_painted.holding(bands, ground) if not panel else None
        if band:
            for part in polygons.clipped(polygons.solid([as_painted.moved(ground, band)]), region_of(sheet.placed[panel]))[0]:
                yield _ZoneGround(panel, part, keys[cell], as_painted.middle_of(band, part))
        else:
            yield _ZoneGround(panel, ground, keys[cell], None, _bare_edges(layout, cell))


def _bare_edges(layout: Layout, cell: int) -> tuple[tuple[Point, Point], ...]:
    """The stretches of a cell's edge along which its layer shows no line: painted on neither side, or alike on both."""
    borders = layout.borders
    painted, slots, under = (
        np.append(column, blank) for column, blank in ((layout.painted, False), (layout.slots, -2), (layout.under, -2))
    )
    plus, minus = borders.plus, borders.minus
    shows = (painted[plus] | painted[minus]) & ((slots[plus] != slots[minus]) | (under[plus] != under[minus]))
    at = np.flatnonzero(((plus == cell) | (minus == cell)) & ~shows)
    lines = borders.lines
    ends = zip(borders.line[at].tolist(), borders.t0[at].tolist(), borders.t1[at].tolist(), strict=True)
    return tuple((lines.point(line, low), lines.point(line, high)) for line, low, high in ends)


def _amid(parts: Sequence[_ZoneGround]) -> Point | None:
    """The middle of parts of a sheet."""
    if not parts:
        return None
    return polygons.middle(polygons.solid([part.ground for part in parts]))


def _seen_in(layout: Layout, parts: Sequence[_ZoneGround]) -> Layout:
    """A layout over the whole sheet, seen only in some parts of it."""
    if not parts:
        return _cut_to(layout, None, ())
    whole = polygons.union(polygons.solid([part.ground for part in parts]))
    return _cut_to(layout, whole, tuple(ZonePart(part.panel, part.name, part.bare) for part in parts))


def _laid_in(sheet: Sheet, parts: Sequence[_ZoneGround], pattern: PatternChoice, base: str, tape_mm: float) -> Layout:
    """A pattern laid in each part by itself, from the part's own edges."""
    if not parts:
        whole = lay_out(sheet, pattern, base, tape_mm)
        return _cut_to(whole, None, ())
    laid = []
    for part in parts:
        placed = sheet.placed[part.panel]
        own = Sheet((_narrowed(placed, part),))
        fitted = as_painted.shared_out(pattern, part.middle) if part.middle else pattern
        whole = lay_out(own, fitted, base, tape_mm, _amid([part]))
        if part.middle and part.middle.slope:
            whole = _leaned(whole, part.middle)
        found = _cut_to(whole, part.ground, (ZonePart(part.panel, part.name, part.bare),))
        laid.append(_on_sheet(found, sheet, part.panel))
    return joined_layouts(sheet, laid)


def _leaned(layout: Layout, middle: Middle) -> Layout:
    """A layout sheared along with the middle of a band: what is laid keeps its width across it."""

    def place(points: Floats) -> Floats:
        found = points.copy()
        found[:, middle.axis] += middle.slope * (points[:, 1 - middle.axis] - middle.at)
        return found

    lines = layout.tape_lines
    if len(lines):
        ground = np.array([polygons.redrawn(each, place) for each in lines.ground], object)
        lines = reserved_lines.TapeLines(place(lines.start), place(lines.end), ground, lines.width_mm)
    cells = moved_to(layout.cells, place(layout.cells.points))
    dots = tuple(replace(dot, point=tuple(place(np.array([dot.point]))[0].tolist())) for dot in layout.tiles.dots)
    plain = _leaned(layout.plain, middle) if layout.plain else None
    return replace(layout, cells=cells, tiles=replace(layout.tiles, dots=dots), tape_lines=lines, plain=plain)


def _narrowed(placed: Placed, part: _ZoneGround) -> Placed:
    """A panel whose field is the least rectangle around a part of it; around its middle, where that was measured."""
    ground, middle = part.ground, part.middle
    left, top, right, bottom = polygons.bounds_of(polygons.redrawn(ground, placed.to_panel))
    box = Rectangle(exact(left), exact(top), exact(right), exact(bottom))
    if middle:
        box = replace(
            box, **dict(zip((("left", "right"), ("top", "bottom"))[middle.axis], (middle.low, middle.high), strict=True))
        )
    return replace(placed, shift=(0.0, 0.0), scale=(1.0, 1.0), panel=replace(placed.panel, field=box, shape=None, contour=None))


def _on_sheet(layout: Layout, sheet: Sheet, panel: int) -> Layout:
    """A layout of one panel as one of its sheet."""

    def moved(one: Layout) -> Layout:
        return replace(one, sheet=sheet, panels=np.full(len(one.cells), panel))

    return replace(moved(layout), plain=moved(layout.plain) if layout.plain else None)


def _cut_to(layout: Layout, ground: polygons.Region | None, parts: tuple[ZonePart, ...]) -> Layout:
    """What of a layout lies on a ground; nothing where there is none."""
    if ground is None:
        cells, origin = NO_SHAPES, np.zeros(0, np.int64)
    else:
        cells, origin = polygons.cut_to(layout.cells, ground, np.zeros(len(layout.cells), bool))
    lines = layout.tape_lines
    pieces, line = (
        polygons.clipped(lines.ground, ground)
        if ground is not None and len(lines)
        else (np.zeros(0, object), np.zeros(0, np.int64))
    )
    again = np.argsort(line, kind="stable")
    pieces, line = pieces[again], line[again]
    plain = _cut_to(layout.plain, ground, parts) if layout.plain else None
    return replace(
        layout.picked(cells, origin),
        tiles=_with_dots_on(layout.tiles, ground),
        tape_lines=reserved_lines.TapeLines(lines.start[line], lines.end[line], pieces, lines.width_mm) if len(line) else reserved_lines.NO_LINES,
        plain=plain,
        parts=parts,
    )  # fmt: skip


def _with_dots_on(tiles: Tiles, ground: polygons.Region | None) -> Tiles:
    if not tiles.dots:
        return tiles
    places = np.array([dot.point for dot in tiles.dots])
    on = polygons.holding(np.array([ground], object), places) >= 0 if ground is not None else np.zeros(len(places), bool)
    return replace(tiles, dots=tuple(dot for dot, there in zip(tiles.dots, on.tolist(), strict=True) if there))


def joined_layouts(sheet: Sheet, laid: Sequence[Layout]) -> Layout:
    """Several layouts of one pattern on one sheet as one: cells first, then what is reserved."""
    if len(laid) == 1:
        return laid[0]
    tiles, first = _joined_tiles([each.tiles for each in laid])

    def column(name: str) -> Ints:
        return np.concatenate([getattr(each, name) for each in laid])

    reserved = np.concatenate([each.reserved for each in laid])
    order = np.argsort(reserved, kind="stable")
    cells = chosen(joined([each.cells for each in laid]), order)
    origins = np.concatenate(
        [
            np.where(each.origins == ledger.NOTHING, ledger.NOTHING, each.origins + at)
            for each, at in zip(laid, first, strict=True)
        ]
    )
    plains = [each.plain for each in laid if each.plain]
    lines = [each.tape_lines for each in laid if len(each.tape_lines)]
    return Layout(
        sheet=sheet,
        cells=cells,
        slots=column("slots")[order],
        colors=laid[0].colors,
        borders=ledger.borders_of(cells),
        panels=column("panels")[order],
        under=column("under")[order],
        layers=column("layers")[order],
        reserved=reserved[order],
        origins=origins[order].astype(np.int64),
        tiles=tiles,
        tape_lines=_joined_lines(lines),
        plain=joined_layouts(sheet, plains) if plains else None,
        lined=laid[0].lined,
        parts=tuple(part for each in laid for part in each.parts),
    )


def _joined_lines(lines: Sequence[reserved_lines.TapeLines]) -> reserved_lines.TapeLines:
    if not lines:
        return reserved_lines.NO_LINES

    def column(name: str) -> Any:
        return np.concatenate([getattr(each, name) for each in lines])

    return reserved_lines.TapeLines(column("start"), column("end"), column("ground"), lines[0].width_mm)


def _joined_tiles(tiles: Sequence[Tiles]) -> tuple[Tiles, list[int]]:
    """Tiles of one pattern on several grounds, and where each one's begin."""
    first = [0, *np.cumsum([len(each.shapes) for each in tiles])[:-1].tolist()]
    regions, most = [], 0
    for each in tiles:
        own = each.regions if each.regions is not None else np.arange(len(each.shapes))
        regions.append(own + most)
        most += int(own.max(initial=-1)) + 1
    notes: dict[Note, None] = dict.fromkeys(note for each in tiles for note in each.notes)
    lines = [line for each in tiles for line in each.start_lines or ()]
    found = replace(
        tiles[0],
        shapes=joined([each.shapes for each in tiles]),
        slots=np.concatenate([each.slots for each in tiles]),
        notes=tuple(notes),
        regions=np.concatenate(regions),
        under=None if tiles[0].under is None else np.concatenate([each.under for each in tiles if each.under is not None]),
        layers=None if tiles[0].layers is None else np.concatenate([each.layers for each in tiles if each.layers is not None]),
        start_lines=tuple(lines) if tiles[0].start_lines is not None else None,
        dots=tuple(dot for each in tiles for dot in each.dots),
    )
    return found, first
