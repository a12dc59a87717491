"""What a survey says in words: readings that don't fit, what was probably meant, how far out a wall is, and the ways out."""

import re
from fractions import Fraction

import pytest
from jobs import readings_of, wall

from dividers.core.advice.verdict import Repeats, repeats_of, verdict_of
from dividers.core.base.errors import BadJob
from dividers.core.base.units import INCH_MM
from dividers.core.job.document import look_up
from dividers.core.job.method import Limits
from dividers.core.job.surface import SURFACE_KINDS, SurveyReading
from dividers.core.job_file.job_reader import read_job
from dividers.core.job_file.unit_change import in_units
from dividers.core.output.error_drawing import draw_error
from dividers.core.plan.plan import plan_job
from dividers.core.survey.adjustment import shares_of
from dividers.core.survey.blunders import likely_mistake
from dividers.core.survey.kept_readings import (
    keep_stories,
    kind_words,
    measure_opening,
    remove_reading,
    set_aside,
    take_instead,
)
from dividers.core.survey.readings import reading_rows

CROOKED = [(0, 0), (120, 0.5), (120.75, 96.25), (0.25, 96)]


def test_places_are_shares_of_the_side_that_they_lie_along():
    """On 120 x 96 in: a plumb reading and a width by their way down, a height and a level by their way along; one without a place is in the middle."""
    panel = read_job(wall()).pieces[0].surface.panels[0]
    readings = [SurveyReading(kind, f"{kind}.0", INCH_MM, 24 * INCH_MM) for kind in ("plumb", "width", "height", "level")]
    assert shares_of(panel, readings) == pytest.approx([0.25, 0.25, 0.2, 0.2])
    assert shares_of(panel, [SurveyReading("width", "widths.0", INCH_MM)]) == [0.5]


def crooked(survey=None, pattern=None, **panel):
    return wall(panel={"survey": survey or readings_of(CROOKED, "in"), **panel}, pattern=pattern or {})


def verdict(job, repeats=None, limits=None):
    read = read_job(job)
    plan = plan_job(read).pieces[0]
    place = plan.piece.surface.panels[0]
    counted = repeats or repeats_of(plan.layouts[0], 0)
    return verdict_of(place, counted, limits or Limits(), read.graduation, read.units, plan.piece.surface.kind)


@pytest.mark.parametrize("surface", SURFACE_KINDS)
@pytest.mark.parametrize("lines", [True, False])
def test_what_lies_flat_is_told_nothing_of_level_and_plumb(surface, lines):
    job = crooked()
    job["pieces"][0]["surface"]["kind"] = surface
    survey = job["pieces"][0]["surface"]["panels"][0]["survey"]
    if lines:
        survey["level"] = [{"top": "48 in", "at": "0"}, {"top": "48 1/2 in", "at": "120 in"}]
        survey["plumb"] = [{"off": "1/4 in", "at": "90 in", "side": "left", "to": "right"}]
    read = read_job(job)
    found = verdict(job)
    rows = reading_rows(read.pieces[0].surface.panels[0], read.graduation, "in", surface)
    ways = [words for way in found.ways for words in way.sees]
    said = " ".join(
        [
            *found.findings,
            *found.more,
            *found.datum,
            *ways,
            found.why,
            *(row.name for row in rows),
            *kind_words(surface).values(),
        ]
    )
    assert bool(re.search("plumb|level", said)) == (surface in ("wall", "stairs", "furniture"))
    assert ("Strike a line across" in said) == (surface in ("floor", "ceiling", "paper", "canvas"))


@pytest.mark.parametrize(
    ("read", "expected", "unit", "words"),
    [
        ("119", "191", "in", "two digits transposed"),
        ("118", "119.02", "in", "one inch off"),
        ("109", "119", "in", "10 inches off"),
        ("107", "119.01", "in", "one foot off"),
        ("119 1/2", "119", "in", "half an inch off"),
        ("2310", "2410", "mm", "100 millimetres off"),
        ("95", "2413", "mm", "read in in"),
        ("119.3", "120.05", "in", None),
    ],
)
def test_usual_mistakes_are_told_by_what_was_probably_meant(read, expected, unit, words):
    per = INCH_MM if unit == "in" else 1
    exact = Fraction(read.split()[0]) + (Fraction(read.split()[1]) if " " in read else 0)
    found = likely_mistake(exact * per, float(Fraction(expected) * per), 1.0, unit)
    assert (found.words if found else None) == words


def test_a_reading_that_does_not_fit_is_named_with_what_was_probably_meant():
    survey = readings_of(CROOKED, "in")
    good = survey["widths"][1]
    survey["widths"][1] = f"{float(good.split()[0]) + 1:.4f} in"
    job = crooked(survey)
    read = read_job(job)
    rows = reading_rows(read.pieces[0].surface.panels[0], read.graduation, "in", "wall")
    [doubted] = [row for row in rows if row.doubt]
    assert doubted.reading.place == "widths.1"
    assert "one inch off" in doubted.doubt
    assert doubted.off == "+1 in"
    [warning] = [w for w in plan_job(read).warnings if w.code == "survey-reading"]
    assert "Width half-way down" in warning.message
    piece = job["pieces"][0]
    take_instead(job, "pieces.0.surface.panels.0", "widths", 1, doubted.likely)
    assert piece["surface"]["panels"][0]["survey"]["widths"][1]["length"] == doubted.likely
    assert not [w for w in plan_job(read_job(job)).warnings if w.code == "survey-reading"]


@pytest.mark.parametrize("to", ["left", "right"])
@pytest.mark.parametrize("off", ["1/4", "2", "12"])
def test_plumb_readings_either_way_are_judged(to, off):
    """The left side of the wall is a quarter inch right of its plumb line at the bottom: more, or the other way, doesn't fit."""
    survey = readings_of(CROOKED, "in") | {"plumb": [{"side": "left", "at": "96", "off": off, "to": to}]}
    read = read_job(crooked(survey))
    rows = reading_rows(read.pieces[0].surface.panels[0], read.graduation, "in", "wall")
    [plumb] = [row for row in rows if row.reading.kind == "plumb"]
    assert bool(plumb.doubt) == ((off, to) != ("1/4", "right"))
    assert ("the other way" in plumb.doubt) == (to == "left" and bool(plumb.doubt))
    assert bool(plumb.likely) == (to == "right" and off != "1/4")


def test_what_one_more_reading_would_tell():
    said = verdict(crooked({"widths": ["120"]}))
    told = " ".join(said.more)
    for words in ("width at the top", "height at the left", "Measure a diagonal", "level line", "Nothing checks"):
        assert words in told
    assert not verdict(crooked()).more


def test_figures_of_a_crooked_wall():
    said = " ".join(verdict(crooked()).findings)
    assert "The ceiling runs off by 1/2 in over 120 in, falling to the right." in said
    assert "The floor runs off by 1/4 in" in said
    assert "It is 1/2 in wider at the bottom than at the top." in said
    higher = " ".join(verdict(crooked(readings_of([(0, 0), (120, 0), (120, 96.5), (0, 96)], "in"))).findings)
    assert "It is 1/2 in higher at the right than at the left." in higher
    assert "Out of square by 15/16 in over 95 3/4 in: the bottom right is the tight corner, 89.4°." in said


def test_the_datum_is_the_plumber_side_and_a_level_line():
    judged = verdict(crooked())
    assert judged.side == "left"
    assert "strike a level line" in judged.datum[0]
    assert "its 1/2 in would show" in judged.datum[0]


@pytest.mark.parametrize(
    ("limits", "recommended"),
    [
        ({"unnoticed_mm": Fraction(40)}, "square"),
        ({"per_repeat_mm": Fraction(5), "slope_deg": Fraction(1)}, "follow"),
        ({"slope_deg": Fraction(1, 100)}, "hide"),
    ],
)
def test_the_recommendation_follows_the_limits(limits, recommended):
    judged = verdict(crooked(), Repeats(6, 8, False), Limits(**limits))
    assert judged.recommended == recommended
    assert [way.fit for way in judged.ways] == ["follow", "square", "hide"]


def test_a_pattern_that_runs_from_floor_to_ceiling_does_not_mind_their_slope():
    """Upright stripes end at the ceiling however it runs: only the sides cut them."""
    tilted = [(0, 0), (120, 1), (120, 97), (0, 96)]
    said = verdict(crooked(readings_of(tilted, "in")))
    assert said.recommended == "square"
    assert "Nothing tapers" in " ".join(said.ways[1].sees)


def test_a_true_wall_has_no_ways_out():
    judged = verdict(crooked(readings_of([(0, 0), (120, 0), (120, 96), (0, 96)], "in")))
    assert judged.ways == ()
    assert judged.findings == ("Square and the size you gave, as far as these readings show.",)


def test_hidden_in_the_border_it_says_everything_inside_is_true_and_square():
    job = crooked(pattern={"direction": None, "kind": "checker", "count": None, "columns": 10})
    way = verdict(job).ways[2]
    job["pieces"][0]["method"] |= {"fit": "hide", "border": f"{way.border_mm} mm"}
    panel = plan_job(read_job(job)).pieces[0].piece.surface.panels[0]
    left, top, right, bottom = (
        float(v) / 25.4 for v in (panel.field.left, panel.field.top, panel.field.right, panel.field.bottom)
    )
    border = float(way.border_mm) / 25.4
    for number, (x, y) in enumerate(CROOKED):
        edge_x, edge_y = (left, right, right, left)[number], (top, top, bottom, bottom)[number]
        assert abs(edge_x - x) >= border - 1e-3
        assert abs(edge_y - y) >= border - 1e-3


def test_the_error_is_drawn_enlarged_and_every_reading_lies_in_it():
    read = read_job(crooked())
    panel = read.pieces[0].surface.panels[0]
    rows = reading_rows(panel, read.graduation, "in", "wall")
    scene, scale = draw_error(panel, rows, read.graduation, "in")
    assert scale == 10  # 0.79 in of 154 in: eleven times would fill a fourteenth of the diagonal
    corner = scene.outlines[0][2]
    assert corner[0] / 25.4 == pytest.approx(120 + 0.75 * scale, abs=0.05)
    assert {stroke.key for stroke in scene.strokes if stroke.key} == {f"r-{row.reading.place}" for row in rows}


def test_changing_units_changes_no_reading():
    job = crooked()
    panel = job["pieces"][0]["surface"]["panels"][0]
    panel["survey"]["plumb"] = [{"side": "left", "at": "90", "off": "1/4", "to": "right", "was": [{"length": "1/2"}]}]
    panel["openings"] = [{"name": "door", "centre": "60", "width": "32", "top": "10", "bottom": "90"}]
    panel["marked"] = {"lines": {"top edge": ["20", ""]}, "diagonals": ["150", "151"]}
    job["pieces"][0]["method"] |= {"border": "3", "limits": {"unnoticed": "1/8"}}
    before, after = read_job(job).pieces[0], read_job(in_units(job, "mm")).pieces[0]
    one, other = before.surface.panels[0], after.surface.panels[0]
    assert [r.mm for r in one.readings] == [r.mm for r in other.readings]
    assert (one.openings, one.marked, before.method.limits, before.method.border_mm) == (
        other.openings,
        other.marked,
        after.method.limits,
        after.method.border_mm,
    )


def test_measuring_again_keeps_the_old_reading():
    job = crooked(
        {"by": "Wren", "widths": [{"length": "120", "by": "Tamsin", "on": "2026-10-01T09:00"}], "diagonals": ["150", "151"]}
    )
    path = "pieces.0.surface.panels.0"
    job["pieces"][0]["id"] = "wall"
    changed = in_units(job, "in")
    take_instead(changed, path, "widths", 0, "121")
    keep_stories(job, changed, "2026-10-02T10:00")
    row = look_up(changed, f"{path}.survey.widths.0")
    assert row["was"] == [{"length": "120", "by": "Tamsin", "on": "2026-10-01T09:00"}]
    assert (row["by"], row["on"]) == ("Wren", "2026-10-02T10:00")
    story = read_job(changed).pieces[0].surface.panels[0].readings[0].story
    assert "was 120, by Tamsin" in story
    remove_reading(changed, path, "diagonals", 0)
    assert look_up(changed, f"{path}.survey.diagonals") == [{"length": "151", "way": "rising"}]
    set_aside(changed, path, "widths", 0)
    assert read_job(changed).pieces[0].surface.panels[0].readings[0].aside


@pytest.mark.parametrize("way", ["near", "edges", "centre"])
def test_an_opening_measured_another_way_is_the_same_opening(way):
    opening = {"name": "door", "left": "80 1/3", "top": "15", "width": "32 5/16", "height": "80"}
    before = read_job(wall(panel={"openings": [dict(opening)]})).pieces[0].surface.panels[0].openings
    measure_opening(opening, way, "in")
    assert read_job(wall(panel={"openings": [opening]})).pieces[0].surface.panels[0].openings == before


BAD = [
    ({"survey": {"diagonals": ["100"]}}, "survey.diagonals.0", "is not a possible diagonal"),
    ({"survey": {"diagonals": ["250"]}}, "survey.diagonals.0", "is not a possible diagonal"),
    ({"survey": {"heights": ["96", "9.6"]}}, "survey.heights.1", "far from the height"),
    ({"survey": {"widths": [{"length": "3048"}]}}, "survey.widths.0", "If it was read in mm, write 3048 mm"),
    ({"survey": {"widths": ["120"] * 301}}, "survey.widths", "at most 300"),
    ({"survey": {"level": [{"at": "0"}]}}, "survey.level.0.top", "give one of"),
    ({"survey": {"plumb": [{"side": "left", "off": "1"}]}}, "survey.plumb.0.at", "how far down"),
    ({"openings": [{"left": "100", "top": "0", "width": "30", "height": "9"}]}, "openings.0.width", "beyond the panel's right"),
    ({"openings": [{"left": "0", "top": "0", "width": "120", "height": "96"}]}, "openings.0.width", "whole field"),
    (
        {"openings": [{"left": "10", "top": "0", "right": "30", "height": "9"}, {"centre": "25", "top": "0", "width": "20", "height": "9"}]},
        "openings.1.width",
        "overlaps opening 1",
    ),
    ({"openings": [{"left": "30", "right": "10", "top": "0", "height": "9"}]}, "openings.0.right", "must lie farther"),
    ({"openings": [{"left": "30", "centre": "10", "top": "0", "height": "9"}]}, "openings.0.width", "Give left and width"),
    ({"width": "3 mm"}, "width", "at least"),
    ({"width": "500 m"}, "width", "that is too long"),
    ({"width": None, "curve": {"chord": "30", "rise": "20"}}, "curve.rise", "more than half"),
]  # fmt: skip


@pytest.mark.parametrize(("panel", "path", "words"), BAD)
def test_readings_and_openings_that_cannot_be_are_faulted_where_they_stand(panel, path, words):
    with pytest.raises(BadJob) as bad:
        read_job(wall(panel=panel))
    said = {fault.path: fault.message for fault in bad.value.faults}
    assert words in said[f"pieces.0.surface.panels.0.{path}"]


def test_a_curved_front_counts_by_its_length_along_the_curve():
    """Half a circle of 20 in radius: 20 pi."""
    panel = read_job(wall(panel={"width": None, "curve": {"chord": "40", "rise": "20"}})).pieces[0].surface.panels[0]
    assert float(panel.width_mm) / 25.4 == pytest.approx(62.83185, abs=1e-4)
