import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dividers.core.base.errors import BadInput
from dividers.core.geometry.homography import homography

jitter = st.floats(-120, 120)


@st.composite
def quads(draw):
    return tuple((x + draw(jitter), y + draw(jitter)) for x, y in ((300, 250), (1300, 250), (1300, 950), (300, 950)))


@given(quads(), st.floats(100, 9000), st.floats(100, 6000))
def test_corners_go_where_they_were_put_and_lines_stay_straight(corners, width, height):
    look = homography(width, height, corners)
    own = np.array([(0, 0), (width, 0), (width, height), (0, height)], float)
    assert look.at(own) == pytest.approx(np.array(corners), abs=1e-6)
    run = np.linspace(0, 1, 7)[:, None]
    a, b, *_, c = look.at((1 - run) * own[0] + run * own[2])
    assert abs((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])) < 1e-5 * np.hypot(*(c - a)) ** 2
    middle = look.at(own.mean(axis=0)[None])[0]  # where the diagonals cross, there and here
    (p, r), (q, s) = (corners[0], corners[2]), (corners[1], corners[3])
    for one, other in ((p, r), (q, s)):
        d = np.subtract(other, one)
        assert abs(d[0] * (middle[1] - one[1]) - d[1] * (middle[0] - one[0])) < 1e-6 * np.hypot(*d) ** 2


@given(quads())
def test_it_is_the_matrix_that_the_null_space_gives(corners):
    """The direct linear transformation by singular values, as textbooks have it (from memory)."""
    rows = []
    for (x, y), (u, v) in zip(((0, 0), (4, 0), (4, 3), (0, 3)), corners, strict=True):
        rows += [[-x, -y, -1, 0, 0, 0, u * x, u * y, u], [0, 0, 0, -x, -y, -1, v * x, v * y, v]]
    null = np.linalg.svd(np.array(rows, float))[2][-1].reshape(3, 3)
    assert np.array(homography(4, 3, corners).matrix) == pytest.approx(null / null[2, 2], rel=1e-6, abs=1e-6)


@pytest.mark.parametrize(
    "corners",
    [
        ((0, 0), (0, 100), (100, 100), (100, 0)),  # the wrong way round
        ((0, 0), (100, 0), (40, 20), (0, 100)),  # one folds in
        ((0, 0), (50, 0), (100, 0), (0, 100)),  # three on a line
        ((0, 0), (5000, 0), (10000, 1), (0, 10000)),  # three all but on a line
        ((0, 0), (0, 0), (100, 100), (0, 100)),  # two on one
    ],
)
def test_corners_of_no_view_are_refused(corners):
    with pytest.raises(BadInput, match="clockwise round the panel from its top left"):
        homography(100, 100, corners)
