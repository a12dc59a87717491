"""What own figures propose, and what practice calls a slip."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dividers.core.base.lengths import GRADUATIONS, read_off
from dividers.core.logbook.proposals import Measured, Timed, Touched, drying_proposals, rate_proposals, width_proposals

PLANNED = {"taped_m_per_h": 60.0, "painted_m2_per_h": 8.0, "mark_min": 0.75}


def test_rates_are_proposed_by_the_middle_of_enough_tasks():
    slow = [Timed("taped_m_per_h", 20, 40), Timed("taped_m_per_h", 10, 19), Timed("taped_m_per_h", 30, 300)]
    (found,) = rate_proposals(slow, PLANNED)
    assert (found.key, found.present, found.proposed) == ("taped_m_per_h", "60", "30")
    assert rate_proposals(slow[:1], PLANNED) == []
    assert rate_proposals([Timed("taped_m_per_h", 30, 31)] * 4, PLANNED) == []  # near enough
    assert rate_proposals([Timed("taped_m_per_h", 1, 1.5)] * 9, PLANNED) == []  # too short to tell
    (marks,) = rate_proposals([Timed("mark_min", 10, 15)] * 2, PLANNED)
    assert marks.proposed == "1.5"


@pytest.mark.parametrize(
    ("touches", "proposed"),
    [
        ([(20, "dry")], "20 min"),
        ([(20, "dry"), (44, "dry")], "20 min"),
        ([(40, "dry")], None),
        ([(70, "tacky")], "77 min"),
        ([(70, "tacky"), (90, "dry"), (120, "dry")], "90 min"),
        ([(10, "wet"), (44, "tacky")], None),
    ],
)
def test_drying_lies_between_the_last_tacky_touch_and_the_first_dry_one(touches, proposed):
    found = drying_proposals([Touched("enamel", minutes, result, 1.0) for minutes, result in touches], {"enamel": 45.0})
    assert [each.proposed for each in found] == ([proposed] if proposed else [])


def test_touches_are_brought_back_to_the_labels_air():
    (found,) = drying_proposals([Touched("enamel", 60, "dry", 2.0)], {"enamel": 45.0})
    assert found.proposed == "30 min"


def test_widths_are_those_of_the_last_measurement():
    rolls = [Measured("tape", 10, Fraction(240)), Measured("tape", 10, Fraction(235)), Measured("other", 5, Fraction(90))]
    (found,) = width_proposals(rolls, {"tape": Fraction(24), "gone": Fraction(12)})
    assert (found.name, found.present, found.proposed) == ("tape", "24 mm", "23.5 mm")
    assert width_proposals([Measured("tape", 10, Fraction(2405, 10))], {"tape": Fraction(24)}) == []


@given(st.integers(1, 1919))
def test_slips_of_the_eye_are_never_the_reading_itself(sixteenths):
    from dividers.core.practice.exercises import _slips

    graduation = GRADUATIONS["1/16 in"]
    mm = sixteenths * graduation.step_mm
    slips = dict(_slips(mm, graduation))
    half = mm % Fraction(254, 10) == Fraction(127, 10)
    assert half or mm not in slips  # the middle of an inch reads alike from both ends
    assert mm + Fraction(254, 10) in slips
    assert read_off(mm, graduation).text
