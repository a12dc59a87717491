"""Corners of outlines from distances, against an independent least squares (scipy) and a net worked out by hand."""

import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall
from scipy.optimize import least_squares
from scipy.special import ellipe

from dividers.core.base.errors import BadJob
from dividers.core.job.surface import CornerDistance
from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job
from dividers.core.survey.adjustment import sigma_mm
from dividers.core.survey.corners import adjust_corners

GABLE = [(0.0, 1200.0), (2000.0, 0.0), (4000.0, 1200.0), (4000.0, 3000.0), (0.0, 3000.0)]


def distances(corners, errors=None, pairs=None):
    pairs = pairs or list(itertools.combinations(range(len(corners)), 2))
    return [CornerDistance(a + 1, b + 1, math.dist(corners[a], corners[b]) + (errors or {}).get((a, b), 0.0)) for a, b in pairs]


@given(st.lists(st.floats(-3, 3), min_size=10, max_size=10))
def test_corners_are_those_of_an_independent_least_squares(noise):
    pairs = list(itertools.combinations(range(5), 2))
    read = distances(GABLE, dict(zip(pairs, noise, strict=True)))

    def misses(flat):
        points = flat.reshape(-1, 2)
        return [(each.mm - math.dist(points[each.start - 1], points[each.end - 1])) / sigma_mm(each.mm, 1.0) for each in read]

    found = adjust_corners(GABLE, read, 1.0)
    if any(each.expected_mm is not None for each in found.judged):
        return  # chance made a blunder
    other = least_squares(misses, [v for point in GABLE for v in point], xtol=1e-14, ftol=1e-14).x.reshape(-1, 2)
    for a, b in pairs:
        assert math.dist(found.points[a], found.points[b]) == pytest.approx(math.dist(other[a], other[b]), abs=0.02)


@given(st.integers(0, 9), st.sampled_from([-1000.0, -100.0, 100.0, 25.4 * 6]))
def test_a_distance_misread_is_found_and_told_what_it_should_be(which, off):
    pairs = list(itertools.combinations(range(5), 2))
    found = adjust_corners(GABLE, distances(GABLE, {pairs[which]: off}), 1.0)
    wrong = [each for each in found.judged if each.expected_mm is not None]
    assert [(each.distance.start - 1, each.distance.end - 1) for each in wrong] == [pairs[which]]
    true = math.dist(*(GABLE[corner] for corner in pairs[which]))
    assert wrong[0].expected_mm == pytest.approx(true, abs=1.0)


def test_a_diagonal_moves_the_corners_of_a_leaning_outline_by_the_law_of_cosines():
    """An L of six corners sketched square; its measured diagonal says by how much the lower right corner lies nearer."""
    ring = [["0", "0"], ["1500", "0"], ["1500", "1000"], ["3000", "1000"], ["3000", "2000"], ["0", "2000"]]
    sides = [[n, n % 6 + 1, str(length)] for n, length in enumerate((1500, 1000, 1500, 1000, 3000, 2000), 1)]
    job = wall(panel={"width": None, "height": None, "outline": ring, "between": [*sides, [1, 5, "3590"]]}, job={"units": "mm"})
    plan = plan_job(read_job(job)).pieces[0]
    contour = plan.piece.surface.panels[0].contour
    at = contour.corners
    assert math.dist(at[0], at[4]) == pytest.approx(3590, abs=0.01)
    angle = math.acos((3000**2 + 2000**2 - 3590**2) / (2 * 3000 * 2000))
    (cx, cy), (ax, ay), (bx, by) = at[5], at[0], at[4]
    found = math.acos(((ax - cx) * (bx - cx) + (ay - cy) * (by - cy)) / math.dist(at[5], at[0]) / math.dist(at[5], at[4]))
    assert found == pytest.approx(angle, abs=1e-5)
    assert all(each.off_mm is None for each in contour.judged)  # seven distances, nine to make six corners rigid
    turned = wall(
        panel={
            "width": None,
            "height": None,
            "outline": ring,
            "between": [*sides, [1, 3, "1803"], [1, 4, "3162"], [2, 4, "1803"], [3, 6, "1803"], [1, 5, "3650"]],
        },
        job={"units": "mm"},
    )
    assert any("did you mean 3605" in each.message for each in plan_job(read_job(turned)).pieces[0].warnings)
    with pytest.raises(BadJob, match="6 corners"):
        read_job(wall(panel={"width": None, "height": None, "outline": ring, "between": [[1, 7, "10"]]}, job={"units": "mm"}))


@given(st.floats(20, 200), st.integers(1, 2), st.integers(600, 1500))
def test_an_s_curve_by_stations_is_as_long_as_the_sine_that_it_is(out, waves, wide):
    """Closed form: the length of a sine by the complete elliptic integral of the second kind (scipy)."""
    k = 2 * math.pi * waves / wide
    a2 = (out * k) ** 2
    exact = 4 * waves / k * math.sqrt(1 + a2) * ellipe(a2 / (1 + a2))
    stations = [
        [f"{x:.3f}", f"{out + out * math.sin(k * x):.3f}"] for x in (wide * n / (24 * waves) for n in range(24 * waves + 1))
    ]
    job = wall(panel={"width": None, "curve": {"stations": stations}}, job={"units": "mm"})
    [panel] = read_job(job).pieces[0].surface.panels
    assert float(panel.width_mm) == pytest.approx(exact, rel=2e-3)
