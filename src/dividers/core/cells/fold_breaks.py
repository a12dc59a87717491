"""Where a pattern breaks over a fold: two parts that would not meet on the stated panels meet on the measured ones."""

from dataclasses import dataclass, replace

import numpy as np

from dividers.core.cells.layout import Layout
from dividers.core.geometry.ledger import NOTHING
from dividers.core.survey.sheet import Crease, Sheet

LEAST_MM = 0.5  # a shorter stretch is rounding


@dataclass(frozen=True)
class FoldBreak:
    """A fold, by its two panels, and the longest stretch (mm) of it along which parts meet that shouldn't."""

    panels: tuple[str, str]
    longest_mm: float


def stated_sheet(sheet: Sheet) -> Sheet:
    """A sheet of measured panels as if each were what was stated."""
    placed = (replace(each, panel=replace(each.panel, shape=None), turned=None) for each in sheet.placed)
    return replace(sheet, placed=tuple(placed))


def fold_breaks(layout: Layout, stated: Layout) -> list[FoldBreak]:
    """The folds of a layout on measured panels over which its lines don't meet; `stated` is the same pattern on the stated ones."""
    layout, stated = layout.plain or layout, stated.plain or stated
    found = []
    for crease in layout.sheet.creases:
        meant = set(_stretches(stated, crease))
        longest = max((mm for pair, mm in _stretches(layout, crease).items() if pair not in meant), default=0.0)
        if longest >= LEAST_MM:
            names = [layout.sheet.placed[number].panel.name for number in (crease.first, crease.second)]
            found.append(FoldBreak((names[0], names[1]), longest))
    return found


def _stretches(layout: Layout, crease: Crease) -> dict[tuple[int, int], float]:
    """The pairs of a pattern's regions that meet over a fold, the first panel's first, and the longest stretch (mm) of each."""
    borders = layout.borders
    both = np.flatnonzero((borders.plus != NOTHING) & (borders.minus != NOTHING))
    one, other = borders.plus[both], borders.minus[both]
    swap = layout.panels[one] == crease.second
    one, other = np.where(swap, other, one), np.where(swap, one, other)
    here = (layout.panels[one] == crease.first) & (layout.panels[other] == crease.second)
    tiles = layout.tiles
    regions = tiles.regions if tiles.regions is not None else np.arange(len(tiles.shapes))
    lengths = borders.lengths[both][here].tolist()
    found: dict[tuple[int, int], float] = {}
    for a, b, mm in zip(*(regions[layout.origins[cells[here]]].tolist() for cells in (one, other)), lengths, strict=True):
        found[a, b] = max(found.get((a, b), 0.0), mm)
    return found
