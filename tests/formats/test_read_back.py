"""Files read back by other means than wrote them: lengths on paper and in drawings to a tenth of a millimetre; tables by the csv module."""

import csv
import io
import math
import re

import ezdxf
import pandas
import pytest
from jobs import wall as plain_wall
from PIL import Image
from pypdf import PdfReader
from pypdf.generic import ContentStream
from svgelements import SVG, Path, Shape

from dividers.core.base.errors import NotYet
from dividers.core.job_file.job_reader import read_job
from dividers.core.output.cad_layers import layers_of
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_document
from dividers.formats.tables.plan_csv import cells_csv, marks_csv
from dividers.services.clock import date_of
from dividers.services.files import exports, sheets
from dividers.services.jobs.demo import demo_document
from dividers.services.jobs.editing import open_job
from dividers.services.jobs.job_list import add_job

POINT_MM = 25.4 / 72


@pytest.fixture
def job_id(connection):
    document = demo_document()
    document["pieces"] = [piece for piece in document["pieces"] if piece["id"] in ("stage-floor", "booth-front")]
    document["palette"]["madder"]["name"] = '=HYPERLINK("x"), "quoted", Madder'
    return add_job(connection, document, "=1+1")


def made(connection, job_id, which, piece="stage-floor", size="A4"):
    return exports.make(connection, job_id, piece, which, size).content


def test_the_area_of_a_part_leaves_out_its_holes():
    door = {"name": "door", "left": "50", "top": "30", "width": "20", "height": "20"}
    document = plain_wall(panel={"openings": [door]}, pattern={"count": 1, "colors": ["ink"]})
    [part] = csv.DictReader(io.StringIO(cells_csv(plan_document(plan_job(read_job(document)))["pieces"][0])))
    assert float(part["area mm2"]) == pytest.approx((120 * 96 - 20 * 20) * 25.4**2)


def lines_on(page, reader):
    """The straight lines drawn on a page, in points."""
    found, at, start = [], None, None
    for operands, operator in ContentStream(page["/Contents"].get_object(), reader).operations:
        if operator == b"m":
            at = start = tuple(float(n) for n in operands)
        elif operator == b"l":
            to = tuple(float(n) for n in operands)
            found.append((at, to))
            at = to
        elif operator == b"h" and at != start:
            found.append((at, start))
            at = start
    return found


def length_mm(line):
    return math.dist(*line) * POINT_MM


@pytest.mark.parametrize("which", ["tape-cards.pdf", "cutting-list.pdf", "templates.pdf", "shopping-list.pdf", "record.pdf"])
@pytest.mark.parametrize("size", ["A4", "Letter"])
def test_every_page_of_paper_has_its_bar_job_revision_date_and_number(connection, job_id, which, size):
    content = made(connection, job_id, which, size=size)
    reader = PdfReader(io.BytesIO(content))
    wide, high = {"A4": (210, 297), "Letter": (215.9, 279.4)}[size]
    for number, page in enumerate(reader.pages, 1):
        assert float(page.mediabox.width) * POINT_MM == pytest.approx(wide, abs=0.1)
        assert float(page.mediabox.height) * POINT_MM == pytest.approx(high, abs=0.1)
        assert any(length_mm(line) == pytest.approx(101.6, abs=0.1) for line in lines_on(page, reader))
        text = page.extract_text()
        assert f"Page {number} of {len(reader.pages)}" in text
        assert "The Lantern Cart, revision 1, 20" in text
    assert made(connection, job_id, which, size=size) == content


def test_templates_are_as_large_as_the_cells(connection, job_id):
    reader = PdfReader(io.BytesIO(made(connection, job_id, "templates.pdf")))
    cell = next(
        c for c in exports.piece_document(_document(connection, job_id), "stage-floor")["cells"] if c["color"] == "madder"
    )
    side = math.dist(cell["rings"][0][0], cell["rings"][0][1])
    drawn = [length_mm(line) for page in reader.pages for line in lines_on(page, reader)]
    assert sum(length == pytest.approx(side, abs=0.1) for length in drawn) >= 4


def _document(connection, job_id):
    return open_job(connection, job_id).revision.document


def dxf_entities(text):
    """Group codes of a DXF text, entity by entity: (kind, {code: [values]}). A reader of its own, for what is checked here."""
    lines = [line.strip() for line in text.splitlines()]
    pairs = list(zip(map(int, lines[0::2]), lines[1::2], strict=True))
    start = next(n for n, pair in enumerate(pairs) if pair == (2, "ENTITIES"))
    found = []
    for code, value in pairs[start + 1 :]:
        if code == 0 and value == "ENDSEC":
            return found
        if code == 0:
            found.append((value, {}))
        else:
            found[-1][1].setdefault(code, []).append(value)
    raise AssertionError("the section never ends")


@pytest.mark.parametrize("piece", ["stage-floor", "booth-front"])
def test_the_dxf_holds_cells_strips_and_marks_in_millimetres(connection, job_id, piece):
    text = made(connection, job_id, "drawing.dxf", piece).decode()
    document = exports.piece_document(_document(connection, job_id), piece)
    assert re.search(r"\$INSUNITS\s+70\s+4\s", text)
    entities = dxf_entities(text)
    outlines = [groups for kind, groups in entities if kind == "LWPOLYLINE"]
    points = {(round(float(x), 1), round(-float(y), 1)) for g in outlines for x, y in zip(g[10], g[20], strict=True)}
    for cell in document["cells"]:
        for ring in cell["rings"]:
            for x, y in ring:
                assert any(abs(x - px) <= 0.1 and abs(y - py) <= 0.1 for px, py in points), cell["id"]
    by_layer = {}
    for _, groups in entities:
        by_layer[groups[8][0]] = by_layer.get(groups[8][0], 0) + 1
    assert by_layer["MARKS"] == by_layer["READINGS"] == len(document["marks"])
    assert by_layer["STRIPS_ROUND_1"] == sum(len(strip["rings"]) for strip in document["rounds"][0]["strips"])
    assert by_layer["CELLS_MADDER"] == sum(c["color"] == "madder" for c in document["cells"])


def test_the_svg_is_of_true_size_with_named_layers(connection, job_id):
    text = made(connection, job_id, "drawing.svg").decode()
    assert re.search(r'width="[\d.]+mm"', text)
    document = exports.piece_document(_document(connection, job_id), "stage-floor")
    root = SVG.parse(io.StringIO(text), reify=True, ppi=25.4)  # a dot is a millimetre then
    shapes = {element.id: Path(element) for element in root.elements() if isinstance(element, Shape) and element.id}
    for cell in document["cells"][:20]:
        xs, ys = zip(*cell["rings"][0], strict=True)
        left, top, right, bottom = shapes[cell["id"]].bbox()
        assert (right - left, bottom - top) == pytest.approx((max(xs) - min(xs), max(ys) - min(ys)), abs=0.1)
    for name in (
        "outline",
        "cells-madder",
        *(f"strips-round-{each['number']}" for each in document["rounds"]),
        "marks",
        "readings",
    ):
        assert f'<g id="{name}"' in text


def test_the_picture_shows_the_colours(connection, job_id):
    image = Image.open(io.BytesIO(made(connection, job_id, "drawing.png", "booth-front"))).convert("RGB")
    seen = {image.getpixel((x, image.height // 5)) for x in range(0, image.width, 5)}
    assert {(0x9E, 0x3B, 0x32), (0xF2, 0xE5, 0xC8)} <= seen
    assert image.getpixel((image.width // 2, image.height // 2)) == (255, 255, 255)  # the play window


@pytest.mark.parametrize(
    ("which", "heading", "many"),
    [
        ("marks.csv", "reading", "marks"),
        ("strips.csv", "side", None),
        ("cells.csv", "colour", "cells"),
        ("shopping-list.csv", "to buy", None),
    ],
)
def test_tables_read_back_by_the_csv_module_and_run_nothing(connection, job_id, which, heading, many):
    rows = list(csv.reader(io.StringIO(made(connection, job_id, which).decode(), newline="")))
    document = exports.piece_document(_document(connection, job_id), "stage-floor")
    assert heading in rows[0]
    assert {len(row) for row in rows} == {len(rows[0])}
    if many:
        assert len(rows) - 1 == len(document[many])
    for row in rows[1:]:
        for value in row:
            assert not re.match(r"[=@\t\r]|[+-](?![\d.]+$)", value), value
    if which == "shopping-list.csv":
        assert any(row[0].startswith('\'=HYPERLINK("x"), "quoted", Madder') for row in rows)


def test_areas_and_marks_in_tables_are_those_of_the_plan(connection, job_id):
    rows = list(csv.DictReader(io.StringIO(made(connection, job_id, "cells.csv").decode(), newline="")))
    plan = plan_job(read_job(demo_document()))
    piece = next(p for p in plan.pieces if p.piece.key == "stage-floor")
    assert sum(float(row["area mm2"]) for row in rows) == pytest.approx(float(piece.layouts[0].cells.areas().sum()), rel=1e-5)
    marks = list(csv.DictReader(io.StringIO(made(connection, job_id, "marks.csv").decode(), newline="")))
    assert [row["reading"] for row in marks] == [mark.reading.text for mark in piece.marks]


def test_panels_lie_side_by_side_in_a_drawing():
    job = plain_wall()
    panels = job["pieces"][0]["surface"]["panels"]
    panels.append({"name": "side", "width": "60", "height": "96"})
    job["pieces"][0]["surface"]["folds"] = [["front", "right", "side", "left"]]
    plan = plan_job(read_job(job))
    layers = layers_of(plan_document(plan)["pieces"][0], plan.job.palette, "cream")
    boxes = [(min(x for x, _ in s.rings[0]), max(x for x, _ in s.rings[0])) for s in layers.shapes if s.layer == "outline"]
    assert boxes[0] == (0, 120 * 25.4)
    assert boxes[1] == (120 * 25.4 + 200, 180 * 25.4 + 200)
    assert layers.width == pytest.approx(180 * 25.4 + 200)


@pytest.mark.parametrize(
    ("which", "numbers", "times"),
    [
        ("marks.csv", ("mark", "order", "x mm", "y mm", "error mm"), ()),
        ("strips.csv", ("strip", "round", "length mm", "first end angle", "last end angle"), ()),
        ("cells.csv", ("cell", "area mm2"), ()),
        ("schedule.csv", ("minutes", "painter"), ("start", "end", "earliest", "latest")),
    ],
)
def test_numbers_in_tables_are_numbers_and_times_are_times(connection, job_id, which, numbers, times):
    """Read by pandas, which takes a column with one text in it for text."""
    while True:
        try:
            text = made(connection, job_id, which).decode()
            break
        except NotYet:
            continue
    table = pandas.read_csv(io.StringIO(text), parse_dates=list(times))
    for column in numbers:
        assert pandas.api.types.is_numeric_dtype(table[column]), column
    for column in times:
        assert pandas.api.types.is_datetime64_any_dtype(table[column]), column
        written = [row[column] for row in csv.DictReader(io.StringIO(text))]
        assert all(re.fullmatch(r"\d{4}-\d\d-\d\d \d\d:\d\d", each) for each in written), written[0]
    if which == "marks.csv":
        assert (table["error mm"].abs() <= 25.4 / 32 + 1e-3).all()


def test_a_negative_number_is_no_formula_and_a_text_that_looks_like_one_is_kept_harmless():
    piece = {"marks": [{"id": "m1", "panel": "-1+1", "line": "top edge", "order": 1, "from": "=left", "reading": "1 in", "x": -0.366, "y": -0.0, "error": -0.366, "layer": "stripes"}]}  # fmt: skip
    [row] = csv.DictReader(io.StringIO(marks_csv(piece)))
    assert (row["error mm"], row["x mm"], row["y mm"], row["panel"], row["from"]) == (
        "-0.366",
        "-0.37",
        "0.0",
        "'-1+1",
        "'=left",
    )


def test_the_dxf_says_how_far_it_reaches_and_opens_seen_whole(connection, job_id):
    document = ezdxf.read(io.StringIO(made(connection, job_id, "drawing.dxf").decode()))
    points = [point for line in document.modelspace().query("LWPOLYLINE") for point in line.get_points("xy")]
    for turn in (0, 1):
        low, high = min(p[turn] for p in points), max(p[turn] for p in points)
        assert document.header["$EXTMIN"][turn] <= low + 1e-6
        assert document.header["$EXTMAX"][turn] >= high - 1e-6
    view = document.viewports.get("*Active")[0]
    assert view.dxf.height >= high - low
    assert low <= view.dxf.center[1] <= high


@pytest.mark.parametrize("which", ["tape-cards.pdf", "templates.pdf", "shopping-list.pdf", "mark sheet", "story poles"])
def test_papers_say_their_language_author_and_day_and_embed_every_face(connection, job_id, which):
    content = {
        "mark sheet": lambda: sheets.mark_sheet_pdf(connection, job_id, "stage-floor")[1],
        "story poles": lambda: sheets.story_poles_pdf(connection, job_id, "stage-floor")[1],
    }.get(which, lambda: made(connection, job_id, which))()
    reader = PdfReader(io.BytesIO(content))
    assert reader.trailer["/Root"]["/Lang"] == "en"
    assert reader.metadata.author == "Dividers"
    made_at = open_job(connection, job_id).revision.made_at
    assert reader.metadata.creation_date.date() == date_of(made_at)
    for page in reader.pages:
        for font in page["/Resources"]["/Font"].values():
            faces = [inner.get_object() for inner in font.get_object().get("/DescendantFonts", [font])]
            assert all("/FontFile2" in face["/FontDescriptor"] for face in faces), [face.get("/BaseFont") for face in faces]
