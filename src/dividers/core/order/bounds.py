"""What no schedule can be sooner than: the longest path of waits over the calendar, and all work by all painters."""

from collections.abc import Sequence

from dividers.core.order.calendar import Calendar
from dividers.core.order.network import END, Lag, Task


def heads(tasks: Sequence[Task], lags: Sequence[Lag], calendar: Calendar) -> list[int]:
    """The earliest presence minute each task can start by minimum lags alone: the longest path over the calendar."""
    into: dict[int, list[Lag]] = {}
    for lag in lags:
        into.setdefault(lag.then, []).append(lag)
    starts = [_fitting(calendar, task, calendar.at_or_after(task.not_before)) for task in tasks]
    for _ in range(len(tasks) + 1):
        moved = False
        for number, task in enumerate(tasks):
            for lag in into.get(number, []):
                if lag.to == END:
                    continue
                first = starts[lag.first]
                wall = calendar.wall_end(first + tasks[lag.first].minutes) if lag.of == END else calendar.wall(first)
                start = _fitting(calendar, task, calendar.at_or_after(wall + lag.least))
                if start > starts[number]:
                    starts[number] = start
                    moved = True
        if not moved:
            break
    return starts


def _fitting(calendar: Calendar, task: Task, start: int) -> int:
    """The first start from there on that interrupts nothing."""
    while not task.split and start < calendar.presence:
        span = calendar.span_of(start)
        if start + task.minutes <= calendar.before[span + 1]:
            break
        start = calendar.before[span + 1]
    return start


def least_finish(tasks: Sequence[Task], lags: Sequence[Lag], calendar: Calendar, painters: int) -> int:
    """A wall minute that no finish can be before: the longest path, and all work by all hands."""
    earliest = heads(tasks, lags, calendar)
    path = max(
        calendar.wall_end(min(start + task.minutes, calendar.presence)) for start, task in zip(earliest, tasks, strict=True)
    )
    work = sum(task.minutes for task in tasks)
    return max(path, calendar.wall_end(min(min(earliest) + -(-work // painters), calendar.presence)))
