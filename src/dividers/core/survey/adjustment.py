"""A panel's outline from its readings: a least-squares adjustment, and how well each reading fits.

Widths, heights and diagonals, distances to a level line and to a plumb line over-determine four corners. The corners are found
that the readings fit best (Gauss-Newton on the observation equations); what a reading is off by, against how far it could be off
by chance, shows a blunder (W. Baarda's data snooping, 1968; from memory).
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from dividers.core.geometry.quads import Quad, rectangle
from dividers.core.geometry.shapes import Bools, Floats
from dividers.core.job.surface import Panel, SurveyReading

# What a reading may be off by: a class II tape may be off by 0.3 mm and 0.2 mm a metre (European measuring instruments directive,
# from memory); hooking and holding it adds about a millimetre (common practice, no source).
TAPE_MM, TAPE_PER_M, HELD_MM = 0.3, 0.2, 1.0

# What no reading shows is assumed square and parallel: as a reading so many times as uncertain as any other.
LOOSE = 1000.0

# Beyond this many times its own uncertainty a reading doesn't fit: one good reading in a thousand is blamed wrongly.
CRITICAL = 3.29

MOST_BLUNDERS = 3

SURE = 2.0  # as a natural logarithm: a rival must be e² ≈ 7 times less likely to go unnamed

# Six numbers make the corners (the top left is where everything is measured from): mean width, how much wider the bottom is than
# the top, mean height, how much higher the right is than the left, how far the left side leans and the top falls to the right.
_CORNERS = np.array(
    [
        [[0, 0, 0, 0, 0, 0], [0, 0, 0, 0, 0, 0]],
        [[1, -0.5, 0, 0, 0, 0], [0, 0, 0, 0, 0, 1]],
        [[1, 0.5, 0, 0, 1, 0], [0, 0, 1, 0.5, 0, 1]],
        [[0, 0, 0, 0, 1, 0], [0, 0, 1, -0.5, 0, 0]],
    ]
)
PARAMETERS = 7  # the six, and where the level line lies
LEAN, FALL, LINE = 4, 5, 6


@dataclass(frozen=True)
class Equations:
    """The observation equations of readings, in columns.

    A reading is |from - to|, or a coordinate difference along y (level) or x (plumb) with a sign; `weights` (n, 4) are what the
    corners count for in the point or difference.
    """

    weights: Floats
    axis: Floats  # (n,): -1 a distance, 0 along x, 1 along y
    sign: Floats
    line: Floats  # what the level line's place counts for
    read: Floats
    sigma: Floats

    def predicted(self, p: Floats) -> tuple[Floats, Floats]:
        """What the readings should be for some parameters, and how that changes with each of them, (n, 7)."""
        corners = _CORNERS @ p[:6]
        way = self.weights @ corners
        change = np.einsum("nk,kdp->ndp", self.weights, _CORNERS)
        length = np.maximum(np.hypot(way[:, 0], way[:, 1]), 1e-9)
        far = self.axis < 0
        along = np.where(far[:, None], way / length[:, None], 0.0)
        along[self.axis == 0, 0] = 1.0
        along[self.axis == 1, 1] = 1.0
        value = self.sign * np.where(far, length, (way * along).sum(axis=1) + self.line * p[LINE])
        jacobian = np.concatenate([np.einsum("nd,ndp->np", along, change), self.line[:, None]], axis=1)
        return value, jacobian * self.sign[:, None]


@dataclass(frozen=True)
class Adjusted:
    """What an adjustment found: the parameters, and for each reading used what it should have been.

    `residual` is reading less adjusted value (mm); `share` how much of a blunder stays in its own residual, 0 (nothing checks it)
    to 1; `ratio` the residual over its own uncertainty; `undetermined` how little the readings say of each parameter, 0 to 1.
    """

    parameters: Floats
    used: tuple[int, ...]
    fitted: Floats
    residual: Floats
    share: Floats
    ratio: Floats
    sigma: Floats
    undetermined: Floats

    @cached_property
    def quad(self) -> Quad:
        return Quad.of(_CORNERS @ self.parameters[:6])

    @property
    def spare(self) -> int:
        """How many more readings there are than the outline needs."""
        return round(float(self.share.sum()))

    def expected(self, place: int) -> tuple[float, float]:
        """What the other readings say the one at a place should be, and how sure that is, both in mm."""
        share = max(float(self.share[place]), 1e-9)
        value = float(self.fitted[place] + self.residual[place] - self.residual[place] / share)
        return value, float(self.sigma[place]) * math.sqrt(max(1 / share - 1, 0.0) + 1)


def sigma_mm(length_mm: float, step_mm: float) -> float:
    """How far a reading of that length, rounded to that graduation, is usually off."""
    return math.hypot(TAPE_MM + TAPE_PER_M * length_mm / 1000, step_mm / 2, HELD_MM)


def equations_of(panel: Panel, readings: Sequence[SurveyReading], step_mm: float) -> Equations:
    """The observation equations of readings of a panel, taken with a tape measure of that graduation."""
    weights, axes, signs, lines = [], [], [], []
    for reading, at in zip(readings, shares_of(panel, readings), strict=True):
        row, axis, sign, line = _equation(reading, at)
        weights.append(row)
        axes.append(axis)
        signs.append(sign)
        lines.append(line)
    read = np.array([float(reading.mm) for reading in readings])
    return Equations(
        np.array(weights, float).reshape(-1, 4),
        np.array(axes, float),
        np.array(signs, float),
        np.array(lines, float),
        read,
        np.array([sigma_mm(abs(mm), step_mm) for mm in read]),
    )


def _equation(reading: SurveyReading, at: float) -> tuple[list[float], int, int, int]:
    """What the corners count for in a reading, its axis, its sign, and what the level line counts for."""
    match reading.kind, reading.way:
        case "width", _:
            return [at - 1, 1 - at, at, -at], -1, 1, 0
        case "height", _:
            return [at - 1, -at, at, 1 - at], -1, 1, 0
        case "diagonal", "falling":
            return [-1, 0, 1, 0], -1, 1, 0
        case "diagonal", _:
            return [0, -1, 0, 1], -1, 1, 0
        case "level", "bottom":
            return [0, 0, at, 1 - at], 1, 1, -1
        case "level", way:
            return [1 - at, at, 0, 0], 1, -1 if way == "up" else 1, -1
        case "plumb", "right":
            return [0, -at, at, 0], 0, 1, 0
    return [-at, 0, 0, at], 0, 1, 0


def shares_of(panel: Panel, readings: Sequence[SurveyReading]) -> list[float]:
    """Where readings were taken, as shares of the way down (widths, plumb) or along (heights, level)."""
    wide, high = float(panel.width_mm), float(panel.height_mm)
    shares = []
    for reading, spaced in zip(readings, _spaced(readings), strict=True):
        at = spaced if reading.at_mm is None else float(reading.at_mm) / (high if reading.kind in ("width", "plumb") else wide)
        shares.append(min(max(at, 0.0), 1.0))
    return shares


def _spaced(readings: Sequence[SurveyReading]) -> list[float]:
    """Where readings without a place were taken, as shares: evenly spaced from the first to the last of their kind."""
    counts = {kind: sum(r.kind == kind for r in readings) for kind in ("width", "height")}
    seen = dict.fromkeys(counts, 0)
    found = []
    for reading in readings:
        many = counts.get(reading.kind, 1)
        found.append(0.5 if many == 1 else seen.get(reading.kind, 0) / (many - 1))
        if reading.kind in seen:
            seen[reading.kind] += 1
    return found


def adjust(panel: Panel, readings: Sequence[SurveyReading], step_mm: float, without: Sequence[int] = ()) -> Adjusted:
    """Fit a panel's corners to its readings, but for those set aside and those whose numbers are in `without`."""
    every = equations_of(panel, readings, step_mm)
    keep = np.array([not r.aside and n not in without for n, r in enumerate(readings)], bool)
    return solve(every, keep, float(panel.width_mm), float(panel.height_mm))


def solve(every: Equations, keep: Bools, wide: float, high: float) -> Adjusted:
    """Fit the corners to the equations kept. Where no width or height is kept, the panel's stated one is used."""
    used = np.flatnonzero(keep)
    own = Equations(*(getattr(every, name)[used] for name in ("weights", "axis", "sign", "line", "read", "sigma")))
    loose = LOOSE * sigma_mm(max(wide, high), 1.0)
    p = np.array([wide, 0, high, 0, 0, 0, 0], float)
    guesses = p.copy()
    known = np.full(PARAMETERS, 1 / loose)
    plumb = (own.axis >= 0).any()
    if not plumb:
        known[FALL] = 1 / HELD_MM  # nothing was measured from a level or plumb line: the top is taken to be level
    if (own.line != 0).any():
        p[LINE] = float(np.median((own.read * own.sign - own.predicted(p)[0] * own.sign)[own.line != 0] * -1))
        guesses[LINE], known[LINE] = p[LINE], 1e-9
    for _ in range(20):
        value, jacobian = own.predicted(p)
        rows = np.vstack([jacobian / own.sigma[:, None], np.diag(known)])
        miss = np.concatenate([(own.read - value) / own.sigma, (guesses - p) * known])
        step = np.linalg.lstsq(rows, miss, rcond=None)[0]
        p = p + step
        if np.abs(step).max() < 1e-10:
            break
    value, jacobian = own.predicted(p)
    rows = np.vstack([jacobian / own.sigma[:, None], np.diag(known)])
    cofactor = np.linalg.inv(rows.T @ rows)
    scaled = jacobian / own.sigma[:, None]
    share = np.clip(1 - np.einsum("np,pq,nq->n", scaled, cofactor, scaled), 0.0, 1.0)
    residual = own.read - value
    undetermined = np.sqrt(np.diag(cofactor)) / np.where(known < 1e-6, np.inf, loose)
    undetermined[FALL] = undetermined[FALL] if plumb else 1.0
    checked = share > 1e-4  # what only the loose guesses check is checked by nothing
    ratio = np.where(checked, residual / (own.sigma * np.sqrt(np.where(checked, share, 1.0))), 0.0)
    return Adjusted(
        p,
        tuple(used.tolist()),
        value,
        residual,
        np.where(checked, share, 0.0),
        ratio,
        own.sigma,
        undetermined,
    )


@dataclass(frozen=True)
class Blunder:
    """A reading that doesn't fit, by its number: what the others say it should be, and how sure that is; mm.

    `rivals` are readings that would explain it as well: nothing shows which of them is wrong.
    """

    number: int
    expected_mm: float
    sure_mm: float
    rivals: tuple[int, ...] = ()


# How likely a reading is the wrong one, as a logarithm: of its number, what it should be, how sure that is, and the outline without it.
Plausible = Callable[[int, float, float, Adjusted], float]


def find_blunders(
    panel: Panel, readings: Sequence[SurveyReading], step_mm: float, plausible: Plausible | None = None
) -> tuple[Adjusted, tuple[Blunder, ...]]:
    """Adjust, leaving out one after the other the readings that don't fit; what is left, and what was left out.

    Where readings explain a misfit equally well, `plausible` (the number, what it should be, how sure, the adjustment without it)
    says how likely each is the wrong one; the likeliest is blamed, and the others are named as its rivals where it isn't clear.
    """
    every = equations_of(panel, readings, step_mm)
    keep = np.array([not r.aside for r in readings], bool)
    wide, high = float(panel.width_mm), float(panel.height_mm)
    found: list[Blunder] = []
    adjusted = solve(every, keep, wide, high)
    while len(found) < MOST_BLUNDERS and adjusted.spare > 0:
        size = np.abs(adjusted.ratio)
        worst = float(size.max(initial=0.0))
        if worst <= CRITICAL:
            break
        suspects = [place for place in np.argsort(-size, kind="stable").tolist() if size[place] > worst - 0.05]
        scored = []
        for place in suspects:
            number = adjusted.used[place]
            without = keep.copy()
            without[number] = False
            rest = solve(every, without, wide, high)
            expected, sure = adjusted.expected(place)
            likely = plausible(number, expected, sure, rest) if plausible else 0.0
            scored.append((-likely, number, expected, sure, rest))
        scored.sort(key=lambda row: row[:2])
        best = scored[0]
        rivals = tuple(row[1] for row in scored[1:] if row[0] - best[0] < SURE)
        found.append(Blunder(best[1], best[2], best[3], rivals))
        keep[best[1]] = False
        adjusted = best[4]
    return adjusted, tuple(found)


def stated(panel: Panel) -> Quad:
    """The true rectangle of a panel's stated width and height."""
    return rectangle(0.0, 0.0, float(panel.width_mm), float(panel.height_mm))
