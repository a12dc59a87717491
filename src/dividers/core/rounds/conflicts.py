"""Which cells can be painted in one round, and in how many rounds the rest follows.

Cells that a long strip of tape would run over can't share its round: that is a colouring of the graph of such conflicts.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from dividers.core.base.colour import luminance
from dividers.core.base.tolerances import SAME_POINT_MM
from dividers.core.cells.layout import Layout
from dividers.core.geometry import polygons
from dividers.core.geometry.colouring import fewest_colours
from dividers.core.geometry.graph import counted
from dividers.core.geometry.overlaps import ShapeIndex, overlapping
from dividers.core.geometry.shapes import Bools, Floats, Ints, from_rings
from dividers.core.job.products import Colour
from dividers.core.tape.stretches import Runs, find_runs, footprints, gap_grounds, gaps_between

# Colours nearer than this in luminance count as equally light: then the larger area goes first.
EQUALLY_LIGHT = 0.03

# More cells than this: rounds of different colours are not tried together, which takes a pass over all cells each.
MOST_TRIED = 4_000


@dataclass(frozen=True)
class RoundCells:
    """What is painted together: colours, and which cells of each layout."""

    colors: tuple[str, ...]
    painted: tuple[Bools, ...]


def colour_order(layouts: Sequence[Layout], palette: Mapping[str, Colour], wish: Sequence[str] = ()) -> tuple[str, ...]:
    """The colours to paint: those wished for first in their order, then lighter before darker, and larger before smaller."""
    areas: dict[str, float] = {}
    for layout in layouts:
        sizes = layout.cells.areas()
        for color in layout.colors:
            if color:
                areas[color] = areas.get(color, 0.0) + float(sizes[layout.in_color(color)].sum())
    used = [color for color, area in areas.items() if area > 0]
    usual = sorted(used, key=lambda key: (-luminance(palette[key].hex), key))
    return tuple(dict.fromkeys([*(key for key in wish if key in used), *_large_first(usual, areas, palette)]))


def _large_first(usual: list[str], areas: Mapping[str, float], palette: Mapping[str, Colour]) -> Iterator[str]:
    """Colours in order of lightness; those about equally light in order of area."""
    group: list[str] = []
    for key in usual:
        if group and luminance(palette[group[0]].hex) - luminance(palette[key].hex) > EQUALLY_LIGHT:
            yield from sorted(group, key=lambda k: (-areas[k], k))
            group = []
        group.append(key)
    yield from sorted(group, key=lambda k: (-areas[k], k))


def turns_of(layouts: Sequence[Layout], order: Sequence[str]) -> list[RoundCells]:
    """What there is to paint, colour by colour; for a translucent pattern its lower layer whole before its upper one."""
    top = max((int(layout.layers.max(initial=0)) for layout in layouts), default=0)
    found = []
    for layer in range(top + 1):
        for color in order:
            painted = tuple(_in_layer(layout, color, layer) for layout in layouts)
            if any(cells.any() for cells in painted):
                found.append(RoundCells((color,), painted))
    return found


def _in_layer(layout: Layout, color: str, layer: int) -> Bools:
    """Which cells get a colour in one layer: as their own, or below another in the lowest."""
    slots = [slot for slot, key in enumerate(layout.colors) if key == color]
    below = np.isin(layout.under, slots) if layer == 0 else np.zeros(len(layout.slots), bool)
    own = np.isin(layout.slots, slots) & (layout.layers == layer)
    result: Bools = own | below
    return result


def kept_in(layout: Layout, now: Bools, later: Bools, colors: Sequence[str], palette: Mapping[str, Colour]) -> Bools:
    """The cells that a round must not run over: all but its own and those painted over later.

    Paint may run under a darker colour, not under a lighter one, nor under a glaze.
    """
    if layout.translucent:
        return ~now
    darkest = min((luminance(palette[color].hex) for color in colors), default=0.0)
    shows = np.array([c is not None and luminance(palette[c].hex) > darkest + EQUALLY_LIGHT for c in layout.colors])
    result: Bools = ~now & (~later | shows[layout.slots])
    return result


@dataclass(frozen=True)
class Tight:
    """Where tape has less room than it is wide: along how many runs, and the narrowest gap in mm."""

    runs: int
    gap_mm: float


def split_by_conflicts(
    turns: Sequence[RoundCells], layouts: Sequence[Layout], palette: Mapping[str, Colour], width_mm: float
) -> tuple[list[RoundCells], Tight | None]:
    """Each colour's turn in as many rounds as its conflicts need, and where the tape is too wide to do a turn in one round."""
    drafts: list[RoundCells] = []
    tight: list[Tight] = []
    for number, turn in enumerate(turns):
        colourings = []
        for index, layout in enumerate(layouts):
            now = turn.painted[index]
            later = np.logical_or.reduce([np.zeros(len(now), bool), *(after.painted[index] for after in turns[number + 1 :])])
            pairs, narrow = conflicts(layout, now, kept_in(layout, now, later, turn.colors, palette), width_mm)
            tight += [narrow] if narrow else []
            colourings.append(fewest_colours(now, pairs))
        for part in range(max((int(c.max(initial=-1)) for c in colourings), default=-1) + 1):
            drafts.append(RoundCells(turn.colors, tuple(c == part for c in colourings)))
    return drafts, Tight(sum(t.runs for t in tight), min(t.gap_mm for t in tight)) if tight else None


def shared(drafts: Sequence[RoundCells], layouts: Sequence[Layout], width_mm: float) -> list[RoundCells]:
    """Rounds of different colours put together where neither's tape lies on the other's paint and they nowhere meet."""
    if sum(len(layout.cells) for layout in layouts) > MOST_TRIED or any(layout.translucent for layout in layouts):
        return list(drafts)
    found: list[RoundCells] = []
    for each in drafts:
        for number, other in enumerate(found):
            if not set(each.colors) & set(other.colors) and all(
                map(_can_share, layouts, other.painted, each.painted, [width_mm] * len(layouts))
            ):
                both = tuple(a | b for a, b in zip(other.painted, each.painted, strict=True))
                found[number] = RoundCells((*other.colors, *each.colors), both)
                break
        else:
            found.append(each)
    return found


def _can_share(layout: Layout, one: Bools, other: Bools, width_mm: float) -> bool:
    """Whether two sets of cells can be painted together: no common border, and no tape of one on the other."""
    if not one.any() or not other.any():
        return True
    borders = layout.borders
    a, b = np.append(one, False), np.append(other, False)
    if ((a[borders.plus] & b[borders.minus]) | (b[borders.plus] & a[borders.minus])).any():
        return False
    both = one | other
    for mine, theirs in ((one, other), (other, one)):
        runs = find_runs(layout, mine, ~both)
        rings = footprints(layout.borders.lines, runs.line, runs.side, runs.t0, runs.t1, width_mm)
        _, cell = overlapping(ShapeIndex(from_rings(rings)), layout.shape_index) if len(runs) else (None, np.zeros(0, np.int64))
        if theirs[cell].any():
            return False
    return True


def conflicts(layout: Layout, painted: Bools, kept: Bools, width_mm: float) -> tuple[Ints, Tight | None]:
    """Pairs of cells (n, 2) that can't share a round of long strips, and where the gap between such cells is too narrow.

    A strip beside one cell would lie on the other: across a gap narrower than the tape, or further along its own line.
    """
    runs = find_runs(layout, painted, kept)
    if not len(runs):
        return np.zeros((0, 2), np.int64), None
    first = np.searchsorted(runs.stretch_run, np.arange(len(runs) + 1))
    run, cell, gap = _across(layout, runs, painted, width_mm)
    many = first[run + 1] - first[run]
    mine = runs.stretch_cell[np.repeat(first[run], many) + counted(many)]
    theirs = np.repeat(cell, many)
    apart = mine != theirs
    runs_each = np.repeat(run, many)[apart]
    tight = Tight(len(np.unique(runs_each)), float(np.repeat(gap, many)[apart].min())) if apart.any() else None
    after, between = _along(layout, runs, painted, width_mm)
    ends = np.concatenate([runs.stretch_cell[first[after + 1] - 1], runs.stretch_cell[first[after + 1]]])
    pairs = np.concatenate([np.column_stack([mine, theirs]), np.column_stack([ends, np.concatenate([between, between])])])
    pairs = np.sort(pairs[pairs[:, 0] != pairs[:, 1]], axis=1)
    return np.unique(pairs, axis=0), tight


def _across(layout: Layout, runs: Runs, painted: Bools, width_mm: float) -> tuple[Ints, Ints, Floats]:
    """(run, cell, gap in mm) where tape along a run lies on a painted cell that doesn't touch the run."""
    rings = footprints(layout.borders.lines, runs.line, runs.side, runs.t0, runs.t1, width_mm)
    run, cell = overlapping(ShapeIndex(from_rings(rings)), layout.shape_index)
    wet = painted[cell]
    run, cell = run[wet], cell[wet]
    near = polygons.distances(rings[run, 0], rings[run, 1], layout.polygons[cell]) if len(run) else np.zeros(0)
    apart = near > SAME_POINT_MM
    return run[apart], cell[apart], near[apart]


def _along(layout: Layout, runs: Runs, painted: Bools, width_mm: float) -> tuple[Ints, Ints]:
    """(run, cell) where tape running on from a run to the next one of its line would lie on a painted cell."""
    after = gaps_between(runs)
    if not len(after):
        return after, after
    gap, cell = overlapping(gap_grounds(layout.borders.lines, runs, after, width_mm), layout.shape_index)
    wet = painted[cell]
    return after[gap[wet]], cell[wet]
