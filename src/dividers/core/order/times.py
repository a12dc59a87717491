"""A schedule as times: who is at work when, in both clocks; the check of every rule; the earliest and latest each task could lie."""

from collections.abc import Sequence
from dataclasses import dataclass

from dividers.core.order.calendar import Calendar
from dividers.core.order.network import END, Lag, Task


@dataclass(frozen=True)
class Times:
    """When each task starts, in presence minutes; ends follow from its minutes."""

    calendar: Calendar
    tasks: tuple[Task, ...]
    starts: tuple[int, ...]

    def start(self, task: int) -> int:
        """In wall minutes."""
        return self.calendar.wall(self.starts[task])

    def end(self, task: int) -> int:
        return self.calendar.wall_end(self.starts[task] + self.tasks[task].minutes)

    def anchor(self, task: int, which: str) -> int:
        return self.end(task) if which == END else self.start(task)

    def by_day(self, task: int) -> list[tuple[int, int]]:
        """From when to when a task is worked at on each of its days, in wall minutes; meals between count in."""
        begin, end = self.start(task), self.end(task)
        found: dict[int, tuple[int, int]] = {}
        for low, high in self.calendar.spans:
            if low < end and high > begin:
                day = self.calendar.day_of(low)
                found[day] = (found[day][0] if day in found else max(low, begin), min(high, end))
        return list(found.values())

    @property
    def finish(self) -> int:
        return max((self.end(task) for task in range(len(self.tasks))), default=0)

    @property
    def days(self) -> int:
        """Days on which anybody works."""
        days: set[int] = set()
        for task in range(len(self.tasks)):
            first, last = self.calendar.day_of(self.start(task)), self.calendar.day_of(self.end(task) - 1)
            days |= {d for d in range(first, last + 1) if self._works(d)}
        return len(days)

    def _works(self, day: int) -> bool:
        return any(self.calendar.day_of(start) == day for start, _ in self.calendar.spans)


def broken(times: Times, lags: Sequence[Lag], painters: int) -> list[str]:
    """Every rule that a schedule breaks, in words; nothing for a good one."""
    cal, tasks = times.calendar, times.tasks
    found = []
    for number, task in enumerate(tasks):
        begin, end = times.starts[number], times.starts[number] + task.minutes
        if begin < 0 or end > cal.presence:
            found.append(f"{task.words} lies outside all hours")
        elif not task.split and cal.span_of(begin) != cal.span_of(end - 1):
            found.append(f"{task.words} is interrupted")
        if times.start(number) < task.not_before:
            found.append(f"{task.words} begins too early")
        if task.end_by is not None and times.end(number) > task.end_by:
            found.append(f"{task.words} ends too late")
        if task.running and begin > 0:
            found.append(f"{task.words} is running and doesn't go on")
    for lag in lags:
        wait = times.anchor(lag.then, lag.to) - times.anchor(lag.first, lag.of)
        if wait < lag.least or (lag.most is not None and wait > lag.most):
            found.append(f"{tasks[lag.then].words} after {tasks[lag.first].words}: {wait} min, {lag.why}")
    events = sorted([(b, 1) for b in times.starts] + [(b + t.minutes, -1) for b, t in zip(times.starts, tasks, strict=True)])
    at_work = 0
    for at, change in sorted(events, key=lambda event: (event[0], event[1])):
        at_work += change
        if at_work > painters:
            found.append(f"{at_work} painters are needed at presence minute {at}; there are {painters}")
            break
    return found


def painters_of(times: Times, painters: int) -> list[int]:
    """Which painter does each task, from 0: whoever is free, the same one as before where that is so."""
    order = sorted(range(len(times.tasks)), key=lambda task: (times.starts[task], task))
    free = [0] * painters
    who = [0] * len(times.tasks)
    for task in order:
        hand = next((h for h in range(painters) if free[h] <= times.starts[task]), 0)
        who[task] = hand
        free[hand] = times.starts[task] + times.tasks[task].minutes
    return who
