"""Evidence against scipy's beta distribution; lift classes against ASTM D3359 (from memory)."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from dividers.core.base.errors import BadInput
from dividers.core.job.edge_counts import Count, FoundEdges, Substrate, count_up
from dividers.core.risk.evidence import MOST_SHIFT, chance_of, prior_chance
from dividers.core.risk.lift import LIFT_WORDS, lift_class


@given(st.integers(0, 12), st.integers(0, 60), st.integers(0, 60))
def test_a_chance_is_beta_distributed_with_each_strip_counted_once(points, clean, other):
    chance = chance_of(points, Count(clean, clean + other))
    prior = prior_chance(points)
    a, b = 4 * prior + clean, 4 * (1 - prior) + other
    assert chance.mean == pytest.approx(stats.beta.mean(a, b))
    low, high = chance.interval
    assert (low, high) == pytest.approx(stats.beta.interval(0.8, a, b), abs=1e-6)


@given(st.integers(0, 12), st.integers(0, 40), st.integers(0, 40))
def test_clean_strips_lower_the_points_and_bled_ones_raise_them(points, clean, other):
    shift = chance_of(points, Count(clean, clean + other)).shift
    assert abs(shift) <= MOST_SHIFT
    assert chance_of(points, None).shift == 0
    assert chance_of(points, Count(clean + other, clean + other)).shift <= 0 <= chance_of(points, Count(0, clean + other)).shift
    assert chance_of(points, Count(clean + 1, clean + other + 1)).mean > chance_of(points, Count(clean, clean + other + 1)).mean


def test_one_round_counts_as_ten_strips_at_most():
    ground, other = Substrate("rough", "delicate", True, "caulk"), Substrate("rough", "delicate", True, "none")
    counts = count_up([FoundEdges(ground, 21, 24), FoundEdges(ground, 3, 4), FoundEdges(other, 0, 1)])
    assert counts == {ground: Count(9 + 3, 14, 2), other: Count(0, 1, 1)}


# ASTM D3359 (from memory): 5B none; 4B less than 5 %; 3B 5 to 15; 2B 15 to 35; 1B 35 to 65; 0B more than 65.
@pytest.mark.parametrize(
    ("percent", "name"),
    [
        (0, "5B"),
        (0.1, "4B"),
        (4.9, "4B"),
        (5, "3B"),
        (14.9, "3B"),
        (15, "2B"),
        (34.9, "2B"),
        (35, "1B"),
        (65, "1B"),
        (65.1, "0B"),
        (100, "0B"),
    ],
)
def test_lift_classes_have_the_standards_ranges(percent, name):
    assert lift_class(percent) == name


def test_more_than_all_can_not_come_off():
    assert list(LIFT_WORDS) == ["5B", "4B", "3B", "2B", "1B", "0B"]
    for percent in (-1, 100.5):
        with pytest.raises(BadInput, match="allowed are 0 to 100"):
            lift_class(percent)
