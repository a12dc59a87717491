"""Motifs and shading by their forms: added, changed, removed; what is wrong stands at its field and nothing typed is lost."""

import json
import re

import pytest
from jobs import wall
from pages import reading

from dividers.services.jobs.job_list import add_job
from dividers.services.opening import open_data
from dividers.web.app import create_app

PIECE = "/jobs/1/wall"
NAILS = {"kind": "motifs", "of": "checker", "at": "crossings", "tool": "nail head", "width": "1/2", "color": "madder"}


@pytest.fixture
def client(tmp_path):
    connection = open_data(tmp_path)
    job = wall()
    job["pieces"][0]["pattern"] = {"kind": "checker", "columns": 6, "rows": 4, "colors": ["ink", None]}
    add_job(connection, job, "Begun")
    connection.close()
    return reading(create_app(tmp_path)).test_client()


def piece(client):
    return json.loads(client.get("/jobs/1.json").text)["pieces"][0]


def put(client, **data):
    revision = re.search(r'name="revision" value="(\d+)"', client.get(f"{PIECE}/pattern").text)[1]
    return client.post(f"{PIECE}/by-hand", data={"revision": revision, **data})


def test_nail_heads_are_added_marked_scheduled_bought_and_removed(client):
    assert put(client, **NAILS, name="nails").status_code == 303
    made = piece(client)
    assert [each["name"] for each in made["layers"]] == ["checker", "nails"]
    page = client.get(f"{PIECE}/pattern").text
    assert "15 nail heads over checker" in page
    assert 'class="by-hand"' in page
    marks = client.get(f"{PIECE}/marks").text
    assert "nails" in marks
    assert "0.003 L" in client.get(f"{PIECE}/materials").text or "madder" in client.get(f"{PIECE}/materials").text.lower()
    assert put(client, **NAILS | {"width": "3/4"}, number="0", name="nails").status_code == 303
    assert piece(client)["layers"][1]["width"] == "3/4"
    revision = re.search(r'name="revision" value="(\d+)"', client.get(f"{PIECE}/pattern").text)[1]
    client.post("/jobs/1/units", data={"units": "mm", "piece": "wall", "station": "pattern", "revision": revision})
    assert piece(client)["layers"][1]["width"] == "19.05"
    assert put(client, do="remove", kind="motifs", number="0").status_code == 303
    assert [each["name"] for each in piece(client)["layers"]] == ["checker"]


def test_another_layer_is_added_below_what_is_done_by_hand(client):
    put(client, **NAILS)
    revision = re.search(r'name="revision" value="(\d+)"', client.get(f"{PIECE}/pattern").text)[1]
    client.post(f"{PIECE}/layers", data={"revision": revision, "where": "all", "name": "over"})
    assert [each["name"] for each in piece(client)["layers"]] == ["checker", "over", "motifs"]
    put(client, kind="shading", of="over", light="top left", dark="ink", line="1/8")
    assert "light from the top left" in client.get(f"{PIECE}/pattern").text


@pytest.mark.parametrize(
    ("wrong", "key", "said"),
    [
        ({"color": ""}, "color", "Give its colour."),
        ({"width": "wide"}, "width", "wide"),
        ({"width": ""}, "width", "Give the motif"),
        ({"every": "0", "at": "centres"}, "every", "1 to 50"),
    ],
)
def test_what_is_wrong_stands_at_its_field_with_all_that_was_typed(client, wrong, key, said):
    before = piece(client)
    answer = put(client, **NAILS | {"height": "7/8"} | wrong)
    assert answer.status_code == 422
    assert said in re.search(rf'id="hand-motifs-new-{key}-fault">([^<]*)<', answer.text)[1]
    assert 'value="7/8"' in answer.text
    assert piece(client) == before


def test_a_step_of_ones_own_is_added_changed_and_removed(client):
    assert put(client, kind="step", name="Fit the handles", when="last", minutes="20").status_code == 303
    assert piece(client)["steps"] == [{"name": "Fit the handles", "when": "last", "minutes": 20}]
    bad = put(client, kind="step", number="0", name="Fit the handles", when="last", minutes="20", wait="soon")
    assert "soon" in re.search(r'id="hand-step-0-wait-fault">([^<]*)<', bad.text)[1]
    put(client, kind="step", number="0", name="Fit the knobs", when="tape off", minutes="20", wait="1 h")
    assert "when all tape is off, 20 min, then 1 h wait" in client.get(f"{PIECE}/pattern").text
    put(client, do="remove", kind="step", number="0")
    assert "steps" not in piece(client)


def test_what_is_gone_is_told(client):
    assert "isn&#39;t there any more" in put(client, do="remove", kind="motifs", number="3").text
    assert "Choose motifs or shading" in put(client, kind="glitter").text
