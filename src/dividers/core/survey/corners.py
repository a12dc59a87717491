"""The corners of any outline from distances between them: a least-squares adjustment, and the distances that don't fit.

Corners as written are where the adjustment begins. They move as little as they can so that the distances fit, each by its own
uncertainty (Gauss-Newton on the observation equations, as an adjustment of a trilateration net); a distance that is off by more than
chance allows is set aside (W. Baarda's data snooping, 1968; from memory).
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from dividers.core.geometry.shapes import Floats, Ints, Point
from dividers.core.job.surface import CornerDistance, JudgedDistance
from dividers.core.survey.adjustment import CRITICAL, LOOSE, MOST_BLUNDERS, sigma_mm

ROUNDS = 30
MOVED_MM = 1e-9


@dataclass(frozen=True)
class AdjustedCorners:
    points: tuple[Point, ...]
    judged: tuple[JudgedDistance, ...]


def adjust_corners(points: Sequence[Point], distances: Sequence[CornerDistance], step_mm: float) -> AdjustedCorners:
    """Corners that fit the distances best, with the upper left of their box where it was; and how each distance fits.

    One after the other those that don't fit are left out, the worst first.
    """
    before = np.array(points, float)
    read = np.array([float(each.mm) for each in distances])
    sigma = np.array([sigma_mm(mm, step_mm) for mm in read])
    ends = np.array([(each.start - 1, each.end - 1) for each in distances], np.int64).reshape(-1, 2)
    used = np.ones(len(distances), bool)
    left_out: set[int] = set()
    while True:
        net = _solved(before, ends[used], read[used], sigma[used])
        worst = int(np.argmax(np.abs(net.ratio), axis=0)) if len(net.ratio) else 0
        if not len(net.ratio) or abs(net.ratio[worst]) <= CRITICAL or len(left_out) >= MOST_BLUNDERS:
            break
        number = int(np.flatnonzero(used)[worst])
        left_out.add(number)
        used[number] = False
    corners = net.corners - (net.corners.min(axis=0) - before.min(axis=0))
    at = np.cumsum(used) - 1
    judged = []
    for number, each in enumerate(distances):
        if number in left_out:
            start, end = net.corners[ends[number]]
            others = float(np.hypot(*(end - start)))
            judged.append(JudgedDistance(each, float(each.mm) - others, others))
        else:
            checked = net.share[at[number]] > 0
            judged.append(JudgedDistance(each, float(net.residual[at[number]]) if checked else None))
    return AdjustedCorners(tuple((x, y) for x, y in corners.tolist()), tuple(judged))


@dataclass(frozen=True)
class _Net:
    """Adjusted corners (n, 2), and for each distance used its residual (mm), the share of a blunder that shows in it, and its ratio to chance."""

    corners: Floats
    residual: Floats
    share: Floats
    ratio: Floats


def _solved(before: Floats, ends: Ints, read: Floats, sigma: Floats) -> _Net:
    count, many = before.size, len(read)
    loose = 1 / (LOOSE * sigma_mm(float(np.ptp(before)), 1.0))
    corners = before.copy()
    rows, scaled = np.zeros((0, count)), np.zeros((many, count))
    for _ in range(ROUNDS):
        way = corners[ends[:, 1]] - corners[ends[:, 0]]
        length = np.maximum(np.hypot(way[:, 0], way[:, 1]), 1e-9)
        unit = way / length[:, None] / sigma[:, None]
        scaled = np.zeros((many, count))
        for axis in (0, 1):
            np.add.at(scaled, (np.arange(many), 2 * ends[:, 1] + axis), unit[:, axis])
            np.add.at(scaled, (np.arange(many), 2 * ends[:, 0] + axis), -unit[:, axis])
        rows = np.vstack([scaled, np.eye(count) * loose])
        miss = np.concatenate([(read - length) / sigma, (before - corners).ravel() * loose])
        step = np.linalg.lstsq(rows, miss, rcond=None)[0]
        corners = corners + step.reshape(-1, 2)
        if np.abs(step).max(initial=0.0) < MOVED_MM:
            break
    way = corners[ends[:, 1]] - corners[ends[:, 0]]
    residual = read - np.hypot(way[:, 0], way[:, 1])
    cofactor = np.linalg.pinv(rows.T @ rows)
    share = np.clip(1 - np.einsum("np,pq,nq->n", scaled, cofactor, scaled), 0.0, 1.0)
    share = np.where(share > 1e-4, share, 0.0)  # what only the loose guesses check is checked by nothing
    ratio = np.where(share > 0, residual / (sigma * np.sqrt(np.where(share > 0, share, 1.0))), 0.0)
    return _Net(corners, residual, share, ratio)
