"""The rest of the plan from what was done so far: finished work is a fact, what runs goes on, the rest is scheduled again.

The present plan is kept where it still works and nothing is gained; else in its order; another order only where that ends sooner by more
than a few minutes. A window that is over is reported and given up for the next best, and not asked for again.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import ceil, floor

from dividers.core.base.units import DAY_MIN
from dividers.core.order.bounds import least_finish
from dividers.core.order.calendar import Calendar, Span, merged
from dividers.core.order.greedy import first_schedule
from dividers.core.order.network import END, START, Lag, Task
from dividers.core.order.solve import sooner
from dividers.core.order.starts import moved_up, why_starts
from dividers.core.order.times import Times, broken
from dividers.core.wall.facts import BEGUN, DONE, OPEN, RUNNING, Facts, Touch
from dividers.core.wall.waits import ALWAYS, LiveWork, Wait, aged, waits_of

WORTH_MIN = 10  # another order is taken only where it ends so much sooner
TURNS = 6
SOLVER_S, SOLVER_TASKS = 0.5, 160
AT_WORK_MIN = 90  # whoever recorded something so lately is still there, whatever the hours say
SOON_MIN = 240
SLACK_MIN = 1  # plans are in whole minutes, windows to the second
SOON_DONE_MIN = 5  # what came too late is done within so many minutes of when it can be


@dataclass(frozen=True)
class Missed:
    """A window that can't be kept: the task, by when it should have ended (wall minutes), and what to do now."""

    task: str
    by: float
    advice: str


@dataclass(frozen=True)
class Replan:
    """Starts of what is left, in wall minutes, by key of the task, ends, and which painter does it, from 1; what can't be kept.

    `whys` says what a step waits for that doesn't follow at once. `kept` where all of it stood like that before; not `possible` where no hours are left for it.
    """

    starts: Mapping[str, int]
    ends: Mapping[str, int]
    painters: Mapping[str, int]
    missed: tuple[Missed, ...]
    kept: bool
    possible: bool = True
    whys: Mapping[str, str] = field(default_factory=dict)

    @property
    def finish(self) -> int:
        return max(self.ends.values(), default=0)


def replan(
    live: LiveWork,
    facts: Facts,
    calendar: Calendar,
    painters: int,
    now: float,
    before: Mapping[str, int] | None = None,
    ends: int | None = None,
) -> Replan:
    """Place what is left from `now` (wall minutes) on. `before` are the starts of the plan in force, by key, `ends` its finish."""
    waits = waits_of(live, facts)
    left = sorted(waits)
    if not left:
        return Replan({}, {}, {}, (), True)
    waits, missed = _given_up(live, facts, calendar, waits, now)
    tasks = [_left(live, facts, number, waits[number], now) for number in left]
    place = {number: turn for turn, number in enumerate(left)}
    between = list(_lags_left(live, facts, place, tasks))
    lags = [_widened(lag, tasks, between, painters) for lag in between]
    hours = _hours_left(calendar, tasks, facts, live, waits, left, now)
    if not hours.spans:
        return Replan({}, {}, {}, tuple(missed), False, False)
    times: Times | None = None
    kept = False
    ahead = any(
        facts.of(task.key).state == DONE and before[task.key] + task.minutes > now + WORTH_MIN
        for task in live.tasks
        if before and task.key in before
    )
    for held, eased in _eased(tasks, lags, now):
        times, kept = _placed(held, eased, hours, painters, before, ends, ahead)
        if times is not None:
            break
    if times is None:
        return Replan({}, {}, {}, tuple(missed), False, False)
    for turn, task in enumerate(tasks):
        if task.end_by is not None and times.end(turn) > task.end_by and all(task.key != m.task for m in missed):
            missed.append(Missed(task.key, float(task.end_by), _clash(task, live)))
    up = moved_up(times, lags, painters)
    times, kept = up, kept and up.starts == times.starts
    keys = [task.key for task in times.tasks]
    starts = {key: times.start(turn) for turn, key in enumerate(keys)}
    done_by = {key: times.end(turn) for turn, key in enumerate(keys)}
    whys = {key: why for key, why in zip(keys, why_starts(times, lags, painters), strict=True) if why}
    return Replan(starts, done_by, _painters(times, facts, painters), tuple(missed), kept, whys=whys)


def replan_when_dry(
    live: LiveWork,
    facts: Facts,
    calendar: Calendar,
    painters: int,
    now: float,
    key: str,
    before: Mapping[str, int],
    ends: int,
) -> Replan:
    """What the plan would be if the paint that a step waits for were dry now, as with a hair dryer."""
    dry = Touch(key, live.moment(now), "dry", "")
    return replan(live, replace(facts, touches=(*facts.touches, dry)), calendar, painters, now, before, ends)


def _painters(times: Times, facts: Facts, painters: int) -> dict[str, int]:
    """Which painter does what: who has begun it goes on, else whoever is free first."""
    free = dict.fromkeys(range(1, painters + 1), 0)
    found: dict[str, int] = {}
    for turn in sorted(range(len(times.tasks)), key=lambda t: (not times.tasks[t].running, times.starts[t], t)):
        task = times.tasks[turn]
        begun = facts.of(task.key).painter if task.running else 0
        hand = begun or next((h for h in free if free[h] <= times.starts[turn]), 1)
        found[task.key] = hand
        free[hand] = times.starts[turn] + task.minutes
    return found


def _clash(task: Task, live: LiveWork) -> str:
    by = live.moment(task.end_by or 0)
    return (
        f"It can't be done by {by:%a %H:%M} as planned: do it first, call for help, or say that you are here outside the hours."
    )


def _left(live: LiveWork, facts: Facts, number: int, wait: Wait, now: float) -> Task:
    """What is left of a task, from now on."""
    task = live.tasks[number]
    fact = facts.of(task.key)
    worked = fact.worked_min + (now - live.wall(fact.resumed) if fact.resumed else 0.0)
    minutes = max(ceil(task.minutes - worked), 1) if fact.state in (RUNNING, BEGUN) else task.minutes
    running = fact.state == RUNNING
    return replace(
        task,
        minutes=minutes,
        not_before=floor(now) if running else ceil(max(wait.ready - 1e-6, floor(now))),
        end_by=None if wait.by is None or running else floor(wait.by + SLACK_MIN),
        running=running,
        split=task.split or fact.state in (RUNNING, BEGUN),
    )


def _given_up(
    live: LiveWork, facts: Facts, calendar: Calendar, waits: Mapping[int, Wait], now: float
) -> tuple[dict[int, Wait], list[Missed]]:
    """The waits with the next best for what can't be kept any more, and what that was."""
    found, missed = dict(waits), []
    for number, wait in waits.items():
        task = live.tasks[number]
        fact = facts.of(task.key)
        if wait.by is None or wait.blocked:
            continue
        if fact.state == RUNNING:
            if now > wait.by:
                missed.append(Missed(task.key, wait.by, "It is running: go on, and look at the edge."))
            continue
        if max(now, wait.ready) + task.minutes <= wait.by + SLACK_MIN:
            continue
        if now + task.minutes <= wait.by + SLACK_MIN and wait.ready > now:
            continue  # a finger found it wetter than thought: ready and end have moved together
        ready, advice = _next_best(live, facts, number, wait, now)
        there = calendar.wall(calendar.at_or_after(ceil(max(ready, now)))) if calendar.spans else max(ready, now)
        found[number] = replace(wait, by=there + task.minutes + SOON_DONE_MIN, ready=ready)
        missed.append(Missed(task.key, wait.by, advice))
    return found, missed


def _next_best(live: LiveWork, facts: Facts, number: int, wait: Wait, now: float) -> tuple[float, str]:
    """When to do what came too late, and how."""
    if wait.by_group == "tape's days":
        return wait.ready, "The tape has been on longer than it should: warm it, pull slowly, stop where it lifts."
    if wait.by_group == "caulk":
        return wait.ready, "The caulk has skinned over: score along the edge with a new blade, then pull."
    touch_dry = _touch_dry_at(live, facts, number)
    if wait.pull_method == "wet" and touch_dry > now and not wait.by_why.endswith("dry"):
        return touch_dry, (
            f"The wet time is over, and tacky paint pulls strings: leave it until it is touch-dry, about {live.moment(touch_dry):%H:%M}, "
            "then score where it holds and pull slowly."
        )
    return wait.ready, "The window is over: score along the edge with a new blade, then pull slowly, folded back on itself."


def _touch_dry_at(live: LiveWork, facts: Facts, pull: int) -> float:
    """When the last coats of a pull's batch are dry to the touch, by their touching up's wait; `ALWAYS` where that isn't known."""
    ends = [ALWAYS]
    coats = {lag.first for lag in live.lags if lag.then == pull and lag.group == "pull"}
    for lag in live.lags:
        ended = facts.of(live.tasks[lag.first].key).ended
        if lag.first in coats and lag.group == "touch-dry" and ended:
            ends.append(live.wall(ended) + aged(live, lag, live.wall(ended), "least"))
    return max(ends)


def _lags_left(live: LiveWork, facts: Facts, place: Mapping[int, int], tasks: Sequence[Task]) -> Iterator[Lag]:
    """The lags between what is left. One that asks for work that was begun out of turn to wait is over."""
    for lag in live.lags:
        if lag.first not in place or lag.then not in place:
            continue
        begun = facts.of(live.tasks[lag.first].key).started
        if lag.of == START and begun:
            continue  # counted from the fact
        if facts.of(live.tasks[lag.then].key).state != OPEN and lag.to == START:
            continue
        yield replace(lag, first=place[lag.first], then=place[lag.then])


def _hours_left(
    calendar: Calendar,
    tasks: Sequence[Task],
    facts: Facts,
    live: LiveWork,
    waits: Mapping[int, Wait],
    left: Sequence[int],
    now: float,
) -> Calendar:
    """The hours from now on; and those that who is there will stay on for: to finish what runs, and what must be off soon."""
    start = floor(now)
    own = [(floor(live.wall(at)), floor(live.wall(at)) + minutes) for at, minutes in facts.here]
    spans: list[Span] = [(max(a, start), b) for a, b in merged([*calendar.spans, *own]) if b > start]
    there = facts.last_at is not None and now - live.wall(facts.last_at) <= AT_WORK_MIN
    if there:
        stay = sum(task.minutes for task in tasks if task.running)
        for task, number in zip(tasks, left, strict=True):
            wait = waits[number]
            if task.end_by is None or task.end_by > now + SOON_MIN or task.running:
                continue
            if wait.blocked and wait.pull_method == "wet":  # what it waits for is done in its window too
                before = [tasks[n] for n, other in enumerate(left) if other in wait.blocked]
                stay += sum(each.minutes for each in before if not each.running) + task.minutes
            elif wait.blocked:
                stay = max(stay, task.end_by - start)
            else:
                stay = max(stay, max(task.not_before, start) - start) + task.minutes
        if stay and not (spans and spans[0][0] <= start and spans[0][1] >= start + stay):
            spans = merged([*spans, (start, start + stay)])
    return Calendar(calendar.midnight, tuple(spans))


def _eased(tasks: Sequence[Task], lags: Sequence[Lag], now: float) -> Iterator[tuple[Sequence[Task], Sequence[Lag]]]:
    """What is to be placed; then with one deadline fewer at a time, those of the next day first and the latest of them first; at
    last without any window."""
    yield tasks, lags
    held = list(tasks)
    ends = [(n, task.end_by) for n, task in enumerate(tasks) if task.end_by is not None]
    for number, _ in sorted(ends, key=lambda pair: (pair[1] > now + DAY_MIN, -pair[1])):
        held[number] = replace(held[number], end_by=None)
        yield held, lags
    yield held, [replace(lag, most=None) for lag in lags]


def _widened(lag: Lag, tasks: Sequence[Task], lags: Sequence[Lag], painters: int) -> Lag:
    """A window at least as long as what must be done in it: drier air can make it shorter than a batch was cut for."""
    if lag.most is None or lag.of != START or lag.to != END:
        return lag
    into = [other for other in lags if other.then == lag.then]
    tied = [tasks[n].minutes for n in {other.first for other in into if other.most is not None and other.group == lag.group}]
    waits = [other.least for other in into if other.first == lag.first and other.of == END]
    least = (sum(tied) if painters == 1 else max(tied)) + tasks[lag.then].minutes + max(waits, default=0)
    return lag if lag.most >= least else replace(lag, most=least)


def _placed(
    tasks: Sequence[Task],
    lags: Sequence[Lag],
    hours: Calendar,
    painters: int,
    before: Mapping[str, int] | None,
    ends: int | None,
    ahead: bool,
) -> tuple[Times | None, bool]:
    """The schedule to take, and whether it is the one that stood.

    The solver is asked only where the plan would end later than before. Hands that are `ahead` of their plan go on at once, though
    nothing may be gained by it.
    """
    stood = _as_it_stood(tasks, lags, hours, painters, before)
    wished = [before.get(task.key, task.not_before) for task in tasks] if before else None
    in_order = _first(tasks, lags, hours, painters, 0, wished)
    held = _first(_held(tasks, before), lags, hours, painters, 0, wished) if before else None
    found = [_as(tasks, times) for times in (stood, held, in_order)]
    best = _soonest(found)
    bound = least_finish(tasks, lags, hours, painters)
    if best is None or best.finish > bound + WORTH_MIN:
        best = _soonest([best, *(_first(tasks, lags, hours, painters, turn) for turn in range(TURNS))])
    slipped = best is not None and (ends is None or best.finish > ends + WORTH_MIN)
    if best is not None and slipped and best.finish > bound + WORTH_MIN and len(tasks) <= SOLVER_TASKS:
        best = sooner(tasks, lags, hours, painters, best, SOLVER_S)
    for times in reversed(found) if ahead else found:
        if times is not None and best is not None and times.finish <= best.finish + WORTH_MIN:
            return times, times is stood
    return best, False


def _held(tasks: Sequence[Task], before: Mapping[str, int]) -> list[Task]:
    """Tasks that begin no sooner than they stood, but for what must be done soon."""
    return [
        task
        if task.running or task.end_by is not None
        else replace(task, not_before=max(task.not_before, before.get(task.key, task.not_before)))
        for task in tasks
    ]


def _as(tasks: Sequence[Task], times: Times | None) -> Times | None:
    """A schedule of the tasks as they are, whatever they were held to."""
    return times and (times if times.tasks == tuple(tasks) else replace(times, tasks=tuple(tasks)))


def _soonest(found: Sequence[Times | None]) -> Times | None:
    return min((times for times in found if times is not None), key=lambda times: times.finish, default=None)


def _first(
    tasks: Sequence[Task], lags: Sequence[Lag], hours: Calendar, painters: int, turn: int, wished: Sequence[int] | None = None
) -> Times | None:
    starts = first_schedule(tasks, lags, hours, painters, turn, wished)
    times = Times(hours, tuple(tasks), starts) if starts is not None else None
    return times if times is not None and not broken(times, lags, painters) else None


def _as_it_stood(
    tasks: Sequence[Task], lags: Sequence[Lag], hours: Calendar, painters: int, before: Mapping[str, int] | None
) -> Times | None:
    """The plan in force, where every task still fits at the minute it stood at; what runs goes on from now."""
    if before is None or any(task.key not in before for task in tasks):
        return None
    starts = []
    for task in tasks:
        start = 0 if task.running else hours.at_or_after(before[task.key])
        if not task.running and (start >= hours.presence or hours.wall(start) != before[task.key]):
            return None
        starts.append(start)
    times = Times(hours, tuple(tasks), tuple(starts))
    return None if broken(times, lags, painters) else times
