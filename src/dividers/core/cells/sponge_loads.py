"""In which order to sponge or brush parts toned apart: in loads of a few of one tone, never two neighbours in one load.

No two loads are quite alike, so a load's parts are scattered over the whole surface.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from dividers.core.cells.layout import Layout
from dividers.core.geometry.ledger import borders_of

PARTS_A_LOAD = 6  # what one sponge load does (common practice, no source)


@dataclass(frozen=True)
class Load:
    """One filling of sponge or brush: a colour, and cells of one sheet."""

    color: str
    cells: tuple[int, ...]


def loads_of(layout: Layout, order: Sequence[str]) -> list[Load]:
    """Every painted cell of a toned pattern in one load; none for other patterns."""
    if not layout.tiles.toned:
        return []
    beside: dict[int, set[int]] = {}
    for one, other in borders_of(layout.tiles.shapes).neighbours().tolist():
        beside.setdefault(one, set()).add(other)
        beside.setdefault(other, set()).add(one)
    found: list[Load] = []
    for color in order:
        cells = [cell for cell, wanted in enumerate(layout.in_color(color)) if wanted]
        every = max(math.ceil(len(cells) / PARTS_A_LOAD), 1)
        for first in range(min(every, len(cells))):
            found += _parted(layout, color, cells[first::every], beside)
    return found


def _parted(layout: Layout, color: str, cells: list[int], beside: dict[int, set[int]]) -> list[Load]:
    """One load, or more where it would hold two neighbours."""
    loads: list[list[int]] = []
    for cell in cells:
        tile = int(layout.origins[cell])
        near = beside.get(tile, set()) | {tile}
        fitting = next((load for load in loads if not any(int(layout.origins[c]) in near for c in load)), None)
        if fitting is None:
            loads.append(fitting := [])
        fitting.append(cell)
    return [Load(color, tuple(load)) for load in loads]
