"""What can go wrong: the schedule tried many times with work and drying that vary, in its own order and with its own painters. Modelled, not measured.

A coat that must be pulled wet is begun only where its pull fits before the break, and tape is pulled into a break rather than left on. Each task takes its planned minutes times a lognormal factor of its own, each run dries by a lognormal factor of its own; both have a median of 1. How much
they vary is a stated judgement. The same schedule and seed give the same answer.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from dividers.core.geometry.shapes import Bools, Floats
from dividers.core.order.calendar import Calendar
from dividers.core.order.network import END, START, Lag, Task
from dividers.core.order.times import Times, painters_of

RUNS, SEED = 2000, 20_261
WORK_SPREAD, DRY_SPREAD = (
    0.25,
    0.15,
)  # standard deviations of the logarithm; judgement: one in six takes 28 % longer, dries 16 % slower
DRYING = ("recoat", "touch-dry", "seal", "prep", "pull")  # lags that drying sets
WINDOW = "pull"


OWN_WEIGHT = 12  # the judgement counts as so many steps of one's own


@dataclass(frozen=True)
class Speed:
    """How long work takes against its plan: the median factor, the spread of its logarithm, and from how many steps of one's own."""

    factor: float = 1.0
    spread: float = WORK_SPREAD
    steps: int = 0


def own_speed(ratios: Sequence[float]) -> Speed:
    """What so many steps of one's own, taken over planned, say; with few of them the stated judgement holds. Logarithms, with a normal-inverse-gamma
    prior on the judgement (its mean and variance, each worth OWN_WEIGHT steps).

    >>> own_speed([])
    Speed(factor=1.0, spread=0.25, steps=0)
    """
    logs = np.log([ratio for ratio in ratios if ratio > 0])
    count = len(logs)
    if not count:
        return Speed()
    mean = float(logs.mean())
    middle = count * mean / (count + OWN_WEIGHT)
    apart = float(((logs - mean) ** 2).sum()) + count * OWN_WEIGHT / (count + OWN_WEIGHT) * mean**2
    spread = math.sqrt((OWN_WEIGHT * WORK_SPREAD**2 + apart) / (OWN_WEIGHT + count))
    return Speed(math.exp(middle), spread, count)


@dataclass(frozen=True)
class Chances:
    """What many runs came to: the wall minute of each finish, and for each window by its lag's number in how many of them it was missed."""

    finishes: Floats = field(repr=False)
    missed: Mapping[int, float]
    runs: int

    def by(self, share: float) -> float:
        """The wall minute by which so large a share of the runs is finished."""
        return float(np.quantile(self.finishes, share))

    def within(self, minute: float) -> float:
        """The share of the runs that is finished by a wall minute."""
        return float((self.finishes <= minute + 1e-9).mean())


def chances(
    times: Times,
    lags: Sequence[Lag],
    painters: int,
    windows: Mapping[int, float] | None = None,
    quicker: Mapping[int, float] | None = None,
    runs: int = RUNS,
    seed: int = SEED,
    spreads: tuple[float, float] = (WORK_SPREAD, DRY_SPREAD),
    factor: float = 1.0,
) -> Chances:
    """Try a schedule. `windows` says by what the `most` of lags is multiplied, by their numbers, `quicker` the minutes of tasks, by theirs,
    `factor` those of all.
    """
    dice = np.random.default_rng(seed)
    tasks = times.tasks
    work = factor * np.exp(spreads[0] * dice.standard_normal((len(tasks), runs)))
    dry = np.exp(spreads[1] * dice.standard_normal(runs))
    clock = _TwoClocks(times.calendar)
    who = painters_of(times, painters)
    before: dict[int, list[Lag]] = {}
    for lag in lags:
        before.setdefault(lag.then, []).append(lag)
    begin, done = np.zeros((len(tasks), runs)), np.zeros((len(tasks), runs))
    known: set[int] = set()
    free, ended = np.zeros((max(painters, 1), runs)), np.zeros((max(painters, 1), runs))
    blocks = _blocks(times, lags)
    for number in sorted(range(len(tasks)), key=lambda n: (times.starts[n], n)):
        task = tasks[number]
        minutes = task.minutes * (quicker or {}).get(number, 1.0) * work[number]
        wall = np.full(runs, float(task.not_before))
        for lag in before.get(number, ()):
            if lag.first in known and lag.to == START:
                anchor = done[lag.first] if lag.of == END else begin[lag.first]
                wall = np.maximum(wall, anchor + lag.least * (dry if lag.group in DRYING else 1.0))
        own = who[number]
        if task.kind == "pull":  # nobody leaves wet tape on over lunch: it comes off at once, into the break if need be
            begin[number] = np.maximum(wall, ended[own])
            ended[own] = done[number] = begin[number] + minutes
            free[own] = np.maximum(free[own], clock.presence(done[number]))
        else:
            start = clock.fitting(np.maximum(clock.presence(wall), free[own]), np.maximum(minutes, blocks.get(number, 0)), task)
            free[own] = start + minutes
            begin[number], done[number] = clock.wall(start), clock.wall_end(start + minutes)
            ended[own] = done[number]
        known.add(number)
    missed = {
        number: float(_late(lag, begin, done, dry, (windows or {}).get(number, 1.0)).mean())
        for number, lag in enumerate(lags)
        if lag.most is not None and lag.group == WINDOW
    }
    return Chances(done.max(axis=0) if len(tasks) else np.zeros(runs), missed, runs)


def _blocks(times: Times, lags: Sequence[Lag]) -> dict[int, float]:
    """For tasks that a window begins with, how many minutes of presence pass as planned until what ends it: nobody begins without that much time."""
    found: dict[int, float] = {}
    for lag in lags:
        if lag.most is not None and lag.group == WINDOW:
            end = times.starts[lag.then] + times.tasks[lag.then].minutes
            if times.calendar.span_of(times.starts[lag.first]) == times.calendar.span_of(end - 1):
                found[lag.first] = max(found.get(lag.first, 0.0), float(end - times.starts[lag.first]))
    return found


def _late(lag: Lag, begin: Floats, done: Floats, dry: Floats, times_as_long: float) -> Bools:
    """In which runs a window was over before what belongs in it was done."""
    assert lag.most is not None
    first = done[lag.first] if lag.of == END else begin[lag.first]
    then = done[lag.then] if lag.to == END else begin[lag.then]
    late: Bools = then - first > lag.most * times_as_long * dry + 1e-9
    return late


def sampling_error(share: float, runs: int) -> float:
    """The standard error of a share that so many runs gave."""
    return math.sqrt(max(share * (1 - share), 0.25 / runs) / runs)


class _TwoClocks:
    """A calendar's two clocks for many runs at once; beyond its last span work goes on without a break."""

    def __init__(self, calendar: Calendar) -> None:
        self.low = np.array([low for low, _ in calendar.spans], float)
        self.high = np.array([high for _, high in calendar.spans], float)
        self.before = np.array(calendar.before, float)

    def presence(self, wall: Floats) -> Floats:
        """The first presence minute at a wall minute or later."""
        at = np.minimum(np.searchsorted(self.high, wall, side="right"), len(self.low) - 1)
        found: Floats = self.before[at] + np.maximum(wall - self.low[at], 0.0)
        return found

    def wall(self, presence: Floats) -> Floats:
        """When a presence minute begins."""
        at = np.clip(np.searchsorted(self.before, presence, side="right") - 1, 0, len(self.low) - 1)
        found: Floats = self.low[at] + presence - self.before[at]
        return found

    def wall_end(self, presence: Floats) -> Floats:
        """When work that has taken up so many presence minutes from the first is done."""
        at = np.clip(np.searchsorted(self.before, presence, side="left") - 1, 0, len(self.low) - 1)
        found: Floats = self.low[at] + presence - self.before[at]
        return found

    def fitting(self, presence: Floats, minutes: Floats, task: Task) -> Floats:
        """A start for work that isn't laid down over lunch or night, if a span holds it: in the next one where the rest of this is too short."""
        if task.split:
            return presence
        at = np.clip(np.searchsorted(self.before, presence, side="right") - 1, 0, len(self.low) - 1)
        following = np.minimum(at + 1, len(self.low) - 1)
        short = (self.before[at + 1] - presence < minutes) & (minutes <= self.high[following] - self.low[following])
        return np.where(short & (following > at), self.before[following], presence)
