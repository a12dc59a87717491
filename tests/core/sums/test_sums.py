"""Sums against values worked out by hand and the check values of the trade (common practice, no source, where nothing else is said)."""

import math
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import read_length
from dividers.core.base.quantities import spoken
from dividers.core.job.drying import drying_factor
from dividers.core.sums.length_sums import LENGTH_SUMS
from dividers.core.sums.material_sums import MATERIAL_SUMS

SUMS = {each.key: each for each in (*LENGTH_SUMS, *MATERIAL_SUMS)}


def said(key, unit="in", **typed):
    return " ".join(SUMS[key].answer(typed, unit).said)


@pytest.mark.parametrize(
    ("key", "typed", "expected"),
    [
        ("divide", {"run": "119", "count": "4"}, "4 parts of 29 3/4 in"),
        ("divide", {"run": "119", "count": "4"}, "Mark at 29 3/4 in, 59 1/2 in, 89 1/4 in"),
        # 14 2/7 in read as 14 5/16: 6 times 3/112 is 9/56
        ("divide", {"run": "100", "count": "7"}, "stepping off would end up 3/16 in out"),
        ("on-point", {"side": "10"}, "Point to point 14 1/8 in; centre to point 7 1/16 in"),  # 14.142 and 7.071
        ("chevron", {"column": "12", "rise": "6", "part": "4"}, "moved 2 in of its 6 in"),
        ("chevron", {"column": "12", "rise": "5"}, "A leg is 13 in long and climbs at 22.6°"),  # 5-12-13
        ("square", {"width": "36", "height": "48", "one": "60"}, "The corner is square."),  # 3-4-5
        ("square", {"width": "36", "height": "48", "one": "62"}, "° more than square"),
        ("square", {"width": "36", "height": "48", "one": "58"}, "° less than square"),
        ("square", {"width": "36", "height": "48", "one": "60", "other": "60 1/4"}, "differ by 1/4 in"),
        ("square", {"width": "36", "height": "48", "one": "60"}, "27 in along one side, 36 in along the other, 45 in across"),
        ("centred", {"run": "12", "stripe": "1/16"}, "one side is 6 in, the other 5 15/16 in"),
        ("centred", {"run": "120", "stripe": "12"}, "54 in on each side: mark at 54 in and at 66 in"),
        ("strips", {"together": "9 1/4", "strips": "10"}, "23.50 mm"),  # 234.95 mm by ten is 23.495
        ("tape", {"length": "10 m", "lines": "12", "sides": "2", "waste": "10"}, "5 rolls"),  # 264 m of 55 m
        (
            "glaze",
            {"parts": "4 glaze, 1 paint", "width": "2 m", "height": "5 m", "waste": "0"},
            "1.00 L: 800 mL of glaze and 200 mL of paint",
        ),
        ("dew", {"temperature": "20 C", "humidity": "50"}, "The dew point is 9"),  # 9.3 °C, published tables
        ("dew", {"temperature": "20 C", "humidity": "95"}, "Warm the room, or wait"),
        ("dew", {"temperature": "20 C", "humidity": "50"}, "for the surface, which can be colder: measure it too"),
        ("dew", {"temperature": "20 C", "humidity": "50", "surface": "15 C"}, "so it may be painted"),
        ("dew", {"temperature": "20 C", "humidity": "50", "surface": "5 C"}, "The surface is 4.3 °C below it: water settles"),
        ("waits", {"paint": "wall paint", "temperature": "-10 F", "humidity": "50"}, "Nothing is painted in this air"),
        ("glaze", {"parts": "4 glaze + 1 paint", "width": "1 m", "height": "1 m"}, "of glaze and"),
    ],
)
def test_sums_come_out_as_by_hand(key, typed, expected):
    unit = "mm" if key in ("glaze", "dew") else "in"
    assert expected in said(key, unit, **typed)


def test_paint_is_area_by_coats_by_spread():
    """10 m² in two coats at 10 m²/L with 10 % waste are 2.2 L."""
    assert said("paint", "mm", width="4 m", height="2.5 m", coats="2", spread="10 m2/L").startswith("2.2")


def test_waits_grow_in_cold_damp_air_and_the_label_goes_first():
    warm, cold = (
        said("waits", "mm", paint="wall paint", temperature=t, humidity=h) for t, h in (("21 C", "50"), ("12 C", "80"))
    )
    assert warm != cold and "days" in cold
    factor = drying_factor("water", 21.0, 50.0)
    stated = said("waits", "mm", paint="wall paint", tape_safe="10 h")
    assert stated.startswith(f"Tape may go on it after {spoken(math.ceil(600 * factor))}.")


@pytest.mark.parametrize(
    ("key", "typed", "path"),
    [
        ("divide", {"count": "4"}, "run"),
        ("divide", {"run": "0", "count": "4"}, "run"),
        ("divide", {"run": "100", "count": "0"}, "count"),
        ("divide", {"run": "100", "count": "²"}, "count"),
        ("centred", {"run": "3", "stripe": "4"}, "stripe"),
        ("square", {"width": "3", "height": "4", "one": "8"}, "one"),
        ("chevron", {"column": "4", "rise": "2", "part": "5"}, "part"),
        ("glaze", {"parts": "four", "width": "1", "height": "1"}, "parts"),
        ("dew", {"temperature": "20 C", "humidity": "NaN"}, "humidity"),
        ("waits", {"paint": "custard"}, "paint"),
        ("waits", {"temperature": "hot"}, "temperature"),
        ("tape", {"length": "1 m", "lines": "2", "roll": "0"}, "roll"),
    ],
)
def test_what_does_not_work_is_told_at_its_question(key, typed, path):
    with pytest.raises(BadInput) as found:
        SUMS[key].answer(typed, "in")
    assert found.value.path == path and found.value.message


@given(st.integers(1, 40_000), st.integers(1, 200))
def test_the_parts_of_any_run_make_it_up_and_no_mark_is_further_off_than_half_a_graduation(sixteenths, count):
    run = Fraction(sixteenths, 16)
    answer = SUMS["divide"].answer({"run": str(run), "count": str(count)}, "in")
    assert answer.reading_mm * count == run * Fraction("25.4")
    for turn, (at, text) in enumerate(answer.marks, 1):
        assert at == pytest.approx(float(run) * 25.4 * turn / count)
        assert abs(float(read_length(text, "in").mm) - at) <= 25.4 / 32 + 1e-9


@given(st.floats(1, 400), st.floats(1, 400))
def test_a_diagonal_of_a_true_rectangle_is_called_square(width, height):
    typed = {"width": f"{width:.4f}", "height": f"{height:.4f}", "one": f"{math.hypot(round(width, 4), round(height, 4)):.6f}"}
    assert "The corner is square." in said("square", "cm", **typed)
