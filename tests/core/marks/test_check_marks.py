"""What was found after marking: which mark is off, whether all are, and where they go with the error shared out."""

from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall

from dividers.core.base.lengths import GRADUATIONS
from dividers.core.base.units import INCH_MM
from dividers.core.job.surface import Marked
from dividers.core.job_file.job_reader import read_job
from dividers.core.marks.check_marks import check_diagonals, check_line, share_out
from dividers.core.plan.plan import plan_job

SIXTEENTH = GRADUATIONS["1/16 in"]


def top_edge(count=6, **pattern):
    plan = plan_job(read_job(wall(pattern={"count": count} | pattern))).pieces[0]
    marks = [(f"m{n}", mark) for n, mark in enumerate(plan.marks, 1) if mark.line == "top edge"]
    return sorted(marks, key=lambda pair: pair[1].reading.rounded_mm)


def check(found, **pattern):
    marks = top_edge(**pattern)
    given = [None if inches is None else Fraction(inches) * INCH_MM for inches in found]
    return check_line(marks, given, SIXTEENTH, "in", Fraction(0))


def test_marks_that_are_right_are_left_alone():
    found = check(["20", "40", None, "80", "100"])
    assert not any(row.bad for row in found.rows)
    assert found.said == ()


def test_one_mark_off_is_named_with_the_mistake():
    found = check(["20", "41", "60", "80", "100"])
    assert [row.bad for row in found.rows] == [False, True, False, False, False]
    assert found.rows[1].said == "1 in too far (one inch off)"
    assert not any(row.shared for row in found.rows)  # that mark is made again, not shared out


def test_all_marks_off_alike_tell_of_the_hook():
    found = check([Fraction(n * 20) - Fraction(1, 4) for n in range(1, 6)])
    assert "1/4 in too near" in found.said[0]
    assert not any(row.bad for row in found.rows)


def test_an_error_that_grows_tells_of_stepping_off():
    found = check([Fraction(n * 20) + Fraction(n, 8) for n in range(1, 6)])
    assert "grows along the line, to 5/8 in at its end: the marks were stepped off" in found.said[0]
    assert [row.shared for row in found.rows] == ["20 1/8 in", "40 1/4 in", "60 3/8 in", "80 1/2 in", "100 5/8 in"]


@given(st.integers(3, 12), st.fractions(Fraction(1, 4), Fraction(3)), st.data())
def test_a_lone_mark_off_is_the_one_named(count, inches, data):
    marks = top_edge(count=count)
    bad = data.draw(st.integers(0, len(marks) - 1))
    found = [mark.reading.rounded_mm for _, mark in marks]
    found[bad] += inches * INCH_MM
    rows = check_line(marks, found, SIXTEENTH, "in", Fraction(0)).rows
    assert rows[bad].bad or len(marks) < 3
    assert [row.bad for number, row in enumerate(rows) if number != bad] == [False] * (len(rows) - 1)


@pytest.mark.parametrize(("band", "side"), [("12", "4 3/4"), ("11 7/8", "4 11/16")])
def test_a_pinstripe_keeps_its_width_and_the_error_is_shared_from_the_centre(band, side):
    """Common practice, no source: 2 1/2 in centred in 12 in leaves 4 3/4 in, in a band found to be 11 7/8 in 4 11/16 in."""
    inches = sum(Fraction(part) for part in band.split())
    runs = [Fraction(n) * INCH_MM for n in (Fraction(0), Fraction(19, 4), Fraction(29, 4), Fraction(12))]
    shared = share_out(runs, [Fraction(0), None, None, inches * INCH_MM], Fraction(5, 2) * INCH_MM)
    left = sum(Fraction(part) for part in side.split())
    assert [mm / INCH_MM for mm in shared] == [0, left, left + Fraction(5, 2), inches]


@given(st.lists(st.integers(1, 400), min_size=2, max_size=8), st.integers(-40, 40))
def test_sharing_keeps_the_ends_found_and_the_order(steps, off):
    runs = [Fraction(sum(steps[:n])) for n in range(len(steps) + 1)]
    end = max(runs[-1] + off, Fraction(1))
    shared = share_out(runs, [Fraction(0), *([None] * (len(runs) - 2)), end], Fraction(0))
    assert (shared[0], shared[-1]) == (0, end)
    assert all(after > before for before, after in pairwise(shared))


@pytest.mark.parametrize(("lean", "words"), [(0, "right"), (1, "too far to the right"), (-1, "too far to the left")])
def test_diagonals_tell_how_marks_lean(lean, words):
    """A field 120 x 96 in whose bottom marks sit an inch off: diagonals by Pythagoras."""
    panel = read_job(wall()).pieces[0].surface.panels[0]
    diagonals = [Fraction(((120 + way * lean) ** 2 + 96**2) ** 0.5).limit_denominator(10**6) * INCH_MM for way in (1, -1)]
    said = check_diagonals(panel, Marked({}, tuple(diagonals)), SIXTEENTH)
    assert words in said[0]
    assert not lean or "1 in" in said[0]
