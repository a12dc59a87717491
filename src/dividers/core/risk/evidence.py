"""What the logbook says about an edge: the forecast as a prior, own strips counted on top, the chance of a clean edge with its uncertainty.

The chance is Beta distributed: the rules' own chance weighs like PRIOR_WEIGHT strips, each strip found counts one. Strips of one
round are alike and say less than strips of many rounds, so one round counts as MOST_A_ROUND strips at most. How points become a
chance, and both weights, are a judgement (no source).
"""

import math
from dataclasses import dataclass

from scipy.special import betaincinv

from dividers.core.job.edge_counts import Count

PRIOR_WEIGHT = 4.0
NO_POINTS, A_POINT = 2.6, 0.6  # log odds of a clean edge at no points, and what each point takes off
MOST_SHIFT = 4  # so many points at most the logbook moves a forecast by
INTERVAL = 0.8


def prior_chance(points: int) -> float:
    """The chance of a clean edge that the rules' points stand for."""
    return 1 / (1 + math.exp(A_POINT * points - NO_POINTS))


@dataclass(frozen=True)
class Chance:
    """The chance of a clean edge: Beta(a, b), its mean, and between what it lies four times in five."""

    a: float
    b: float
    prior: float
    count: Count

    @property
    def mean(self) -> float:
        return self.a / (self.a + self.b)

    @property
    def interval(self) -> tuple[float, float]:
        tail = (1 - INTERVAL) / 2
        return float(betaincinv(self.a, self.b, tail)), float(betaincinv(self.a, self.b, 1 - tail))

    @property
    def shift(self) -> int:
        """By how many points the logbook moves the rules' forecast: up where edges came out worse."""
        moved = (_log_odds(self.prior) - _log_odds(self.mean)) / A_POINT
        return max(-MOST_SHIFT, min(MOST_SHIFT, round(moved)))


def chance_of(points: int, count: Count | None) -> Chance:
    """The chance of a clean edge, from the rules' points and own counts."""
    count = count or Count(0, 0, 0)
    prior = prior_chance(points)
    a, b = PRIOR_WEIGHT * prior + count.clean, PRIOR_WEIGHT * (1 - prior) + count.strips - count.clean
    return Chance(a, b, prior, count)


def _log_odds(chance: float) -> float:
    return math.log(chance / (1 - chance))
