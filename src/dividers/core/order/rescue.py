"""A schedule that can't be made: when its windows would fall, what it looks like at risk, and which changes would let it be made."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from dividers.core.order.calendar import Calendar
from dividers.core.order.explain import when
from dividers.core.order.network import START, Lag, Task
from dividers.core.order.solve import quick_schedule
from dividers.core.order.times import Times

QUICK_TURNS = 6  # orders tried for a change: enough to see that it would do
MOST_CURES = 4
MOST_WINDOWS = 3


@dataclass(frozen=True)
class Rescue:
    """`times` keep every wait and miss the ends of windows; None where not even that is found. `windows` say which; `cures` are changes."""

    times: Times | None
    windows: tuple[str, ...] = ()
    cures: tuple[str, ...] = ()

    @property
    def said(self) -> list[str]:
        """All of it in sentences."""
        cures = [f"Any of these would do: {'; '.join(self.cures)}."] if self.cures else []
        return [*self.windows, *cures]


@dataclass(frozen=True)
class Case:
    """A change in words, and what is to be scheduled with it."""

    name: str
    tasks: Sequence[Task]
    lags: Sequence[Lag]
    calendar: Calendar
    painters: int


def rescue_of(tasks: Sequence[Task], lags: Sequence[Lag], calendar: Calendar, painters: int, changes: Iterable[Case]) -> Rescue:
    """What is left of a schedule that can't be made. `changes` are tried in their order."""
    endless = [replace(lag, most=None) for lag in lags]
    times = quick_schedule([replace(task, end_by=None) for task in tasks], endless, calendar, painters)
    cures: list[str] = []
    for case in changes:
        if len(cures) == MOST_CURES:
            break
        if quick_schedule(case.tasks, case.lags, case.calendar, case.painters, QUICK_TURNS) is not None:
            cures.append(case.name[0].lower() + case.name[1:])
    return Rescue(times, tuple(_windows(times, lags)) if times else (), tuple(cures))


def _windows(times: Times, lags: Sequence[Lag]) -> list[str]:
    """The windows that are missed: from when to when, and when somebody would be there."""
    found: dict[int, str] = {}
    for lag in lags:
        if lag.most is None or lag.then in found:
            continue
        closes = times.anchor(lag.first, lag.of) + lag.most
        if times.anchor(lag.then, lag.to) <= closes:
            continue
        before = (times.anchor(o.first, o.of) + o.least for o in lags if o.then == lag.then and o.to == START)
        ready = max(before, default=times.start(lag.then))
        task, calendar = times.tasks[lag.then], times.calendar
        opens, ends, there = (when(calendar.moment(at)) for at in (ready, closes, times.start(lag.then)))
        late = f"must be done by {ends}, and can't begin before {opens}"
        missed = f"from {opens} until {ends}, but somebody is there for it only on {there}"
        found[lag.then] = f"{task.piece}, {task.words}: {late if closes < ready else missed}."
    more = [f"{len(found) - MOST_WINDOWS} more windows are missed in the same way."] if len(found) > MOST_WINDOWS else []
    return [*list(found.values())[:MOST_WINDOWS], *more]
