"""The days of a schedule as lists: for the page in goes, folded by day; for paper step by step."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from dividers.core.base.quantities import spoken
from dividers.core.base.units import DAY_MIN
from dividers.core.order.explain import earliest_and_latest
from dividers.core.order.goes import Go, Part, Pause, goes_of, pauses_of
from dividers.core.order.schedule import Schedule
from dividers.core.order.times import Times
from dividers.services import clock


@dataclass(frozen=True)
class DayRow:
    """A task in the day list."""

    key: str
    begins: str
    ends: str
    piece: str
    words: str
    minutes: int
    painter: int
    room: str
    why: str


@dataclass(frozen=True)
class GoRow:
    """What is done in one go, with its steps."""

    number: int
    begins: str
    ends: str
    title: str
    words: str
    painter: int
    minutes: int
    rows: tuple[DayRow, ...]
    why: str


@dataclass(frozen=True)
class PauseRow:
    """When nobody has anything to do, and what is waited for."""

    begins: str
    ends: str
    why: str


@dataclass(frozen=True)
class Day:
    """A day: its goes and pauses in turn, or its steps; `near` days are open."""

    title: str
    rows: tuple[DayRow | GoRow | PauseRow, ...]
    near: bool = True


def days_of(schedule: Schedule) -> list[Day]:
    """Every task in the order of its start, day by day."""
    rows = _Rows(schedule)
    days: dict[int, list[tuple[int, DayRow]]] = {}
    for go in goes_of(schedule):
        for part in go.parts:
            days.setdefault(go.day, []).append((part.begin, rows.of(part)))
    return [
        Day(title_of(schedule, day), tuple(row for _, row in sorted(own, key=lambda each: (each[0], int(each[1].key[1:])))))
        for day, own in sorted(days.items())
    ]


def go_days_of(schedule: Schedule, goes: Sequence[Go]) -> list[Day]:
    """What is done in one go is one row; today and the next day of work are near, or the first two where none of them is today."""
    rows = _Rows(schedule)
    days = sorted({go.day for go in goes})
    near = _near(schedule, days)
    turns: list[Go | Pause] = [*goes, *pauses_of(schedule, list(goes))]
    turns.sort(key=lambda each: each.begin)
    return [
        Day(
            title_of(schedule, day),
            tuple(rows.turn(each) for each in turns if schedule.calendar.day_of(each.begin) == day),
            day in near,
        )
        for day in days
    ]


def _near(schedule: Schedule, days: list[int]) -> set[int]:
    today = clock.on_site(clock.moment()).date()
    later = [day for day in days if noon_of(schedule, day).date() >= today]
    return set((later if later and len(later) < len(days) else days)[:2])


def title_of(schedule: Schedule, day: int) -> str:
    noon = noon_of(schedule, day)
    return f"{noon:%A} {noon.day} {noon:%B}"


def noon_of(schedule: Schedule, day: int) -> datetime:
    """The noon of a day, which no clock change moves to another day."""
    return schedule.calendar.moment(day * DAY_MIN + DAY_MIN // 2)


def clock_of(schedule: Schedule, wall: int) -> str:
    return f"{schedule.calendar.moment(wall):%H:%M}"


class _Rows:
    """Rows of one schedule: tasks are numbered in the order of their starts."""

    def __init__(self, schedule: Schedule) -> None:
        times = schedule.solution.times
        self.schedule, self.times = schedule, times
        self.bounds = earliest_and_latest(times, schedule.work.lags) if times else []
        in_turn = sorted(range(len(times.tasks)), key=lambda t: (times.starts[t], t)) if times else []
        self.turns = {task: turn for turn, task in enumerate(in_turn, 1)}

    def of(self, part: Part) -> DayRow:
        assert self.times is not None
        own, schedule = self.times.tasks[part.task], self.schedule
        room = self.bounds[part.task][1] - self.times.start(part.task)
        return DayRow(
            f"t{self.turns[part.task]}",
            clock_of(schedule, part.begin),
            clock_of(schedule, part.end),
            own.piece,
            own.words if part.first else f"{own.words}, goes on",
            _hands_on(self.times, part.begin, part.end),
            schedule.painters[part.task] + 1,
            spoken(room) if room and part.first else "",
            schedule.whys[part.task] if part.first else "",
        )

    def turn(self, each: Go | Pause) -> GoRow | PauseRow:
        begins, ends = clock_of(self.schedule, each.begin), clock_of(self.schedule, each.end)
        if isinstance(each, Pause):
            return PauseRow(begins, ends, each.why)
        rows = tuple(self.of(part) for part in each.parts)
        minutes = sum(row.minutes for row in rows)
        return GoRow(each.number, begins, ends, each.title, each.words, each.painter, minutes, rows, rows[0].why)


def _hands_on(times: Times, begin: int, end: int) -> int:
    """The minutes of work between two wall minutes."""
    return sum(min(high, end) - max(low, begin) for low, high in times.calendar.spans if low < end and high > begin)
