"""Patterns laid square on panels that aren't: sizes no larger than any reading, one mark for lines that meet, parts that run out."""

import itertools
import math

import numpy as np
import pytest
import shapely
from budget import examples
from hypothesis import assume, given
from jobs import readings_of, surveyed_jobs, wall

from dividers.core.base.errors import BadJob
from dividers.core.cells.run_out import run_out
from dividers.core.geometry.polygons import from_polygons, to_polygons
from dividers.core.job_file.job_reader import read_job
from dividers.core.patterns.base.parameters import Tiles
from dividers.core.plan.plan import plan_job

LEANING = [(0, 0), (120, 0), (121, 96.25), (0.5, 96)]  # inches
TIPS = [
    {"kind": "diamonds", "count": None, "direction": None, "columns": 4, "rows": 3, "colors": ["ink", None]},
    {"kind": "triangles", "count": None, "direction": None, "columns": 6, "colors": ["ink", "madder"]},
    {"kind": "chevron", "count": None, "direction": None, "columns": 4, "rise": "12", "band": "16", "colors": ["ink", None]},
]


def leaning(pattern):
    survey = readings_of(LEANING, "in")
    return plan_job(read_job(wall(panel={"survey": survey}, pattern=pattern, method={"fit": "square"}))).pieces[0]


@examples(20)
@given(surveyed_jobs())
def test_no_size_is_larger_than_any_reading(document):
    piece = document["pieces"][0]
    piece["method"]["fit"] = "square"
    survey = piece["surface"]["panels"][0]["survey"]
    try:
        panel = plan_job(read_job(document)).pieces[0].layouts[0].panel
    except BadJob:
        assume(False)
    if panel.shape:
        assert panel.field.width <= max(float(text.split()[0]) for text in survey["widths"]) + 1e-6
        assert panel.field.height <= max(float(text.split()[0]) for text in survey["heights"]) + 1e-6


def test_stripes_on_a_leaning_wall_are_as_wide_as_the_least_width_gives():
    """120 in wide, the left plumb line 1/2 in inside it at the foot: 119 1/2 in by 6 is 19 11/12, to the edge at both ends."""
    layout = leaning({}).layouts[0]
    left, _, right, _ = layout.cells.bounds().T / 25.4
    inner = np.sort(right - left)[:-2]  # the outer two taper
    assert np.allclose(inner, 119.5 / 6, atol=0.02)
    assert np.isclose(layout.cells.areas().sum(), shapely.Polygon([(x * 25.4, y * 25.4) for x, y in LEANING]).area, rtol=1e-4)


@pytest.mark.parametrize("pattern", TIPS, ids=lambda pattern: pattern["kind"])
def test_lines_that_meet_at_an_edge_get_one_mark(pattern):
    """Not a pair 1/8 in apart, one for each line where it comes out: nobody can tell which is which."""
    marks = leaning(pattern).marks
    assert len(marks) > 4
    for one, other in itertools.combinations(marks, 2):
        assert one.line != other.line or math.dist((one.x, one.y), (other.x, other.y)) > 6, (
            one.line,
            one.reading,
            other.reading,
        )


def tiles(*rings):
    count = len(rings)
    return Tiles(
        shapes=from_polygons([shapely.Polygon(ring) for ring in rings]), slots=np.arange(count), colors=("a",) * count, notes=()
    )


def run(*rings, reach):
    return to_polygons(run_out(tiles(*rings), (0.0, 0.0, 100.0, 100.0), reach).shapes)


def test_a_line_goes_on_straight_to_the_edge():
    """Two parts that meet on a line through (50, 0) and (60, 100), the field 10 mm longer: at the edge it is at 61."""
    one, other = run(
        [(0, 0), (50, 0), (60, 100), (0, 100)],
        [(50, 0), (100, 0), (100, 100), (60, 100)],
        reach=(0.0, 0.0, 100.0, 110.0),
    )
    assert one.equals(shapely.Polygon([(0, 0), (50, 0), (61, 110), (0, 110)]))
    assert math.isclose(one.area + other.area, 100 * 110)


def test_beyond_a_tip_its_neighbours_meet_square_to_the_side():
    one, tip, other = run(
        [(0, 0), (20, 0), (50, 100), (0, 100)],
        [(20, 0), (80, 0), (50, 100)],
        [(80, 0), (100, 0), (100, 100), (50, 100)],
        reach=(0.0, 0.0, 100.0, 110.0),
    )
    assert tip.bounds[3] == 100
    assert one.intersection(other).equals(shapely.LineString([(50, 100), (50, 110)]))


def test_parts_are_not_closed_by_lines_that_run_together():
    """A part 4 mm wide at the side, its lines closing at 1 in 2 from both sides: straight on, they would cross 4 mm beyond."""
    _, narrow, _ = run(
        [(0, 0), (23, 0), (48, 100), (0, 100)],
        [(23, 0), (77, 0), (52, 100), (48, 100)],
        [(77, 0), (100, 0), (100, 100), (52, 100)],
        reach=(-5.0, 0.0, 100.0, 120.0),
    )
    assert math.isclose(narrow.intersection(shapely.box(0, 100, 100, 120)).area, 4 * 20)
