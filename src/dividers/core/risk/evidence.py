"""What the logbook says about an edge: the forecast as a prior, own strips counted on top, the chance of a clean edge with its uncertainty.

The chance is Beta distributed: the rules' own chance weighs like PRIOR_WEIGHT strips, each strip found counts one. Strips of one
round are alike and say less than strips of many rounds, so one round counts as MOST_A_ROUND strips at most. How points become a
chance, and both weights, are a judgement (no source).
"""

import math
from dataclasses import dataclass

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
        return beta_quantile(tail, self.a, self.b), beta_quantile(1 - tail, self.a, self.b)

    def clean_of(self, clean: int, strips: int) -> float:
        """How likely so many of so many strips to come are clean: Beta-binomial."""
        return math.comb(strips, clean) * math.exp(
            _log_beta(clean + self.a, strips - clean + self.b) - _log_beta(self.a, self.b)
        )

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


def _log_beta(a: float, b: float) -> float:
    return math.lgamma(a) + math.lgamma(b) - math.lgamma(a + b)


def beta_share(x: float, a: float, b: float) -> float:
    """The share of Beta(a, b) below x: the regularized incomplete beta function, by its continued fraction (Lentz's method).

    >>> round(beta_share(0.5, 3.0, 3.0), 12)
    0.5
    """
    if x <= 0 or x >= 1:
        return float(x >= 1)
    if x > (a + 1) / (a + b + 2):  # the fraction runs quickly on the other side
        return 1 - beta_share(1 - x, b, a)
    front = math.exp(a * math.log(x) + b * math.log1p(-x) - _log_beta(a, b)) / a
    tiny = 1e-300
    c, d = 1.0, 1 / (1 - (a + b) * x / (a + 1) or tiny)
    fraction = d
    for m in range(1, 400):
        for part in (
            m * (b - m) * x / ((a + 2 * m - 1) * (a + 2 * m)),
            -(a + m) * (a + b + m) * x / ((a + 2 * m) * (a + 2 * m + 1)),
        ):
            d = 1 / (1 + part * d or tiny)
            c = 1 + part / c or tiny
            fraction *= c * d
        if abs(c * d - 1) < 1e-14:
            break
    return front * fraction


def beta_quantile(share: float, a: float, b: float) -> float:
    """The x below which that share of Beta(a, b) lies, by halving."""
    low, high = 0.0, 1.0
    for _ in range(60):
        middle = (low + high) / 2
        if beta_share(middle, a, b) < share:
            low = middle
        else:
            high = middle
    return (low + high) / 2
