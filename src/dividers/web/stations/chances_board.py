"""What can go wrong with a schedule, in plain sentences and one picture of when it is finished."""

from collections import Counter
from dataclasses import dataclass
from datetime import datetime
from fractions import Fraction

from dividers.core.base.units import DAY_MIN
from dividers.core.order.chances import WINDOW, Chances, chances
from dividers.core.order.schedule import Schedule

LEAST_SHARE = 0.005  # what is missed less often is not worth a word
MOST_PULLS = 4
MORE_HANDS = 0.6  # what a coat and its pull take of their time with a second painter: judgement


@dataclass(frozen=True)
class PullChance:
    """A pull that may be missed: what it is, how often, and how often with a second painter."""

    words: str
    often: str
    with_hands: str


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


def chances_board(schedule: Schedule) -> ChancesBoard | None:
    """What many tries of a schedule come to; nothing where there is no schedule."""
    times = schedule.solution.times
    if times is None or not times.tasks:
        return None
    painters, lags = schedule.job.crew.painters, schedule.work.lags
    whole = {piece.key: 100 / piece.method.window_percent for piece in schedule.job.pieces}
    windows = {
        n: whole[times.tasks[lag.then].name.piece] for n, lag in enumerate(lags) if lag.most is not None and lag.group == WINDOW
    }
    found = chances(times, lags, painters, windows)
    pulls: list[tuple[float, PullChance]] = []
    for number, share in sorted(found.missed.items(), key=lambda each: -each[1])[:MOST_PULLS]:
        if share < LEAST_SHARE:
            continue
        pull = times.tasks[lags[number].then]
        helped = [
            n
            for n, task in enumerate(times.tasks)
            if (task.name.piece, task.number, task.batch) == (pull.name.piece, pull.number, pull.batch)
        ]
        better = chances(times, lags, painters, windows, dict.fromkeys(helped, MORE_HANDS)).missed[number]
        words = f"{pull.piece}, round {pull.number}{f', batch {pull.batch}' if pull.batch else ''}"
        pulls.append((share - better, PullChance(words, _one_in(share), _one_in(better))))
    best = max(pulls, key=lambda each: each[0], default=None)
    return ChancesBoard(
        _clock(schedule, found.by(0.8)),
        _of_ten(found.within(times.finish)),
        tuple(pull for _, pull in pulls),
        best[1].words if best and best[0] > LEAST_SHARE else "",
        _days(schedule, found),
        found.runs,
    )


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
