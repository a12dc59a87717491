"""A round: one tape-coat-pull cycle, with the cells it paints and the strips it takes."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from dividers.core.cells.layout import Layout
from dividers.core.geometry.graph import components
from dividers.core.geometry.shapes import Bools, Floats, Ints
from dividers.core.tape.stretches import Runs, bridged, find_runs, without_twins
from dividers.core.tape.strips import Strips, lay_strips


def working_place(boxes: Floats, exit_side: str | None) -> Floats:
    """What boxes (n, 4; left, top, right, bottom in mm) are sorted by to work along: from the top left, or on a floor from the back to the
    exit on that side; columns, the first counts most."""
    left, top, right, bottom = boxes.T
    along = {None: np.round(top), "left": -left, "top": -top, "right": right, "bottom": bottom}[exit_side]
    return np.column_stack([along, left, top])


@dataclass(frozen=True, eq=False)
class Round:
    """One round: its colours, which cells of each layout are painted and kept, and the tape for them. Equal to itself only."""

    number: int
    colors: tuple[str, ...]
    taping: str
    layouts: tuple[Layout, ...]
    painted: tuple[Bools, ...]
    kept: tuple[Bools, ...]
    width_mm: float
    exit_side: str | None = None  # of a floor

    @cached_property
    def runs(self) -> tuple[Runs, ...]:
        """Where each layout needs tape."""
        found = []
        for layout, now, kept in zip(self.layouts, self.painted, self.kept, strict=True):
            runs = find_runs(layout, now, kept)
            found.append(runs if self.taping == "pieces" else bridged(layout, runs, now, self.width_mm))
        return tuple(found)

    @cached_property
    def strips(self) -> tuple[Strips, ...]:
        """The strips on each layout."""
        return tuple(
            lay_strips(layout, runs, now, self.width_mm, self.taping == "reserve", self._turns(layout, now))
            for layout, runs, now in zip(self.layouts, self.runs, self.painted, strict=True)
        )

    def _turns(self, layout: Layout, now: Bools) -> Ints | None:
        """When each cell is pulled, taped in pieces: those of one colour that meet together."""
        if self.taping != "pieces" or not now.any():
            return None
        borders, painted = layout.borders, np.append(now, False)
        same = painted[borders.plus] & painted[borders.minus] & (layout.slots[borders.plus] == layout.slots[borders.minus])
        part = components(len(layout.cells), np.column_stack([borders.plus[same], borders.minus[same]]))
        bounds = layout.cells.bounds()
        near = np.full((len(part), 2), np.inf)
        np.minimum.at(near, part, bounds[:, :2])
        far = np.full((len(part), 2), -np.inf)
        np.maximum.at(far, part, bounds[:, 2:])
        place = working_place(np.column_stack([near, far])[part], self.exit_side)
        return np.unique(place, axis=0, return_inverse=True)[1].reshape(-1)

    @cached_property
    def estimated(self) -> tuple[int, float]:
        """How many strips it takes and of what length in all (mm), before they are cut to fit."""
        many, length = 0, 0.0
        for layout, runs in zip(self.layouts, self.runs, strict=True):
            keep, _ = without_twins(layout.borders.lines, runs, self.width_mm) if len(runs) else (np.zeros(0, np.int64), None)
            many += len(keep)
            length += float((runs.t1 - runs.t0)[keep].sum())
            if self.taping == "reserve":
                way = layout.tape_lines.end - layout.tape_lines.start
                many += len(way)
                length += float(np.hypot(way[:, 0], way[:, 1]).sum())
        return many, length
