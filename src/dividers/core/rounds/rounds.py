"""A round: one tape-coat-pull cycle, with the cells it paints and the strips it takes."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from dividers.core.cells.layout import Layout
from dividers.core.geometry.graph import components
from dividers.core.geometry.overlaps import ShapeIndex, overlapping
from dividers.core.geometry.shapes import Bools, Floats, Ints
from dividers.core.tape.laying import lay_strips
from dividers.core.tape.outer_edges import HandEdge, hand_edges
from dividers.core.tape.stretches import Runs, bridged, find_runs, merged_twins
from dividers.core.tape.strips import Strips, no_strips


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
    layer: int = 0

    def lies_on(self, sheet: int, other: int) -> tuple[Ints, Ints]:
        """Pairs (strip, cell) of its strips on one layout and the cells of another that they lie on."""
        if sheet != other:
            return np.zeros(0, np.int64), np.zeros(0, np.int64)
        covers = self.strips[sheet].covers
        return np.repeat(np.arange(len(self.strips[sheet])), np.diff(covers.starts)), covers.members

    def under(self, sheet: int) -> range:
        """The layouts on whose ground one of its own lies, its own among them: those that share its sheet, up to it."""
        return range(sheet, sheet + 1)

    def same_sheet(self, sheet: int) -> range:
        """All layouts that share the sheet of one."""
        return range(sheet, sheet + 1)

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
        for layout, runs, now in zip(self.layouts, self.runs, self.painted, strict=True):
            if len(runs):
                keep, _, long = merged_twins(layout, runs, now, self.width_mm)
                many += len(keep)
                length += float((long.t1 - long.t0)[keep].sum())
            if self.taping == "reserve":
                way = layout.tape_lines.end - layout.tape_lines.start
                many += len(way)
                length += float(np.hypot(way[:, 0], way[:, 1]).sum())
        return many, length


@dataclass(frozen=True, eq=False)
class LayerRound(Round):
    """A round of one layer among all layouts of its piece, layer by layer and sheet by sheet: `own` is it within its layer.

    `sheets` is how many layouts each layer has, `layouts` are those of all layers.
    """

    own: Round | None = None
    sheets: int = 1

    @classmethod
    def of(cls, own: Round, number: int, layer: int, layouts: tuple[Layout, ...]) -> "LayerRound":
        """A layer's round as number so many of the piece."""
        sheets = len(own.layouts)
        first = layer * sheets

        def among(columns: tuple[Bools, ...]) -> tuple[Bools, ...]:
            return tuple(
                columns[n - first] if first <= n < first + sheets else np.zeros(len(layout.cells), bool)
                for n, layout in enumerate(layouts)
            )

        return cls(
            number, own.colors, own.taping, layouts, among(own.painted), among(own.kept), own.width_mm, own.exit_side, layer, own, sheets
        )  # fmt: skip

    def _mine(self, sheet: int) -> int | None:
        at = sheet - self.layer * self.sheets
        return at if 0 <= at < self.sheets else None

    @cached_property
    def strips(self) -> tuple[Strips, ...]:
        found = []
        for sheet, layout in enumerate(self.layouts):
            at = self._mine(sheet)
            found.append(no_strips(layout) if at is None or self.own is None else self.own.strips[at])
        return tuple(found)

    @cached_property
    def runs(self) -> tuple[Runs, ...]:
        raise AssertionError("the runs of a layer's round are those of its own")

    @cached_property
    def estimated(self) -> tuple[int, float]:
        assert self.own is not None
        return self.own.estimated

    def under(self, sheet: int) -> range:
        return range(sheet % self.sheets, sheet + 1, self.sheets)

    def same_sheet(self, sheet: int) -> range:
        return range(sheet % self.sheets, len(self.layouts), self.sheets)

    @cached_property
    def _found(self) -> dict[tuple[int, int], tuple[Ints, Ints]]:
        return {}

    def lies_on(self, sheet: int, other: int) -> tuple[Ints, Ints]:
        none = np.zeros(0, np.int64)
        if self._mine(sheet) is None or sheet % self.sheets != other % self.sheets:
            return none, none
        if sheet == other:
            return super().lies_on(sheet, other)
        if (sheet, other) not in self._found:
            strips = self.strips[sheet]
            self._found[sheet, other] = (
                overlapping(ShapeIndex(strips.shapes), self.layouts[other].shape_index) if len(strips) else (none, none)
            )
        return self._found[sheet, other]


def edges_of_round(layouts: Sequence[Layout], each: Round) -> dict[tuple[str, str], list[HandEdge]]:
    """The edges of a round that are done by hand, on one copy, by colour and kind."""
    found: dict[tuple[str, str], list[HandEdge]] = {}
    for layout, painted in zip(layouts, each.painted, strict=True):
        for edge in hand_edges(layout, painted):
            color = layout.color(edge.cell)
            if color in each.colors:
                found.setdefault((str(color), edge.kind), []).append(edge)
    return found
