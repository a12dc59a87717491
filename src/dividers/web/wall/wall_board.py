"""A job at the wall as pages show it: each task as a step with its drawing, what it takes, and what to tick off; and how the run is getting on."""

import hashlib
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from itertools import groupby
from typing import Any

from markupsafe import Markup

from dividers.core.base.aloud import reading_said
from dividers.core.base.identity import ById
from dividers.core.base.quantities import mixed, run, spoken, volume
from dividers.core.job.model import Job
from dividers.core.materials.mixes import batch_of
from dividers.core.materials.needs import TOOL_LOSS_PERCENT
from dividers.core.order.network import Task
from dividers.core.order.round_choices import RoundChoice
from dividers.core.order.round_tasks import tape_m
from dividers.core.output.scene import View
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.plan.plan import Plan
from dividers.core.plan.strips_told import sides_in_words, strip_places
from dividers.core.wall.kept_work import DRYING
from dividers.core.wall.small_acts import acts_of
from dividers.core.wall.steps import Step, Tick, cautions_of, step_of
from dividers.services.stations import pictures
from dividers.services.wall.progress import planned_work
from dividers.web.stations.mark_list import tape_picture
from dividers.web.stations.strip_list import write_cut

WHOLE, MOST_GROUPS = "all", 8
UNFOLDED, LEAST_SECTION, MOST_SECTIONS = 20, 8, 20  # rows shown one below the other; rows of a folded part; parts
MOST_TAPES = 1200  # so many marks of a job have their piece of tape measure drawn
PULL_WAYS = {
    "left": "pull slowly to the left, away from the paint",
    "right": "pull slowly to the right, away from the paint",
    "above": "pull slowly upwards, away from the paint",
    "below": "pull slowly downwards, away from the paint",
}


@dataclass(frozen=True)
class TickRow:
    """One item to tick off: what to do in large type, more of it in small, and which drawn piece of tape measure goes with it."""

    item: str
    keys: str
    number: str
    words: str
    detail: str
    tape: str
    said: str  # as it is read aloud
    group: str = ""  # what is ticked whole with it: an edge, a line
    copy: str = ""  # copy 2 of 4, where a piece is there several times


@dataclass(frozen=True)
class StepBoard:
    """A step as the template shows it. `cover` is the task whose strips must be on before it, `needs` which of them; of marks, their own."""

    key: str
    kind: str
    piece: str
    piece_key: str
    title: str
    minutes: str
    view: str
    cells: str
    rows: tuple[TickRow, ...]
    ways: tuple[str, ...]
    takes: tuple[tuple[str, str], ...]  # a colour's hex or "", and words
    cautions: tuple[str, ...]
    cover: str
    needs: str
    pull_method: str
    measured: int | None = None
    acts: tuple[str, ...] = ()
    waits_for_paint: bool = False
    dryer: bool = False  # what it waits for may be dried by a hair dryer

    @property
    def groups(self) -> list[tuple[str, int]]:
        """What can be ticked whole by one press, with how many items that is: each edge of marks, and everything, where there are several."""
        if len(self.rows) > UNFOLDED:  # its parts are ticked where they stand
            return [(WHOLE, len(self.rows))]
        edges = Counter(row.group for row in self.rows if row.group)
        found = [(edge, many) for edge, many in edges.items() if many > 1] if len(edges) > 1 else []
        return [*found[:MOST_GROUPS], (WHOLE, len(self.rows))] if len(self.rows) > 1 else []

    @property
    def sections(self) -> list[tuple[str, tuple[TickRow, ...]]]:
        """The rows in the order of work, many of them folded together by what they lie on: each part's title, and its rows."""
        if len(self.rows) <= UNFOLDED:
            return [("", self.rows)]
        least = max(-(-len(self.rows) // MOST_SECTIONS), LEAST_SECTION)
        parts: list[list[TickRow]] = [[]]
        for (_, copy), laid in groupby(self.rows, key=lambda row: (row.group, row.copy)):
            group = list(laid)
            size = len(group) if len(group) <= least + least // 2 else least
            for at in range(0, len(group), size):
                if len(parts[-1]) >= least or (parts[-1] and parts[-1][0].copy != copy):
                    parts.append([])
                parts[-1] += group[at : at + size]
        return [(_span(part), tuple(part)) for part in parts]


def _span(part: Sequence[TickRow]) -> str:
    """What a part of the rows lies on, and which they are."""
    first, last = part[0], part[-1]
    where = first.group if first.group == last.group else f"{first.group} to {last.group}"
    numbered = f"{first.number} to {last.number}: {where}" if first.number != last.number else where
    return f"{first.copy}, {numbered}" if first.copy and first.copy not in where else numbered


@lru_cache(maxsize=4)
def boards(document: str) -> Mapping[str, StepBoard]:
    """Every step of a document's job, by key of the task."""
    plan, work = planned_work(document)
    pieces = {piece.piece.key: piece for piece in plan.pieces}
    drawn = 0
    warned: set[tuple[str, str]] = set()
    reminded: set[tuple[str, str]] = set()
    found: dict[str, StepBoard] = {}
    for task in work.tasks:
        piece = pieces[task.name.piece]
        choices = work.choices.get(task.name.piece, ())
        step = step_of(piece, task, choices)
        drawn += len(step.ticks) if task.kind == "mark" else 0
        cautions = tuple(each for each in cautions_of(piece, task) if (piece.piece.key, each) not in warned)
        warned |= {(piece.piece.key, each) for each in cautions}
        acts = tuple(each.said for each in acts_of(piece, task, tuple(choices)) if (piece.piece.key, each.key) not in reminded)
        reminded |= {(piece.piece.key, each.key) for each in acts_of(piece, task, tuple(choices))}
        found[task.key] = _board(plan, piece, task, step, choices, cautions, acts, drawn <= MOST_TAPES)
    tapes = {(task.name.piece, task.number, task.name.area): task.key for task in work.tasks if task.kind == "tape"}
    drying = {work.tasks[lag.then].key for lag in work.lags if lag.group in DRYING and lag.least}
    waiting = {work.tasks[lag.then].key for lag in work.lags if lag.group == "tape-safe"}
    waiting |= {task.key for task in work.tasks if task.kind == "tape" and task.not_before_why}
    for task in work.tasks:
        if task.key in drying and pieces[task.name.piece].piece.surface.kind == "paper" and task.kind != "pull":
            found[task.key] = replace(found[task.key], dryer=True)
        if task.key in waiting:
            found[task.key] = replace(found[task.key], waits_for_paint=True)
        if task.kind == "mark":
            found[task.key] = replace(found[task.key], cover=task.key, needs=" ".join(row.item for row in found[task.key].rows))
        if task.kind == "coat" and task.number:
            area = work.choices[task.name.piece][task.number - 1].area_of_batch(task.batch)
            found[task.key] = replace(found[task.key], cover=tapes.get((task.name.piece, task.number, area), ""))
    return found


def _board(
    plan: Plan,
    piece: PiecePlan,
    task: Task,
    step: Step,
    choices: Sequence[RoundChoice],
    cautions: tuple[str, ...],
    acts: tuple[str, ...],
    drawn: bool,
) -> StepBoard:
    job = plan.job
    several = len(piece.piece.surface.panels) > 1
    rows = tuple(
        _mark_row(piece, job, tick, several, drawn) if task.kind == "mark" else _strip_row(piece, job, task, tick, several)
        for tick in step.ticks
    )
    return StepBoard(
        key=task.key,
        kind=task.kind,
        piece=task.piece,
        piece_key=piece.piece.key,
        title=task.words,
        minutes=spoken(task.minutes),
        view=f"{piece.piece.key}.{step.view}",
        cells=" ".join(step.cells),
        rows=rows,
        ways=step.ways,
        acts=acts,
        takes=tuple(_takes(job, piece, task, choices)),
        cautions=cautions,
        cover="",
        needs=" ".join(step.needs),
        measured=step.measured,
        pull_method=choices[task.number - 1].window.pull_method if task.number and task.kind == "pull" else "",
    )


def _mark_row(piece: PiecePlan, job: Job, tick: Tick, several: bool, drawn: bool) -> TickRow:
    mark = piece.marks[tick.place[0]]
    where = f"{mark.panel}, {mark.line}" if several else mark.line
    detail = "; ".join(filter(None, (f"{where}, from {mark.from_where}", mark.what, mark.side, _of_copy(piece, tick))))
    many = len(tick.keys) - 1
    words = mark.reading.text + (f" and {many} more" if many else "")
    tape = mark.reading.text if drawn else ""
    said = f"Mark {tick.keys[0][1:]}, {where}: {reading_said(mark.reading.text)}{f', and {many} more' if many else ''}"
    group = f"{where}{', ' + _of_copy(piece, tick) if piece.piece.copies > 1 else ''}"
    return TickRow(tick.item, " ".join(tick.keys), tick.keys[0][1:], words, detail, tape, said, group, _of_copy(piece, tick))


def _strip_row(piece: PiecePlan, job: Job, task: Task, tick: Tick, several: bool) -> TickRow:
    sheet, index = tick.place
    strips = piece.taping.chosen.rounds[(task.number or 1) - 1].strips[sheet]
    side = _sides(piece, task.number or 1)[sheet][index]
    where = _places(piece, task.number or 1)[sheet][index].words
    panel = f"{piece.layouts[sheet].sheet.placed[int(strips.panel[index])].panel.name}: " if several else ""
    length = write_cut(float(strips.lengths[index]), job.units)
    many = len(tick.keys) - 1
    if task.kind == "tape":
        edge = ", outer edge" if strips.perimeter[index] else ""
        under = ", over what it crosses" if len(strips.after[index]) else ""
        detail = "; ".join(filter(None, (side, f"cut {length}{edge}{under}", _of_copy(piece, tick))))
    else:
        away = PULL_WAYS.get(side.split(" ")[0], "")
        detail = "; ".join(filter(None, (side, away, f"{length} long", _of_copy(piece, tick))))
    return TickRow(
        tick.item,
        " ".join(tick.keys),
        tick.keys[0][1:],
        panel + where + (f" and {many} more" if many else ""),
        detail,
        "",
        f"Strip {tick.keys[0][1:]}: {panel}{where}, {side}{f', cut {reading_said(length)}' if task.kind == 'tape' else ''}{f', and {many} more' if many else ''}",
        panel + where.split(",")[0],
        _of_copy(piece, tick),
    )


@lru_cache(maxsize=4)
def tapes(document: str) -> Mapping[str, Markup]:
    """The drawn pieces of tape measure of a document's marks, by reading."""
    wanted = {row.tape for board in boards(document).values() for row in board.rows if row.tape}
    plan = planned_work(document)[0]
    return {
        mark.reading.text: tape_picture(mark, plan.job.graduation)
        for piece in plan.pieces
        for mark in piece.marks
        if mark.reading.text in wanted
    }


@lru_cache(maxsize=64)
def _sides_of(piece: ById[PiecePlan], number: int) -> list[Any]:
    rounds = piece.value.taping.chosen.rounds
    return [
        sides_in_words(strips, layout.sheet)
        for strips, layout in zip(rounds[number - 1].strips, piece.value.layouts, strict=True)
    ]


def _sides(piece: PiecePlan, number: int) -> list[Any]:
    return _sides_of(ById(piece), number)


@lru_cache(maxsize=64)
def _places_of(piece: ById[PiecePlan], number: int) -> list[Any]:
    rounds = piece.value.taping.chosen.rounds
    return [strip_places(strips, layout) for strips, layout in zip(rounds[number - 1].strips, piece.value.layouts, strict=True)]


def _places(piece: PiecePlan, number: int) -> list[Any]:
    return _places_of(ById(piece), number)


def _of_copy(piece: PiecePlan, tick: Tick) -> str:
    return f"copy {tick.copy} of {piece.piece.copies}" if piece.piece.copies > 1 else ""


def _takes(job: Job, piece: PiecePlan, task: Task, choices: Sequence[RoundChoice]) -> Iterable[tuple[str, str]]:
    """What a step takes along."""
    method = piece.piece_in(choices[task.number - 1].layer if task.number else 0).method
    if task.kind in ("coat", "base") and task.color:
        colour = job.palette[task.color]
        paint = method.paint.get(task.color)
        area = _area(piece, task, choices)
        spread = float(paint.spread_m2_l) if paint else 0.0
        amount = f", {volume(area / spread, job.units)} for this coat" if spread else ""
        yield colour.hex, f"{colour.name}{f' ({paint.key})' if paint else ''}{amount}"
        if paint and paint.glaze_parts is not None:
            parts = (("glaze", paint.glaze_parts), ("paint", Fraction(1)))
            batch = batch_of(parts, area, 1, spread, TOOL_LOSS_PERCENT[method.tool])
            yield "", f"Mix {mixed(batch.litres, batch.parts, job.units)}, with {TOOL_LOSS_PERCENT[method.tool]} % for the tool"
    elif task.kind == "tape" and task.number:
        yield "", f"{method.tape.key}, {run(tape_m(piece, choices[task.number - 1], task.name.area), job.units)}"
    elif task.kind == "seal" and task.number:
        yield "", choices[task.number - 1].seal.method.replace("-", " ")
    elif task.kind == "touch-up":
        for color in dict.fromkeys([piece.piece.base, *(c for choice in choices for c in choice.colors)]):
            yield job.palette[color].hex, job.palette[color].name


def _area(piece: PiecePlan, task: Task, choices: Sequence[RoundChoice]) -> float:
    """The area in m² that a coat covers."""
    if task.kind == "base" or not task.number:
        return piece.base_m2 * piece.piece.copies
    choice = choices[task.number - 1]
    bands = choice.batches[task.batch - 1] if task.batch else range(len(choice.bands))
    return sum(choice.bands[band].area_m2.get(str(task.color), 0.0) for band in bands)


@lru_cache(maxsize=4)
def views(document: str) -> Mapping[str, Markup]:
    """The drawings that the steps of a document's job show, by name."""
    found: dict[str, Markup] = {}
    for board in boards(document).values():
        if board.view not in found:
            piece, which = board.view.rsplit(".", 1)
            found[board.view] = pictures.drawing(document, piece, _view(which))
    return found


def _view(which: str) -> View:
    """The drawing that a step's `view` means."""
    kind, _, layer = which.partition("-")
    if kind == "marks":
        return View(marks=True, layers=frozenset(range(int(layer) + 1)), marks_of=int(layer)) if layer else View(marks=True)
    if kind == "seen":
        return View(layers=frozenset(range(int(layer) + 1)))
    return View() if kind == "paint" else View(strips_of=int(kind))


def document_name(document: str) -> str:
    """A short name that changes with a document."""
    return hashlib.sha256(document.encode()).hexdigest()[:16]
