"""Readings as tables: out and in again, and tables as people keep them."""

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import sixteenths, wall

from dividers.core.base.errors import BadInput
from dividers.core.job_file.job_reader import read_job
from dividers.core.survey.kept_readings import KINDS, add_reading, reading_row
from dividers.formats.tables.survey_csv import read_survey, write_survey


def panel_with(rows):
    job = wall()
    for what, length, at, by in rows:
        key, row = reading_row(what, length, at, by=by)
        add_reading(job, "pieces.0.surface.panels.0", key, row)
    return job["pieces"][0]["surface"]["panels"][0]


@given(
    st.lists(
        st.tuples(
            st.sampled_from(list(KINDS)), sixteenths(1, 40), sixteenths(0, 16), st.sampled_from(["", "=Wren", 'A "B", c'])
        ),
        max_size=12,
    )
)
def test_what_is_written_is_read_again(rows):
    text = write_survey([panel_with(rows)], "in")
    lines = read_survey(text, "mm", ["front"])
    assert [line.fault for line in lines] == [""] * len(lines)
    again = [(each.taken.what, each.taken.length.removesuffix(" in"), each.taken.by) for each in lines]
    assert sorted(again) == sorted((what, length, by) for what, length, _, by in rows)


def test_a_place_keeps_its_unit_too():
    [line] = read_survey(write_survey([panel_with([("width", "119", "10", "")])], "in"), "mm", ["front"])
    assert (line.taken.length, line.taken.at) == ("119 in", "10 in")


def test_no_cell_runs_as_a_formula():
    cells = [
        cell
        for row in csv.reader(io.StringIO(write_survey([panel_with([("width", "12", "", "=HYPERLINK(1)")])], "in")))
        for cell in row
    ]
    assert "'=HYPERLINK(1)" in cells
    assert not [cell for cell in cells if cell[:1] in "=+-@" and cell]


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("width;119 1/8\nheight;95", [("width", "119 1/8 in", ""), ("height", "95 in", "")]),
        ("Width\t302,5 cm\t0\nDiagonal\t386\t\nDiagonal\t387\t", [("width", "302,5 cm", "0 in"), ("falling", "386 in", ""), ("rising", "387 in", "")]),
        ("reading (mm),measurement,where (mm)\n2413,height,100", [("height", "2413 mm", "100 mm")]),
        ("Kind;Value;Unit\nw;3;m\nTL-BR;4;m", [("width", "3 m", ""), ("falling", "4 m", "")]),
        ("\ufeffwhat,length,at\n\nceiling above level,40,0", [("up", "40 in", "0 in")]),
        ("width 1, 119\nwidth 2, 120", [("width", "119 in", ""), ("width", "120 in", "")]),
    ],
)  # fmt: skip
def test_tables_as_people_keep_them(text, expected):
    lines = read_survey(text, "in", ["front"])
    assert [(line.taken.what, line.taken.length, line.taken.at) for line in lines] == expected


@pytest.mark.parametrize(
    ("line", "words"),
    [
        ("width;banana", "is not a length"),
        ("girth;12", "is not something that can be measured"),
        (";12", "doesn't say what"),
        ("width;", "the length is missing"),
        ("top;12", "has no place"),
        ("width;-3", "has a sign"),
    ],
)
def test_a_line_that_cannot_be_read_says_why_and_the_rest_is_read(line, words):
    good, bad = read_survey(f"height;95\n{line}", "in", ["front"])
    assert good.taken
    assert words in bad.fault


def test_panels_are_told_by_name():
    lines = read_survey("panel,what,length\nFront,width,12\nback,width,13\nroof,width,14", "in", ["front", "back"])
    assert [line.taken.panel if line.taken else line.fault for line in lines] == [
        0,
        1,
        "“roof” isn't a panel of this piece: front, back.",
    ]


@pytest.mark.parametrize("text", ["", " \n ", "x" * 200_001, "width;12\n" * 1001])
def test_what_is_no_table_is_refused(text):
    with pytest.raises(BadInput):
        read_survey(text, "in", ["front"])


@given(st.text(max_size=300))
def test_any_text_is_read_or_refused(text):
    try:
        lines = read_survey(text, "in", ["front"])
    except BadInput:
        return
    assert all(line.fault or line.taken for line in lines)


def test_taken_readings_make_a_survey():
    lines = read_survey("what;length;at\nwidth;120;0\nwidth;120 1/2;96\nup;40;0\nup;39 1/2;120", "in", ["front"])
    panel = panel_with([(line.taken.what, line.taken.length, line.taken.at, "") for line in lines])
    read = read_job(wall(panel=panel)).pieces[0].surface.panels[0]
    assert [reading.kind for reading in read.readings] == ["width", "width", "level", "level"]
