"""The schedule of a whole job: the one way in to tasks, times and reasons; and the alternatives, side by side."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, tzinfo
from functools import cached_property

from dividers.core.base.quantities import warmer
from dividers.core.base.units import DAY_MIN
from dividers.core.job.model import Job
from dividers.core.order.calendar import Calendar, calendar_of
from dividers.core.order.explain import Link, chain_of, clash_said, finish_said, labour_min
from dividers.core.order.rescue import Case, Rescue, rescue_of
from dividers.core.order.solve import Solution, solve
from dividers.core.order.solver_model import Stopping
from dividers.core.order.starts import why_starts
from dividers.core.order.tasks import Work, work_of
from dividers.core.order.times import painters_of
from dividers.core.order.trial import trial_left_out
from dividers.core.plan.plan import Plan
from dividers.core.risk.climate import Air, air_of
from dividers.core.risk.forecast import cautions

# A Monday to plan with where a job says no start.
NOMINAL_START = "2001-01-01T08:00"
HORIZON_DAYS = 120
LIMIT_S = 3.0
MOST_TASKS = 1200


@dataclass(frozen=True)
class Schedule:
    """A job's tasks, its calendar and what the solver found."""

    job: Job
    work: Work
    calendar: Calendar
    solution: Solution
    rescue: Rescue | None = None  # where there is no schedule

    @property
    def at_risk(self) -> "Schedule":
        """The schedule that misses windows, for who wants to work by it anyway; itself where there is none or it isn't needed."""
        if self.solution.times is not None or self.rescue is None or self.rescue.times is None:
            return self
        return replace(self, solution=replace(self.solution, times=self.rescue.times))

    @cached_property
    def chain(self) -> list[Link]:
        return chain_of(self.solution.times, self.work.lags) if self.solution.times and self.work.tasks else []

    @cached_property
    def said(self) -> list[str]:
        """Why it ends when it does, or why there is no schedule."""
        if self.solution.times is None:
            more = self.rescue.said if self.rescue else []
            return [*clash_said(self.solution.clashes, self.work.problems), *more]
        return finish_said(self.solution.times, self.chain) if self.work.tasks else ["There is nothing to do."]

    @cached_property
    def painters(self) -> list[int]:
        """Which painter does each task."""
        return painters_of(self.solution.times, self.job.crew.painters) if self.solution.times else []

    @cached_property
    def whys(self) -> list[str]:
        """What the begin of each task waits for, "" where it needs no word."""
        times = self.solution.times
        return why_starts(times, self.work.lags, self.job.crew.painters) if times else []

    @cached_property
    def air(self) -> Air:
        paints = [paint for piece in self.job.pieces for paint in piece.method.paint.values()]
        return air_of(self.job.climate, tuple(dict.fromkeys(paints)), self.job.units)

    @cached_property
    def cautions(self) -> tuple[str, ...]:
        """Combinations that practitioners warn of."""
        found: list[str] = []
        for piece in self.job.pieces:
            days = piece.method.tape.remove_within_min
            for choice in self.work.choices.get(piece.key, ()):
                on = self._days_on(piece.key, choice.number)
                limit = float(days) / DAY_MIN if days is not None else None
                found += cautions(choice.situation, f"{piece.name}, round {choice.number}", on, limit)
            found += trial_left_out(piece, self.work.choices.get(piece.key, ()))
        return tuple(dict.fromkeys(found))

    def _days_on(self, piece: str, number: int) -> float:
        """How many days the tape of a round stays on."""
        times = self.solution.times
        if times is None:
            return 0.0
        own = [t for t, task in enumerate(times.tasks) if task.name.piece == piece and task.number == number]
        taped = [times.start(t) for t in own if times.tasks[t].kind == "tape"]
        pulled = [times.end(t) for t in own if times.tasks[t].kind == "pull"]
        return (max(pulled) - min(taped)) / DAY_MIN if taped and pulled else 0.0


def start_of(job: Job, usual: str = NOMINAL_START) -> datetime:
    """When a job starts; the time zone is the painter's own, and left out."""
    return datetime.fromisoformat(job.crew.start or usual).replace(tzinfo=None)


def calendar_from(job: Job, start: datetime) -> Calendar:
    """The hours of a job's crew from a start on, less its busy times."""
    busy = [
        (datetime.fromisoformat(a).replace(tzinfo=None), datetime.fromisoformat(b).replace(tzinfo=None))
        for a, b in job.crew.busy
    ]
    return calendar_of(job.crew, start, HORIZON_DAYS, busy)


def schedule_of(
    plan: Plan,
    seconds: float = LIMIT_S,
    usual_start: str = NOMINAL_START,
    stopping: Stopping | None = None,
    rescued: bool = True,
    zone: tzinfo | None = None,
) -> Schedule:
    """Schedule a planned job; its hours are those of a `zone` where one is given. Raises nothing: what can't be done is said in the schedule, and where it is to be `rescued` what would help."""
    job = plan.job
    start = start_of(job, usual_start).replace(tzinfo=zone)
    work = work_of(plan, start)
    calendar = calendar_from(job, start)
    if not calendar.spans or len(work.tasks) > MOST_TASKS:
        return Schedule(job, work, calendar, Solution("infeasible", None))
    found = (
        Solution("infeasible", None)
        if work.problems
        else solve(work.tasks, work.lags, calendar, job.crew.painters, seconds, stopping)
    )
    rescue = None
    if found.times is None and rescued and not (stopping and stopping.asked):
        cases = (_case(name, _planned(plan, changed), start) for name, changed in _changes(job)[1:])
        rescue = rescue_of(work.tasks, work.lags, calendar, job.crew.painters, (case for case in cases if case))
    return Schedule(job, work, calendar, found, rescue)


def _case(name: str, plan: Plan, start: datetime) -> Case | None:
    """A changed job to be tried; None where something can't work in it whatever the hours."""
    work = work_of(plan, start)
    if work.problems:
        return None
    return Case(name, work.tasks, work.lags, calendar_from(plan.job, start), plan.job.crew.painters)


@dataclass(frozen=True)
class Variant:
    """One change that could be made, and its result: finish, days, minutes of work, points of risk; `said` where there is none."""

    name: str
    finish: datetime | None
    elapsed_min: int
    days: int
    labour_min: int
    risk: int
    said: str = ""


def variants_of(
    plan: Plan, seconds: float, usual_start: str = NOMINAL_START, stopped: Callable[[], bool] = lambda: False
) -> list[Variant]:
    """The job as it is, and with one change at a time, each scheduled for a short while."""
    found = []
    for name, changed in _changes(plan.job):
        if stopped():
            break
        found.append(_variant(name, schedule_of(_planned(plan, changed), seconds, usual_start, rescued=False)))
    return found


def _planned(plan: Plan, job: Job) -> Plan:
    """The plan of a job that differs in no geometry."""
    return Plan(job, tuple(old.in_job(job, piece) for old, piece in zip(plan.pieces, job.pieces, strict=True)))


def gains_of(variants: Sequence[Variant], most: int = 3) -> list[tuple[str, int]]:
    """What would gain most against the first, which is the plan: names and minutes, the most first."""
    planned = variants[0]
    found = [(v.name, planned.elapsed_min - v.elapsed_min) for v in variants[1:] if v.finish and planned.finish]
    return sorted((pair for pair in found if pair[1] > 0), key=lambda pair: -pair[1])[:most]


def _changes(job: Job) -> Sequence[tuple[str, Job]]:
    crew, climate = job.crew, job.climate
    longer = tuple((a, _later(b, 120)) if (a, b) == max(crew.hours) else (a, b) for a, b in crew.hours)
    ways: list[tuple[str, Job]] = [("As planned", job)]
    ways += [(f"Pulled {pull_method}", _methods(job, pull=pull_method)) for pull_method in ("wet", "touch-dry", "dry")]
    ways += [(f"Taped in {taping}", _methods(job, taping=taping)) for taping in ("strips", "pieces")]
    ways += [
        ("Pressed only", _methods(job, seal="none")),
        ("Sealed with the base colour", _methods(job, seal="base")),
        ("Caulked", _methods(job, seal="caulk")),
    ]
    ways.append(("One more painter", replace(job, crew=replace(crew, painters=crew.painters + 1))))
    ways.append(("Two more hours each day", replace(job, crew=replace(crew, hours=longer))))
    ways.append(
        ("Sundays too" if "sun" not in crew.days else "No Sundays", replace(job, crew=replace(crew, days=_sundays(crew.days))))
    )
    ways.append(
        (f"{warmer(5, job.units)} warmer", replace(job, climate=replace(climate, temperature_c=climate.temperature_c + 5)))
    )
    drier = max(climate.humidity_percent - 15, type(climate.humidity_percent)(10))
    ways.append(("15 % drier air (a fan, a heater)", replace(job, climate=replace(climate, humidity_percent=drier))))
    return ways


def _sundays(days: tuple[str, ...]) -> tuple[str, ...]:
    return tuple(day for day in days if day != "sun") if "sun" in days else (*days, "sun")


def _methods(job: Job, **changes: str) -> Job:
    pieces = tuple(piece.with_method(lambda own: replace(own, **changes)) for piece in job.pieces)  # type: ignore[arg-type]
    return replace(job, pieces=pieces)


def _later(clock: str, minutes: int) -> str:
    hours, rest = clock.split(":")
    return f"{min(int(hours) * 60 + int(rest) + minutes, DAY_MIN) // 60:02d}:{rest}"


def _variant(name: str, schedule: Schedule) -> Variant:
    risk = sum(choice.forecast.points for choices in schedule.work.choices.values() for choice in choices)
    labour = labour_min(schedule.work.tasks)
    times = schedule.solution.times
    if times is None:
        return Variant(name, None, 0, 0, labour, risk, schedule.said[0])
    begin = min((times.start(t) for t in range(len(times.tasks))), default=0)
    return Variant(name, times.calendar.moment(times.finish), times.finish - begin, times.days, labour, risk)
