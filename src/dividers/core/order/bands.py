"""What of a round must be painted and pulled together: bands of cells that share tape or wet paint, and batches of bands that fit a window."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from dividers.core.cells.layout import Layout
from dividers.core.geometry import polygons
from dividers.core.geometry.graph import components, in_order, rings
from dividers.core.geometry.ledger import NOTHING
from dividers.core.geometry.overlaps import ShapeIndex, overlapping
from dividers.core.geometry.shapes import Ints, from_rings
from dividers.core.rounds.rounds import Round, working_place
from dividers.core.tape.outer_edges import wrapped_mm2
from dividers.core.tape.strips import Strips

NEAR_MM = 1.0  # paint that a strip faces lies within this of its edge


@dataclass(frozen=True)
class Band:
    """Cells of one round that are painted and pulled in one go, as (sheet, cell), the area of each colour in m² and the tape in m.

    `box` is the smallest axis-aligned rectangle around them: left, top, right, bottom in mm. `over` are the numbers of bands whose
    tape lies under this one's: theirs is pulled later. `strips` face it, as (sheet, strip); an outer edge may face several bands.
    `copy` says on which of several alike pieces.
    """

    number: int
    cells: tuple[tuple[int, int], ...]
    area_m2: dict[str, float]
    tape_m: float
    box: tuple[float, float, float, float]
    over: frozenset[int] = frozenset()
    strips: tuple[tuple[int, int], ...] = ()
    copy: int = 1

    def lies_over(self, other: "Band") -> bool:
        return self.copy == other.copy and other.number in self.over


def in_working_order(bands: Sequence[Band], copies: int, exit_side: str | None) -> list[Band]:
    """The bands of all copies in the order in which they are painted and pulled: no strip is pulled from under another.

    As far as that leaves a choice they go from the top left on; of a floor from the back to the exit on a side of it, so that nobody
    walks on fresh paint.
    """
    places = {band.number: place for place, band in enumerate(bands)}
    before = [(place, places[other]) for place, band in enumerate(bands) for other in sorted(band.over)]
    boxes = np.array([band.box for band in bands]).reshape(-1, 4)
    sheets = [0 if exit_side else band.cells[0][0] for band in bands]
    keys = list(zip(sheets, map(tuple, working_place(boxes, exit_side).tolist()), strict=True))
    order = in_order(keys, before)
    return [replace(bands[place], copy=copy) for copy in range(1, copies + 1) for place in order]


def bands_of(each: Round) -> list[Band]:
    """The bands of a round, sheet by sheet, from the top left on.

    Cells belong together when an edge strip faces both, when they meet in one colour, or when their strips lie over each other in a ring.
    Tape along the outer edge can be cut between bands and ties nothing.
    """
    found: list[Band] = []
    for sheet, (layout, painted, strips) in enumerate(zip(each.layouts, each.painted, each.strips, strict=True)):
        cells = np.flatnonzero(painted)
        if not len(cells):
            continue
        strip, cell = facing(strips, layout.shape_index, cells)
        ties = ~strips.perimeter[strip]
        count = len(layout.cells)
        facings = np.column_stack([cell[ties], count + strip[ties]])  # strips are numbered behind the cells
        borders = layout.borders
        meet = (borders.plus != NOTHING) & (borders.minus != NOTHING)
        plus, minus = borders.plus[meet], borders.minus[meet]
        same = painted[plus] & painted[minus] & (layout.slots[plus] == layout.slots[minus])
        meetings = np.column_stack([plus[same], minus[same]])
        root = components(count + len(strips), np.concatenate([facings, meetings]))
        over = np.concatenate([_over(strips, root, count), _over_outer(strips, layout, root, strip, cell)])
        merged = rings(count + len(strips), over)
        root = merged[root]
        found += _gathered(each, sheet, cells, root, strip, cell, merged[over], len(found))
    return found


def _over(strips: Strips, root: Ints, count: int) -> Ints:
    """Pairs (n, 2) of roots: the strips of the first lie over some of the second's."""
    upper = np.repeat(np.arange(len(strips)), np.diff(strips.after.starts))
    lower = strips.after.members
    inner = ~strips.perimeter[upper] & ~strips.perimeter[lower]
    pairs = np.column_stack([root[count + upper[inner]], root[count + lower[inner]]])
    result: Ints = np.unique(pairs[pairs[:, 0] != pairs[:, 1]], axis=0)
    return result


def _over_outer(strips: Strips, layout: Layout, root: Ints, strip: Ints, cell: Ints) -> Ints:
    """The same where a strip along the outer edge lies below or above: of such a strip it is the stretch there that counts, with what it faces
    (`strip` and `cell` are the pairs of what faces what), as it is cut between bands."""
    upper = np.repeat(np.arange(len(strips)), np.diff(strips.after.starts))
    lower = strips.after.members
    outer = strips.perimeter[upper] | strips.perimeter[lower]
    upper, lower = upper[outer], lower[outer]
    if not len(upper):
        return np.zeros((0, 2), np.int64)
    shapes = polygons.to_polygons(strips.shapes)
    both = polygons.common_to(shapes[upper], shapes[lower])
    order = np.argsort(strip, kind="stable")
    starts = np.searchsorted(strip[order], np.arange(len(strips) + 1))
    found: list[tuple[int, int]] = []
    for one, other, common in zip(upper.tolist(), lower.tolist(), both, strict=True):
        roots = []
        for each in (one, other):
            own = cell[order[starts[each] : starts[each + 1]]]
            faced = polygons.listed([common] * len(own))
            near = own[polygons.reached(faced, layout.polygons[own], 2 * NEAR_MM)] if len(own) else own
            roots.append(set(root[near if len(near) else own].tolist()))  # where it only runs on, all of it counts
        found += [(a, b) for a in roots[0] for b in roots[1] - roots[0] if not roots[1] & {a}]
    return np.unique(np.array(found, np.int64).reshape(-1, 2), axis=0)


def facing(strips: Strips, shape_index: ShapeIndex, cells: Ints) -> tuple[Ints, Ints]:
    """Pairs (strip, cell) of strips and the cells among those given that they face."""
    if not len(strips) or not len(cells):
        return np.zeros(0, np.int64), np.zeros(0, np.int64)
    way = strips.end - strips.start
    length = np.maximum(np.hypot(way[:, 0], way[:, 1]), 1e-9)
    across = np.column_stack([-way[:, 1], way[:, 0]]) / length[:, None]
    width = (strips.shapes.areas() / length)[:, None]
    one = np.where(strips.reserve[:, None], across * (width / 2 + NEAR_MM), -strips.out * NEAR_MM)
    other = np.where(strips.reserve[:, None], -across * (width / 2 + NEAR_MM), 0.0)
    other = np.where(strips.twin[:, None], strips.out * (width + NEAR_MM), other)  # it faces paint on its other side too
    rings = np.stack([strips.start + one, strips.end + one, strips.end + other, strips.start + other], axis=1)
    strip, place = overlapping(ShapeIndex(from_rings(rings)), shape_index.pick(cells))
    return strip, cells[place]


def _gathered(
    each: Round, sheet: int, cells: Ints, root: Ints, strip: Ints, faced: Ints, over: Ints, numbered: int
) -> list[Band]:
    layout, strips = each.layouts[sheet], each.strips[sheet]
    areas, lengths = (layout.cells.areas() + wrapped_mm2(layout)) / 1e6, strips.lengths / 1000
    groups: dict[int, list[int]] = {}
    for cell in cells.tolist():
        groups.setdefault(int(root[cell]), []).append(cell)
    # a strip is pulled with the bands it faces, in equal shares
    tape = dict.fromkeys(groups, 0.0)
    owners: dict[int, set[int]] = {}
    for one, cell in zip(strip.tolist(), faced.tolist(), strict=True):
        owners.setdefault(one, set()).add(int(root[cell]))
    for one, bands in owners.items():
        for band in bands:
            tape[band] += float(lengths[one]) / len(bands)
    bounds = layout.cells.bounds()
    order = sorted(groups, key=lambda key: (round(float(bounds[groups[key], 1].min())), float(bounds[groups[key], 0].min())))
    number = {key: numbered + place for place, key in enumerate(order)}
    under: dict[int, set[int]] = {}
    for upper, lower in over.tolist():
        if upper != lower and upper in number and lower in number:
            under.setdefault(upper, set()).add(number[lower])
    found = []
    for key in order:
        area: dict[str, float] = {}
        for cell in groups[key]:
            for color in {
                layout.color(cell),
                layout.colors[int(layout.under[cell])] if layout.under[cell] != NOTHING else None,
            }:
                if color in each.colors:
                    area[str(color)] = area.get(str(color), 0.0) + float(areas[cell])
        (left, top), (right, bottom) = (
            bounds[groups[key], :2].min(axis=0).tolist(),
            bounds[groups[key], 2:].max(axis=0).tolist(),
        )
        places = tuple((sheet, cell) for cell in groups[key])
        beneath = frozenset(under.get(key, ()))
        own = tuple((sheet, one) for one, bands in sorted(owners.items()) if key in bands)
        found.append(Band(number[key], places, area, tape[key], (left, top, right, bottom), beneath, own))
    return found


def batches_of(count: int, cost: Callable[[Sequence[int]], int], most: int | None) -> list[list[int]]:
    """Bands, by number and in order, in as few batches as cost no more than `most` minutes each, and those as even as can be.

    A band that costs more by itself is a batch by itself. `cost` is asked about bands that follow each other.

    >>> batches_of(4, lambda bands: 3 * len(bands), 9)
    [[0, 1], [2, 3]]
    """
    if most is None:
        return [list(range(count))] if count else []
    fewest = len(_packed(count, cost, most))
    low, high = 0, most
    while high - low > 1:
        middle = (low + high) // 2
        if len(_packed(count, cost, middle)) <= fewest:
            high = middle
        else:
            low = middle
    return _packed(count, cost, high)


def _packed(count: int, cost: Callable[[Sequence[int]], int], most: int) -> list[list[int]]:
    starts: list[int] = []
    for number in range(count):
        if not starts or cost(range(starts[-1], number + 1)) > most:
            starts.append(number)
    pasts = [*starts[1:], count][: len(starts)]
    return [list(range(first, past)) for first, past in zip(starts, pasts, strict=True)]
