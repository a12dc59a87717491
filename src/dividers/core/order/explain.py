"""Why a schedule ends when it does: the chain of what waited for what, back from the finish; how early and late each task may lie."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from dividers.core.order.bounds import heads
from dividers.core.order.network import END, START, Lag, Task
from dividers.core.order.times import Times

MOST_WAITS = 4  # so many of the waits on the way to the finish are shown
WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")

# What would help with a clash, by the group of lags that is in the way.
RULES = {
    "pull": "the windows in which the tape may be pulled",
    "caulk": "the time in which the caulk skins over",
    "tape's days": "the days within which the tape comes off clean",
    "tape-safe": "the wait before tape may go on paint",
    "recoat": "the waits between coats",
    "touch-dry": "the waits until paint is dry to the touch",
    "seal": "the waits of the seal",
    "prep": "the waits of the preparation",
}
CURES = {
    "pull": "another pull method, smaller parts, a faster tool, or slower paint",
    "caulk": "another seal, one coat instead of two, or a wet pull at once",
    "tape's days": "a tape that can stay on longer, or an earlier start of the coats",
    "tape-safe": "delicate tape at your own risk, or paint that is tape-safe sooner",
    "recoat": "paint that may be coated again sooner, or warmer and drier air",
    "touch-dry": "warmer and drier air",
    "seal": "another seal",
    "prep": "less preparation, or preparing before the job starts",
}


@dataclass(frozen=True)
class Link:
    """One step of the chain: a task by number, and what it waited for; `wait_min` of the wall's minutes, 0 for hands-on work."""

    task: int
    why: str
    wait_min: int


def when(moment: datetime) -> str:
    """A moment as people say it: Sunday 16:40."""
    return f"{WEEKDAYS[moment.weekday()]} {moment:%H:%M}"


def chain_of(times: Times, lags: Sequence[Lag]) -> list[Link]:
    """From the start of the job to its finish, what each step of the longest chain waited for."""
    into: dict[int, list[Lag]] = {}
    for lag in lags:
        into.setdefault(lag.then, []).append(lag)
    task = max(range(len(times.tasks)), key=lambda t: (times.end(t), t))
    chain: list[Link] = []
    seen: set[int] = set()
    while task not in seen:
        seen.add(task)
        before, link = _waited(times, task, into.get(task, []))
        chain.append(link)
        if before is None:
            break
        task = before
    return chain[::-1]


def _waited(times: Times, task: int, lags: Sequence[Lag]) -> tuple[int | None, Link]:
    """What a task waited for: the lag or the work of the same hands that left it the least room."""
    start = times.start(task)
    ready = [(times.anchor(lag.first, lag.of) + lag.least, lag) for lag in lags if lag.to == START]
    best = max(ready, key=lambda pair: (pair[0], pair[1].least), default=None)
    painters = [
        other
        for other in range(len(times.tasks))
        if other != task and times.starts[other] + times.tasks[other].minutes == times.starts[task]
    ]
    free = max((times.end(other) for other in painters), default=-1)
    if best is not None and best[0] >= free:
        at, lag = best
        night = start - at
        why = lag.why + (f"; work goes on {when(times.calendar.moment(start))}" if night >= 20 else "")
        return lag.first, Link(task, why, start - times.anchor(lag.first, lag.of))
    if painters:
        other = max(painters, key=lambda o: (times.end(o), o))
        return other, Link(task, "the painters were busy until then", max(start - times.end(other), 0))
    return None, Link(task, "it is the first step", 0)


def finish_said(times: Times, chain: Sequence[Link]) -> list[str]:
    """When the job is done, and the longest waits on the way there, in their order."""
    moment = times.calendar.moment(times.finish)
    longest = sorted((link for link in chain if link.wait_min >= 30), key=lambda link: -link.wait_min)[:MOST_WAITS]
    waits = [f"{times.tasks[link.task].piece}: {link.why}." for link in sorted(longest, key=chain.index)]
    lead = f"Done {when(moment)}"
    return [f"{lead}, because:", *waits] if waits else [f"{lead}: the painters are busy all the time."]


def earliest_and_latest(times: Times, lags: Sequence[Lag]) -> list[tuple[int, int]]:
    """For each task the wall minutes between which its start could lie: by waiting rules alone, and by what follows it in this schedule."""
    early = [times.calendar.wall(start) for start in heads(times.tasks, lags, times.calendar)]
    late = [times.finish - (times.end(t) - times.start(t)) for t in range(len(times.tasks))]
    for lag in lags:
        slack = times.anchor(lag.then, lag.to) - times.anchor(lag.first, lag.of) - lag.least
        late[lag.first] = min(late[lag.first], times.start(lag.first) + slack)
        if lag.most is not None:
            room = lag.most - (times.anchor(lag.then, lag.to) - times.anchor(lag.first, lag.of))
            late[lag.then] = min(late[lag.then], times.start(lag.then) + room)
    return [(min(e, times.start(t)), max(n, times.start(t))) for t, (e, n) in enumerate(zip(early, late, strict=True))]


def waited_for(times: Times, lags: Sequence[Lag]) -> list[list[int]]:
    """For each task those that its waits are counted from."""
    found: list[list[int]] = [[] for _ in times.tasks]
    for lag in lags:
        if lag.of == END and lag.to == START and lag.first not in found[lag.then]:
            found[lag.then].append(lag.first)
    return found


def clash_said(clashes: Sequence[str], problems: Sequence[str]) -> list[str]:
    """What prevents any schedule, and what would help."""
    said = [f"{problem[0].upper()}{problem[1:]}" for problem in problems]
    said += [
        f"There is no schedule that keeps {RULES.get(group, group)}. What would help: {CURES.get(group, 'other hours')}."
        for group in clashes
    ]
    return said or ["It can't be done in these hours. Longer hours, another day, or fewer rules would help."]


def labour_min(tasks: Sequence[Task]) -> int:
    return sum(task.minutes for task in tasks)
