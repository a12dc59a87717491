"""Readings as people say them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dividers.core.base.aloud import ONES, TENS, number_said, reading_said


@pytest.mark.parametrize(
    ("written", "said"),
    [
        ("46 9/16 in", "forty-six and nine sixteenths"),
        ("12 in", "twelve"),
        ("1/2 in", "a half"),
        ("3 1/8 in", "three and an eighth"),
        ("0 in", "zero"),
        ("9' 11 3/4\"", "nine feet eleven and three quarters"),
        ("1' 0\"", "one foot zero"),
        ("755 mm", "seven hundred fifty-five millimetres"),
        ("1 mm", "one millimetre"),
        ("75.5 cm", "seventy-five point five centimetres"),
        ("2400 mm", "two thousand four hundred millimetres"),
        ("left of the line", "left of the line"),
    ],
)
def test_readings_are_said_as_on_site(written, said):
    assert reading_said(written) == said


@given(st.integers(0, 99_999))
def test_a_number_in_words_is_that_number(number):
    values = {word: at for at, word in enumerate(ONES)} | {word: 10 * at for at, word in enumerate(TENS) if word}
    total = part = 0
    for word in number_said(number).replace("-", " ").split():
        if word == "thousand":
            total, part = part * 1000, 0
        elif word == "hundred":
            part *= 100
        else:
            part += values[word]
    assert total + part == number
