"""The plan of a piece of several layers: each layer planned as a piece of its own, and all of them put together.

Layouts go layer by layer and sheet by sheet; rounds are numbered through the layers in painting order.
"""

from collections import Counter
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.cells.as_painted import as_they_came_out
from dividers.core.cells.layout import Layout, lay_out, region_of
from dividers.core.cells.thin_parts import without_thin
from dividers.core.cells.zones import Below, lay_layer
from dividers.core.geometry import polygons
from dividers.core.geometry.overlaps import overlapping
from dividers.core.geometry.shapes import Ints
from dividers.core.job.layers import ALL, Layer
from dividers.core.job.model import Job, Piece
from dividers.core.job.products import Tape
from dividers.core.marks.marks import Check, Mark
from dividers.core.plan.amounts import PaintNeed, TapeNeed
from dividers.core.plan.as_painted_facts import as_painted_facts
from dividers.core.plan.hand_work import odd_hand_work
from dividers.core.plan.piece_plan import Caution, PiecePlan, keys_of
from dividers.core.rounds.options import Option, Taping
from dividers.core.rounds.rounds import LayerRound, Round
from dividers.core.survey.sheet import Sheet, sheets_of

UNSEEN_MM2 = 1.0  # a layer of which no more than this shows is hidden by those above


@dataclass(frozen=True)
class LayeredPlan(PiecePlan):
    """A piece in layers: `parts` are their plans, each as if its layer were all of the piece."""

    parts: tuple[PiecePlan, ...] = field(default=())

    @property
    def layers(self) -> tuple[PiecePlan, ...]:
        return self.parts

    @property
    def sheet_count(self) -> int:
        return len(self.parts[0].layouts)

    def piece_in(self, layer: int) -> Piece:
        return self.parts[layer].piece

    @cached_property
    def taping(self) -> Taping:
        tapings = [part.taping for part in self.parts]
        rounds: list[LayerRound] = []
        for layer, taping in enumerate(tapings):
            for each in taping.chosen.rounds:
                rounds.append(LayerRound.of(each, len(rounds) + 1, layer, self.layouts))
        names = list(dict.fromkeys(taping.chosen.taping for taping in tapings))
        chosen = replace(_summed([taping.chosen for taping in tapings], "mixed" if len(names) > 1 else names[0]), rounds=tuple(rounds), in_use=True)  # fmt: skip
        ways = list(dict.fromkeys(option.taping for taping in tapings for option in taping.options))
        others = [
            _summed([next((o for o in t.options if o.taping == way), t.chosen) for t in tapings], way)
            for way in ways
            if way != chosen.taping
        ]
        reason = " ".join(f"{layer.name}: {taping.reason}" for layer, taping in zip(self.piece.stack, tapings, strict=True))
        least = sum(taping.least_rounds if taping.chosen.rounds else 0 for taping in tapings)
        return Taping(chosen, (chosen, *others), reason, least if all(t.proved for t in tapings) else 0)

    @cached_property
    def marks(self) -> tuple[Mark, ...]:
        """Layer by layer; each line's working order goes on through the layers."""
        found: list[Mark] = []
        for layer, part in enumerate(self.parts):
            before = Counter((mark.panel, mark.line) for mark in found)
            found += [replace(mark, layer=layer, order=mark.order + before[mark.panel, mark.line]) for mark in part.marks]
        return tuple(found) + self.hand_marks

    @cached_property
    def checks(self) -> tuple[Check, ...]:
        return self.parts[0].checks

    @cached_property
    def paints(self) -> tuple[PaintNeed, ...]:
        """The base, then what each layer takes of each colour; of one paint in equally many coats together."""
        found: dict[tuple[str, str, int, bool], PaintNeed] = {}
        for layer, needs in enumerate([*(part.paints for part in self.parts), self.hand_paints]):
            for need in needs:
                if need.is_base and layer:
                    continue
                area = replace(need, area_m2=self.base_m2 * self.piece.copies) if need.is_base else need
                key = (need.color, need.product, need.coats, need.is_base)
                found[key] = replace(area, area_m2=found[key].area_m2 + area.area_m2) if key in found else area
        return tuple(found.values())

    @cached_property
    def tapes(self) -> tuple[TapeNeed, ...]:
        found: dict[tuple[Tape, int], TapeNeed] = {}
        for need in (need for part in self.parts for need in part.tapes):
            key = (need.tape, need.waste_percent)
            found[key] = replace(need, net_m=found[key].net_m + need.net_m) if key in found else need
        return tuple(found.values())

    @cached_property
    def base_m2(self) -> float:
        if self.piece.stack[0].zone.kind == ALL:
            return self.parts[0].base_m2
        return sum(polygons.region_area(region_of(placed)) for sheet in self.sheets for placed in sheet.placed) / 1e6

    @cached_property
    def _over(self) -> dict[tuple[int, int], tuple[Ints, Ints]]:
        return {}

    def paint_over(self, upper: int, on: int, lower: int, below: int) -> list[tuple[int, int]]:
        if (on, below) not in self._over:
            self._over[on, below] = overlapping(self.layouts[on].shape_index, self.layouts[below].shape_index)
        top, bottom = self._over[on, below]
        rounds = self.taping.chosen.rounds
        both = rounds[upper - 1].painted[on][top] & rounds[lower - 1].painted[below][bottom]
        return list(zip(top[both].tolist(), bottom[both].tolist(), strict=True))

    def colors_under(self, each: Round, sheet: int) -> list[tuple[int, str]]:
        seen: dict[int, dict[str, None]] = {}
        left: dict[int, polygons.Region] = {}  # of strips partly on the paint of layers already looked at
        below = each.under(sheet)[:-1]
        for other in reversed(below):
            layout = self.layouts[other]
            strip, cell = each.lies_on(sheet, other)
            if left and len(strip):
                grounds = polygons.to_polygons(each.strips[sheet].shapes)
                rests = np.array([left.get(one, grounds[one]) for one in strip.tolist()], object)
                shown = polygons.share_area(rests, layout.polygons[cell])
                strip, cell = strip[shown], cell[shown]
            clear = ~layout.painted[cell] if other >= self.sheet_count else np.zeros(len(cell), bool)
            for one, under in zip(strip[~clear].tolist(), cell[~clear].tolist(), strict=True):
                seen.setdefault(one, {})[layout.color(under) or self.piece.base] = None
            if other != below[0] and not clear.all():
                grounds = polygons.to_polygons(each.strips[sheet].shapes)
                for one, region in left.items():
                    grounds[one] = region
                rest = polygons.cut_back(grounds, strip[~clear], layout.polygons[cell[~clear]])
                left |= {one: polygons.union(polygons.solid(parts)) for one, parts in rest.items()}
        return [(strip, color) for strip, colors in seen.items() for color in colors]

    @cached_property
    def warnings(self) -> tuple[Caution, ...]:
        found: dict[Caution, None] = {}
        for layer, part in zip(self.piece.stack, self.parts, strict=True):
            for each in part.warnings:
                found[replace(each, message=f"{layer.name}: {each.message}" if each.code in OF_A_LAYER else each.message)] = (
                    None
                )
        for name in self.unseen:
            message = (
                f"Nobody will see “{name}”: layers above cover all that it paints. Remove it, or make what covers it smaller."
            )
            found[Caution("unseen-layer", self.piece.name, message)] = None
        for code, message in odd_hand_work(self.hand):
            found[Caution(code, self.piece.name, message)] = None
        return tuple(found)

    @cached_property
    def unseen(self) -> tuple[str, ...]:
        """The layers that paint something of which nothing is left to see."""
        names = [layer.name for layer in self.piece.stack]
        painting = [any(layout.painted.any() for layout in part.layouts) for part in self.parts]
        sheets = range(self.sheet_count)
        return tuple(
            name
            for number, name in enumerate(names)
            if painting[number] and not any(self._shows(number, sheet) for sheet in sheets)
        )

    def _shows(self, number: int, sheet: int) -> bool:
        """Whether anything that a layer paints on a sheet is left to see beside what later layers paint."""
        layout = self.parts[number].layouts[sheet]
        free = layout.painted[: len(layout.polygons)].copy()
        lower, over = [np.zeros(0, np.int64)], [np.zeros(0, object)]
        for above in self.parts[number + 1 :]:
            top = above.layouts[sheet]
            upper, below = overlapping(top.shape_index, layout.shape_index)
            both = top.painted[upper] & layout.painted[below]
            lower.append(below[both])
            over.append(top.polygons[upper[both]])
            free[below[both]] = False
        if free.any():
            return True
        under, order = np.concatenate(lower), np.argsort(np.concatenate(lower), kind="stable")
        left = polygons.cut_back(layout.polygons, under[order], np.concatenate(over)[order])
        return sum(part.area for parts in left.values() for part in parts) > UNSEEN_MM2

    @cached_property
    def loads(self) -> tuple[tuple[str, tuple[str, ...]], ...]:
        """Of every layer, by the keys that its cells have in the whole piece."""
        found = []
        for layer, part in enumerate(self.parts):
            first = layer * self.sheet_count
            names = {
                old: new
                for keys, all_keys in zip(part.cell_keys, self.cell_keys[first : first + self.sheet_count], strict=True)
                for old, new in zip(keys, all_keys, strict=True)
            }
            found += [(color, tuple(names[cell] for cell in cells)) for color, cells in part.loads]
        return tuple(found)

    @cached_property
    def facts(self) -> tuple[Caution, ...]:
        measured = as_painted_facts(self.job, self.piece, self.parts)
        return tuple(dict.fromkeys([*measured, *(fact for part in self.parts for fact in part.facts)]))

    def in_job(self, job: Job, piece: Piece) -> PiecePlan:
        """The plan of this piece in another job that gives it the same cells; see `PiecePlan.in_job`."""
        parts = tuple(part.in_job(job, piece.of_layer(layer)) for part, layer in zip(self.parts, piece.stack, strict=True))
        return LayeredPlan(job, piece, self.layouts, None, parts)

    def anew(self, job: Job, piece: Piece) -> PiecePlan:
        parts = tuple(part.anew(job, piece.of_layer(layer)) for part, layer in zip(self.parts, piece.stack, strict=True))
        return LayeredPlan(job, piece, self.layouts, None, parts)


OF_A_LAYER = {"wider-than-cell", "sliver", "short-edge", "paints-nothing"}


def _summed(options: Sequence[Option], name: str) -> Option:
    """Ways of taping layers, as one way of taping the piece."""
    tight = [option.tight for option in options if option.tight]
    return Option(
        name,
        tuple(each for option in options for each in option.rounds),
        options[0].rates,
        sum(option.paint_min for option in options),
        sum(option.wait_min for option in options),
        min(tight, key=lambda each: each.gap_mm) if tight else None,
    )


def plan_piece(job: Job, piece: Piece) -> PiecePlan:
    """Lay out one piece, layer by layer; the rest follows when it is asked for.

    Raises BadInput with the place that it is about as path: `pattern.KEY` for a piece of one pattern, else `layers.N.pattern.KEY` or
    `layers.N.zone`.
    """
    sheets = sheets_of(piece.surface)
    if not piece.layered:
        tape_mm = float(piece.method.tape.width_mm)
        with at_path("layers.0.pattern" if piece.layers else "pattern"):
            layouts = tuple(without_thin(lay_out(sheet, piece.pattern, piece.base, tape_mm)) for sheet in sheets)
        return PiecePlan(job, piece, layouts)
    below: list[Below] = []
    parts: list[PiecePlan] = []
    every: tuple[Layout, ...] = ()
    for number, layer in enumerate(piece.stack):
        layouts = _laid(number, layer, piece, sheets, below)
        every += layouts
        with at_path(f"layers.{number}.pattern"):
            bands = as_they_came_out(layouts[0], layer.pattern, layer.as_painted)
        below.append(Below(layer.name, layouts, keys_of(every)[-len(layouts) :], bands))
        parts.append(PiecePlan(job, piece.of_layer(layer), layouts))
    return LayeredPlan(job, piece, every, None, tuple(parts))


def _laid(number: int, layer: Layer, piece: Piece, sheets: Sequence[Sheet], below: Sequence[Below]) -> tuple[Layout, ...]:
    with at_path(f"layers.{number}.pattern"):
        laid = lay_layer(sheets, layer.zone, layer.pattern, piece.base, float(layer.method.tape.width_mm), below)
        return tuple(without_thin(layout) for layout in laid)


@contextmanager
def at_path(where: str) -> Iterator[None]:
    """What is wrong inside is wrong at a key of that object; keys of the zone and of what was measured lie beside the pattern."""
    try:
        yield
    except BadInput as fault:
        inside = fault.path.split(".")[0] in ("zone", "as_painted")
        path = f"{where.removesuffix('pattern')}{fault.path}" if inside else f"{where}.{fault.path}"
        raise BadInput(fault.message, path.rstrip("."), fault.value) from fault
