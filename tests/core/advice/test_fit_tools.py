"""Keeping sizes, borders that divide, shared repeats, lines that hit, repeats that begin elsewhere: against brute force and the drawing."""

from fractions import Fraction
from itertools import product

import numpy as np
import pytest
from budget import examples
from hypothesis import assume, given
from hypothesis import strategies as st
from jobs import sixteenths, wall

from dividers.core.advice.fit.border import BorderWish, find_borders
from dividers.core.advice.fit.counts import runs_of
from dividers.core.advice.fit.fit_choices import border_choices, corners_said, hit_choices, shared_choices
from dividers.core.advice.fit.hits import MustHit, find_hits
from dividers.core.advice.fit.shared_runs import shared_sizes
from dividers.core.advice.fit.sizes import choosers
from dividers.core.job.document import changed
from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job

MM = Fraction(1)
KINDS = [
    {"kind": "stripes", "direction": "vertical", "widths": ["7 1/2"]},
    {"kind": "stripes", "direction": "horizontal", "count": 9},
    {"kind": "checker", "columns": 11, "rows": 7},
    {"kind": "checker", "size": "8 1/4"},
    {"kind": "diamonds", "width": "13", "height": "9 1/2"},
    {"kind": "chevron", "columns": 7, "rise": "6", "band": "5"},
    {"kind": "chevron", "column": "14 1/2", "rise": "6", "band": "5"},
    {"kind": "plaid", "upright": ["4", "3 1/4"]},
    {"kind": "triangles", "width": "12", "height": "9"},
]


def tools(pattern, panel=None, **more):
    job = wall(pattern={"direction": None, "count": None} | pattern, panel=panel or {}, **more)
    read = read_job(job)
    plan = plan_job(read).pieces[0]
    sheet = plan.layouts[0].sheet
    found = choosers(read, plan.piece, sheet, runs_of(plan.piece, sheet))
    return job, {chooser.run.axis: chooser for chooser in found}


def lines_at(job, axis):
    """Where cells have corners along an axis, in inches, from the drawing."""
    layout = plan_job(read_job(job)).pieces[0].layouts[0]
    return np.unique(np.round(layout.cells.points[:, 0 if axis == "across" else 1] / 25.4, 4))


def used(job, choice):
    return changed(job, {f"pieces.0.{path}": value for path, value in choice.changes.items()})


@pytest.mark.parametrize("pattern", KINDS)
@examples(12)
@given(begins=sixteenths(0, 16 * 40))
def test_a_repeat_begins_where_it_is_told_to(pattern, begins):
    """Without an origin a repeat begins at the field's edge; with one, the same lines lie so much further, in the drawing itself."""
    job, by_axis = tools(pattern)
    for axis, chooser in by_axis.items():
        size = float(chooser.run.size_mm) / 25.4
        moved = changed(job, {f"pieces.0.pattern.{chooser.run.origin_key}": begins})
        begin = sum(float(Fraction(part)) for part in begins.split())
        plain, after = lines_at(job, axis), lines_at(moved, axis)
        most = float(chooser.run.length) / 25.4
        for line in after[(after > 0.01) & (after < most - 0.01)]:
            back = (line - begin) % size
            assert np.abs((plain - back + size / 2) % size - size / 2).min() < 2e-3 or len(plain) <= 2


@pytest.mark.parametrize("pattern", KINDS)
@pytest.mark.parametrize("what", ["size", "count", "tape"])
def test_every_choice_can_be_used_and_does_what_it_says(pattern, what):
    job, by_axis = tools(pattern)
    for axis, chooser in by_axis.items():
        both_ways = chooser.run.sized and chooser.run.sized.repeats == "both" and axis == "down" and chooser.run.count
        if what != "count" and (chooser.run.sized is None or both_ways):
            continue
        found = chooser.keep(what)
        assert found
        assert [choice.demerit for choice in found] == sorted(choice.demerit for choice in found)
        for choice in found:
            plan = plan_job(read_job(used(job, choice))).pieces[0]
            run = {run.axis: run for run in runs_of(plan.piece, plan.layouts[0].sheet)}[axis]
            rest = run.length % run.size_mm
            if choice.title.startswith(("Comes", "Stretch", "Squeeze", "As it", "Into a border")) or "border" in choice.title:
                assert rest == 0
            if what == "tape":
                assert run.size_mm % plan.piece.method.tape.width_mm == 0
            if what == "size" and not choice.title.startswith(("Stretch", "Squeeze")):
                assert run.size_mm == chooser.run.size_mm


def test_a_centred_remainder_is_alike_at_both_ends():
    job, by_axis = tools({"kind": "stripes", "direction": "vertical", "widths": ["9"]}, {"width": "100"})
    [centred] = [choice for choice in by_axis["across"].keep("size") if choice.title == "Centre it"]
    lines = lines_at(used(job, centred), "across")
    assert lines[1] == pytest.approx(5)  # 100 = 11 x 9 + 1: half an inch at both ends is a slice, so half a stripe more
    assert 100 - lines[-2] == pytest.approx(5)


def test_a_small_remainder_is_stretched_unseen():
    """Common practice, no source: what is left within about half an inch can be stretched into the repeats."""
    _, by_axis = tools({"kind": "stripes", "direction": "vertical", "widths": ["8"]}, {"width": "120 3/8"})
    best = by_axis["across"].keep("size")[0]
    assert best.title == "Stretch it"
    assert "3/8 in in all, which nobody sees" in best.why


STEPS = [Fraction(10), Fraction(5), Fraction(1)]


@given(
    st.integers(100, 400),
    st.integers(100, 400),
    st.integers(0, 30),
    st.integers(0, 40),
    st.booleans(),
    st.booleans(),
    st.booleans(),
)
@examples(20)
def test_borders_are_those_that_trying_every_one_finds(width, height, least, more, square, even, rows):
    wish = BorderWish(Fraction(least), Fraction(least + more), (3, 8), (2, 6) if rows else None, square, even)
    found = find_borders(Fraction(width), Fraction(height), wish, STEPS, Fraction(width, 6))
    pairs = {(each.columns, each.rows) for each in found}
    possible = set()
    for columns, wide in product(range(3, 9), range(1, width + 1)):
        across = Fraction(width - columns * wide, 2)
        if not wish.least <= across <= wish.most:
            continue
        if not rows:
            possible.add((columns, None))
            continue
        for many, high in product(range(2, 7), [wide] if square else range(1, height + 1)):
            down = Fraction(height - many * high, 2)
            if wish.least <= down <= wish.most and (not even or down == across):
                possible.add((columns, many))
    assert pairs <= possible
    assert len(pairs) == min(len(possible), 12)
    for each in found:
        assert each.columns * each.wide_mm + 2 * each.across_mm == width
        assert each.rows is None or each.rows * each.high_mm + 2 * each.down_mm == height


@given(
    st.integers(200, 5000),
    st.integers(20, 900),
    st.lists(st.tuples(st.integers(0, 5000), st.booleans()), min_size=1, max_size=3),
)
def test_what_is_said_to_hit_does(run, size, places):
    assume(size < run)
    wishes = [MustHit("it", Fraction(at), middle) for at, middle in places if at <= run]
    assume(wishes)
    found = find_hits(Fraction(run), Fraction(size), wishes, MM)
    assert found
    for hit in found:
        lines = [hit.begins_mm + hit.size_mm * n for n in range(-2, int(run / hit.size_mm) + 3)]
        for wish, miss in zip(wishes, hit.misses, strict=True):
            targets = [line + hit.size_mm / 2 for line in lines] if wish.middle else lines
            assert min(abs(target - wish.at_mm) for target in targets) == abs(miss)
    if len(wishes) == 1:
        assert any(hit.misses == (0,) for hit in found)


def test_a_line_on_both_edges_of_a_door_is_found_and_drawn():
    door = {"name": "door", "left": "41", "top": "16", "width": "33", "height": "80"}
    job, by_axis = tools({"kind": "stripes", "direction": "vertical", "widths": ["8"]}, {"openings": [door]})
    wishes = [MustHit("left", Fraction("41") * Fraction("25.4")), MustHit("right", Fraction("74") * Fraction("25.4"))]
    best = hit_choices(by_axis["across"], wishes)[0]
    assert best.why.startswith("Every line hits its place exactly.")
    lines = lines_at(used(job, best), "across")
    assert np.abs(lines - 41).min() < 1e-3
    assert np.abs(lines - 74).min() < 1e-3
    assert "8 1/4 in each" in best.title


@given(st.lists(st.integers(300, 5000), min_size=2, max_size=5), st.integers(40, 300))
def test_shared_sizes_count_their_rests_rightly(lengths, wish):
    found = shared_sizes([(str(n), Fraction(mm)) for n, mm in enumerate(lengths)], Fraction(wish), STEPS, MM)
    assert [shared.demerit for shared in found] == sorted(shared.demerit for shared in found)
    for shared in found:
        assert abs(shared.size_mm - wish) <= Fraction(wish, 5)
        for part, length in zip(shared.parts, lengths, strict=True):
            assert part.whole * shared.size_mm + part.rest_mm == length
            assert 0 <= part.rest_mm < shared.size_mm


def test_one_repeat_for_a_set_of_drawers():
    """Drawers of 24, 36 and 30 in all take 6 in whole."""
    job = wall(pattern={"count": None, "widths": ["6 1/8"]})
    panels = [{"name": f"drawer {n}", "width": w, "height": "8"} for n, w in enumerate(("24", "36", "30"), 1)]
    job["pieces"][0]["surface"]["panels"] = panels
    read = read_job(job)
    plan = plan_job(read).pieces[0]
    found = [c for layout in plan.layouts for c in choosers(read, plan.piece, layout.sheet, runs_of(plan.piece, layout.sheet))]
    best = shared_choices(found)[0]
    assert best.title == "6 in each"
    assert best.why == "drawer 1: 4, nothing over; drawer 2: 6, nothing over; drawer 3: 5, nothing over."
    assert best.changes["pattern.widths"] == ["6"]


def test_corners_of_a_room_say_where_they_cut_a_repeat():
    job = wall(pattern={"count": None, "widths": ["7"]}, panel={"width": "100"})
    job["pieces"][0]["surface"]["panels"].append({"name": "side", "width": "40", "height": "96"})
    job["pieces"][0]["surface"]["folds"] = [["front", "right", "side", "left"]]
    read = read_job(job)
    plan = plan_job(read).pieces[0]
    [chooser] = choosers(read, plan.piece, plan.layouts[0].sheet, runs_of(plan.piece, plan.layouts[0].sheet))
    assert corners_said(chooser, Fraction(0)) == ["Between front and side the corner cuts a repeat into 2 in and 5 in."]


def test_a_border_for_squares_on_point():
    """Common practice, no source: 42 in in 4 diamonds is 10 1/2 in point to point, a side about 7 7/16 in."""
    job, by_axis = tools({"kind": "diamonds", "columns": 4, "rows": 3}, {"width": "46", "height": "35 1/2"})
    wish = BorderWish(Fraction("50.8"), Fraction("50.8"), (4, 4), (3, 3), square=True)
    [choice] = border_choices(by_axis["across"], by_axis["down"], wish, inside=False)
    assert choice.title == "4 by 3, each 10 1/2 in"
    assert "a side is about 7 7/16 in" in choice.why
    panel = plan_job(read_job(used(job, choice))).pieces[0].piece.surface.panels[0]
    assert float(panel.field.width) / 25.4 == pytest.approx(42)
