"""Pages without a browser: headers, hosts, tokens, limits; hostile input is never a 500."""

import io
import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pypdf import PdfReader

from dividers.services.demo import load_demo
from dividers.services.opening import open_data
from dividers.web.app import create_app

PIECE = "/jobs/1/booth-front"
STATIONS = ("survey", "pattern", "marks", "tape", "materials")


@pytest.fixture(scope="module")
def app(tmp_path_factory):
    folder = tmp_path_factory.mktemp("data")
    connection = open_data(folder)
    load_demo(connection)
    connection.close()
    made = create_app(folder)
    made.config["WTF_CSRF_ENABLED"] = False
    return made


@pytest.fixture
def client(app):
    return app.test_client()


@pytest.mark.parametrize("address", ["/jobs", *(f"{PIECE}/{s}" for s in STATIONS), f"{PIECE}/mark-sheet", "/nowhere"])
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
        for address in ("/jobs", "/jobs/import", "/jobs/1/delete", "/jobs/1/undo", f"{PIECE}/survey", "/jobs/1/units"):
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
    assert "This file can&#39;t be taken" in response.text or "This file can't be taken" in response.text
    assert "<script>alert" not in response.text


@pytest.mark.parametrize(
    "value", ["0", "-1", "", "1000000000", "1/0", "5 apples", "NaN", "x" * 40_000, "<b>", "' or 1=1 --", "\x00"]
)
@pytest.mark.parametrize("station", STATIONS)
def test_bad_values_in_every_field_are_told_and_kept(client, station, value):
    page = client.get(f"{PIECE}/{station}").text
    names = set(re.findall(r'<(?:input|select)[^>]*name="([^"]+)"', page)) - {
        "csrf_token",
        "revision",
        "station",
        "piece",
        "pass",
    }
    for name in sorted(names):
        data = {"revision": re.search(r'name="revision" value="(\d+)"', page)[1], name: value}
        response = client.post(f"{PIECE}/{station}", data=data)
        assert response.status_code in (200, 303, 422), name
        if response.status_code == 422:
            assert "can&#39;t be taken yet" in response.text or "can't be taken yet" in response.text
            assert "<b>" not in response.text
            client.post(f"{PIECE}/{station}", data={"action": "forget"})
        client.post("/jobs/1/undo")


@settings(max_examples=60)
@given(st.dictionaries(st.text(max_size=30), st.text(max_size=30), max_size=4), st.text(max_size=30))
def test_no_form_makes_a_500(app, fields, action):
    response = app.test_client().post(f"{PIECE}/pattern", data={**fields, "revision": "1", "action": action})
    assert response.status_code < 500


def test_a_fragment_and_its_page_are_the_same_file(client):
    page, part = client.get(f"{PIECE}/tape").text, client.get(f"{PIECE}/tape", headers={"HX-Request": "true"})
    assert "HX-Request" in part.headers["Vary"]
    assert part.text.strip() in page
    assert "<html" not in part.text


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
    ["/jobs/99", "/jobs/99.json", "/jobs/1/none/survey", f"{PIECE}/none", "/jobs/1/refused/9", "/jobs/99/x/mark-sheet.pdf"],
)
def test_what_is_not_there_says_so(client, address):
    assert client.get(address).status_code == 404
