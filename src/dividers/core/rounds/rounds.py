"""A round: one tape-coat-pull cycle, with the cells it paints and the strips it takes."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from dividers.core.cells.layout import Layout
from dividers.core.geometry.shapes import Bools
from dividers.core.tape.stretches import Runs, bridged, find_runs, without_twins
from dividers.core.tape.strips import Strips, lay_strips


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
            lay_strips(layout, runs, now, self.width_mm, reserving=self.taping == "reserve")
            for layout, runs, now in zip(self.layouts, self.runs, self.painted, strict=True)
        )

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
