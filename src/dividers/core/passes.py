"""What is painted together: rounds of mask, paint and pull. Ways of taping, compared.

`strips`: long strips; cells that a strip would have to run over can't share a round, which is a colouring of the graph of
such conflicts. `pieces`: one round a colour, a piece of tape for each side of each cell.
"""

from collections import deque
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from dividers.core.colour import luminance
from dividers.core.geometry import polygons
from dividers.core.geometry.shapes import Bools, Floats, Ints, from_rings
from dividers.core.job import Colour, Piece
from dividers.core.layout import Layout
from dividers.core.tape import Runs, Strips, find_runs, footprints, gaps_between, lay_strips
from dividers.core.tolerances import SAME_POINT_MM

# Working rates, all common practice with no source: metres of tape laid and pressed an hour, minutes for each cut or
# torn end, minutes to set up, press and check each round.
TAPED_M_PER_H = 60.0
CUT_MIN = 0.5
ROUND_MIN = 15.0


@dataclass(frozen=True)
class Pass:
    """One round: the colour painted, which cells of each panel, and the strips on each panel."""

    number: int
    color: str
    painted: tuple[Bools, ...]
    strips: tuple[Strips, ...]


@dataclass(frozen=True)
class Option:
    """One way of taping a piece, with its figures. `tightest_mm` is the narrowest gap that made another round needed, or None."""

    taping: str
    passes: tuple[Pass, ...]
    tightest_mm: float | None = None

    @property
    def strip_count(self) -> int:
        return sum(len(strips) for each in self.passes for strips in each.strips)

    @property
    def tape_m(self) -> float:
        return float(sum(strips.lengths.sum() for each in self.passes for strips in each.strips)) / 1000

    @property
    def cuts(self) -> int:
        """Ends to cut or tear: two a strip."""
        return 2 * self.strip_count

    @property
    def labour_min(self) -> float:
        return self.tape_m / TAPED_M_PER_H * 60 + self.cuts * CUT_MIN + len(self.passes) * ROUND_MIN


@dataclass(frozen=True)
class Taping:
    """The ways there are, the one in use, and why in a sentence."""

    chosen: Option
    options: tuple[Option, ...]
    reason: str


def colour_order(layouts: Sequence[Layout], palette: Mapping[str, Colour]) -> tuple[str, ...]:
    """The colours to paint, lighter before darker: dark covers light where they meet."""
    used = {color for layout in layouts for slot in np.unique(layout.slots) if (color := layout.colors[int(slot)])}
    return tuple(sorted(used, key=lambda key: (-luminance(palette[key].hex), key)))


def plan_taping(piece: Piece, layouts: Sequence[Layout], palette: Mapping[str, Colour]) -> Taping:
    """All ways of taping a piece, and the one that its method asks for or that takes the least labour."""
    order = colour_order(layouts, palette)
    width = float(piece.method.tape.width_mm)
    options = tuple(make(layouts, order, width) for make in (in_strips, in_pieces))
    if piece.method.taping != "auto":
        chosen = next(option for option in options if option.taping == piece.method.taping)
        return Taping(chosen, options, "You chose this way.")
    chosen = min(options, key=lambda option: (round(option.labour_min, 6), len(option.passes)))
    other = next(option for option in options if option is not chosen)
    spared = other.labour_min - chosen.labour_min
    if spared < 1:
        return Taping(chosen, options, "Both ways come to the same strips here; long strips are the simpler habit.")
    return Taping(
        chosen, options, f"{chosen.taping.capitalize()} save about {spared:.0f} min of taping against {other.taping} here."
    )


def in_strips(layouts: Sequence[Layout], order: Sequence[str], width_mm: float) -> Option:
    """Long strips, with as many rounds a colour as its conflicts need."""
    rounds: list[tuple[str, list[Bools]]] = []
    tightest: float | None = None
    for number, color in enumerate(order):
        later = order[number + 1 :]
        colourings = []
        for layout in layouts:
            pairs, gap = conflicts(layout, color, later, width_mm)
            tightest = min((g for g in (tightest, gap) if g is not None), default=None)
            colourings.append(_colour_graph(layout.in_color(color), pairs))
        for turn in range(max((int(c.max(initial=-1)) for c in colourings), default=-1) + 1):
            rounds.append((color, [c == turn for c in colourings]))
    return _option("strips", layouts, rounds, width_mm, tightest)


def in_pieces(layouts: Sequence[Layout], order: Sequence[str], width_mm: float) -> Option:
    """One round a colour, a piece of tape for each side of each cell, cut to fit."""
    rounds = [(color, [layout.in_color(color) for layout in layouts]) for color in order]
    return _option("pieces", layouts, rounds, width_mm, None)


def _option(
    taping: str, layouts: Sequence[Layout], rounds: list[tuple[str, list[Bools]]], width_mm: float, tightest: float | None
) -> Option:
    unpainted = [np.zeros(len(layout.cells), bool) for layout in layouts]
    passes: list[Pass] = []
    for number, (color, painted) in enumerate(rounds, 1):
        later = [np.logical_or.reduce([u, *(p[i] for _, p in rounds[number:])]) for i, u in enumerate(unpainted)]
        strips = tuple(
            lay_strips(layout, now, ~now & ~then, width_mm, join=taping == "strips")
            for layout, now, then in zip(layouts, painted, later, strict=True)
        )
        passes.append(Pass(number, color, tuple(painted), strips))
    return Option(taping, tuple(passes), tightest)


def conflicts(layout: Layout, color: str, later: Sequence[str], width_mm: float) -> tuple[set[tuple[int, int]], float | None]:
    """Pairs of cells of one colour that can't share a round of long strips, and the narrowest gap between such cells in mm.

    A strip beside one cell would lie on the other: across a gap narrower than the tape, or further along its own line.
    """
    painted = layout.in_color(color)
    kept = ~painted & ~np.logical_or.reduce([np.zeros(len(painted), bool), *(layout.in_color(key) for key in later)])
    runs = find_runs(layout, painted, kept)
    if not len(runs):
        return set(), None
    wet = np.flatnonzero(painted)
    cells_of = np.split(runs.stretch_cell, np.searchsorted(runs.stretch_run, np.arange(1, len(runs))))
    pairs: set[tuple[int, int]] = set()
    tightest: float | None = None
    for run, cell, gap in _across(layout, runs, wet, width_mm):
        others = {(min(a, cell), max(a, cell)) for a in map(int, cells_of[run]) if a != cell}
        if others:
            pairs |= others
            tightest = gap if tightest is None else min(tightest, gap)
    for run, cell in _along(layout, runs, wet, width_mm):
        mine = {int(cells_of[run][-1]), int(cells_of[run + 1][0])} - {cell}
        pairs |= {(min(a, cell), max(a, cell)) for a in mine}
    return pairs, tightest


def _across(layout: Layout, runs: Runs, wet: Ints, width_mm: float) -> list[tuple[int, int, float]]:
    """(run, cell, gap in mm) where tape along a run lies on a painted cell that doesn't touch the run."""
    lines = layout.borders.lines
    rings = footprints(lines, runs.line, runs.side, runs.t0, runs.t1, width_mm)
    run, cell = polygons.overlapping(polygons.to_polygons(from_rings(rings)), layout.polygons[wet])
    near = polygons.distances(rings[run, 0], rings[run, 1], layout.polygons[wet[cell]])
    apart = near > SAME_POINT_MM
    return [(int(r), int(wet[c]), float(gap)) for r, c, gap in zip(run[apart], cell[apart], near[apart], strict=True)]


def _along(layout: Layout, runs: Runs, wet: Ints, width_mm: float) -> list[tuple[int, int]]:
    """(run, cell) where tape running on from a run to the next one of its line would lie on a painted cell."""
    after = gaps_between(runs)
    if not len(after):
        return []
    lines = layout.borders.lines
    rings = footprints(lines, runs.line[after], runs.side[after], runs.t1[after], runs.t0[after + 1], width_mm)
    gap, cell = polygons.overlapping(polygons.to_polygons(from_rings(rings)), layout.polygons[wet])
    return [(int(after[g]), int(wet[c])) for g, c in zip(gap, cell, strict=True)]


def _colour_graph(members: Bools, pairs: set[tuple[int, int]]) -> Ints:
    """A round (0, 1, ...) for each member so that no pair shares one; -1 for the others. Two rounds where two are enough."""
    rounds = np.full(len(members), -1, np.int64)
    beside: dict[int, list[int]] = {}
    for one, other in sorted(pairs):
        beside.setdefault(one, []).append(other)
        beside.setdefault(other, []).append(one)
    rounds[members] = 0
    open_cells = dict.fromkeys(beside, True)
    for first in beside:
        queue = deque([first])
        while queue:
            cell = queue.popleft()
            if not open_cells[cell]:
                continue
            open_cells[cell] = False
            taken = {int(rounds[n]) for n in beside[cell] if not open_cells[n]}
            rounds[cell] = next(turn for turn in range(len(taken) + 1) if turn not in taken)
            queue.extend(n for n in beside[cell] if open_cells[n])
    return rounds


def figures(option: Option) -> dict[str, Floats | int | float | str]:
    """An option's figures as the plan states them."""
    return {
        "taping": option.taping,
        "passes": len(option.passes),
        "strips": option.strip_count,
        "cuts": option.cuts,
        "tape_m": round(option.tape_m, 3),
        "labour_min": round(option.labour_min, 1),
    }
