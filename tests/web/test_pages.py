"""Pages without a browser: headers, hosts, tokens, limits; hostile input is never a 500."""

import io
import re
from html import unescape

import pytest
from budget import ANEW, examples
from hypothesis import given
from hypothesis import strategies as st
from markupsafe import escape
from pypdf import PdfReader

from dividers.core.patterns import PATTERNS

PIECE = "/jobs/1/booth-front"
STATIONS = ("measure", "pattern", "marks", "tape", "schedule", "materials")


@pytest.mark.parametrize(
    "address",
    [
        "/jobs",
        *(f"{PIECE}/{s}" for s in STATIONS),
        f"{PIECE}/mark-sheet",
        f"{PIECE}/schedule/sheet",
        f"{PIECE}/readings/table",
        "/supplies",
        "/supplies/tape/new",
        "/nowhere",
    ],
)
def test_every_page_carries_the_security_headers(client, address):
    response = client.get(address)
    policy = response.headers["Content-Security-Policy"]
    assert "unsafe" not in policy
    assert "default-src 'self'" in policy
    assert response.headers["X-Content-Type-Options"] == "nosniff"
    page = response.get_data(as_text=True)
    assert not re.search(r"<script(?![^>]*src=)|\sstyle=|\son[a-z]+=|https?://(?!www\.w3\.org)", page)


def test_another_host_is_refused(client):
    assert client.get("/jobs", headers={"Host": "evil.example"}).status_code == 421
    assert client.get("/jobs", headers={"Host": "localhost:8640"}).status_code == 200


def test_a_form_without_its_token_changes_nothing(app):
    app.config["WTF_CSRF_ENABLED"] = True
    try:
        client = app.test_client()
        for address in (
            "/new/wall",
            "/jobs/sample",
            "/jobs/import",
            "/jobs/1/delete",
            "/jobs/1/undo",
            f"{PIECE}/measure",
            "/jobs/1/units",
        ):
            assert client.post(address, data={"title": "x"}).status_code == 400
        assert client.get("/jobs/1").status_code == 302
    finally:
        app.config["WTF_CSRF_ENABLED"] = False


def test_too_large_a_request_is_refused(client):
    kind = "multipart/form-data; boundary=x"
    assert client.post("/jobs/import", data=b" " * 3_000_000, content_type=kind).status_code == 413


@pytest.mark.parametrize(
    "content", [b"", b"{}", b"\x00\xff", b"[" * 90_000, b'{"format":"dividers-job/1"}', b"<script>alert(1)</script>"]
)
def test_a_bad_file_is_told_on_the_shelf(client, content):
    response = client.post("/jobs/import", data={"file": (io.BytesIO(content), "../../x.json")})
    assert response.status_code == 422
    assert "This file was not imported" in response.text or "This file was not imported" in response.text
    assert "<script>alert" not in response.text


NO_FIELDS = {"csrf_token", "revision", "station", "piece", "round", "action", "panel"}
WORDS = re.compile(r"/palette\..*\.name|/currency|/feet_inches.*")  # fields that take any words, or none of what is typed


def fields_of(page, mark=""):
    """The names of the form fields in a page whose tags hold a mark."""
    tags = re.findall(r"<(?:input|select|textarea)[^>]*>", page)
    names = [re.search(r' name="([^"]+)"', tag) for tag in tags if mark in tag and not re.search(r'type="(hidden|radio)"', tag)]
    return {unescape(name[1]) for name in names if name} - NO_FIELDS


def typed_everywhere(client, station, value):
    page = client.get(f"{PIECE}/{station}").text
    names = {name for name in fields_of(page) if name.startswith("/")}
    revision = re.search(r'name="revision" value="(\d+)"', page)[1]
    return names, client.post(f"{PIECE}/{station}", data={"revision": revision} | dict.fromkeys(names, value))


@pytest.mark.parametrize("value", ["1/0", "5 apples", "NaN", "x" * 40_000, "<b>", "' or 1=1 --", "\x00"])
@pytest.mark.parametrize("station", STATIONS[1:])
def test_what_is_no_value_is_told_at_every_field_and_kept(client, station, value):
    names, response = typed_everywhere(client, station, value)
    assert response.status_code == 422
    assert "is not valid yet" in response.text
    told = fields_of(response.text, 'aria-invalid="true"')
    assert {name for name in names - told if not WORDS.fullmatch(name)} == set()
    assert "<b>" not in response.text
    if value.isprintable() and len(value) < 100:
        assert response.text.count(str(escape(value))) >= len(told)
    client.post(f"{PIECE}/{station}", data={"action": "forget"})
    assert fields_of(client.get(f"{PIECE}/{station}").text, 'aria-invalid="true"') == set()


@pytest.mark.parametrize("value", ["0", "-1", "", "1000000000"])
@pytest.mark.parametrize("station", STATIONS[1:])
def test_numbers_at_the_ends_are_taken_or_told(client, station, value):
    names, response = typed_everywhere(client, station, value)
    assert response.status_code in (200, 303, 422)
    told = fields_of(response.text, 'aria-invalid="true"')
    assert told <= names and bool(told) == (response.status_code == 422)
    client.post(f"{PIECE}/{station}", data={"action": "forget"})
    if response.status_code != 422:
        client.post("/jobs/1/undo")


@examples(25)
@given(st.dictionaries(st.text(max_size=30), st.text(max_size=30), max_size=4), st.text(max_size=30))
def test_no_form_makes_a_500(app, fields, action):
    response = app.test_client().post(f"{PIECE}/pattern", data={**fields, "revision": "1", "action": action})
    assert response.status_code < 500


def test_a_fragment_and_its_page_are_the_same_file(client):
    answers = client.get(f"{PIECE}/tape"), client.get(f"{PIECE}/tape", headers={"HX-Request": "true"})
    page, part = (re.sub(r'(name="(once|csrf_token)" value=")[^"]*', r"\1", answer.text) for answer in answers)
    assert "HX-Request" in answers[1].headers["Vary"]
    assert part.strip() in page, "\n".join(set(part.split("> <")) - set(page.split("> <")))
    assert "<html" not in part


def test_the_mark_sheet_pdf_says_every_reading(client):
    response = client.get(f"{PIECE}/mark-sheet.pdf")
    assert response.mimetype == "application/pdf"
    text = "".join(page.extract_text() for page in PdfReader(io.BytesIO(response.data)).pages)
    shown = set(re.findall(r'<td class="reading">(.*?)</td>', client.get(f"{PIECE}/mark-sheet").text))
    readings = {re.sub("<[^>]+>", "", reading) for reading in shown}
    assert len(readings) > 10
    assert all(reading in text for reading in readings)
    assert client.get(f"{PIECE}/mark-sheet.pdf").data == response.data


@pytest.mark.parametrize(
    "address",
    ["/jobs/99", "/jobs/99.json", "/jobs/1/none/measure", f"{PIECE}/none", "/jobs/1/refused/9", "/jobs/99/x/mark-sheet.pdf"],
)
def test_what_is_not_there_says_so(client, address):
    assert client.get(address).status_code == 404


BAD = ("1/0", "5 apples", "30, 20: nothing", "<b>\x00", "x" * 40_000, "0", "-1", "9" * 12, "A: 1\nB")


def pick(client, kind):
    """Put another pattern on the booth front."""
    page = client.get(f"{PIECE}/pattern").text
    revision = re.search(r'name="revision" value="(\d+)"', page)[1]
    assert client.post(f"{PIECE}/pattern", data={"revision": revision, "pattern.kind": kind}).status_code == 200


@pytest.mark.parametrize("kind", [pattern.key for pattern in PATTERNS])
def test_every_pattern_has_its_stations_and_tells_bad_values(client, kind):
    pick(client, kind)
    for station in STATIONS:
        assert client.get(f"{PIECE}/{station}").status_code == 200
    page = client.get(f"{PIECE}/pattern").text
    revision = re.search(r'name="revision" value="(\d+)"', page)[1]
    names = {name for name in fields_of(page) if name.startswith("pattern.")} - {"pattern.kind", "pattern.other_side"}
    turn = [pattern.key for pattern in PATTERNS].index(kind)
    for value in (
        BAD if ANEW else [BAD[(turn * 4 + at) % len(BAD)] for at in range(4)]
    ):  # every value meets every second pattern
        response = client.post(f"{PIECE}/pattern", data={"revision": revision} | dict.fromkeys(names, value))
        told = fields_of(response.text, 'aria-invalid="true"')
        assert response.status_code == (422 if told else 200), value
        untold = (
            names - told - {"pattern.lines", "pattern.guides"}
        )  # its points' names can be anything: it is judged once the points are right
        assert not untold or value in ("0", "-1", "9" * 12, "A: 1\nB"), (value, untold)
        assert "<b>" not in response.text
        client.post(f"{PIECE}/pattern", data={"action": "forget"})
        if not told:
            client.post("/jobs/1/undo")
    client.post("/jobs/1/undo")


@pytest.mark.parametrize(
    ("station", "field", "typed", "says"),
    [
        ("measure", "surface.panels.0.width", "-3", "has a sign"),
        ("measure", "surface.panels.0.width", "0", "too small"),
        ("measure", "surface.panels.0.height", "1/0", "divides by zero"),
        ("measure", "surface.panels.0.height", "1000000000", "more than"),
        ("measure", "surface.panels.0.margin.bottom", "90", "the margins"),
        ("measure", "surface.panels.0.openings.0.left", "90", "beyond the panel"),
        ("pattern", "pattern.direction", "sideways", "isn’t a direction"),
        ("pattern", "pattern.count", "", "isn’t a whole number"),
    ],
)
def test_bad_values_are_told_at_their_fields_and_kept(client, station, field, typed, says):
    page = client.get(f"{PIECE}/{station}").text
    revision = re.search(r'name="revision" value="(\d+)"', page)[1]
    response = client.post(f"{PIECE}/{station}", data={"revision": revision, field: typed})
    said = re.search(rf'id="f-{field.replace(".", "-")}-fault"[^>]*>([^<]*)', response.text)
    assert response.status_code == 422 and says in unescape(said[1]).replace("'", "’")
    assert f'value="{typed}"' in re.search(rf'<(input|textarea)[^>]*name="{re.escape(field)}"[^>]*>', response.text)[0]
    client.post(f"{PIECE}/{station}", data={"action": "forget"})


def test_story_poles_are_at_true_size(client):
    """A page's test length of 4 in is 288 points long, and marks lie where they read."""
    response = client.get(f"{PIECE}/story-poles.pdf")
    page = PdfReader(io.BytesIO(response.data)).pages[0]
    assert "must measure 4 in" in page.extract_text()
    drawn = [
        tuple(map(float, found))
        for found in re.findall(r"([\d.]+) ([\d.]+) m ([\d.]+) ([\d.]+) l", page.get_contents().get_data().decode())
    ]
    level = [b[0] - b[2] for b in drawn if b[1] == b[3]]
    assert any(abs(abs(length) - 288) < 0.01 for length in level)
    margin = 40
    assert any(abs(b[0] - margin - 6.625 * 72) < 0.01 for b in drawn if b[0] == b[2])  # the first stripe's mark reads 6 5/8 in
