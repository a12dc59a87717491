"""The fewest rounds in which neighbours of different colours are never wet together: every second part first, then the rest."""

from collections.abc import Mapping, Sequence

import numpy as np

from dividers.core.base.colour import luminance
from dividers.core.cells.layout import Layout
from dividers.core.geometry.graph import components, least_colouring
from dividers.core.geometry.ledger import NOTHING
from dividers.core.geometry.shapes import Ints
from dividers.core.job.products import Colour
from dividers.core.rounds.conflicts import MOST_TRIED, RoundCells


def alternated(layouts: Sequence[Layout], order: Sequence[str], palette: Mapping[str, Colour]) -> list[RoundCells]:
    """What is painted together when every colour may be in any round: few rounds, the lighter one first; empty where that isn't tried."""
    if not order or any(layout.translucent for layout in layouts) or sum(len(layout.cells) for layout in layouts) > MOST_TRIED:
        return []
    turns = [_turns(layout) for layout in layouts]
    found = []
    for turn in range(max(int(each.max(initial=-1)) for each in turns) + 1):
        painted = tuple(each == turn for each in turns)
        there = {
            layout.colors[slot] for layout, now in zip(layouts, painted, strict=True) for slot in np.unique(layout.slots[now])
        }
        found.append(RoundCells(tuple(color for color in order if color in there), painted))
    return sorted(found, key=lambda each: -float(np.mean([luminance(palette[color].hex) for color in each.colors])))


def most_that_meet(layouts: Sequence[Layout]) -> int:
    """How many rounds are needed at least, as far as is seen: 3 where parts of different colours meet in a ring of odd length, 2 where
    any two meet, 1 where something is painted."""
    if not any(layout.painted.any() for layout in layouts):
        return 0
    return max((min(int(_turns(layout).max(initial=0)) + 1, 3) for layout in layouts if not layout.translucent), default=1)


def _turns(layout: Layout) -> Ints:
    """A turn (0, 1, ...) for each painted cell, so that none of another colour beside it has the same; NOTHING for the others."""
    borders, painted = layout.borders, np.append(layout.painted, False)
    meet = painted[borders.plus] & painted[borders.minus]
    pairs = np.column_stack([borders.plus[meet], borders.minus[meet]])
    alike = layout.slots[pairs[:, 0]] == layout.slots[pairs[:, 1]]
    part = components(len(layout.cells), pairs[alike])
    apart = np.unique(np.sort(part[pairs[~alike]], axis=1), axis=0)
    apart = apart[apart[:, 0] != apart[:, 1]]
    members = np.zeros(len(layout.cells), bool)
    members[np.unique(part[layout.painted])] = True
    turns: Ints = np.where(layout.painted, least_colouring(members, apart)[part], NOTHING)
    return turns
