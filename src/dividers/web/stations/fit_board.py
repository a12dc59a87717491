"""The Pattern station's tools that make a run come out even: what was asked in the address, and the choices it gives."""

import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any

from dividers.core.advice.fit.border import BorderWish
from dividers.core.advice.fit.counts import runs_of
from dividers.core.advice.fit.fit_choices import border_choices, corners_said, hit_choices, shared_choices
from dividers.core.advice.fit.hits import MustHit
from dividers.core.advice.fit.sizes import Choice, Chooser, choosers
from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import read_length, write_exact
from dividers.core.job.reader import read_count
from dividers.core.patterns.base.origin import begins_mm
from dividers.core.plan.piece_plan import PiecePlan
from dividers.services.jobs.editing import Opened
from dividers.web.stations.measure_actions import chain_of

KEEPS = (("size", "the size"), ("count", "the count"), ("tape", "a multiple of the tape"))
MOST_COUNTED = 200
Asked = Mapping[str, str]


@dataclass(frozen=True)
class Tool:
    """What one tool shows: the choices it found, faults by the field they are about, and whether anything was asked of it."""

    choices: tuple[Choice, ...] = ()
    faults: Mapping[str, str] = field(default_factory=dict)
    asked: bool = False
    said: tuple[str, ...] = ()


def fit_board(plan: PiecePlan, opened: Opened, asked: Asked) -> dict[str, Any]:
    """All tools for a piece. `asked` are the address's arguments."""
    job, piece = opened.job, plan.piece
    sheet = plan.sheets[0]
    found = choosers(job, piece, sheet, runs_of(piece, sheet))
    by_axis = {chooser.run.axis: chooser for chooser in found}
    return {
        "fit_axes": [
            (
                chooser.run.axis,
                write_exact(chooser.run.size_mm, job.units),
                [(key, words) for key, words in KEEPS if chooser.run.sized or key == "count"],
                asked.get(f"keep_{chooser.run.axis}", ""),
                _keep(chooser, asked.get(f"keep_{chooser.run.axis}", "")),
            )
            for chooser in found
        ],
        "fit_border": _border(by_axis, asked) if "across" in by_axis and len(piece.surface.panels) == 1 else None,
        "fit_hits": _hits(by_axis, asked, job.units) if by_axis else None,
        "fit_places": list(_places(by_axis)),
        "fit_runs": _several(plan, opened) if by_axis else None,
        "can_turn": chain_of(_folds(plan), [panel.name for panel in piece.surface.panels]),
        "asked": asked,
        "use": lambda choice: f"use:{json.dumps(dict(choice.changes))}",
    }


def _folds(plan: PiecePlan) -> list[list[str]]:
    return [[fold.panel, fold.side, fold.other_panel, fold.other_side] for fold in plan.piece.surface.folds]


def _keep(chooser: Chooser, what: str) -> list[Choice]:
    return chooser.keep(what) if what in dict(KEEPS) and (chooser.run.sized or what == "count") else []


class _Typed:
    """Reads what was asked, field by field, gathering faults."""

    def __init__(self, asked: Asked, unit: str = "in") -> None:
        self.asked, self.unit = asked, unit
        self.faults: dict[str, str] = {}

    def length(self, name: str, usual: str) -> Fraction:
        try:
            return read_length(self.asked.get(name) or usual, self.unit).mm
        except BadInput as fault:
            self.faults[name] = fault.message
            return Fraction(0)

    def counts(self, name: str, usual: tuple[int, int]) -> tuple[int, int]:
        text = self.asked.get(name, "").strip()
        if not text:
            return usual
        ends = text.replace("–", "-").split("-")
        try:
            numbers = [read_count(end, 1, MOST_COUNTED) for end in ends]
        except BadInput as fault:
            self.faults[name] = fault.message
            return usual
        if len(numbers) > 2 or numbers[0] > numbers[-1]:
            self.faults[name] = f"“{text[:20]}” is not a range. Write a count like 8, or from and to like 6-10."
            return usual
        return numbers[0], numbers[-1]


def _border(by_axis: Mapping[str, Chooser], asked: Asked) -> Tool:
    across, down = by_axis["across"], by_axis.get("down")
    if "border_least" not in asked:
        return Tool()
    read = _Typed(asked, across.job.units)
    least, most = read.length("border_least", "0"), read.length("border_most", "0")
    near = across.run.count or max(round(across.run.length / across.run.size_mm), 1)
    columns = read.counts("border_columns", (max(near - 3, 1), near + 3))
    rows = None
    if down:
        many = down.run.count or max(round(down.run.length / down.run.size_mm), 1)
        rows = read.counts("border_rows", (max(many - 3, 1), many + 3))
    if least > most and not read.faults:
        read.faults["border_most"] = "The widest border must be at least as wide as the narrowest."
    if read.faults:
        return Tool(faults=read.faults, asked=True)
    wish = BorderWish(least, most, columns, rows, asked.get("border_square") == "on", asked.get("border_even") == "on")
    return Tool(tuple(border_choices(across, down, wish, asked.get("border_inside") == "on")), {}, True)


def _places(by_axis: Mapping[str, Chooser]) -> Iterator[tuple[str, str]]:
    """What a line can be made to hit: the sides and the middle of openings, and the field's own middle; a key and its words."""
    for axis, chooser in by_axis.items():
        yield f"{axis}:middle", f"the field's middle, {axis}"
        for opening in [o for placed in chooser.sheet.placed for o in placed.panel.openings]:
            for side, words in (
                (("low", "left edge"), ("high", "right edge"))
                if axis == "across"
                else (
                    ("low", "top edge"),
                    ("high", "bottom edge"),
                )
            ):
                yield f"{axis}:{side}:{opening.name}", f"{opening.name}, {words}"
            yield f"{axis}:centre:{opening.name}", f"{opening.name}, middle {axis}"


def _hits(by_axis: Mapping[str, Chooser], asked: Asked, unit: str) -> Tool:
    if "hit_1" not in asked:
        return Tool()
    read = _Typed(asked, unit)
    wishes: list[MustHit] = []
    axes = set()
    for slot in ("1", "2"):
        key, text = asked.get(f"hit_{slot}", ""), asked.get(f"hit_{slot}_at", "").strip()
        middle = asked.get(f"hit_{slot}_what") == "middle"
        if text:
            axis = asked.get("hit_axis", "across")
            axes.add(axis)
            wishes.append(MustHit(f"the place at {text}", read.length(f"hit_{slot}_at", "0"), middle))
        elif key and (place := _place(by_axis, key)):
            axes.add(key.split(":")[0])
            wishes.append(MustHit(dict(_places(by_axis))[key], place, middle))
    if not wishes and not read.faults:
        read.faults["hit_1"] = "Choose a place, or type how far it is from the left or the top of the field."
    if len(axes) > 1:
        read.faults["hit_2"] = "Both places must be across, or both down."
    axis = next(iter(axes), "across")
    if axis not in by_axis:
        read.faults.setdefault("hit_1", f"This pattern doesn't repeat {axis}.")
    if read.faults:
        return Tool(faults=read.faults, asked=True)
    chooser = by_axis[axis]
    beyond = next((wish for wish in wishes if wish.at_mm > chooser.run.length), None)
    if beyond:
        return Tool(faults={"hit_1": f"{beyond.name} lies beyond the field."}, asked=True)
    return Tool(tuple(hit_choices(chooser, wishes)), {}, True)


def _place(by_axis: Mapping[str, Chooser], key: str) -> Fraction | None:
    """A place by its key, mm from the low end of its run."""
    axis, side, *name = key.split(":", 2)
    chooser = by_axis.get(axis)
    if chooser is None:
        return None
    run = chooser.run
    if side == "middle":
        return run.length / 2
    for placed in chooser.sheet.placed:
        for opening in placed.panel.openings:
            if name == [opening.name]:
                box = placed.box(opening.box)
                low, high = (box.left, box.right) if axis == "across" else (box.top, box.bottom)
                return {"low": low, "high": high, "centre": (low + high) / 2}.get(side, low) - run.low
    return None


def _several(plan: PiecePlan, opened: Opened) -> Tool:
    """What suits all runs of a piece with several panels; for panels joined at folds, where the corners fall."""
    piece, job = plan.piece, opened.job
    if len(piece.surface.panels) < 2:
        return Tool()
    sheets = list(plan.sheets)
    found = [choosers(job, piece, sheet, runs_of(piece, sheet)) for sheet in sheets]
    first = found[0][0]
    if len(sheets) > 1:
        alike = [c for each in found for c in each if c.run.axis == first.run.axis]
        return Tool(tuple(shared_choices(alike)), {}, True)
    begins = begins_mm(first.run, piece.pattern.values.get(first.run.origin_key) or Fraction(0))
    return Tool(said=tuple(corners_said(first, begins)), asked=True)
