"""Lengths and quantities against tables from outside the project."""

from fractions import Fraction

import pytest
from jobs import wall

from dividers.core.base.lengths import read_length
from dividers.core.base.quantities import read_celsius, read_minutes, read_spread
from dividers.core.base.units import INCH_MM, SQUARE_FOOT_M2, US_GALLON_L
from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job

# Decimal equivalents of inch fractions: the machinists' handbook table, from memory.
DECIMAL_EQUIVALENTS = {
    "1/64": "0.015625", "1/32": "0.03125", "3/64": "0.046875", "1/16": "0.0625", "5/64": "0.078125", "3/32": "0.09375",
    "7/64": "0.109375", "1/8": "0.125", "9/64": "0.140625", "5/32": "0.15625", "3/16": "0.1875", "7/32": "0.21875",
    "1/4": "0.25", "9/32": "0.28125", "5/16": "0.3125", "11/32": "0.34375", "3/8": "0.375", "13/32": "0.40625",
    "7/16": "0.4375", "15/32": "0.46875", "1/2": "0.5", "17/32": "0.53125", "9/16": "0.5625", "5/8": "0.625",
    "11/16": "0.6875", "3/4": "0.75", "13/16": "0.8125", "7/8": "0.875", "15/16": "0.9375", "63/64": "0.984375",
}  # fmt: skip


@pytest.mark.parametrize(("fraction", "decimal"), DECIMAL_EQUIVALENTS.items())
def test_inch_fractions_equal_their_decimals(fraction, decimal):
    assert read_length(fraction, "in").mm == read_length(decimal, "in").mm


def test_units_are_exact():
    """NIST SP 811, from memory: inch, foot, yard and US gallon."""
    assert read_length("1 in", "mm").mm == Fraction("25.4")
    assert read_length("1 ft", "mm").mm == Fraction("304.8")
    assert read_length("1 yd", "mm").mm == Fraction("914.4")
    assert Fraction("3.785411784") == US_GALLON_L
    assert Fraction("0.09290304") == SQUARE_FOOT_M2


def test_a_gallon_covers_1604_square_feet_a_mil_thick():
    """Coverage identity: 231 in3 spread 0.001 in thick, common to paint handbooks."""
    assert round(US_GALLON_L * 1_000_000 / (INCH_MM / 1000) / 1_000_000 / SQUARE_FOOT_M2) == 1604


@pytest.mark.parametrize(("columns", "width", "marks"), [(4, "119", ["29 3/4 in", "59 1/2 in", "89 1/4 in"])])
def test_equal_columns_close(columns, width, marks):
    """Common practice, no source: 119 in in 4 columns makes 29 3/4 in, and 5 verticals close them."""
    plan = plan_job(read_job(wall(panel={"width": width}, pattern={"count": columns}))).pieces[0]
    read = [mark.reading.text for mark in sorted(plan.marks, key=lambda mark: mark.x) if mark.line == "top edge"]
    assert read == marks


def test_equal_rows_close():
    """Common practice, no source: 95 in in 8 rows makes 11 7/8 in."""
    plan = plan_job(read_job(wall(panel={"height": "95"}, pattern={"direction": "horizontal", "count": 8}))).pieces[0]
    read = [mark.reading.text for mark in sorted(plan.marks, key=lambda mark: mark.y) if mark.line == "left edge"]
    assert read[0] == "11 7/8 in"
    assert len(read) == 7


def test_a_right_triangle_taped_26_by_26_has_45_degree_ends():
    """Common practice, no source: the corner cut off by a stripe at 45 degrees, 26 in along the top and 26 in down."""
    job = wall(panel={"width": "52", "height": "52"}, pattern={"direction": 45, "count": 4, "colors": ["ink", None]})
    plan = plan_job(read_job(job)).pieces[0]
    first = sorted((mark.x, mark.y) for mark in plan.marks if mark.reading.text == "26 in")
    assert (0.0, pytest.approx(26 * 25.4)) in first
    assert (pytest.approx(26 * 25.4), 0.0) in first


@pytest.mark.parametrize(
    ("read", "text", "value"),
    [
        (read_minutes, "30 min", 30),
        (read_minutes, "1,5 h", 90),
        (read_minutes, "14 d", 14 * 1440),
        (read_spread, "9 m2/L", 9),
        (read_spread, "400 ft2/gal", 400 * SQUARE_FOOT_M2 / US_GALLON_L),
        (read_celsius, "21 C", 21),
        (read_celsius, "77 F", 25),
    ],
)
def test_quantities_of_labels_are_read_exactly(read, text, value):
    assert read(text) == value
