"""Dividing a run: against brute force on exact fractions, and against the theory of rounding."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall

from dividers.core.advice.fit.counts import NEAR, candidates, divisions_of, rating, reason, steps_on_marks
from dividers.core.base.lengths import GRADUATIONS, read_length
from dividers.core.job_file.job_reader import read_job
from dividers.core.survey.sheet import sheets_of

SIXTEENTH = GRADUATIONS["1/16 in"]


@given(st.integers(20, 200_000), st.integers(0, 500), st.integers(1, 60), st.sampled_from(list(GRADUATIONS.values())))
def test_running_dimensions_are_off_by_half_a_graduation_at_most_and_stepping_off_by_so_many(run, start, count, graduation):
    """Running dimensions from one datum against chained ones (ISO 129, from memory): errors don't add up, or do."""
    low, high = Fraction(start, 7), Fraction(start, 7) + Fraction(run, 13)
    for candidate in candidates(low, high, count, ("ink", None), (), graduation, 1000):
        half = graduation.step_mm / 2
        assert candidate.running_mm <= half
        assert abs(candidate.stepping_mm) <= (candidate.count - 1) * half
        stepped = read_length(candidate.reading.text, "in").mm * (candidate.count - 1)
        true = (high - low) / candidate.count * (candidate.count - 1)
        assert candidate.stepping_mm == stepped - true
        assert candidate.on_marks == (read_length(candidate.reading.text, "in").mm == candidate.size_mm)


@given(
    st.integers(100, 4000),
    st.integers(2, 30),
    st.lists(st.integers(1, 3999), max_size=4),
    st.lists(st.sampled_from(["ink", "madder", None]), max_size=4),
)
def test_parts_and_ends_are_what_counting_gives(run, count, sides, colors):
    """Sides and repeats on a grid of 1 mm: every line is drawn, and what is left beside it looked at."""
    found = candidates(
        Fraction(0), Fraction(run), count, tuple(colors), [Fraction(s) for s in sides], GRADUATIONS["1 mm"], 1000
    )
    assert sorted(c.count for c in found) == list(range(max(1, count - NEAR), count + NEAR + 1))
    for candidate in found:
        lines = [Fraction(run) * n / candidate.count for n in range(candidate.count + 1)]
        gaps = [abs(line - side) for side in sides if side < run for line in lines if 0 < abs(line - side) < candidate.size_mm]
        assert candidate.part_mm == min(gaps, default=None)
        turns = colors * candidate.count
        assert candidate.ends_match == (turns[0] == turns[candidate.count - 1] if colors else None)


def test_a_count_near_the_wish_that_lies_on_the_marks_comes_first():
    """Common practice, no source: 119 in make 4 of 29 3/4 in, which a tape measure shows; 5 would be 23 4/5."""
    job = read_job(wall(panel={"width": "119"}, pattern={"count": 4}))
    [division] = divisions_of(job, job.pieces[0], sheets_of(job.pieces[0].surface)[0])
    assert division.candidates[0].count == 4
    by_count = {candidate.count: candidate for candidate in division.candidates}
    assert (by_count[4].on_marks, by_count[5].on_marks, by_count[7].on_marks) == (True, False, True)
    assert reason(by_count[4], SIXTEENTH) == "29 3/4 in lies on the tape's marks. The ends differ."
    assert "stepping off would end up 1/16 in out" in reason(by_count[5], SIXTEENTH)


@pytest.mark.parametrize(
    ("pattern", "keys"),
    [
        ({"kind": "stripes", "direction": "horizontal", "count": 5}, {"count": 96}),
        ({"kind": "stripes", "direction": 30, "count": 5}, {}),
        ({"kind": "stripes", "count": None, "widths": ["7"]}, {}),
        ({"kind": "brick", "direction": None, "count": None, "course": "5", "length": "11"}, {"length": 120, "course": 96}),
        ({"kind": "diamonds", "direction": None, "count": None, "columns": 5, "rows": 3}, {"columns": 120, "rows": 96}),
        (
            {"kind": "chevron", "direction": None, "count": None, "columns": 5, "rise": "7", "band": "9"},
            {"columns": 120, "band": 96},
        ),
    ],
)
def test_counts_divide_the_run_that_they_count(pattern, keys):
    job = read_job(wall(pattern=pattern))
    found = divisions_of(job, job.pieces[0], sheets_of(job.pieces[0].surface)[0])
    assert {d.parameter.key: d.run_mm / Fraction("25.4") for d in found} == keys


@pytest.mark.parametrize(
    ("width", "count", "shown", "words"),
    [
        ("120", 6, 6, "on the marks"),
        ("120", 7, 7, "off the marks by 1/64 in"),  # 17 1/7 in lies 1/56 in beside 17 1/8 in
        ("120", 6, 4, "far from your size"),
        ("95 1/8192", 1, 1, "off the marks by less than 1/64 in"),
    ],
)
def test_a_count_is_rated_by_what_the_tape_measure_shows(width, count, shown, words):
    job = read_job(wall(panel={"width": width}, pattern={"count": count}))
    [division] = divisions_of(job, job.pieces[0], sheets_of(job.pieces[0].surface)[0])
    candidate = next(each for each in division.candidates if each.count == shown)
    assert rating(candidate, division, SIXTEENTH) == words


def test_a_size_that_repeats_has_the_counts_near_it_best_first():
    """Courses of bricks: 96 in by 5 in is no whole number; 16 of 6 in lie on the marks and come out."""
    document = wall(pattern={"kind": "brick", "direction": None, "count": None, "course": "5", "length": "10"})
    job = read_job(document)
    found = {d.parameter.key: d for d in divisions_of(job, job.pieces[0], sheets_of(job.pieces[0].surface)[0])}
    course, length = found["course"], found["length"]
    assert course.count == 19 and not any(course.is_present(each) for each in course.candidates)  # 19 of 5 1/19 in
    assert [each.count for each in length.candidates if length.is_present(each)] == [12]  # 120 in by 10 in as it is
    [even] = [each for each in course.candidates if each.on_marks]
    assert (even.count, even.reading.text) == (16, "6 in")
    assert all(each.size_mm * each.count == course.run_mm for each in course.candidates)


def test_a_step_is_no_leap():
    """86 1/2 in has no count on the marks between 13 and 26 (it is 8 x 173 sixteenths): of 14 to 17 it is 14, nearest beside them."""
    job = read_job(wall(panel={"width": "86 1/2"}, pattern={"count": 13}))
    [division] = divisions_of(job, job.pieces[0], sheets_of(job.pieces[0].surface)[0])
    bolder, finer = steps_on_marks(division, job.graduation)
    assert (bolder.count, finer.count) == (8, 14)


@pytest.mark.parametrize(("count", "bolder", "finer"), [(5, 4, 6), (7, 6, 8), (1, None, 2)])
def test_bolder_and_finer_step_to_counts_on_the_marks(count, bolder, finer):
    """120 in: 4, 5, 6, 8 parts are 30, 24, 20 and 15 in; 7 parts lie beside the marks."""
    job = read_job(wall(pattern={"count": count}))
    [division] = divisions_of(job, job.pieces[0], sheets_of(job.pieces[0].surface)[0])
    steps = steps_on_marks(division, job.graduation)
    assert [step and step.count for step in steps] == [bolder, finer]
    assert all(step is None or step.on_marks for step in steps)
