"""The general engine on cells that no stripe pattern makes: T-junctions, chequers, holes, cut ends."""

from fractions import Fraction
from types import SimpleNamespace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from layouts import SIZE, box, layout_of

from dividers.core.cells.layout import widths_of
from dividers.core.geometry.ledger import NOTHING, Lines
from dividers.core.geometry.overlaps import ShapeIndex, overlapping
from dividers.core.geometry.shapes import from_rings
from dividers.core.job.crew import Climate
from dividers.core.job.method import Method, PatternChoice
from dividers.core.job.model import Piece
from dividers.core.job.products import Colour, Tape
from dividers.core.job.surface import Surface
from dividers.core.marks.marks import plan_marks, working_order
from dividers.core.plan.strips_told import sides_in_words
from dividers.core.rounds.options import plan_taping
from dividers.core.tape.laying import lay_strips
from dividers.core.tape.stretches import TWIN_MM, Runs, bridged, find_runs, merged_twins

TAPE = Tape("tape", Fraction(36), "medium", False, Fraction(55_000))


def strips_of(layout, painted, width=36.0):
    """The strips for one round in which nothing else is painted."""
    painted = np.array(painted)
    return lay_strips(layout, bridged(layout, find_runs(layout, painted, ~painted), painted, width), painted, width)


def chequers(count):
    step = SIZE / count
    places = [(x, y) for y in range(count) for x in range(count)]
    rings = [box(x * step, y * step, (x + 1) * step, (y + 1) * step) for x, y in places]
    return layout_of(rings, np.array([(x + y) % 2 == 0 for x, y in places]))


def taping_of(layout, taping="auto"):
    method = Method(TAPE, taping=taping)
    piece = Piece(
        "k", "P", "cream", Surface("wall", "smooth", "painted", (layout.panel,)), PatternChoice("stripes", {}), method
    )
    return plan_taping(piece, (layout,), {"ink": Colour("ink", "Ink", "#22345a")}, Climate())


def test_a_t_junction_gives_each_neighbour_its_stretch():
    layout = layout_of([box(0, 0, 400, 200), box(0, 200, 150, 400), box(150, 200, 400, 400)], [True, False, False])
    assert layout.borders.neighbours().tolist() == [[0, 1], [0, 2], [1, 2]]
    shared = {
        (int(b), int(a)): length
        for b, a, length in zip(layout.borders.plus, layout.borders.minus, layout.borders.lengths, strict=True)
    }
    assert shared[(1, 0)] == pytest.approx(150)
    assert shared[(2, 0)] == pytest.approx(250)


def test_the_outside_of_every_partition_adds_up_to_its_perimeter():
    borders = chequers(5).borders
    outer = (borders.plus == NOTHING) | (borders.minus == NOTHING)
    assert borders.lengths[outer].sum() == pytest.approx(4 * SIZE)


def test_chequers_take_two_rounds_of_long_strips_or_one_of_pieces():
    taping = taping_of(chequers(4))
    strips, pieces = taping.options
    assert [len(option.rounds) for option in (strips, pieces)] == [2, 1]
    assert [int(each.painted[0].sum()) for each in strips.rounds] == [4, 4]
    longest = max(float(s.lengths.max()) for each in strips.rounds for s in each.strips)
    assert longest > 250
    assert strips.strip_count < pieces.strip_count


def test_diamonds_that_touch_at_their_points_take_two_rounds():
    step = 100
    rings = [[(x, y - step), (x + step, y), (x, y + step), (x - step, y)] for y in (100, 300) for x in (100, 300)]
    between = [[(200, 100), (300, 200), (200, 300), (100, 200)]]
    layout = layout_of(rings + between, [True] * 4 + [False])
    strips, pieces = taping_of(layout).options
    assert (len(strips.rounds), len(pieces.rounds)) == (2, 1)


def test_a_strip_between_slanting_neighbours_stays_off_both():
    """Two painted triangles meet at a point; each edge strip is cut back where the other one starts."""
    rings = [[(0, 0), (200, 200), (0, 400), (0, 200)], [(400, 0), (400, 200), (400, 400), (200, 200)]]
    layout = layout_of(rings, [True, True])
    strips = strips_of(layout, [True, True])
    assert len(strips) == 6  # two slanting edges and the outer one of each
    assert not len(overlapping(ShapeIndex(strips.shapes), layout.shape_index)[0])


def test_tape_wider_than_the_gap_takes_another_round_and_says_the_widest_that_would_do():
    layout = layout_of([box(0, 0, 180, 400), box(180, 0, 200, 400), box(200, 0, 400, 400)], [True, False, True])
    taping = taping_of(layout, "strips")
    assert len(taping.chosen.rounds) == 2
    assert taping.chosen.tight.gap_mm == pytest.approx(20)
    pieces = taping_of(layout, "pieces").chosen.rounds[0].strips[0]
    assert np.nanmin(pieces.slit_mm) == pytest.approx(20)


def test_side_in_words_follows_the_page():
    layout = layout_of([box(0, 0, 200, 400), box(200, 0, 400, 400)], [True, False])
    strips = strips_of(layout, [True, False])
    sides = sides_in_words(strips, layout.sheet)
    words = {sides[i]: strips.segment(i) for i in range(len(strips)) if not strips.perimeter[i]}
    assert list(words) == ["right of the line"]
    assert {sides[i] for i in range(len(strips)) if strips.perimeter[i]} == {
        "left of the line", "above the line", "below the line",
    }  # fmt: skip


def test_a_long_band_is_as_wide_as_it_is():
    assert widths_of(from_rings(np.array([box(0, 0, 3, 2000)], float)))[0] == pytest.approx(3)


@pytest.mark.parametrize(("count", "order"), [(0, []), (2, [0, 1]), (5, [2, 0, 4, 1, 3]), (6, [3, 0, 5, 1, 4, 2])])
def test_centre_first_then_outside_then_inwards(count, order):
    assert list(working_order(count, "centre-first")) == order


def test_marks_lie_where_lines_meet_the_sides_each_place_once():
    from dividers.core.base.lengths import GRADUATIONS

    marks = plan_marks(chequers(4), Method(TAPE), GRADUATIONS["1 mm"])
    places = {(round(m.x), round(m.y)) for m in marks}
    assert len(places) == len(marks) == 12
    assert {m.reading.text for m in marks} == {"100 mm", "200 mm", "300 mm"}


@given(st.lists(st.tuples(st.floats(0, 2000), st.floats(-2, 2)), min_size=1, max_size=30))
def test_one_strip_serves_two_lines_wherever_they_lie(gaps):
    """Pairs of lines a tape's width apart, give or take: less than the tolerance off makes twins, more than it does not."""
    at = np.cumsum([200 + gap for gap, _ in gaps])
    off = np.array([slip for _, slip in gaps])
    clear = np.abs(np.abs(off) - 1) > 0.01  # nothing is asked of what lies on the tolerance itself
    offsets = np.ravel(np.column_stack([at, at + 36 + off * TWIN_MM]))
    count = len(offsets)
    lines = Lines(np.tile([0.0, 1.0], (count, 1)), offsets)
    side = np.where(lines.normals[:, 0] > 0, 1, -1) * np.tile([1, -1], len(gaps))
    lines = Lines(lines.directions, offsets * np.sign(lines.normals[:, 0]))
    none = np.zeros(0, np.int64)
    until = np.tile([50.0, 45.0], len(gaps))  # one of the two may be shorter
    runs = Runs(np.arange(count), side, np.zeros(count), until, np.zeros(count, bool), none, none)
    layout = SimpleNamespace(borders=SimpleNamespace(lines=lines))
    keep, twin, long = merged_twins(layout, runs, np.zeros(0, bool), 36.0)
    assert (long.t1[keep][twin] == 50.0).all()
    both = {int(index) // 2 for index, serves in zip(keep, twin, strict=True) if serves}
    expected = np.abs(off) < 1
    assert [number in both for number in np.flatnonzero(clear)] == expected[clear].tolist()
    assert len(keep) == count - len(both)
