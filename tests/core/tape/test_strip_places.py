"""Where strips lie in words: counted as a person at the wall counts, and no two strips of a round called the same."""

from collections import Counter
from dataclasses import replace

import numpy as np
import pytest
from budget import examples
from hypothesis import given
from jobs import any_jobs, wall

from dividers.core.base.errors import BadInput
from dividers.core.job_file.job_reader import read_job
from dividers.core.marks.snaps import snaps_of
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_document


def strips_of(document, piece=0):
    return [
        strip for each in plan_document(plan_job(read_job(document)))["pieces"][piece]["rounds"] for strip in each["strips"]
    ]


@examples(15)
@given(any_jobs())
def test_no_two_strips_of_a_round_lie_at_the_same_place_on_the_same_side(document):
    try:
        plan = plan_document(plan_job(read_job(document)))
    except BadInput:
        return
    for piece in plan["pieces"]:
        for each in piece["rounds"]:
            named = Counter((strip["panel"], strip["where"], strip["side"]) for strip in each["strips"])
            assert not [place for place, many in named.items() if many > 1]


@pytest.mark.parametrize(
    ("pattern", "expected"),
    [
        ({"count": 5, "colors": ["ink", None]}, "line {} from the left"),
        ({"count": 5, "colors": ["ink", None], "direction": "horizontal"}, "line {} from the top"),
    ],
)
def test_lines_are_counted_from_the_left_and_from_the_top(pattern, expected):
    strips = [strip for strip in strips_of(wall(pattern=pattern)) if strip["kind"] == "edge"]
    axis = 0 if "left" in expected else 1
    places = sorted({strip["line"][0][axis] for strip in strips})
    assert len(places) == 4
    for strip in strips:
        assert strip["where"] == expected.format(places.index(strip["line"][0][axis]) + 1)


def test_strips_along_a_window_are_called_by_it():
    window = {"name": "hatch", "left": "40", "top": "20", "width": "40", "height": "40"}
    strips = strips_of(wall(panel={"openings": [window]}, pattern={"count": 5, "colors": ["ink", None]}))
    named = {strip["where"].split(", ")[0] for strip in strips}
    assert {"over hatch", "under hatch"} <= named
    assert all(
        "hatch" in strip["where"] for strip in strips if strip["line"][0][1] == strip["line"][1][1] in (20 * 25.4, 60 * 25.4)
    )


def test_zigzags_are_counted_column_by_column_from_the_top():
    """The independent way: legs that lie in one column and climb the same way, in order of their middles."""
    document = wall(pattern={"kind": "chevron", "columns": 4, "rise": "12 in", "band": "10 in", "colors": ["ink", None]})
    del document["pieces"][0]["pattern"]["count"]
    legs = {}
    for strip in strips_of(document):
        (ax, ay), (bx, by) = strip["line"]
        if strip["kind"] == "edge":
            way = "rising" if (bx - ax) * (by - ay) < 0 else "falling"
            legs.setdefault((round((ax + bx) / 2, 1), way), []).append(((ay + by) / 2, strip["where"]))
    for (_, way), own in legs.items():
        turns = sorted(own)
        assert [where.split(", ")[1] for _, where in turns] == [f"{way} line {n} from the top" for n in range(1, len(own) + 1)]
        assert len({where.split(", ")[0] for _, where in turns}) == 1


def test_a_line_is_snapped_between_the_two_marks_that_lie_on_it():
    plan = plan_job(read_job(wall(pattern={"count": 5, "colors": ["ink", None]}))).pieces[0]
    [layout] = plan.panel_layouts
    snaps = snaps_of(layout, plan.marks)
    assert len(snaps) == 8
    for one, other in snaps.items():
        assert snaps[other] == one and one != other
        assert plan.marks[one].x == pytest.approx(plan.marks[other].x)  # upright stripes
        assert {plan.marks[one].line, plan.marks[other].line} == {"top edge", "bottom edge"}
    assert np.isfinite([mark.x for mark in plan.marks]).all()


def test_a_mark_between_two_others_on_a_line_is_no_end_of_it():
    plan = plan_job(read_job(wall(pattern={"count": 5, "colors": ["ink", None]}))).pieces[0]
    [layout] = plan.panel_layouts
    between = [replace(mark, y=1000.0, line="stud") for mark in plan.marks if mark.line == "top edge"]
    marks = [*between, *plan.marks]
    for one, other in snaps_of(layout, marks).items():
        assert {marks[one].line, marks[other].line} == {"top edge", "bottom edge"}
    assert len(snaps_of(layout, marks)) == 8
