"""Tasks and lags to times, as early as can be proved, from a first schedule made without a solver.

Hands-on work lives on the presence clock, so that lunch and night cut nothing; waits live on the wall clock. A wall time is the presence
time and every gap behind it: one literal a gap. In stages, each fixed before the next: finish, days on site, minutes on site.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from dividers.core.order.bounds import least_finish
from dividers.core.order.calendar import Calendar
from dividers.core.order.greedy import first_schedule
from dividers.core.order.network import Lag, Task
from dividers.core.order.solver_model import StageModel, Stopping
from dividers.core.order.starts import moved_up, site_minutes
from dividers.core.order.times import Times, broken

TURNS = 40  # orders tried for the first schedule
SHARES = (0.6, 0.2, 0.2)  # of the time, by stage
STAGES = ("finish", "days", "minutes on site")


@dataclass(frozen=True)
class Solution:
    """What was found: optimal (the finish is proved), feasible (with what it can't be better than) or infeasible (with what clashes).

    `proved` names the stages that were proved; `bound` is the wall minute that no finish can be before, `gap_min` the presence minutes
    between that and the finish. `clashes` are groups of lags without which it would work. `stopped` says that the search was cut
    short on demand before all was proved.
    """

    status: str
    times: Times | None
    bound: int = 0
    gap_min: int = 0
    proved: tuple[str, ...] = ()
    clashes: tuple[str, ...] = ()
    stopped: bool = False


def solve(
    tasks: Sequence[Task],
    lags: Sequence[Lag],
    calendar: Calendar,
    painters: int,
    seconds: float,
    stopping: Stopping | None = None,
) -> Solution:
    """Schedule tasks on a calendar. The same input gives the same schedule: one worker, a fixed seed, a limit in steps."""
    stopping = stopping or Stopping()
    if not tasks:
        return Solution("optimal", Times(calendar, (), ()), 0, 0, STAGES)
    start = quick_schedule(tasks, lags, calendar, painters)
    if start is None:
        start = _any(tasks, lags, calendar, painters, seconds)
        if start is None:
            return Solution("infeasible", None, clashes=clashes_of(tasks, lags, calendar, painters, seconds))
    best, bound, proved = start, least_finish(tasks, lags, calendar, painters), []
    finish = best.finish
    if bound < finish:
        found = StageModel(tasks, lags, calendar, painters, best, stopping).least_finish(seconds * SHARES[0], bound)
        best, bound = found.times or best, max(bound, found.bound)
        finish = best.finish
    if bound >= finish:
        bound = finish
        proved.append(STAGES[0])
    for stage, share in zip(STAGES[1:], SHARES[1:], strict=True):
        if stopping.asked:
            break
        model = StageModel(tasks, lags, calendar, painters, best, stopping)
        found = model.least_days(seconds * share) if stage == "days" else model.least_site(seconds * share)
        best = found.times or best
        if found.proved and len(proved) == STAGES.index(stage):
            proved.append(stage)
    best = _in_blocks(moved_up(best, lags, painters), lags, painters)
    gap = max(calendar.at_or_after(best.finish) - calendar.at_or_after(bound), 0)
    return Solution(
        "optimal" if STAGES[0] in proved else "feasible",
        best,
        bound,
        gap,
        tuple(proved),
        (),
        stopping.asked and len(proved) < len(STAGES),
    )


def _in_blocks(best: Times, lags: Sequence[Lag], painters: int) -> Times:
    """The same days in the same order, with what a window ties together done in one go, where that costs nothing."""
    tasks, calendar = best.tasks, best.calendar
    wished = [best.start(number) for number in range(len(tasks))]
    opens: dict[int, int] = {}  # when each day's work begins
    for start in wished:
        opens[calendar.day_of(start)] = min(start, opens.get(calendar.day_of(start), start))
    held = [
        replace(task, not_before=max(task.not_before, opens[calendar.day_of(start)]))
        for task, start in zip(tasks, wished, strict=True)
    ]
    starts = first_schedule(held, lags, calendar, painters, 0, wished)
    if starts is None:
        return best
    again = moved_up(Times(calendar, tasks, starts), lags, painters)
    dearer = any(now > then for now, then in zip(_cost(again), _cost(best), strict=True))
    return best if dearer or broken(again, lags, painters) else again


def _cost(times: Times) -> tuple[int, int, int]:
    return times.finish, times.days, site_minutes(times)


def sooner(tasks: Sequence[Task], lags: Sequence[Lag], calendar: Calendar, painters: int, best: Times, seconds: float) -> Times:
    """A schedule that finishes sooner than one that is there, if one is found in time; else that one."""
    bound = least_finish(tasks, lags, calendar, painters)
    if bound >= best.finish:
        return best
    return StageModel(tasks, lags, calendar, painters, best).least_finish(seconds, bound).times or best


def quick_schedule(
    tasks: Sequence[Task], lags: Sequence[Lag], calendar: Calendar, painters: int, turns: int = TURNS
) -> Times | None:
    """The best of some first schedules that keep every rule, made without a solver; None where none does."""
    best: Times | None = None
    for turn in range(turns):
        starts = first_schedule(tasks, lags, calendar, painters, turn)
        if starts is None:
            continue
        times = Times(calendar, tuple(tasks), starts)
        if (best is None or (times.finish, times.days) < (best.finish, best.days)) and not broken(times, lags, painters):
            best = times
    return best


def _any(tasks: Sequence[Task], lags: Sequence[Lag], calendar: Calendar, painters: int, seconds: float) -> Times | None:
    """Any schedule at all, where the first one found no place."""
    return StageModel(tasks, lags, calendar, painters, None).least_finish(seconds, 0).times


def clashes_of(
    tasks: Sequence[Task], lags: Sequence[Lag], calendar: Calendar, painters: int, seconds: float
) -> tuple[str, ...]:
    """Groups of lags each of which, left out, would let the rest be scheduled."""
    groups = [group for group in dict.fromkeys(lag.group for lag in lags) if group != "order"]
    found = []
    for group in groups:
        rest = [lag for lag in lags if lag.group != group]
        if quick_schedule(tasks, rest, calendar, painters) is not None:
            found.append(group)
    return tuple(found)
