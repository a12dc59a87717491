"""What can go wrong with a schedule, in plain sentences and one picture of when it is finished."""

from collections import Counter
from dataclasses import dataclass
from datetime import datetime
from fractions import Fraction
from functools import partial

from dividers.core.base.units import DAY_MIN
from dividers.core.order.chances import DRY_SPREAD, WINDOW, Chances, Speed, chances
from dividers.core.order.network import Task
from dividers.core.order.schedule import Schedule

LEAST_SHARE = 0.005  # what is missed less often is not worth a word
MOST_PULLS = 4
# What could be done about a pull that comes too late: in words, what its coats and its pull then take of their time, how much longer its window is. Judgement.
CHANGES = (
    ("a second painter at its coats and its pull", 0.6, 1.0),
    ("batches half as large", 0.5, 1.0),
    ("paint that stays wet a quarter longer (retarder by its label, cooler, damper air)", 1.0, 1.25),
)


@dataclass(frozen=True)
class PullChance:
    """A pull that may be missed: what it is, how often, and how often with each change, the one that gains most first."""

    words: str
    often: str
    changes: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class DayShare:
    """A day on which some of the tries are finished, with their share in percent."""

    words: str
    percent: int


@dataclass(frozen=True)
class ChancesBoard:
    finish: str
    as_planned: str
    pulls: tuple[PullChance, ...]
    most_gained: str
    days: tuple[DayShare, ...]
    runs: int
    speed: Speed


def chances_board(schedule: Schedule, speed: Speed) -> ChancesBoard | None:
    """What many tries of a schedule come to, with work as quick as one's own records say; nothing where there is no schedule."""
    times = schedule.solution.times
    if times is None or not times.tasks:
        return None
    painters, lags = schedule.job.crew.painters, schedule.work.lags
    whole = {piece.key: 100 / piece.method.window_percent for piece in schedule.job.pieces}
    windows = {
        n: whole[times.tasks[lag.then].name.piece] for n, lag in enumerate(lags) if lag.most is not None and lag.group == WINDOW
    }
    tries = partial(chances, times, lags, painters, spreads=(speed.spread, DRY_SPREAD), factor=speed.factor)
    found = tries(windows)
    pulls: list[tuple[float, str, PullChance]] = []
    for number, share in sorted(found.missed.items(), key=lambda each: -each[1])[:MOST_PULLS]:
        if share < LEAST_SHARE:
            continue
        pull = times.tasks[lags[number].then]
        near = [n for n, task in enumerate(times.tasks) if _of_pull(task) == _of_pull(pull)]
        tried = []
        for words, takes, longer in CHANGES:
            wider = {**windows, number: windows[number] * longer}
            better = tries(wider, dict.fromkeys(near, takes)).missed[number]
            tried.append((better, words))
        tried.sort(key=lambda each: each[0])
        words = f"{pull.piece}, round {pull.number}{f', batch {pull.batch}' if pull.batch else ''}"
        changes = tuple((change, _one_in(better)) for better, change in tried)
        pulls.append((share - tried[0][0], f"{words}: {tried[0][1]}", PullChance(words, _one_in(share), changes)))
    best = max(pulls, key=lambda each: each[0], default=None)
    return ChancesBoard(
        _clock(schedule, found.by(0.8)),
        _of_ten(found.within(times.finish)),
        tuple(pull for _, _, pull in pulls),
        best[1] if best and best[0] > LEAST_SHARE else "",
        _days(schedule, found),
        found.runs,
        speed,
    )


def _of_pull(task: Task) -> tuple[str, int | None, int | None]:
    """What a pull frees: tasks with the same are done for it."""
    return task.name.piece, task.number, task.batch


def _days(schedule: Schedule, found: Chances) -> tuple[DayShare, ...]:
    """The days on which tries are finished, with at least one of a hundred."""
    counts = Counter((found.finishes // DAY_MIN).astype(int).tolist())
    return tuple(
        DayShare(f"{moment:%A} {moment.day} {moment:%B}", round(100 * count / found.runs))
        for day, count in sorted(counts.items())
        if round(100 * count / found.runs) and (moment := schedule.calendar.moment(day * DAY_MIN + DAY_MIN // 2))
    )


def _clock(schedule: Schedule, minute: float) -> str:
    moment: datetime = schedule.calendar.moment(round(minute / 15) * 15)
    return f"{moment:%A} {moment.day} {moment:%B}, {moment:%H:%M}"


def _of_ten(share: float) -> str:
    tenths = round(share * 10)
    return "hardly ever" if not tenths else "nearly always" if tenths == 10 else f"in {tenths} of 10"


def _one_in(share: float) -> str:
    if share < LEAST_SHARE:
        return "hardly ever"
    if share > 0.45:
        return f"in {round(share * 10)} of 10"
    return f"in 1 of {round(Fraction(1) / Fraction(share).limit_denominator(1000))}"
