"""No idle minutes without a reason: tasks moved up as far as nothing speaks against it, and why each begins when it does."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

from dividers.core.base.quantities import spoken
from dividers.core.base.units import DAY_MIN
from dividers.core.order.network import START, Lag
from dividers.core.order.times import Times


def moved_up(times: Times, lags: Sequence[Lag], painters: int) -> Times:
    """The schedule with each task as early on its day as the rest allows; days on site get no longer by it."""
    touching = _touching(times, lags)
    free = _moved(times, touching, painters, False)
    return free if site_minutes(free) <= site_minutes(times) else _moved(times, touching, painters, True)


def site_minutes(times: Times) -> int:
    """Minutes on site, from the first start to the last end of each day."""
    return sum(_on_site(times).values())


def _moved(times: Times, touching: Sequence[Sequence[Lag]], painters: int, short: bool) -> Times:
    """Each task moved up in turn; with `short` only where its day on site gets no longer."""
    for number in sorted(range(len(times.tasks)), key=lambda n: times.starts[n]):
        day = times.calendar.day_of(times.start(number))
        for start in _earlier(times, touching[number], number):
            found = replace(times, starts=(*times.starts[:number], start, *times.starts[number + 1 :]))
            longer = short and _on_site(found)[day] > _on_site(times)[day]
            if not longer and _fits(found, touching[number], number, painters):
                times = found
                break
    return times


def why_starts(times: Times, lags: Sequence[Lag], painters: int) -> list[str]:
    """For each task what its begin waits for; "" where it is the first of its hours or follows on the painters' work before."""
    touching = _touching(times, lags)
    return [_why(times, touching[number], number, painters) for number in range(len(times.tasks))]


def _touching(times: Times, lags: Sequence[Lag]) -> list[list[Lag]]:
    """The lags to and from each task."""
    found: list[list[Lag]] = [[] for _ in times.tasks]
    for lag in lags:
        found[lag.first].append(lag)
        found[lag.then].append(lag)
    return found


def _earlier(times: Times, touching: Sequence[Lag], number: int) -> Iterator[int]:
    """The minutes, of presence, at which a task could begin sooner on its day, the earliest first."""
    calendar, start = times.calendar, times.starts[number]
    day = calendar.day_of(times.start(number))
    ready = [times.anchor(lag.first, lag.of) + lag.least for lag in touching if lag.then == number and lag.to == START]
    midnight = times.start(number) // DAY_MIN * DAY_MIN
    found = {calendar.at_or_after(wall) for wall in (midnight, times.tasks[number].not_before, *ready)}
    found |= {begin + task.minutes for begin, task in zip(times.starts, times.tasks, strict=True)}
    for at in sorted(found):
        if at < start and calendar.day_of(calendar.wall(at)) == day:
            yield at


def _fits(times: Times, touching: Sequence[Lag], number: int, painters: int) -> bool:
    """Whether a task keeps every rule where it is."""
    calendar, task, begin = times.calendar, times.tasks[number], times.starts[number]
    end = begin + task.minutes
    if times.start(number) < task.not_before or (not task.split and calendar.span_of(begin) != calendar.span_of(end - 1)):
        return False
    for lag in touching:
        wait = times.anchor(lag.then, lag.to) - times.anchor(lag.first, lag.of)
        if wait < lag.least or (lag.most is not None and wait > lag.most):
            return False
    others = [
        (start, start + other.minutes)
        for n, (start, other) in enumerate(zip(times.starts, times.tasks, strict=True))
        if n != number and start < end and start + other.minutes > begin
    ]
    return all(
        sum(start <= at < stop for start, stop in others) < painters for at in (begin, *(max(s, begin) for s, _ in others))
    )


def _on_site(times: Times) -> dict[int, int]:
    """How many minutes somebody is on site on each day: from the first begin to the last end."""
    days: dict[int, list[int]] = {}
    for number in range(len(times.tasks)):
        days.setdefault(times.calendar.day_of(times.start(number)), []).append(number)
    return {day: max(times.end(n) for n in on) - min(times.start(n) for n in on) for day, on in days.items()}


def _why(times: Times, touching: Sequence[Lag], number: int, painters: int) -> str:
    calendar, task, start = times.calendar, times.tasks[number], times.starts[number]
    if start == 0 or calendar.span_of(start) != calendar.span_of(start - 1):
        return ""
    into = [lag for lag in touching if lag.then == number and lag.to == START]
    for lag in sorted(into, key=lambda each: -each.least):
        if lag.least and calendar.at_or_after(times.anchor(lag.first, lag.of) + lag.least) == start:
            return lag.why
    if task.not_before and calendar.at_or_after(task.not_before) == start:
        return task.not_before_why
    busy = [n for n, other in enumerate(times.tasks) if times.starts[n] < start <= times.starts[n] + other.minutes]
    if len(busy) >= painters:
        day = calendar.day_of(times.start(number))
        over_night = [n for n in busy if calendar.day_of(times.start(n)) < day and _ends_at(times, n, start)]
        return f"{times.tasks[over_night[0]].piece} goes on until then" if over_night else ""
    for lag in into:
        if calendar.at_or_after(times.anchor(lag.first, lag.of)) == start:
            return lag.why
    return _kept_back(times, touching, number, painters)


def _ends_at(times: Times, task: int, presence: int) -> bool:
    return times.starts[task] + times.tasks[task].minutes == presence


def _kept_back(times: Times, touching: Sequence[Lag], number: int, painters: int) -> str:
    """Why a task begins later than what is before it asks for: the minute before would break something."""
    sooner = replace(times, starts=tuple(start - 1 if n == number else start for n, start in enumerate(times.starts)))
    for lag in touching:
        wait = sooner.anchor(lag.then, lag.to) - sooner.anchor(lag.first, lag.of)
        if lag.first == number and lag.most is not None and wait > lag.most:
            words = times.tasks[lag.then].words
            return f"then “{words[0].lower()}{words[1:]}” comes within its time"
    if not _fits(sooner, touching, number, painters):
        return "then it is done in one go"
    on_site = _on_site(times)[times.calendar.day_of(times.start(number))]
    return f"then the day is one visit of {spoken(on_site)}"
