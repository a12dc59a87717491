"""The model of one stage of a schedule for CP-SAT: the one module that imports it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from dividers.core.order.bounds import heads
from dividers.core.order.calendar import Calendar
from dividers.core.order.network import END, Lag, Task
from dividers.core.order.times import Times, broken

SEED = 7


# The solver counts its own steps, so that a limit gives the same result everywhere, on a slow or paused machine too; so many of
# them take about a second on a small machine. There is no limit in true seconds.
STEPS_A_SECOND = 0.28


class Stopping:
    """A way to end a search from another thread: what was found by then counts."""

    def __init__(self) -> None:
        self.asked = False
        self._stop: Callable[[], None] | None = None

    def stop(self) -> None:
        self.asked = True
        if self._stop:
            self._stop()

    def watch(self, stop: Callable[[], None]) -> None:
        self._stop = stop


@dataclass(frozen=True)
class StageResult:
    times: Times | None
    bound: int
    proved: bool


class StageModel:
    """The model of one stage, hinted with the best schedule so far."""

    def __init__(
        self,
        tasks: Sequence[Task],
        lags: Sequence[Lag],
        calendar: Calendar,
        painters: int,
        best: Times | None,
        stopping: Stopping | None = None,
    ) -> None:
        from ortools.sat.python import cp_model

        self.cp = cp_model
        self.stopping = stopping
        self.model: Any = cp_model.CpModel()
        self.tasks, self.lags, self.calendar, self.painters, self.best = tuple(tasks), lags, calendar, painters, best
        self.room = min(calendar.at_or_after(best.finish), calendar.presence) if best else calendar.presence
        early = heads(tasks, lags, calendar)
        self.start: list[Any] = []
        self.behind: list[dict[int, Any]] = []  # for each task, by span: whether it starts in that span or later
        self.ends_behind: list[dict[int, Any]] = []
        self.wall: list[Any] = []
        self.wall_end: list[Any] = []
        for number, task in enumerate(self.tasks):
            self._add(number, task, early[number])
        for lag in lags:
            wait = self._anchor(lag.then, lag.to) - self._anchor(lag.first, lag.of)
            self.model.add(wait >= lag.least)
            if lag.most is not None:
                self.model.add(wait <= lag.most)
        works = [
            self.model.new_fixed_size_interval_var(start, task.minutes, f"w{n}")
            for n, (start, task) in enumerate(zip(self.start, self.tasks, strict=True))
        ]
        if painters == 1:
            self.model.add_no_overlap(works)
        else:
            self.model.add_cumulative(works, [1] * len(works), painters)
        self.finish = self.model.new_int_var(0, calendar.wall_end(self.room), "finish")
        for end in self.wall_end:
            self.model.add(self.finish >= end)

    def _anchor(self, task: int, which: str) -> Any:
        return self.wall_end[task] if which == END else self.wall[task]

    def _add(self, number: int, task: Task, early: int) -> None:
        cal, model = self.calendar, self.model
        last = max(self.room - task.minutes, early)
        spans = [n for n in range(len(cal.spans)) if cal.before[n + 1] > early and cal.before[n] <= last]
        if task.split:
            domain = self.cp.Domain(early, last)
        else:
            parts = [(max(cal.before[n], early), min(cal.before[n + 1] - task.minutes, last)) for n in spans]
            domain = self.cp.Domain.from_intervals([[a, b] for a, b in parts if a <= b] or [[early, last]])
        start = model.new_int_var_from_domain(domain, f"s{number}")
        self.start.append(start)
        behind = self._literals(start, early, last, f"g{number}")
        self.behind.append(behind)
        self.wall.append(self._on_wall(start, early, behind))
        if task.split:
            shift = task.minutes - 1
            ends = self._literals(start + shift, early + shift, last + shift, f"h{number}")
            self.ends_behind.append(ends)
            self.wall_end.append(self._on_wall(start + shift, early + shift, ends) + 1)
        else:
            self.ends_behind.append(behind)
            self.wall_end.append(self.wall[-1] + task.minutes)
        if task.end_by is not None:
            model.add(self.wall_end[number] <= task.end_by)
        if task.running:
            model.add(start == 0)
        if self.best:
            model.add_hint(start, self.best.starts[number])

    def _literals(self, at: Any, low: int, high: int, name: str) -> dict[int, Any]:
        """For every span that may begin at or before `at`: whether it does."""
        found: dict[int, Any] = {}
        before: Any = None
        for span in range(1, len(self.calendar.spans)):
            edge = self.calendar.before[span]
            if edge <= low or edge > high:
                continue
            literal = self.model.new_bool_var(f"{name}_{span}")
            self.model.add(at >= edge).only_enforce_if(literal)
            self.model.add(at < edge).only_enforce_if(~literal)
            if before is not None:
                self.model.add_implication(literal, before)
            found[span] = before = literal
        return found

    def _on_wall(self, at: Any, low: int, behind: dict[int, Any]) -> Any:
        """A presence minute on the wall clock: itself and every gap behind it."""
        cal = self.calendar
        offset = cal.wall(low) - low
        return at + offset + sum(self._gap(span) * literal for span, literal in behind.items())

    def _gap(self, span: int) -> int:
        return self.calendar.spans[span][0] - self.calendar.spans[span - 1][1]

    def least_finish(self, seconds: float, bound: int) -> StageResult:
        self.model.add(self.finish >= bound)
        self.model.minimize(self.finish)
        times, least, proved = self._solve(seconds)
        return StageResult(times, least, proved)

    def least_days(self, seconds: float) -> StageResult:
        assert self.best is not None
        self.model.add(self.finish <= self.best.finish)
        self.model.minimize(sum(self._days().values()))
        times, least, proved = self._solve(seconds)
        return StageResult(times, least, proved)

    def least_site(self, seconds: float) -> StageResult:
        """The fewest presence minutes from first to last work of each day, with finish and days kept."""
        assert self.best is not None
        self.model.add(self.finish <= self.best.finish)
        used = self._days()
        self.model.add(sum(used.values()) <= self.best.days)
        spans = self._day_spans()
        firsts, lasts = {}, {}
        for day, (low, high) in spans.items():
            firsts[day] = self.model.new_int_var(low, high, f"first{day}")
            lasts[day] = self.model.new_int_var(low, high, f"last{day}")
            self.model.add(lasts[day] >= firsts[day])
        for number, task in enumerate(self.tasks):
            for day, (low, high) in spans.items():
                starts_by, ends_by = self._in_day(number, day)
                if starts_by is None:
                    continue
                # started by the end of the day and not ended before it: its part of the day lies between first and last
                touches = self.model.new_bool_var(f"t{number}_{day}")
                self.model.add(touches >= starts_by + ends_by - 1)
                self.model.add(firsts[day] <= self.start[number]).only_enforce_if(touches, *self._starts_in(number, day))
                crosses = self._literal_at(self.behind[number], number, day)
                if task.split and crosses is not None:
                    self.model.add(firsts[day] <= low).only_enforce_if(touches, ~crosses)
                self.model.add(lasts[day] >= self.start[number] + task.minutes).only_enforce_if(
                    touches, *self._ends_in(number, day)
                )
                later = self._literal_at(self.ends_behind[number], number, day + 1)
                if task.split and later is not None:
                    self.model.add(lasts[day] >= high).only_enforce_if(touches, later)
        self.model.minimize(sum(lasts[day] - firsts[day] for day in spans))
        times, least, proved = self._solve(seconds)
        return StageResult(times, least, proved)

    def _day_spans(self) -> dict[int, tuple[int, int]]:
        """The presence minutes of each day that may be worked on, as (first, end)."""
        cal = self.calendar
        found: dict[int, tuple[int, int]] = {}
        for span, (start, _) in enumerate(cal.spans):
            if cal.before[span] < self.room:
                day = cal.day_of(start)
                low = found.get(day, (cal.before[span], 0))[0]
                found[day] = (low, min(cal.before[span + 1], self.room))
        return found

    def _day_edge(self, day: int) -> int | None:
        """The first span of a day or of the next one worked on; None behind the last."""
        return next((n for n, (start, _) in enumerate(self.calendar.spans) if self.calendar.day_of(start) >= day), None)

    def _literal_at(self, behind: dict[int, Any], number: int, day: int) -> Any:
        """Whether something lies in a day or later: a literal, or None where that is fixed."""
        edge = self._day_edge(day)
        return None if edge is None else behind.get(edge)

    def _at_or_after(self, behind: dict[int, Any], low: int, day: int) -> Any:
        """The same as 0, 1 or a literal; `low` is the least presence minute it may lie at."""
        edge = self._day_edge(day)
        if edge is None:
            return 0
        if edge in behind:
            return behind[edge]
        return 1 if self.calendar.before[edge] <= low else 0

    def _in_day(self, number: int, day: int) -> tuple[Any, Any]:
        """Whether a task starts by the end of a day, and whether it ends in it or later; (None, None) where it can't touch it."""
        low = self._low(number)
        starts_by = 1 - self._at_or_after(self.behind[number], low, day + 1)
        shift = self.tasks[number].minutes - 1 if self.tasks[number].split else 0
        ends_by = self._at_or_after(self.ends_behind[number], low + shift, day)
        if (isinstance(starts_by, int) and starts_by == 0) or (isinstance(ends_by, int) and ends_by == 0):
            return None, None
        return starts_by, ends_by

    def _low(self, number: int) -> int:
        return int(self.start[number].proto.domain[0])

    def _starts_in(self, number: int, day: int) -> list[Any]:
        literal = self._literal_at(self.behind[number], number, day)
        return [literal] if literal is not None else []

    def _ends_in(self, number: int, day: int) -> list[Any]:
        literal = self._literal_at(self.ends_behind[number], number, day + 1)
        return [~literal] if literal is not None else []

    def _days(self) -> dict[int, Any]:
        used = {day: self.model.new_bool_var(f"day{day}") for day in self._day_spans()}
        for number in range(len(self.tasks)):
            for day, literal in used.items():
                starts_by, ends_by = self._in_day(number, day)
                if starts_by is not None:
                    self.model.add(literal >= starts_by + ends_by - 1)
        return used

    def _solve(self, seconds: float) -> tuple[Times | None, int, bool]:
        solver = self.cp.CpSolver()
        solver.parameters.num_workers = 1
        solver.parameters.random_seed = SEED
        solver.parameters.max_deterministic_time = seconds * STEPS_A_SECOND
        solver.parameters.cp_model_probing_level = 0
        solver.parameters.symmetry_level = 0
        if self.stopping:
            self.stopping.watch(solver.stop_search)
            if self.stopping.asked:
                return None, 0, False
        status = solver.solve(self.model)
        if status not in (self.cp.OPTIMAL, self.cp.FEASIBLE):
            return None, 0, False
        times = Times(self.calendar, self.tasks, tuple(int(solver.value(start)) for start in self.start))
        bound = round(solver.best_objective_bound)
        if broken(times, self.lags, self.painters):
            return None, bound, False
        return times, bound, status == self.cp.OPTIMAL
