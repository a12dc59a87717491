"""Every address: reading one changes nothing, and those of before lead to those of now."""

import sqlite3

import pytest
from days import MORNING, Clock, settled

from dividers.services.files.exports import KINDS
from dividers.services.jobs.demo import demo_document
from dividers.services.jobs.job_list import add_job
from dividers.services.opening import DATABASE, open_data
from dividers.web.app import create_app
from dividers.web.stations.stations import STATIONS

VALUES = {
    "job_id": [1],
    "piece": ["prop-trunk"],
    "station": list(STATIONS),
    "surface": ["wall", "paper"],
    "recipe": ["begin-1"],
    "which": list(KINDS),
    "kind": ["paint", "tape", "seal", "colour"],
    "item_id": [1],
    "number": [1],
    "refused_id": [1],
    "photo_id": [1],
    "patch_id": [1],
    "filename": ["wall.js"],
    "layer": [0],
}


@pytest.fixture
def folder(tmp_path, monkeypatch):
    """A job that was begun at the wall two days ago, so that its plan is behind."""
    time = Clock(monkeypatch, MORNING)
    document = demo_document()
    document["pieces"] = [piece for piece in document["pieces"] if piece["id"] == "prop-trunk"]
    connection = open_data(tmp_path)
    settled(connection, add_job(connection, document, "a trunk"))
    connection.close()
    time.on(2 * 1440)
    return tmp_path


def addresses(app):
    """Every address that can be read, once for each value of its parts."""
    for rule in app.url_map.iter_rules():
        if "GET" in rule.methods and rule.endpoint != "access.join":  # coming in is an act: each try is written down
            found = [{}]
            for name in sorted(rule.arguments):
                found = [each | {name: value} for each in found for value in VALUES[name]]
            with app.test_request_context():
                yield from (rule.build(each)[1] for each in found)


def test_reading_an_address_writes_nothing(folder):
    client = create_app(folder).test_client()
    watching = sqlite3.connect(folder / DATABASE)
    (before,) = watching.execute("pragma data_version").fetchone()  # moves when another connection commits
    seen = list(addresses(client.application))
    assert len(seen) > 50
    for address in seen:
        answer = client.get(address)
        answer.close()
        assert answer.status_code < 500, address
        (after,) = watching.execute("pragma data_version").fetchone()
        assert after == before, f"{address} wrote"
    assert client.get("/jobs/1/wall/state").get_json()["behind"]


def test_a_plan_that_is_behind_is_made_again_when_the_page_asks(folder):
    client = create_app(folder).test_client()
    client.application.config["WTF_CSRF_ENABLED"] = False
    behind = client.get("/jobs/1/wall/state").get_json()
    made = client.post("/jobs/1/wall/replan", headers={"Accept": "application/json"}).get_json()
    assert made["plan"] > behind["plan"] and not made["behind"]
    assert client.post("/jobs/1/wall/replan").status_code == 303
    assert client.get("/jobs/1/wall/state").get_json()["plan"] == made["plan"]


@pytest.mark.parametrize(
    ("old", "new"),
    [
        ("/cupboard", "/supplies"),
        ("/cupboard/paint/new?name=x", "/supplies/paint/new?name=x"),
        ("/cupboard/things/1", "/supplies/items/1"),
        ("/jobs/1/prop-trunk/survey", "/jobs/1/prop-trunk/measure"),
        ("/jobs/1/prop-trunk/survey.csv", "/jobs/1/prop-trunk/readings.csv"),
        ("/jobs/1/prop-trunk/order?try=1", "/jobs/1/prop-trunk/schedule?try=1"),
        ("/jobs/1/prop-trunk/order.ics", "/jobs/1/prop-trunk/schedule.ics"),
        ("/jobs/1/prop-trunk/order/sheet", "/jobs/1/prop-trunk/schedule/sheet"),
        ("/jobs/1/prop-trunk/files/order-of-work.pdf", "/jobs/1/prop-trunk/files/schedule.pdf"),
    ],
)
def test_an_address_of_before_leads_to_the_one_of_now(folder, old, new):
    client = create_app(folder).test_client()
    answer = client.get(old)
    assert (answer.status_code, answer.location) == (308, new)
    assert client.get(old, follow_redirects=True).status_code == 200
