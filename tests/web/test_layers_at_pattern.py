"""Layers at the Pattern station: added where somebody pointed, edited like a pattern, moved, renamed, measured, taken out."""

import json
import re

import pytest
from jobs import wall
from pages import reading

from dividers.services.jobs.job_list import add_job
from dividers.services.opening import open_data
from dividers.web.app import create_app

PIECE = "/jobs/1/wall"
BANDS = {"kind": "stripes", "direction": "horizontal", "count": 8, "colors": ["ink", None]}


@pytest.fixture
def client(tmp_path):
    connection = open_data(tmp_path)
    add_job(connection, wall(pattern=BANDS), "Begun")
    connection.close()
    return reading(create_app(tmp_path)).test_client()


def document(client):
    return json.loads(client.get("/jobs/1.json").text)["pieces"][0]


def revision(client):
    return re.search(r'name="revision" value="(\d+)"', client.get(f"{PIECE}/pattern").text)[1]


def post(client, path, **data):
    return client.post(f"{PIECE}/{path}", data={"revision": revision(client), **data})


def add(client, **data):
    return post(client, "layers", **data)


def test_a_layer_in_the_bands_of_a_colour_begins_as_a_pinstripe(client):
    answer = add(client, where="color", color="0:ink", each="on", name="pin")
    assert answer.status_code == 303
    assert answer.location.endswith("layer=1")
    piece = document(client)
    assert "pattern" not in piece
    assert [layer["name"] for layer in piece["layers"]] == ["stripes", "pin"]
    assert piece["layers"][1]["zone"] == {"cells": "stripes", "color": "ink", "each": True}
    assert piece["layers"][1]["pattern"]["pinstripe"]
    page = client.get(f"{PIECE}/pattern").text
    assert "ink parts of stripes, each by itself" in page
    assert "Measure it as painted" in page
    tape = client.get(f"{PIECE}/tape?round=2").text
    assert "Round 2 (pin)" in tape
    assert "lies on ink" in tape


def test_a_layer_is_laid_in_the_part_that_was_pointed_at(client):
    add(client, where="part", part="c2", each="on")
    [_, layer] = document(client)["layers"]
    assert layer["zone"]["cells"] == "stripes"
    assert layer["zone"]["at"][0][1].startswith("18")  # amid the second band of 12 in


def test_each_layer_is_edited_by_itself(client):
    add(client, where="rect", left="10", top="10", width="40", height="30", name="box")
    post(client, "pattern?layer=0", **{"pattern.count": "4", "pattern:divide": "count"})
    post(client, "pattern?layer=1", **{"pattern.count": "3", "pattern:divide": "count"})
    assert [str(layer["pattern"]["count"]) for layer in document(client)["layers"]] == ["4", "3"]
    page = post(client, "pattern?layer=1", **{"pattern.count": "many", "pattern:divide": "count"})
    assert page.status_code == 422
    assert "many" in page.text
    assert re.search(r'aria-invalid="true"[^>]*|id="f-pattern-count"', page.text)
    assert [str(layer["pattern"]["count"]) for layer in document(client)["layers"]] == ["4", "3"]


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ({"where": "rect", "left": "0", "top": "0", "width": "wide", "height": "3"}, "“wide” is not a length"),
        ({"where": "rect", "left": "0", "top": "0", "width": "", "height": "3"}, "give its width and height"),
        ({"where": "rect", "left": "400", "top": "0", "width": "5", "height": "3"}, "lies off the field"),
        ({"where": "points", "points": "0, 0; 10, 10"}, "at least 3 points"),
        ({"where": "points", "points": "0, 0; 10; 4, 4"}, "two lengths"),
        ({"where": "points", "points": "0, 0; right far, 3; 4, 4"}, "“far” is not a length"),
        ({"where": "part", "part": "c99"}, "isn&#39;t there any more"),
        ({"where": "color", "color": "7:ink"}, "Choose the parts"),
    ],
)
def test_a_place_that_cannot_be_is_told_and_what_was_typed_is_kept(client, typed, said):
    answer = add(client, name="mine", **typed)
    assert answer.status_code == 422
    assert said in answer.text
    assert 'value="mine"' in answer.text
    assert all(f'value="{value}"' in answer.text for key, value in typed.items() if key not in ("where", "color") and value)
    assert "layers" not in document(client)


def test_corners_of_a_shape_may_be_written_from_the_right_and_the_bottom(client):
    panel = document(client)["surface"]["panels"][0]
    answer = add(client, where="points", points="0, 0; right 6, top 3; 24, bottom 0")
    assert answer.status_code == 303, re.findall("alert.>([^<]*)", answer.text)
    [_, layer] = document(client)["layers"]
    assert layer["zone"]["points"] == [["0", "0"], [str(int(panel["width"]) - 6), "3"], ["24", panel["height"]]]


def test_layers_are_moved_renamed_and_taken_out(client):
    add(client, where="rect", left="10", top="10", width="40", height="30", name="box")
    add(client, where="color", color="0:ink", each="on", name="pin")
    post(client, "layers/2", do="down")
    assert [layer["name"] for layer in document(client)["layers"]] == ["stripes", "pin", "box"]
    refused = client.post(f"{PIECE}/layers/0", data={"revision": revision(client), "do": "up"}, follow_redirects=True)
    assert "so it is painted after it" in refused.text
    post(client, "layers/0", do="rename", name="bands")
    assert document(client)["layers"][1]["zone"]["cells"] == "bands"
    post(client, "layers/2", do="to", to="1")
    assert [layer["name"] for layer in document(client)["layers"]] == ["bands", "box", "pin"]
    post(client, "layers/1", do="remove")
    assert [layer["name"] for layer in document(client)["layers"]] == ["bands", "pin"]
    client.post("/jobs/1/undo", data={"station": "pattern", "piece": "wall"})
    assert len(document(client)["layers"]) == 3


def test_a_layer_is_laid_elsewhere(client):
    add(client, where="rect", left="10", top="10", width="40", height="30", name="box")
    post(client, "layers?layer=1", where="points", points="0, 0; 20, 0; 0, 20", elsewhere="1")
    assert document(client)["layers"][1]["zone"] == {"points": [["0", "0"], ["20", "0"], ["0", "20"]]}


def test_readings_typed_while_another_changed_the_job_stay_on_their_page(client):
    add(client, where="color", color="0:ink", each="on", name="pin")
    shown = revision(client)
    add(client, where="all", name="over")
    answer = client.post(f"{PIECE}/layers/0/measured", data={"revision": shown, "1.bottom.near": "11 7/8"})
    assert answer.status_code == 422
    assert "changed meanwhile" in answer.text
    assert 'value="11 7/8"' in answer.text
    assert post(client, "layers/0/measured", **{"1.bottom.near": "11 7/8"}).status_code == 303


def test_bands_are_measured_once_painted_and_what_is_laid_in_them_follows(client):
    add(client, where="color", color="0:ink", each="on", name="pin")
    assert "Band 1, bottom" in client.get(f"{PIECE}/layers/0/measured").text
    wrong = post(client, "layers/0/measured", **{"1.bottom.near": "11 x", "3.top.ok": "on"})
    assert wrong.status_code == 422
    assert 'value="11 x"' in wrong.text
    far = post(client, "layers/0/measured", **{"1.bottom.near": "1 7/8"})
    assert "more than half a band away" in far.text
    answer = post(
        client,
        "layers/0/measured",
        **{"1.bottom.near": "11 7/8", "3.top.ok": "on", "3.bottom.near": "36", "3.bottom.far": "36 1/4"},
    )
    assert answer.status_code == 303
    assert document(client)["layers"][0]["as_painted"] == [
        {"line": "band 1, bottom", "at": "11 7/8"},
        {"line": "band 3, top", "at": "24 in"},
        {"line": "band 3, bottom", "at": "36", "along": "0"},
        {"line": "band 3, bottom", "at": "36 1/4", "along": "120"},
    ]
    assert "is centred in each band as it came out" in client.get(f"{PIECE}/pattern").text
