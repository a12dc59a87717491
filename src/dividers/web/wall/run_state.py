"""How a run is getting on, as the page's script reads it, and what is said of waits and air."""

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Any

from dividers.core.base.dates import day_and_time
from dividers.core.base.quantities import spoken
from dividers.core.base.quantities import temperature as degrees
from dividers.core.order.explain import when
from dividers.core.order.network import Lag, Task
from dividers.core.wall.facts import BEGUN, DONE, OPEN, RUNNING, SKIPPED
from dividers.core.wall.timers import short
from dividers.core.wall.waits import ALWAYS, LiveWork, early_of
from dividers.services.clock import on_site
from dividers.services.wall.progress import Progress

STATES = {OPEN: "open", RUNNING: "running", BEGUN: "begun", DONE: "done", SKIPPED: "skipped"}


def run_state(progress: Progress) -> dict[str, Any]:
    """How a run is getting on, as the page's script reads it. Moments in ms of the epoch."""
    live, facts, plan = progress.live, progress.facts, progress.in_force
    ticks: dict[str, list[str]] = {}
    for task, item in sorted(facts.ticks):
        ticks.setdefault(task, []).append(item)

    def written(task: Task) -> dict[str, Any]:
        fact = facts.of(task.key)
        wait = progress.waits.get(task.key)
        start = plan.starts.get(task.key)
        return {
            "kind": task.kind,
            "minutes": task.minutes,
            "number": progress.numbers[task.key],
            "series": task.name.series,
            "state": STATES[fact.state],
            "started": _ms(fact.started),
            "ended": _ms(fact.ended),
            "planned": _ms(live.moment(start)) if start is not None else None,
            "because": plan.whys.get(task.key, ""),
            "painter": fact.painter or plan.painters.get(task.key, 1),
            "reason": fact.reason,
            "last": fact.last,
            "ready": _ms(live.moment(wait.ready)) if wait and wait.ready_why else None,
            "why": wait.ready_why if wait else "",
            "from": _ms(live.moment(task.not_before)) if task.not_before else None,
            "from_why": task.not_before_why,
            "by": _ms(live.moment(wait.by)) if wait and wait.by is not None else None,
            "first": _first_said(progress, wait.blocked) if wait else "",
            "firsts": [progress.tasks[number].key for number in wait.blocked] if wait else [],
        }

    return {
        "now": _ms(progress.now),
        "behind": progress.behind,
        "run": progress.run.id,
        "ended": bool(progress.run.ended_at),
        "events": len(progress.events),
        "plan": plan.number,
        "said": plan.said if plan.number > 1 else "",
        "finish": when(live.moment(plan.finish)) if plan.starts else "",
        "possible": plan.possible,
        "order": [task.key for task in progress.in_turn],
        "tasks": {task.key: written(task) for task in progress.tasks},
        "ticks": ticks,
        "timers": [
            {"kind": t.kind, "task": t.task, "at": _ms(live.moment(t.at)), "words": t.words, "why": t.why}
            for t in progress.timers
        ],
        "missed": {missed.task: missed.advice for missed in plan.missed},
        "air": air_said(progress),
        "painters": progress.job.crew.painters,
        "in_hours": progress.in_hours,
        "here_until": _ms(progress.here_until),
        "refused": dict(facts.refused),
    }


def early_said(progress: Progress, key: str, at: datetime, answered: str = "") -> tuple[str, str] | None:
    """What speaks against beginning a step then, as it is asked and as it is recorded; None where nothing does.

    The step `answered`, whose strips are asked about, is not asked about besides.
    """
    wait = progress.waits.get(key)
    early = early_of(wait, progress.live.wall(at)) if wait else None
    if early is None:
        return None
    asked, noted = [], []
    if early.first and [progress.tasks[number].key for number in early.first] != [answered]:
        first = _first_said(progress, early.first)
        asked.append(f"Before it comes {first}, which isn't done.")
        noted.append(f"before {first}")
    if early.minutes:
        until = day_and_time(progress.live.moment(wait.ready if wait else 0), at)
        asked.append(f"{early.why[0].upper()}{early.why[1:]}: {spoken(early.minutes)} more, until {until}.")
        noted.append(f"{early.why}: {spoken(early.minutes)} more")
    return (" ".join(asked), "; ".join(noted)) if asked else None


def before_run_said(progress: Progress, at: datetime, took_min: float = 0) -> str:
    """What is said of an entry for a moment before the run began, which is recorded at its beginning, or of minutes that reach back before it, which
    count from there; "" of any other."""
    begun = on_site(datetime.fromisoformat(progress.run.begun_at))
    when = day_and_time(begun, progress.now)
    if begun - on_site(at) >= timedelta(minutes=1):
        return f"Nothing lies before the run: recorded as done at its beginning, {when}."
    if begun - on_site(at) + timedelta(minutes=took_min) >= timedelta(minutes=1):
        return f"Nothing lies before the run: what it took counts from its beginning, {when}."
    return ""


def _first_said(progress: Progress, blocked: Sequence[int]) -> str:
    """What must be done first."""
    if not blocked:
        return ""
    task = progress.tasks[blocked[0]]
    more = f" and {len(blocked) - 1} more" if len(blocked) > 1 else ""
    return f"{short(task)}{more}"


def air_said(progress: Progress) -> str:
    """The air that waits are counted with."""
    unit = progress.job.units
    if progress.facts.airs:
        at, celsius, humidity = progress.facts.airs[-1]
        return f"{degrees(celsius, unit)}, {humidity:g} % at {day_and_time(at, progress.now)}"
    climate = progress.job.climate
    return f"{degrees(float(climate.temperature_c), unit)}, {float(climate.humidity_percent):g} % as planned"


def _ms(on_site: datetime | None) -> int | None:
    return round(on_site.astimezone().timestamp() * 1000) if on_site else None


def held_lags(progress: Progress) -> list[list[Any]]:
    """The waits between tasks, for a page without a connection to calculate with: first, then, least, most, of, to, why.

    Least and most are minutes; where there was more than one air, [from, minutes] for each of them.
    """
    live = progress.live
    keys = [task.key for task in progress.tasks]
    return [
        [keys[lag.first], keys[lag.then], _in_airs(live, lag, "least"), _in_airs(live, lag, "most"), lag.of, lag.to, lag.why]
        for lag in live.works[-1][1].lags
    ]


def _in_airs(live: LiveWork, lag: Lag, which: str) -> int | list[list[float | None]] | None:
    """A lag's least or most in minutes, in every air that there was."""
    amounts = live.amounts_of(lag, which)
    if getattr(lag, which) is None or len(amounts) == 1:
        found: int | None = getattr(lag, which)
        return found
    return [[None if start == ALWAYS else _ms(live.moment(start)), amount] for start, amount in amounts]
