"""The schema of the job file: one entry gives reader, faults, unit conversion, form and key table."""

from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import pytest
from jobs import wall

from dividers.core.base.lengths import read_length
from dividers.core.job import kinds
from dividers.core.job.crew import Crew
from dividers.core.job.document import look_up
from dividers.core.job.kinds import LengthText, ListOf, OneOf
from dividers.core.job.reader import Findings, Reader
from dividers.core.job.schema import Object, file_key, find_key, keys_of, on_form
from dividers.core.job.usual import Usual
from dividers.core.job_file.job_reader import JOB, read_job
from dividers.core.job_file.key_table import key_table, lines_of
from dividers.core.job_file.piece_reader import PIECE
from dividers.core.job_file.unit_change import in_units
from dividers.core.patterns.base.pattern_kinds import Fills, Paths, Points
from dividers.web.forms.fields import changes_in
from dividers.web.forms.schema_fields import field_of


@dataclass(frozen=True)
class Overlap:
    """Stands for a part of the model that gets a new key."""

    by_mm: Fraction = file_key(
        LengthText(Fraction(1), Fraction(50)),
        "Overlap of strips",
        default=Usual(Fraction(10), "a made-up handbook"),
        name="overlap",
        forms={"tape": "Way of taping"},
        since="0.2.0",
    )


def test_one_entry_gives_reader_faults_conversion_form_and_docs():
    kind = Object.of(Overlap)
    findings = Findings("in")
    assert kind.read_in(Reader({"overlap": "1/2"}, "pieces.0", findings)) == Overlap(Fraction(127, 10))
    assert kind.read_in(Reader({}, "", findings)) == Overlap(Fraction(10))
    assert not findings.faults
    kind.read_in(Reader({"overlap": "12"}, "pieces.0", findings))
    assert [str(fault) for fault in findings.faults] == ["pieces.0.overlap: “12” is too much: at most ≈ 1 31/32 in."]
    assert kind.in_units({"overlap": "1/2", "other": "1/2"}, "in", "mm") == {"overlap": "12.7", "other": "1/2"}
    [(path, key)] = on_form(kind, "tape")
    field = field_of(path, key, read_job(wall()).graduation)
    assert (field.label, field.kind, field.optional) == ("Overlap of strips", "length", True)
    assert field.help == "3/8 in is common practice"
    assert changes_in([field], {"overlap": ["3/4"]}) == {"overlap": "3/4"}
    [line] = lines_of(kind.keys)
    assert line == (
        "| `overlap` | length, at least 1 mm, at most 50 mm | 10 mm (a made-up handbook) | Overlap of strips (since 0.2.0) |\n"
    )


def test_the_table_in_the_docs_is_that_of_the_schema():
    docs = (Path(__file__).parents[3] / "docs/job-and-plan.md").read_text()
    assert docs.partition("<!-- made by: dividers keys -->\n")[2] == key_table()


# Every length of the public job file, by hand from its description and not from the schema.
LENGTHS = [
    "products.delicate.width",
    "products.delicate.roll",
    "pieces.0.surface.panels.0.width",
    "pieces.0.surface.panels.0.height",
    "pieces.0.surface.panels.0.margin.top",
    "pieces.0.surface.panels.0.margin.right",
    "pieces.0.surface.panels.0.margin.bottom",
    "pieces.0.surface.panels.0.margin.left",
    "pieces.0.surface.panels.0.openings.0.left",
    "pieces.0.surface.panels.0.openings.0.width",
    "pieces.0.surface.panels.0.openings.0.top",
    "pieces.0.surface.panels.0.openings.0.height",
    "pieces.0.surface.panels.0.openings.1.left",
    "pieces.0.surface.panels.0.openings.1.right",
    "pieces.0.surface.panels.0.openings.1.top",
    "pieces.0.surface.panels.0.openings.1.bottom",
    "pieces.0.surface.panels.0.openings.2.centre",
    "pieces.0.surface.panels.0.openings.2.width",
    "pieces.0.surface.panels.0.openings.2.middle",
    "pieces.0.surface.panels.0.openings.2.height",
    "pieces.0.surface.panels.0.survey.widths.0",
    "pieces.0.surface.panels.0.survey.widths.1.length",
    "pieces.0.surface.panels.0.survey.widths.1.at",
    "pieces.0.surface.panels.0.survey.widths.1.was.0.length",
    "pieces.0.surface.panels.0.survey.heights.0",
    "pieces.0.surface.panels.0.survey.diagonals.0.length",
    "pieces.0.surface.panels.0.survey.level.0.at",
    "pieces.0.surface.panels.0.survey.level.0.top",
    "pieces.0.surface.panels.0.survey.level.1.up",
    "pieces.0.surface.panels.0.survey.level.2.bottom",
    "pieces.0.surface.panels.0.survey.plumb.0.at",
    "pieces.0.surface.panels.0.survey.plumb.0.off",
    "pieces.0.surface.panels.0.marked.lines.top.0",
    "pieces.0.surface.panels.0.marked.diagonals.1",
    "pieces.0.surface.panels.1.curve.chord",
    "pieces.0.surface.panels.1.curve.rise",
    "pieces.0.pattern.widths.0",
    "pieces.0.pattern.widths.1",
    "pieces.0.pattern.pinstripe",
    "pieces.0.pattern.origin",
    "pieces.1.pattern.points.A.0",
    "pieces.1.pattern.points.B.right",
    "pieces.1.pattern.points.C.at",
    "pieces.1.pattern.fills.0.at.1",
    "pieces.1.pattern.fills.0.stripes.width",
    "pieces.1.pattern.reserve",
    "pieces.0.method.border",
    "pieces.0.method.limits.unnoticed",
    "pieces.0.method.limits.per_repeat",
    "pieces.0.method.limits.stretch",
]


def set_at(holder, parts, value):
    """Put a value at a path, with the lists and objects on its way."""
    first, *rest = parts
    if isinstance(holder, list):
        first = int(first)
        holder += [None] * (first + 1 - len(holder))
    if not rest:
        holder[first] = value
        return
    if not isinstance(holder[first] if isinstance(holder, list) else holder.get(first), dict | list):
        holder[first] = [] if rest[0].isdigit() else {}
    set_at(holder[first], rest, value)


def filled(paths):
    """A job with a length of its own at each of these paths."""
    document = wall()
    document["pieces"][0]["pattern"] = {"kind": "stripes"}
    document["pieces"].append({"surface": {"panels": []}, "pattern": {"kind": "facets"}})
    for number, path in enumerate(paths, 2):
        set_at(document, path.split("."), str(number))
    return document


def test_every_length_of_the_job_file_is_rewritten_with_the_units():
    document = filled(LENGTHS)
    changed = in_units(document, "mm")
    for path in LENGTHS:
        before, after = (read_length(look_up(each, path), unit).mm for each, unit in ((document, "in"), (changed, "mm")))
        assert before == after, path
        assert look_up(document, path) != look_up(changed, path), path


@pytest.mark.parametrize(
    ("kind", "text", "value"),
    [
        (ListOf(LengthText(), 9), "7; 3 1/7", ["7", "3 1/7"]),
        (find_key(PIECE, "method.prep").kind, "clean, sand", ["clean", "sand"]),
        (find_key(JOB, "crew.hours").kind, "08:00-12:00, 12:30-17:30", [["08:00", "12:00"], ["12:30", "17:30"]]),
        (kinds.Flag(), "on", True),
        (kinds.Number(1, 9), "4.5", 4.5),
        (Points(), "A: 12, 20\nB: right 6, top 10", {"A": ["12", "20"], "B": {"right": "6", "top": "10"}}),
        (Paths(), "A B C\nB D", [["A", "B", "C"], ["B", "D"]]),
        (Fills(), "30, 20: base", [{"at": ["30", "20"], "color": None}]),
    ],
)
def test_a_form_reads_back_what_it_shows(kind, text, value):
    assert kind.taken(text) == value
    assert kind.shown(value) == text


@pytest.mark.parametrize("text", ["mon tue", "mon,tue", "mon; tue", " mon ,  tue "])
def test_words_are_parted_however_people_part_them(text):
    assert find_key(JOB, "crew.days").kind.taken(text) == ["mon", "tue"]


def test_keys_are_found_under_names_with_dots_and_by_colour():
    assert find_key(JOB, "products.No. 2, 24.5 mm.width").title == "Actual width"
    assert find_key(PIECE, "method.coats.old.brass").kind.most == 20
    assert find_key(PIECE, "method.nothing") is None


def test_what_holds_without_a_key_is_what_the_model_holds():
    defaults = {key.attribute: key.default for key in keys_of(Crew)}
    assert Crew(**defaults) == Crew() == read_job({k: v for k, v in wall().items() if k != "crew"}).crew


def test_choices_come_with_the_usual_one_first():
    assert OneOf(("glass", "smooth")).worded("smooth") == (("smooth", "Smooth"), ("glass", "Glass"))


def test_temperatures_go_by_the_units_of_the_job_and_are_the_same_air_in_others():
    job = wall(job={"climate": {"temperature": "66.2", "surface": "60 F"}})
    assert read_job(job).climate.temperature_c == 19
    metric = in_units(job, "mm")
    assert metric["climate"] == {"temperature": "19 C", "surface": "60 F"}  # 15.555... °C has no end
    assert read_job(metric).climate == read_job(job).climate
    assert in_units(metric, "in")["climate"]["temperature"] == "66.2 F"
    assert read_job(wall(job={"climate": {"temperature": "21"}, "units": "mm"})).climate.temperature_c == 21
