"""What an open task still waits for, by what was done: from when it may go on, by when it must have ended. Wall minutes, to the second.

A wait that was begun in one air goes on in the next: what has dried has dried, the rest goes at the new pace.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property
from math import ceil

from dividers.core.base.dates import after, minutes_between
from dividers.core.order.network import END, START, Lag, Task
from dividers.core.order.tasks import Work
from dividers.core.risk.windows import FEW_HOURS_MIN
from dividers.core.wall.facts import DONE, SKIPPED, Facts, Touch

STAYS_WET_MIN, STAYS_WET_SHARE = 3.0, 0.25  # paint found wet at the end of its time stays so a little (a judgement)
TACKY_SHARE, WET_SHARE = 0.25, 0.5  # paint found tacky or wet where it should be dry takes so much longer (a judgement)
ALWAYS = float("-inf")  # when what waits for nothing may begin


Place = tuple[int, int, str, str, str]


@dataclass(frozen=True)
class Wait:
    """What holds a task: from when it may begin and why; by when it must have ended and why; which open tasks come first.

    `ready` is `ALWAYS` where nothing dries. `pull_method` is how a pull is pulled, "" for other tasks.
    """

    ready: float = ALWAYS
    ready_why: str = ""
    by: float | None = None
    by_why: str = ""
    by_group: str = ""
    blocked: tuple[int, ...] = ()
    pull_method: str = ""


@dataclass(frozen=True)
class Early:
    """What speaks against beginning a task now: how long the wait still is (min, rounded up; 0: none), why, and what comes first."""

    minutes: int
    why: str
    first: tuple[int, ...]


def early_of(wait: Wait, at: float) -> Early | None:
    """What a task that is begun at a wall minute would begin too early for; None where nothing holds it."""
    left = wait.ready - at
    minutes = ceil(left - 1e-6) if left > 0 else 0
    return Early(minutes, wait.ready_why if minutes else "", wait.blocked) if minutes or wait.blocked else None


@dataclass(frozen=True)
class LiveWork:
    """The plan's work in every air there was: `works` from when on, in wall minutes, all of the same tasks and lags.

    They have whole windows, for what is done; `lags` are what is planned with from now on, led around what was skipped, `around` are those of
    each of the works, led around it as well: a window keeps its amount in every air.
    """

    midnight: datetime
    works: tuple[tuple[float, Work], ...]
    lags: tuple[Lag, ...]
    around: tuple[tuple[Lag, ...], ...]

    @property
    def tasks(self) -> tuple[Task, ...]:
        return self.works[0][1].tasks

    @cached_property
    def amounts(self) -> tuple[dict[Place, Lag], ...]:
        """The lags of every work by what they lie between."""
        return tuple({_place(lag): lag for lag in lags} for lags in self.around)

    def amounts_of(self, lag: Lag, which: str) -> list[tuple[float, float]]:
        """The `least` or `most` of a lag in every air there was, with the wall minute from which on it counts."""
        return [
            (start, float(getattr(known.get(_place(lag), lag), which) or 0))
            for (start, _), known in zip(self.works, self.amounts, strict=True)
        ]

    def wall(self, moment: datetime) -> float:
        return minutes_between(self.midnight, moment)

    def moment(self, wall: float) -> datetime:
        return after(self.midnight, wall)


def _place(lag: Lag) -> Place:
    return lag.first, lag.then, lag.of, lag.to, lag.group


def live_work(midnight: datetime, works: Sequence[tuple[float, Work]], planned: Work, facts: Facts) -> LiveWork:
    """The work in the airs there were, and as it is planned now."""
    skipped = [number for number, task in enumerate(planned.tasks) if facts.of(task.key).state == SKIPPED]

    def led_around(work: Work) -> tuple[Lag, ...]:
        lags = list(work.lags)
        for number in skipped:
            lags = _around(number, work.tasks, lags)
        return tuple(lags)

    return LiveWork(midnight, tuple(works), led_around(planned), tuple(led_around(work) for _, work in works))


def _around(skipped: int, tasks: Sequence[Task], lags: Sequence[Lag]) -> list[Lag]:
    """Lags without one task: what followed it follows what came before. A coat less keeps the waits of the coat before it."""
    into = [lag for lag in lags if lag.then == skipped]
    out = [lag for lag in lags if lag.first == skipped]
    kept = [lag for lag in lags if skipped not in (lag.first, lag.then)]
    own = tasks[skipped]
    for before in into:
        one = tasks[before.first]
        alike = (one.kind, one.piece, one.number, one.batch, one.color) == (
            own.kind,
            own.piece,
            own.number,
            own.batch,
            own.color,
        )
        for following in out:
            one_way = [(lag.of, lag.to) == (START, START) for lag in (before, following)]
            if all(one_way):
                kept.append(replace(following, first=before.first))  # it goes on past what was skipped
            elif any(one_way):
                continue
            elif alike:
                kept.append(replace(following, first=before.first))
            elif following.most is None:
                kept.append(Lag(before.first, following.then, 0, "what comes before must be done", "order"))
    return kept


def waits_of(live: LiveWork, facts: Facts) -> dict[int, Wait]:
    """The wait of every task that isn't done or skipped."""
    into: dict[int, list[Lag]] = {}
    for lag in live.lags:
        into.setdefault(lag.then, []).append(lag)
    touched: Mapping[str, Touch] = {touch.task: touch for touch in facts.touches}  # the last of each
    found = {}
    for number, task in enumerate(live.tasks):
        if facts.of(task.key).state not in (DONE, SKIPPED):
            found[number] = _wait(live, facts, task, into.get(number, ()), touched.get(task.key))
    return found


def _wait(live: LiveWork, facts: Facts, task: Task, lags: Sequence[Lag], touch: Touch | None) -> Wait:
    wait = Wait(float(task.not_before), task.not_before_why) if task.not_before_why else Wait()
    blocked: list[int] = []
    pull_method = _pull_method(task, lags)
    for lag in lags:
        first = facts.of(live.tasks[lag.first].key)
        anchor = first.ended if lag.of == END else first.started
        if lag.of == END and first.state != DONE:
            if first.state != SKIPPED:
                blocked.append(lag.first)
            continue
        if anchor is None:
            continue
        at = live.wall(anchor)
        if lag.to == START or lag.least:
            ready = at + aged(live, lag, at, "least")
            if ready > wait.ready:
                wait = replace(wait, ready=ready, ready_why=lag.why)
        if lag.most is not None:
            by = at + aged(live, lag, at, "most")
            if wait.by is None or by < wait.by:
                wait = replace(wait, by=by, by_why=lag.why, by_group=lag.group)
    wait = replace(wait, blocked=tuple(dict.fromkeys(blocked)), pull_method=pull_method)
    return _touched(live, facts, task, lags, wait, touch) if touch and not blocked else wait


def _pull_method(task: Task, lags: Sequence[Lag]) -> str:
    """How a pull is pulled, by its window."""
    if task.kind != "pull":
        return ""
    own = [lag for lag in lags if lag.group == "pull"]
    if not any(lag.most is not None for lag in own):
        return "dry"
    return "touch-dry" if any(lag.least for lag in own) else "wet"


def aged(live: LiveWork, lag: Lag, since: float, which: str) -> float:
    """How long a lag lasts from a moment on, through the airs there were since: each carries its share of the wait."""
    amounts = live.amounts_of(lag, which)
    left, at = 1.0, since
    for turn, (_, amount) in enumerate(amounts):
        until = amounts[turn + 1][0] if turn + 1 < len(amounts) else None
        if until is not None and until <= at:
            continue
        if amount <= 0:
            return at - since
        if until is None or at + left * amount <= until:
            return at + left * amount - since
        left -= (until - at) / amount
        at = until
    return at - since


def _touched(live: LiveWork, facts: Facts, task: Task, lags: Sequence[Lag], wait: Wait, touch: Touch) -> Wait:
    """A pull's window as the finger found it; any other step that waits for paint which is dry to the back of a finger may begin."""
    at = live.wall(touch.at)
    if task.kind != "pull":
        found_dry = touch.result == "dry" and wait.ready > at
        return replace(wait, ready=at, ready_why="touched: dry to the back of a finger") if found_dry else wait
    coats = [facts.of(live.tasks[lag.first].key) for lag in lags if lag.group == "pull"]
    painted = [live.wall(fact.started) for fact in coats if fact.started]
    age = at - min(painted, default=at)
    if wait.pull_method == "wet":
        if touch.result == "wet":
            longer = at + max(STAYS_WET_MIN, STAYS_WET_SHARE * age)
            return (
                wait
                if wait.by is None or wait.by >= longer or wait.by_group != "pull"
                else replace(wait, by=longer, by_why="touched: still wet")
            )
        return replace(wait, by=min(wait.by or at, at), by_why=f"touched: {touch.result}", by_group="pull")
    if touch.result == "dry":
        if wait.pull_method == "touch-dry" and wait.ready > at:
            return replace(wait, ready=at, ready_why="touched: dry")
        return wait
    share = WET_SHARE if touch.result == "wet" else TACKY_SHARE
    ready = max(wait.ready, at + share * age)
    by = max(wait.by, ready + FEW_HOURS_MIN) if wait.by is not None and wait.by_group == "pull" else wait.by
    return replace(wait, ready=ready, ready_why=f"touched: {touch.result}; touch again then", by=by)
