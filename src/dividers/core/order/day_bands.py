"""The days of a schedule as bands along a clock: what is worked at when, and windows that close; writers give it looks."""

from dataclasses import dataclass
from itertools import pairwise

from dividers.core.base.units import DAY_MIN
from dividers.core.order.goes import Go
from dividers.core.order.network import Lag
from dividers.core.order.schedule import Schedule
from dividers.core.order.times import Times

WIDTH, NAME_WIDE, RIM = 1000.0, 96.0, 12.0
HEAD, BAND = 22.0, 74.0
PICTURE = (44.0, 34.0)  # wide, high
NUMBER_WIDE = 18.0  # room for its number behind it
LEAST_WIDE = 3.0  # of a stretch of work


@dataclass(frozen=True)
class WorkShown:
    """Work on one task, from x0 to x1, with the paint's hex where it has one."""

    x0: float
    x1: float
    kind: str
    hex: str


@dataclass(frozen=True)
class GoShown:
    """A go in its band: its number, its stretches, and where its picture stands (None where there is no room)."""

    go: Go
    band: int
    stretches: tuple[WorkShown, ...]
    picture_x: float | None
    title: str


@dataclass(frozen=True)
class Closing:
    """A window to pull in: open at x0, closed at x1."""

    band: int
    x0: float
    x1: float
    title: str


@dataclass(frozen=True)
class DayBands:
    """Everything to draw. `bands` have a day and a painter each: (words or "", wall minute of the day's start); `hours` are (x, words);
    `rests` (band, x0, x1) are when nobody is there."""

    height: float
    bands: tuple[str, ...]
    goes: tuple[GoShown, ...]
    closings: tuple[Closing, ...]
    hours: tuple[tuple[float, str], ...]
    rests: tuple[tuple[int, float, float], ...]


class _Clock:
    """From minutes of the day to x, the same for all days."""

    def __init__(self, schedule: Schedule, days: list[int], goes: list[Go]) -> None:
        self.calendar = schedule.calendar
        ends = [(self._of_day(go.begin, go.day), self._of_day(go.end, go.day)) for go in goes]
        spans = [
            (self._of_day(low, d), self._of_day(high, d))
            for low, high in self.calendar.spans
            if (d := self.calendar.day_of(low)) in days
        ]
        self.low = min(low for low, _ in ends + spans) // 60 * 60
        self.high = -(-max(high for _, high in ends + spans) // 60) * 60

    def _of_day(self, wall: int, day: int) -> int:
        """The minute on the clock of a day, counted from its midnight; noon is the moment that no clock change moves."""
        moment, noon = self.calendar.moment(wall), self.calendar.moment(day * DAY_MIN + DAY_MIN // 2)
        return (moment.date() - noon.date()).days * DAY_MIN + moment.hour * 60 + moment.minute

    def x_of(self, minute: int) -> float:
        share = (minute - self.low) / (self.high - self.low)
        return NAME_WIDE + min(max(share, 0.0), 1.0) * (WIDTH - RIM - NAME_WIDE)

    def at(self, wall: int, day: int) -> float:
        return self.x_of(self._of_day(wall, day))


def day_bands_of(schedule: Schedule, goes: list[Go]) -> DayBands | None:
    """The picture of a schedule's days; None where there is nothing to show."""
    times = schedule.solution.times
    if times is None or not goes:
        return None
    calendar = schedule.calendar
    days = sorted({go.day for go in goes})
    painters = range(1, schedule.job.crew.painters + 1)
    rows = [(day, painter) for day in days for painter in painters if any((g.day, g.painter) == (day, painter) for g in goes)]
    place = {row: number for number, row in enumerate(rows)}
    clock = _Clock(schedule, days, goes)
    shown, upto = [], dict.fromkeys(range(len(rows)), 0.0)
    for go in goes:
        band = place[(go.day, go.painter)]
        x = clock.at(go.begin, go.day)
        free = x >= upto[band] and x + PICTURE[0] + NUMBER_WIDE <= WIDTH
        upto[band] = x + PICTURE[0] + NUMBER_WIDE if free else upto[band]
        shown.append(GoShown(go, band, _stretches(schedule, times, clock, go), x if free else None, _title(schedule, go)))
    closings = [each for lag in schedule.work.lags if (each := _closing(schedule, times, clock, place, lag))]
    names = []
    for day, painter in rows:
        moment = calendar.moment(day * DAY_MIN + DAY_MIN // 2)
        first = painter == next(p for d, p in rows if d == day)
        names.append(f"{moment:%a} {moment.day} {moment:%b}" if first else f"painter {painter}")
    hours = tuple((clock.x_of(m), str(m // 60)) for m in range(clock.low, clock.high + 1, 60))
    rests = tuple((place[row], x0, x1) for row in rows for x0, x1 in _rests(schedule, clock, row[0]))
    return DayBands(HEAD + BAND * len(rows), tuple(names), tuple(shown), tuple(dict.fromkeys(closings)), hours, rests)


def _stretches(schedule: Schedule, times: Times, clock: _Clock, go: Go) -> tuple[WorkShown, ...]:
    found = []
    for part in go.parts:
        task = times.tasks[part.task]
        colour = schedule.job.palette[task.color].hex if task.color and task.color in schedule.job.palette else ""
        x0 = clock.at(part.begin, go.day)
        found.append(WorkShown(x0, max(clock.at(part.end, go.day), x0 + LEAST_WIDE), task.kind, colour))
    return tuple(found)


def _title(schedule: Schedule, go: Go) -> str:
    begin, end = schedule.calendar.moment(go.begin), schedule.calendar.moment(go.end)
    return f"{go.number}. {go.title}: {go.words}, {begin:%a %H:%M} to {end:%H:%M}"


def _closing(schedule: Schedule, times: Times, clock: _Clock, place: dict[tuple[int, int], int], lag: Lag) -> Closing | None:
    """The window of a pull in the band where that is done."""
    if lag.group != "pull" or lag.most is None:
        return None
    day = schedule.calendar.day_of(times.start(lag.then))
    band = place.get((day, schedule.painters[lag.then] + 1))
    opens = times.anchor(lag.first, lag.of) + lag.least
    closes = times.anchor(lag.first, lag.of) + lag.most
    if band is None or schedule.calendar.day_of(closes) < day:
        return None
    return Closing(band, clock.at(opens, day), clock.at(closes, day), lag.why)


def _rests(schedule: Schedule, clock: _Clock, day: int) -> list[tuple[float, float]]:
    """From where to where nobody is there between the first and the last hour of the picture."""
    here = sorted(
        (clock.at(low, day), clock.at(high, day))
        for low, high in schedule.calendar.spans
        if schedule.calendar.day_of(low) == day
    )
    edges = [(NAME_WIDE, NAME_WIDE), *here, (WIDTH - RIM, WIDTH - RIM)]
    return [(a[1], b[0]) for a, b in pairwise(edges) if b[0] - a[1] > 1]
