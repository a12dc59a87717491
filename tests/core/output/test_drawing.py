"""Scenes: what is drawn of a plan, in which state; sections and cutting lists."""

import numpy as np
import pytest
from jobs import wall

from dividers.core.base.units import INCH_MM
from dividers.core.cells.lit_sides import lit_sides
from dividers.core.job_file.job_reader import read_job
from dividers.core.output.drawing import draw
from dividers.core.output.scene import View
from dividers.core.output.section import section_of
from dividers.core.patterns import PATTERNS
from dividers.core.plan.plan import plan_job
from dividers.core.rounds.cutting import TAB_MM, cut_length, cutting_list
from dividers.formats.drawings.scene_svg import scene_svg, swatch_svg
from dividers.formats.drawings.sketch_svg import section_svg

INCH = 25.4


def planned(**pattern):
    job = read_job(wall(pattern={"direction": None, "count": None, **pattern}))
    return job, plan_job(job).pieces[0]


def drawn(view=None, **pattern):
    job, plan = planned(**pattern)
    return draw(plan, job.palette, "in", view or View())


def test_a_round_shows_what_to_paint_to_keep_what_is_done_and_what_comes_later():
    pattern = {"kind": "checker", "columns": 4, "rows": 2, "colors": ["ink", "madder", None]}
    first, second = (drawn(View(strips_of=number), **pattern) for number in (1, 2))
    states = [[cell.state for cell in scene.cells] for scene in (first, second)]
    assert states[0] == ["later", "paint", "keep", "later", "paint", "keep", "later", "paint"]
    assert states[1] == ["paint", "done", "keep", "paint", "done", "keep", "paint", "done"]
    base = "#f1e6cf"
    assert [cell.fill == base for cell in first.cells] == [state in ("later", "keep") for state in states[0]]
    assert all(cell.sign for cell in first.cells)


def test_the_finished_look_has_no_tape_and_every_colour():
    scene = drawn(kind="stripes", count=3, colors=["ink", "madder", None])
    assert [cell.fill for cell in scene.cells] == ["#22345a", "#a8392f", "#f1e6cf"]
    assert scene.strips == ()
    assert {stroke.role for stroke in scene.strokes} == {"ruler"}


def test_reserved_lines_and_glazes_have_their_own_look():
    scene = drawn(kind="chevron", columns=4, rise="10", band="20", reserve="1", colors=["ink"])
    assert {cell.state for cell in scene.cells} == {"", "reserve"}
    plaid = drawn(kind="plaid", upright=["24"], colors=["ink", None])
    assert len({cell.fill for cell in plaid.cells}) == 3


def test_very_many_parts_are_drawn_as_a_few_paths():
    scene = drawn(kind="checker", columns=80, rows=60, colors=["ink", None])
    assert scene.simplified
    svg = scene_svg(scene, "x")
    assert svg.count("<path") < 20
    assert "data-link" not in svg
    few = drawn(kind="checker", columns=8, rows=6, colors=["ink", None])
    assert scene_svg(few, "x").count('data-link="c') == 48


@pytest.mark.parametrize("pattern", PATTERNS, ids=lambda pattern: pattern.key)
def test_drawings_are_true_to_scale(pattern):
    """The outline is as large as the panel, in mm, and nothing of the pattern is drawn outside it."""
    from dividers.core.job_file.first_values import first_document
    from dividers.core.patterns.base.ground import Ground
    from dividers.core.survey.sheet import sheets_of

    ground = Ground.of(sheets_of(read_job(wall()).pieces[0].surface)[0], 24.0)
    scene = drawn(**{"colors": None, **first_document(pattern.key, ground, "in", ["ink", None])})
    corners = np.array(scene.outlines[0])
    assert np.ptp(corners, axis=0).tolist() == pytest.approx([120 * INCH, 96 * INCH])
    points = np.array([point for cell in scene.cells for ring in cell.rings for point in ring])
    assert (points.min(axis=0) >= corners.min(axis=0) - 1e-6).all()
    assert (points.max(axis=0) <= corners.max(axis=0) + 1e-6).all()
    assert 'width="76.2mm"' in swatch_svg(scene)


def test_light_from_the_top_left_brightens_top_and_left_sides():
    _, plan = planned(kind="brick", course="24", length="60", joint="1", light="top-left", colors=["ink"])
    layout = plan.layouts[0]
    for side in lit_sides(layout):
        (ax, ay), (bx, by) = side.start, side.end
        left, top, right, bottom = layout.cells.bounds()[side.cell]
        on_bright = (ax == bx == left) or (ay == by == top)
        assert side.kind == ("bright" if on_bright else "shade")
        assert on_bright or ax == bx == right or ay == by == bottom
    assert len(lit_sides(layout)) == 4 * int((~layout.reserved).sum())


def test_a_cut_has_room_for_a_tab_and_is_easy_to_measure():
    assert cut_length(10 * INCH, "in") == 21 * INCH_MM / 2
    assert cut_length(100.0, "mm") == 115
    assert all(cut_length(float(n), "cm") >= n + TAB_MM for n in range(1, 200))


def test_the_cutting_list_counts_every_strip():
    _, plan = planned(kind="diamonds", columns=4, rows=3, colors=["ink", None])
    each = plan.taping.chosen.rounds[0]
    cuts = cutting_list(each, "in")
    assert sum(cut.many for cut in cuts) == sum(len(strips) for strips in each.strips)
    assert [cut.length_mm for cut in cuts] == sorted((cut.length_mm for cut in cuts), reverse=True)


def test_a_section_shows_paint_on_one_side_or_on_both():
    job, plan = planned(kind="chevron", columns=4, rise="10", band="20", reserve="1", colors=["ink", "madder"])
    strips = plan.taping.chosen.rounds[0].strips[0]
    reserve, outer = int(np.flatnonzero(strips.reserve)[0]), int(np.flatnonzero(strips.perimeter)[0])
    both, one = (section_of(plan, job.palette, 1, 0, strip) for strip in (reserve, outer))
    assert (both.both_sides, both.below.key, one.both_sides, one.perimeter) == (True, "cream", False, True)
    assert len(both.paints) == 2
    assert all(section_svg(both, "1 in").count(f'fill="{paint.hex}"') for paint in both.paints)
    assert section_svg(one, "1 in").count(f'fill="{one.paints[0].hex}"') == 1


def test_a_section_shows_the_paint_that_comes_beside_its_own_strip():
    """Two colours in one round: each strip has that of the stripe it borders on."""
    job, plan = planned(kind="stripes", count=8, colors=["ink", None, "madder", None])
    [each] = plan.taping.chosen.rounds
    strips, layout = each.strips[0], plan.layouts[0]
    seen = set()
    for strip in range(len(strips)):
        x = (strips.start[strip] + strips.end[strip])[0] / 2
        if strips.perimeter[strip] and not np.isclose(x, 0):
            continue
        beside = x - strips.out[strip][0]
        cell = next(c for c, (left, _, right, _) in enumerate(layout.cells.bounds()) if left < beside < right)
        paint = section_of(plan, job.palette, 1, 0, strip).paints
        assert [colour.key for colour in paint] == [layout.color(cell)]
        seen.add(layout.color(cell))
    assert seen == {"ink", "madder"}
