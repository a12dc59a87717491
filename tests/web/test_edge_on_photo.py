"""The edge on a photo in the logbook: measured, shown, counted for its strip, carried along in the archive; a refusal loses nothing."""

import io
import json

import pytest
from jobs import wall
from pages import reading
from PIL import Image
from test_edge_by_photo import bumps, drawn

from dividers.services.files import archives, unpacking
from dividers.services.jobs.job_list import add_job
from dividers.services.logbook import logbook
from dividers.services.logbook import photo_edges as edges
from dividers.services.opening import open_data
from dividers.store import logbook as store
from dividers.store import photos
from dividers.web.app import create_app

PLACES = {"ax": "10", "ay": "130", "bx": "890", "by": "130", "k1x": "20", "k1y": "20", "k2x": "220", "k2y": "20"}


@pytest.fixture
def data(tmp_path):
    connection = open_data(tmp_path)
    made = add_job(connection, wall(job={"units": "mm"}, panel={"width": "3000", "height": "2400"}), "Begun")
    content = io.BytesIO()
    Image.fromarray(drawn(bumps([15], [0.7]), 20).astype("uint8")).save(content, "JPEG", quality=95)
    typed = {"round": "wall/1", "strip": "2", "edge": "clean"}
    logbook.add_finding(connection, made, typed, content.getvalue(), tmp_path / "photos")
    connection.close()
    return tmp_path


def test_it_is_measured_and_its_strip_counted_by_it(data):
    client = reading(create_app(data)).test_client()
    at = "/jobs/1/logbook/photos/1/edge"
    refused = client.post(at, data={**PLACES, "known": ""})
    assert refused.status_code == 422 and "Mark something of known size" in refused.text and 'value="890"' in refused.text
    short = client.post(at, data={**PLACES, "bx": "100", "known": "10"})
    assert short.status_code == 422 and "These are only 4.5 mm of edge; at least 15 mm are needed" in short.text
    assert client.post(at, data={**PLACES, "known": "10"}).status_code == 303
    page = client.get(at).text
    assert "Slight bleed, seen from 1 m" in page and "1 feather of more than 0.50 mm" in page
    assert "Strip 2 counts as slight bleed now" in page
    assert "By photo: slight bleed, ragged by" in client.get("/jobs/1/logbook").text
    connection = open_data(data)
    [finding] = store.list_findings(connection, 1)
    assert (finding.clean, finding.slight, finding.bleed) == (0, 1, 0)
    packed = archives.pack(connection, 1, data / "photos")
    brought = unpacking.unpack(connection, packed.content, data / "photos")
    [photo] = photos.list_photos(connection, brought.job_id)
    found, typed = edges.kept_edge(photo)
    assert (found.judged, typed["ax"]) == ("slight", "10")
    assert not edges.readable_edge(json.dumps({**json.loads(photo.edge), "judged": "splendid"}))
    assert not edges.readable_edge("[1]")
    connection.close()


def test_a_photo_of_one_strip_decides_its_edge_without_one_chosen_first(data):
    client = reading(create_app(data)).test_client()
    picture = io.BytesIO()
    Image.fromarray(drawn(bumps([15], [0.7]), 20).astype("uint8")).save(picture, "JPEG", quality=95)
    strip = {"round": "wall/1", "strip": "3"}
    assert client.post("/jobs/1/logbook/findings", data=strip).status_code == 422  # nothing says how it came out
    picture.seek(0)
    sent = client.post("/jobs/1/logbook/findings", data={**strip, "photo": (picture, "edge.jpg")})
    assert sent.location.endswith("/jobs/1/logbook/photos/2/edge")
    page = client.get("/jobs/1/logbook").text
    assert "not judged yet: measure it on the photo" in page
    assert "not judged" in client.get("/jobs/1/record").text and client.get("/year").status_code == 200
    connection = open_data(data)
    packed = archives.pack(connection, 1, data / "photos")
    brought = unpacking.unpack(connection, packed.content, data / "photos")
    assert [each.edge for each in store.list_findings(connection, brought.job_id)] == ["clean", ""]
    connection.close()
    assert client.post(sent.location, data={**PLACES, "known": "10"}).status_code == 303
    assert "Strip 3 counts as slight bleed now" in client.get(sent.location).text


def test_fields_of_a_test_patch_are_compared_by_how_ragged_they_are(data):
    client = reading(create_app(data)).test_client()
    grid = {
        "title": "behind the booth",
        "texture": "smooth",
        "tapes": "delicate tape\nstrong tape",
        "seals": ["none"],
        "waits": "0",
    }
    client.post("/patches", data=grid)
    for number, reach in ((1, 0.25), (2, 0.1)):
        client.post(f"/patches/1/{number}", data={"act": "painted", "early": "yes"})
        client.post(f"/patches/1/{number}", data={"act": "pulled", "edge": "bleed", "early": "yes"})
        content = io.BytesIO()
        Image.fromarray(drawn(bumps([15, 30], [reach, reach], 2.0), 20).astype("uint8")).save(content, "JPEG", quality=95)
        photo = {"photo": (io.BytesIO(content.getvalue()), "edge.jpg")}
        assert client.post(f"/patches/1/{number}/photo", data=photo).status_code == 303
        assert client.post(f"/patches/1/{number}/edge", data={**PLACES, "known": "10"}).status_code == 303
    page = client.get("/patches").text
    assert page.count("By photo: ragged by") == 2 and "Cleanest: strong tape, 1 of 1 fields" in page
    rows = client.get("/patches/1.csv").text.splitlines()
    assert [row.split(",")[1] for row in rows[1:]] == ["delicate tape", "strong tape"]
    first, second = (float(row.split(",")[7]) for row in rows[1:])
    assert 0.02 < second < first < 0.12
    assert all(row.split(",")[5] == "clean" for row in rows[1:])
