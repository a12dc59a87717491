"""From plans to tasks and lags: what is done by hand, and what must wait for what, at least and at most.

Drying is no task: it is a lag. A task takes whole minutes of one painter.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime

import numpy as np

from dividers.core.base.colour import luminance
from dividers.core.base.quantities import run, spoken
from dividers.core.geometry.ledger import NOTHING
from dividers.core.geometry.overlaps import ShapeIndex, overlapping
from dividers.core.job.crew import Climate
from dividers.core.job.drying import label_min
from dividers.core.job.model import Job
from dividers.core.job.products import Paint
from dividers.core.job.usual import ERASE_MIN, PREP_MIN_M2, PREP_WAIT_MIN, TOUCH_UP_MIN, coats_of
from dividers.core.order.network import END, START, Lag, Task
from dividers.core.order.round_choices import SETTLED_MIN, RoundChoice, choices_of, coat_min, pull_min, whole_minutes
from dividers.core.order.task_key import TaskKey
from dividers.core.plan.plan import PiecePlan, Plan
from dividers.core.risk.windows import window_of
from dividers.core.tape.strips import Strips

PREP_WORDS = {"clean": "Clean", "fill": "Fill", "sand": "Sand and wipe", "prime": "Prime"}


@dataclass(frozen=True)
class Work:
    """All tasks of a job with their lags, and the choices behind them by piece; `problems` can't be scheduled away."""

    tasks: tuple[Task, ...]
    lags: tuple[Lag, ...]
    choices: dict[str, tuple[RoundChoice, ...]] = field(default_factory=dict)
    problems: tuple[str, ...] = ()


def work_of(plan: Plan, start: datetime, air: Climate | None = None, whole_windows: bool = False) -> Work:
    """The tasks of every piece of a job that starts then.

    Seals, pull methods and batches are chosen for the job's own climate; waits and windows are those of `air` where that is another one.
    Windows are as long as they are planned with, or `whole`: what they were before the margin was taken off.
    """
    builder = _TaskList(plan.job, start, air or plan.job.climate, whole_windows)
    for piece in plan.pieces:
        builder.add(piece)
    return Work(tuple(builder.tasks), tuple(builder.lags), builder.choices, tuple(builder.problems))


class _TaskList:
    def __init__(self, job: Job, start: datetime, air: Climate, whole_windows: bool) -> None:
        self.job, self.start, self.air, self.whole_windows = job, start, air, whole_windows
        self.piece = ""
        self.taken: dict[TaskKey, int] = {}
        self.tasks: list[Task] = []
        self.lags: list[Lag] = []
        self.choices: dict[str, tuple[RoundChoice, ...]] = {}
        self.problems: list[str] = []

    def task(self, task: Task) -> int:
        key = TaskKey(self.piece, task.kind, task.number, task.batch, task.color, task.coat)
        self.taken[key] = turn = self.taken.get(key, 0) + 1
        self.tasks.append(replace(task, key=str(replace(key, turn=turn))))
        return len(self.tasks) - 1

    def lag(
        self, first: int, then: int, least: int, why: str, group: str, most: int | None = None, of: str = END, to: str = START
    ) -> None:
        self.lags.append(Lag(first, then, least, why, group, most, of, to))

    def label(self, paint: Paint | None, name: str) -> int:
        return label_min(paint, name, self.air)

    def add(self, plan: PiecePlan) -> None:
        self.piece = plan.piece.key
        _PieceTasks(self, plan).build()


class _PieceTasks:
    """The tasks of one piece, in the order in which they are usually done."""

    def __init__(self, builder: _TaskList, plan: PiecePlan) -> None:
        self.builder, self.plan, self.piece = builder, plan, plan.piece
        self.base_paint = plan.piece.method.paint.get(plan.piece.base)
        self.base_age, self.base_ready = self._base_on_the_wall()
        age = self.base_age if self.base_age is not None else builder.label(self.base_paint, "tape_safe_min")
        self.choices = [self._in_air(choice) for choice in choices_of(builder.job, plan, age)]
        builder.choices[plan.piece.name] = tuple(self.choices)
        builder.problems += [
            f"{plan.piece.name}, round {choice.number}: {problem}" for choice in self.choices for problem in choice.problems
        ]

    def _in_air(self, choice: RoundChoice) -> RoundChoice:
        """A choice with its window as the air makes it."""
        builder = self.builder
        if builder.air == builder.job.climate and not builder.whole_windows:
            return choice
        percent = 100 if builder.whole_windows else self.piece.method.window_percent
        return replace(choice, window=window_of(choice.window.pull_method, choice.situation.paints, builder.air, percent))

    def _base_on_the_wall(self) -> tuple[int | None, int]:
        """How old the base is at the start, where it is there already, and the wall minute from which tape may go on it."""
        painted_on = self.piece.surface.painted_on
        if painted_on is None:
            return (SETTLED_MIN, 0) if self.piece.base_coats == 0 else (None, 0)
        age = int((self.builder.start - datetime.fromisoformat(painted_on)).total_seconds() // 60)
        begun = self.builder.start.hour * 60 + self.builder.start.minute
        return age, max(begun + self.builder.label(self.base_paint, "tape_safe_min") - age, 0)

    def build(self) -> None:
        ready = self._base(self._prep())
        marked = self._mark(ready)
        rounds = [self._round(choice, ready, marked) for choice in self.choices]
        self._between(rounds)
        self._after(rounds)

    def _area(self) -> float:
        return sum(float(layout.cells.areas().sum()) for layout in self.plan.layouts) / 1e6 * self.piece.copies

    def _prep(self) -> tuple[int, int] | None:
        """The last step of preparing and the wait after it."""
        last: tuple[int, int] | None = None
        for kind in self.piece.method.prep:
            minutes = whole_minutes(PREP_MIN_M2[kind] * self._area())
            task = self.builder.task(
                Task("prep", self.piece.name, minutes, f"{PREP_WORDS[kind]} the {self.piece.surface.kind}", split=True)
            )
            if last:
                self.builder.lag(last[0], task, last[1], f"the step before must dry, {spoken(last[1])}", "prep")
            last = task, PREP_WAIT_MIN[kind]
        return last

    def _base(self, last: tuple[int, int] | None) -> tuple[int, str] | None:
        """The base coats; the last of them."""
        color = self.builder.job.palette[self.piece.base].name.lower()
        task: int | None = None
        recoat = self.builder.label(self.base_paint, "recoat_min")
        for coat in range(1, self.piece.base_coats + 1):
            words = f"Base coat {coat}, {color}, over everything"
            now = self.builder.task(
                Task(
                    "base",
                    self.piece.name,
                    whole_minutes(coat_min(self.piece, self._area())),
                    words,
                    coat=coat,
                    color=self.piece.base,
                )
            )
            if task is not None:
                self.builder.lag(task, now, recoat, f"{color} can be recoated after {spoken(recoat)}", "recoat")
            elif last:
                self.builder.lag(last[0], now, last[1], f"the surface must dry, {spoken(last[1])}", "prep")
            task = now
        if task is not None:
            return task, color
        return (last[0], "") if last else None

    def _mark(self, ready: tuple[int, str] | None) -> int | None:
        marks = len(self.plan.marks) * self.piece.copies
        if not marks:
            return None
        minutes = whole_minutes(marks * self.piece.method.rates.mark_min)
        task = self.builder.task(
            Task("mark", self.piece.name, minutes, f"Make {marks} marks, centre first, and check the diagonals", split=True)
        )
        if ready:
            dry = self.builder.label(self.base_paint, "touch_dry_min")
            self.builder.lag(ready[0], task, dry, f"the base must be dry to the touch, {spoken(dry)}", "touch-dry")
        return task

    def _round(self, choice: RoundChoice, ready: tuple[int, str] | None, marked: int | None) -> "_RoundTasks":
        piece, rates, number = self.piece, self.piece.method.rates, choice.number
        each = self.plan.taping.chosen.rounds[number - 1]
        length = sum(float(strips.lengths.sum()) for strips in each.strips) / 1000 * piece.copies
        strips = sum(len(s) for s in each.strips) * piece.copies
        minutes = length / rates.taped_m_per_h * 60 + 2 * strips * rates.cut_min + rates.round_min
        tape = self.builder.task(
            Task(
                "tape",
                piece.name,
                whole_minutes(minutes),
                f"Round {number}: lay and press {strips} strips, {run(length, self.plan.job.units)}",
                number,
                split=True,
                not_before=self.base_ready,
            )
        )
        if marked is not None:
            self.builder.lag(marked, tape, 0, "the marks come first", "order")
        if ready and ready[1]:
            safe = self.builder.label(self.base_paint, "tape_safe_min")
            self.builder.lag(
                ready[0], tape, safe, f"{ready[1]} must be tape-safe, {spoken(safe)}, before tape goes on it", "tape-safe"
            )
        elif ready:
            self.builder.lag(ready[0], tape, 0, "the preparation comes first", "prep")
        sealed = tape, 0
        if choice.seal.coats and choice.seal.skin_min is None:
            sealed = self._seal(choice, tape, length, None)
        batches = [self._batch(choice, index, sealed, tape, length) for index in range(len(choice.batches))]
        return _RoundTasks(choice, tape, batches)

    def _seal(self, choice: RoundChoice, after: int, length: float, batch: int | None) -> tuple[int, int]:
        """The seal's coats after a task; the last one and the wait before paint."""
        last, wait = after, 0
        for coat in range(1, choice.seal.coats + 1):
            again = f", coat {coat}" if choice.seal.coats > 1 else ""
            of = f", batch {batch}" if batch else ""
            task = self.builder.task(
                Task(
                    "seal",
                    self.piece.name,
                    whole_minutes(length / choice.seal.m_per_h * 60),
                    f"Round {choice.number}{of}: {choice.seal.words}{again}",
                    choice.number,
                    coat,
                    batch,
                )
            )
            self.builder.lag(
                last, task, wait, f"the seal must dry, {spoken(wait)}" if wait else "tape first, then seal", "seal"
            )
            last, wait = task, choice.seal.dry_min
        return last, wait

    def _batch(self, choice: RoundChoice, index: int, sealed: tuple[int, int], tape: int, length: float) -> "_BatchTasks":
        """The coats of a batch of bands, colour by colour, and its pull."""
        piece, builder, number = self.piece, self.builder, choice.number
        bands = [choice.bands[band] for band in choice.batches[index]]
        several = len(choice.batches) > 1
        batch = index + 1 if several else None
        of = f", batch {batch} of {len(choice.batches)}" if several else ""
        tape_m = sum(band.tape_m for band in bands)
        skin_from: int | None = None
        if choice.seal.coats and choice.seal.skin_min is not None:
            share = tape_m / max(sum(band.tape_m for band in choice.bands), 1e-9)
            sealed = self._seal(choice, tape, length * share, batch)
            skin_from = sealed[0]
        ordered = list(dict.fromkeys(place for band in bands for place in band.cells))
        cells, places = self._keys(ordered), set(ordered)
        colors = sorted({c for band in bands for c in band.area_m2}, key=lambda c: -luminance(builder.job.palette[c].hex))
        firsts: list[int] = []
        lasts: list[int] = []
        for color in colors:
            name = builder.job.palette[color].name.lower()
            paint = piece.method.paint.get(color)
            recoat = builder.label(paint, "recoat_min")
            area = sum(band.area_m2.get(color, 0.0) for band in bands)
            own = self._keys(place for place in ordered if self._has_color(place, color)) or cells
            before: int | None = None
            for coat in range(1, max(coats_of(piece.method.coats, color), 1) + 1):
                words = f"Round {number}{of}: coat {coat} of {name}"
                task = builder.task(
                    Task("coat", piece.name, whole_minutes(coat_min(piece, area)), words, number, coat, batch, color, own)
                )
                if before is None:
                    why = f"the seal must dry, {spoken(sealed[1])}" if sealed[1] else "tape and seal first"
                    builder.lag(sealed[0], task, sealed[1], why, "seal")
                    firsts.append(task)
                else:
                    builder.lag(before, task, recoat, f"{name} can be recoated after {spoken(recoat)}", "recoat")
                before = task
            assert before is not None
            lasts.append(before)
        pull = builder.task(
            Task(
                "pull",
                piece.name,
                whole_minutes(pull_min(piece, tape_m)),
                f"Round {number}{of}: pull the tape, last strip first",
                number,
                None,
                batch,
                None,
                cells,
            )
        )
        for last in lasts:
            builder.lag(last, pull, choice.window.least_min, choice.window.why, "pull")
            if choice.window.most_min is not None:
                builder.lag(last, pull, 0, choice.window.why, "pull", most=choice.window.most_min, of=START, to=END)
        if skin_from is not None and choice.seal.skin_min is not None:
            why = f"caulk skins over in {spoken(choice.seal.skin_min)}: the tape must be off before"
            builder.lag(skin_from, pull, 0, why, "caulk", most=choice.seal.skin_min, of=START, to=END)
        days = self.piece.method.tape.remove_within_min
        if days is not None:
            why = f"the tape comes off clean within {spoken(days)}"
            builder.lag(tape, pull, 0, why, "tape's days", most=int(days), of=START, to=END)
        return _BatchTasks(firsts, lasts, pull, places)

    def _keys(self, places: Iterable[tuple[int, int]]) -> tuple[str, ...]:
        return tuple(self.plan.cell_keys[sheet][cell] for sheet, cell in places)

    def _has_color(self, place: tuple[int, int], color: str) -> bool:
        """Whether a cell gets a colour, as its own or as the glaze below."""
        layout, cell = self.plan.layouts[place[0]], place[1]
        under = int(layout.under[cell])
        return layout.color(cell) == color or (under != NOTHING and layout.colors[under] == color)

    def _between(self, rounds: Sequence["_RoundTasks"]) -> None:
        """What rounds have to do with each other: a later one waits only for what its tape lies on, covers or crosses."""
        for later in range(len(rounds)):
            for earlier in range(later):
                self._pair(rounds[earlier], rounds[later])

    def _pair(self, one: "_RoundTasks", two: "_RoundTasks") -> None:
        first, then = (self.plan.taping.chosen.rounds[r.choice.number - 1] for r in (one, two))
        crossing = False
        under: set[tuple[int, int]] = set()
        masked: set[tuple[int, int]] = set()
        for sheet in range(len(self.plan.layouts)):
            under |= {(sheet, c) for c in _covered(then.strips[sheet]) if first.painted[sheet][c]}
            masked |= {(sheet, c) for c in _covered(first.strips[sheet]) if then.painted[sheet][c]}
            crossing |= bool(len(overlapping(ShapeIndex(first.strips[sheet].shapes), ShapeIndex(then.strips[sheet].shapes))[0]))
        for batch in one.batches:
            touched = batch.places & under
            if touched or crossing:
                why = f"round {one.choice.number} must be pulled before round {two.choice.number} is taped over it"
                self.builder.lag(batch.pull, two.tape, 0, why, "order")
            if touched:
                for last in batch.lasts:
                    task = self.builder.tasks[last]
                    paint = self.piece.method.paint.get(str(task.color))
                    name = self.builder.job.palette[str(task.color)].name.lower()
                    safe = self.builder.label(paint, "tape_safe_min")
                    why = f"coat {task.coat} of {name} must be tape-safe, {spoken(safe)}, before the tape of round {two.choice.number} goes on it"
                    self.builder.lag(last, two.tape, safe, why, "tape-safe")
            if masked:
                for other in two.batches:
                    for coat in other.firsts:
                        self.builder.lag(batch.pull, coat, 0, f"tape of round {one.choice.number} covers it", "order")

    def _after(self, rounds: Sequence["_RoundTasks"]) -> None:
        """Touching up, erasing, clear coats, once everything is pulled."""
        pulls = [(batch.pull, batch.lasts) for each in rounds for batch in each.batches]
        if not pulls:
            return
        builder, piece = self.builder, self.piece
        touch = builder.task(
            Task(
                "touch-up",
                piece.name,
                whole_minutes(TOUCH_UP_MIN),
                "Touch up with a small, nearly dry brush; look from 1 m away",
            )
        )
        for pull, lasts in pulls:
            builder.lag(pull, touch, 0, "once all tape is off", "order")
            for last in lasts:
                dry = builder.label(piece.method.paint.get(str(builder.tasks[last].color)), "touch_dry_min")
                builder.lag(last, touch, dry, f"the paint beside it must be dry to the touch, {spoken(dry)}", "touch-dry")
        last = touch
        if any("erase" in mark.side for mark in self.plan.marks):
            last = builder.task(Task("erase", piece.name, whole_minutes(ERASE_MIN), "Erase the pencil marks that show"))
            dry = max(builder.label(piece.method.paint.get(c), "recoat_min") for r in rounds for c in r.choice.colors)
            builder.lag(touch, last, dry, f"touched-up paint must be dry, {spoken(dry)}", "recoat")
        for coat in range(1, piece.method.clear_coats + 1):
            wait = builder.label(None, "recoat_min")
            area = self._area()
            task = builder.task(
                Task(
                    "clear-coat",
                    piece.name,
                    whole_minutes(coat_min(piece, area)),
                    f"Clear coat {coat} over everything",
                    coat=coat,
                )
            )
            builder.lag(last, task, wait, f"the paint below must be dry, {spoken(wait)}", "recoat")
            last = task


@dataclass(frozen=True)
class _BatchTasks:
    firsts: list[int]
    lasts: list[int]
    pull: int
    places: set[tuple[int, int]]


@dataclass(frozen=True)
class _RoundTasks:
    choice: RoundChoice
    tape: int
    batches: list[_BatchTasks]


def _covered(strips: Strips) -> list[int]:
    """The cells that any strip lies on."""
    found: list[int] = np.unique(strips.covers.members).tolist()
    return found
