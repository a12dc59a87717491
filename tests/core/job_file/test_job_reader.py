"""Job files: what is taken, what is refused and where."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall

from dividers.core.base.errors import BadJob
from dividers.core.job_file.job_reader import dump_job, parse_job, read_job
from dividers.core.job_file.unit_change import in_units
from dividers.core.plan.plan import plan_job


def faults_of(document):
    with pytest.raises(BadJob) as caught:
        plan_job(read_job(document))
    return {fault.path: fault.message for fault in caught.value.faults}


PANEL = "pieces.0.surface.panels.0"


@pytest.mark.parametrize(
    ("changes", "path"),
    [
        ({"panel": {"width": "-1"}}, f"{PANEL}.width"),
        ({"panel": {"width": None}}, f"{PANEL}.width"),
        ({"panel": {"height": "3 mm"}}, f"{PANEL}.height"),
        ({"panel": {"height": "500 m"}}, f"{PANEL}.height"),
        ({"panel": {"margin": {"left": "60", "right": "60"}}}, f"{PANEL}.margin.left"),
        ({"panel": {"margin": {"bottom": "200"}}}, f"{PANEL}.margin.bottom"),
        ({"panel": {"openings": [{"left": "1", "top": "1", "width": "5", "height": "0"}]}}, f"{PANEL}.openings.0.height"),
        ({"panel": {"openings": [{"left": "121", "top": "1", "width": "5", "height": "5"}]}}, f"{PANEL}.openings.0.left"),
        ({"panel": {"openings": [{"left": "119", "top": "1", "width": "5", "height": "5"}]}}, f"{PANEL}.openings.0.width"),
        ({"panel": {"openings": [{"left": "0", "top": "0", "width": "120", "height": "96"}]}}, f"{PANEL}.openings.0.width"),
        ({"panel": {"openings": [{"left": "9", "top": "1", "width": "5", "height": "5"}] * 2}}, f"{PANEL}.openings.1.left"),
        ({"panel": {"openings": "none"}}, f"{PANEL}.openings"),
        ({"panel": {"survey": {"widths": ["119", "wide"]}}}, f"{PANEL}.survey.widths.1"),
        ({"pattern": {"kind": "spots"}}, "pieces.0.pattern.kind"),
        ({"pattern": {"count": 0}}, "pieces.0.pattern.count"),
        ({"pattern": {"count": 10_000}}, "pieces.0.pattern.count"),
        ({"pattern": {"count": 2.5}}, "pieces.0.pattern.count"),
        ({"pattern": {"count": None}}, "pieces.0.pattern.count"),
        ({"pattern": {"widths": ["3"]}}, "pieces.0.pattern.widths"),
        ({"pattern": {"count": None, "widths": ["1 mm"]}}, "pieces.0.pattern.widths"),
        ({"pattern": {"count": None, "widths": []}}, "pieces.0.pattern.widths"),
        ({"pattern": {"direction": "up"}}, "pieces.0.pattern.direction"),
        ({"pattern": {"colors": []}}, "pieces.0.pattern.colors"),
        ({"pattern": {"colors": ["ink", "gold"]}}, "pieces.0.pattern.colors.1"),
        ({"pattern": {"kind": "horizon", "direction": None, "count": None, "drop": "96"}}, "pieces.0.pattern.drop"),
        ({"pattern": {"kind": "horizon", "direction": None, "count": None}}, "pieces.0.pattern.drop"),
        ({"pattern": {"kind": "frame", "direction": None, "count": None, "widths": ["30", "18"]}}, "pieces.0.pattern.widths"),
        ({"pattern": {"kind": "checker", "direction": None, "count": None, "size": "2 mm"}}, "pieces.0.pattern.size"),
        ({"piece": {"base": "gold"}}, "pieces.0.base"),
        ({"piece": {"copies": -1}}, "pieces.0.copies"),
        ({"method": {"tape": "sticky"}}, "pieces.0.method.tape"),
        ({"method": {"tape": []}}, "pieces.0.method.tape"),
        ({"method": {"paint": {"ink": {}}}}, "pieces.0.method.paint.ink"),
        ({"method": {"coats": {"ink": 99}}}, "pieces.0.method.coats.ink"),
        ({"method": {"paint": {"gold": "x"}}}, "pieces.0.method.paint.gold"),
        ({"job": {"units": "furlongs"}}, "units"),
        ({"job": {"format": "other/9"}}, "format"),
        ({"job": {"title": ""}}, "title"),
        ({"job": {"pieces": []}}, "pieces"),
        ({"job": {"palette": {}}}, "palette"),
        ({"job": {"graduation": "1/10 in"}}, "graduation"),
        ({"job": {"crew": {"hours": [["12:00", "08:00"]]}}}, "crew.hours.0"),
        ({"job": {"climate": {"humidity": 140}}}, "climate.humidity"),
    ],
)
def test_a_fault_names_its_key(changes, path):
    found = faults_of(wall(**changes))
    assert path in found, found
    assert len(found[path]) > 15


def test_all_faults_come_at_once():
    found = faults_of(wall(panel={"width": "x", "height": "y"}, pattern={"count": 0}))
    assert len(found) == 3


@pytest.mark.parametrize(
    "text",
    [
        "",
        "[]",
        "null",
        "{",
        '{"format": NaN}',
        '{"a": 1, "a": 2}',
        "[" * 100_000,
        '{"a":' * 5000 + "1" + "}" * 5000,
        b"\xff\xfe",
        "{}",
        " " * 3_000_000,
    ],
)
def test_hostile_files_are_refused_without_a_crash(text):
    with pytest.raises(BadJob):
        parse_job(text)


json_values = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False) | st.text(max_size=9),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=9), inner, max_size=3),
    max_leaves=6,
)


@given(st.data())
def test_anything_anywhere_is_taken_or_refused_but_never_crashes(data):
    document = wall()
    holder = document
    while True:
        key = data.draw(st.sampled_from(sorted(holder) if isinstance(holder, dict) else range(len(holder))))
        if not isinstance(holder[key], dict | list) or not holder[key] or data.draw(st.booleans()):
            break
        holder = holder[key]
    holder[key] = data.draw(json_values)
    try:
        plan_job(read_job(document))
    except BadJob as bad:
        assert all(fault.message for fault in bad.faults)


def test_unknown_keys_are_kept_and_named():
    job = read_job(wall(piece={"mood": "bright"}, job={"client": {"name": "N."}}))
    assert {warning.path for warning in job.warnings} == {"pieces.0.mood", "client"}
    assert json.loads(dump_job(job))["client"] == {"name": "N."}


def test_dumping_and_reading_gives_the_same_job():
    job = read_job(wall(panel={"survey": {"widths": ["119", 120.25]}, "margin": {"top": 1.5}}))
    assert parse_job(dump_job(job)) == job


@pytest.mark.parametrize("unit", ["in", "cm", "mm"])
def test_changing_units_moves_no_cell(unit):
    document = wall(panel={"margin": {"top": "1 1/3", "left": "2 cm"}}, pattern={"count": None, "widths": ["7", "3 1/7"]})
    before, after = (plan_job(read_job(d)).pieces[0].layouts[0] for d in (document, in_units(document, unit)))
    assert (before.cells.points == after.cells.points).all()


def said_of(document):
    with pytest.raises(BadJob) as bad:
        read_job(document)
    return [str(fault) for fault in bad.value.faults]


def test_a_file_nested_without_end_is_refused_in_one_line():
    text = json.dumps(wall())[:-1] + ', "more": ' + '{"a":' * 500 + "1" + "}" * 500 + "}"
    with pytest.raises(BadJob, match="nested more than 60 levels deep"):
        parse_job(text)


def test_messages_show_what_was_written_as_the_file_has_it():
    said = said_of(wall(piece={"copies": True}, pattern={"start": None, "direction": [1]}))
    assert any("“true” isn't a whole number" in each for each in said)
    assert not any(word in each for each in said for word in ("True", "None", "Fraction", "object at"))


def test_numbers_stand_for_the_words_of_a_choice():
    job = wall()
    job["pieces"][0]["pattern"] = {"kind": "herringbone", "columns": 6, "turn": 45, "colors": ["ink", None]}
    assert read_job(job).pieces[0].pattern.values["turn"] == "45"


def test_hours_and_days_are_read_as_people_write_them():
    crew = read_job(wall(job={"crew": {"hours": [["8", "12.30"], ["13", "24"]], "days": ["Monday", "TUE", "sun"]}})).crew
    assert crew.hours == (("08:00", "12:30"), ("13:00", "24:00"))
    assert crew.days == ("mon", "tue", "sun")
    [said] = said_of(wall(job={"crew": {"hours": [["12", "8"]]}}))
    assert "like 08:00-12:00" in said
