"""Reading and writing lengths."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import (
    GRADUATIONS,
    Graduation,
    read_graduation,
    read_length,
    read_off,
    rewrite,
    write_exact,
    write_inches,
)
from dividers.core.base.units import INCH_MM

IN = INCH_MM


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("29 3/4", Fraction(119, 4) * IN),
        ("29-3/4 in", Fraction(119, 4) * IN),
        ("29 - 3/4", Fraction(119, 4) * IN),
        ('29.75"', Fraction(119, 4) * IN),
        ("9' 11 3/4\"", Fraction(479, 4) * IN),
        ("9′ 11¾″", Fraction(479, 4) * IN),
        ("9'-11 3/4\"", Fraction(479, 4) * IN),
        ("9 ft 11 in", 119 * IN),
        ("9 feet 11 inches", 119 * IN),
        ("9'", 108 * IN),
        ("11⅞", Fraction(95, 8) * IN),
        ("⅞ in.", Fraction(7, 8) * IN),
        ("3''", 3 * IN),
        ("2.4 m", 2400),
        ("2,4m", 2400),
        ("755 mm", 755),
        ("75,5 cm", 755),
        (".5", IN / 2),
        (29.75, Fraction(119, 4) * IN),
        (119, 119 * IN),
        (0.1, IN / 10),
    ],
)
def test_what_people_write_is_read_exactly(text, mm):
    assert read_length(text, "in").mm == mm


@pytest.mark.parametrize("unit,mm", [("in", IN), ("cm", 10), ("mm", 1)])
def test_a_bare_number_is_in_the_jobs_unit(unit, mm):
    assert read_length("7", unit).mm == 7 * mm


@pytest.mark.parametrize(
    "text",
    ["", "  ", "5 apples", "-3", "−3", "1/0", "4 1/0", "NaN", "nan", "inf", "1e9", "10^9", "29 5/4", "9' 13\"", "3 4", "1.2.3",
     "1/2/3", "x" * 40_000, "1000000000", 10**9, 10**400, float("nan"), float("inf"), True, None, [], "٣", "12 mm 3"],
)  # fmt: skip
def test_what_cannot_be_read_is_refused_with_what_can(text):
    with pytest.raises(BadInput) as caught:
        read_length(text, "in")
    assert len(caught.value.message) > 20


@given(st.integers(0, 100_000), st.sampled_from(sorted(GRADUATIONS)), st.booleans())
def test_what_a_tape_shows_reads_back_as_itself(steps, name, feet):
    graduation = GRADUATIONS[name].in_unit("cm" if steps % 2 else "mm", feet)
    mm = steps * graduation.step_mm
    if mm > 90_000:
        mm %= 90_000
        mm -= mm % graduation.step_mm
    shown = read_off(mm, graduation)
    assert shown.error_mm == 0
    assert read_length(shown.text, "mm").mm == mm


@given(st.fractions(0, 90_000), st.sampled_from(sorted(GRADUATIONS)))
def test_rounding_moves_a_reading_at_most_half_a_graduation(mm, name):
    graduation = GRADUATIONS[name]
    shown = read_off(mm, graduation)
    assert abs(shown.error_mm) <= graduation.step_mm / 2
    assert shown.rounded_mm - mm == shown.error_mm
    assert read_length(shown.text, "in").mm == shown.rounded_mm


def test_a_half_graduation_goes_up():
    assert read_off(Fraction(1, 2), GRADUATIONS["1 mm"]).text == "1 mm"


@pytest.mark.parametrize(
    ("inches", "graduation", "text"),
    [
        (Fraction(59, 2), Graduation(IN / 16, "in"), "29 1/2 in"),
        (Fraction(3, 4), Graduation(IN / 16, "in"), "3/4 in"),
        (Fraction(0), Graduation(IN / 16, "in"), "0 in"),
        (Fraction(479, 4), Graduation(IN / 16, "in", feet=True), "9' 11 3/4\""),
        (Fraction(10), Graduation(Fraction(1), "cm"), "25.4 cm"),
        (Fraction(10), Graduation(Fraction(1, 2), "mm"), "254.0 mm"),
    ],
)
def test_readings_are_written_as_the_tape_shows_them(inches, graduation, text):
    assert read_off(inches * IN, graduation).text == text


def test_sizes_that_are_no_fraction_say_so():
    assert write_exact(Fraction(1000, 3), "mm") == "≈ 333.333 mm"
    assert write_exact(Fraction(119, 4) * IN, "in") == "29 3/4 in"


@given(st.fractions(0, 3000, max_denominator=64), st.sampled_from(["in", "cm", "mm"]), st.sampled_from(["in", "cm", "mm"]))
def test_changing_the_unit_keeps_every_length(value, old, new):
    before = read_length(write_inches(value * IN), old)
    assert read_length(rewrite(before, old, new), new).mm == before.mm


def test_an_unknown_graduation_is_refused_with_the_known_ones():
    with pytest.raises(BadInput, match="1/16 in"):
        read_graduation("1/10 in")
