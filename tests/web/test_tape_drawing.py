"""The drawing as a place where tape is laid, by its requests: what can't be laid is said, nothing is lost, layers stay apart."""

import json
import re

import pytest
from jobs import wall
from pages import reading

from dividers.services.jobs.job_list import add_job
from dividers.services.opening import open_data
from dividers.web.app import create_app

PIECE = "/jobs/1/wall"
EMPTY = {"kind": "facets", "points": {}, "lines": [], "fills": []}


@pytest.fixture
def client(tmp_path):
    connection = open_data(tmp_path)
    job = wall()
    job["pieces"][0]["pattern"] = EMPTY
    add_job(connection, job, "Begun")
    connection.close()
    return reading(create_app(tmp_path)).test_client()


def document(client):
    return json.loads(client.get("/jobs/1.json").text)["pieces"][0]


def act(client, layer=None, **data):
    revision = re.search(r'name="revision" value="(\d+)"', client.get(f"{PIECE}/pattern").text)[1]
    values = {key: value if isinstance(value, str) else json.dumps(value) for key, value in data.items()}
    return client.post(f"{PIECE}/draw{f'?layer={layer}' if layer is not None else ''}", data={"revision": revision, **values})


def lay(client, start, end, layer=None):
    return act(client, layer, **{"do": "lay", "from": start, "to": end})


def test_strips_are_laid_coloured_and_taken_off(client):
    assert lay(client, {"edge": "top", "mm": 660.4}, {"edge": "left", "mm": 660.4}).status_code == 303
    act(client, do="color", at=[100, 100], color="ink")
    lay(client, {"left": "62", "top": "0"}, {"meets": "bottom", "from": "$start", "turn": "90"})
    pattern = document(client)["pattern"]
    assert pattern["points"]["D"] == {"meets": "bottom", "from": "C", "turn": "90"}
    assert [fill["color"] for fill in pattern["fills"]] == ["ink"]
    act(client, do="set", point="C", reading="left 70, top 0")
    assert document(client)["pattern"]["points"]["C"] == {"left": "70", "top": "0"}
    act(client, do="beside", line="C D", off="6", many="2", further="4", side="left")
    assert len(document(client)["pattern"]["lines"]) == 4
    act(client, do="remove", strip="1")
    assert len(document(client)["pattern"]["lines"]) == 3
    act(client, do="cut", strip="0", at=[300, 360])
    assert len(document(client)["pattern"]["lines"]) in (2, 3)
    act(client, do="clear")
    assert document(client)["pattern"] == EMPTY
    client.post("/jobs/1/undo", data={"station": "pattern", "piece": "wall"})
    assert document(client)["pattern"] != EMPTY


@pytest.mark.parametrize(
    ("data", "said"),
    [
        ({"do": "lay", "from": {"edge": "top", "mm": 10}, "to": {"edge": "top", "mm": 10}}, "ends where it starts"),
        ({"do": "lay", "from": '"Q"', "to": {"edge": "top", "mm": 10}}, "There is no point “Q”"),
        ({"do": "lay", "from": {"free": [1]}, "to": {"edge": "top", "mm": 10}}, "can&#39;t be read"),
        ({"do": "lay", "from": {"edge": "top", "mm": 1e300}, "to": "A"}, "can&#39;t be read"),
        ({"do": "lay", "from": "{", "to": "A"}, "can&#39;t be read"),
        ({"do": "beside", "line": "A B", "off": "900"}, "lies outside the field"),
        ({"do": "beside", "line": "X Y", "off": "9"}, "isn&#39;t there any more"),
        ({"do": "beside", "line": "A B", "off": "9", "many": "99"}, "Give 1 to 40 strips"),
        ({"do": "set", "point": "B", "reading": "somewhere"}, "A point can&#39;t be read here"),
        ({"do": "set", "point": "B", "reading": "on A B at 3"}, "is found from itself"),
        ({"do": "color", "at": [-500, 3], "color": "ink"}, "Point into a region"),
        ({"do": "remove", "strip": "7"}, "isn&#39;t there any more"),
        ({"do": "fly"}, "Choose what to do"),
    ],
)
def test_what_cannot_be_laid_is_said(client, data, said):
    lay(client, {"edge": "top", "mm": 660.4}, {"edge": "left", "mm": 660.4})
    before = document(client)
    answer = act(client, **data)
    assert answer.status_code == 422
    assert said in answer.text
    assert document(client) == before


def test_only_the_layer_that_is_shown_is_drawn_on(client):
    lay(client, {"edge": "top", "mm": 660.4}, {"edge": "left", "mm": 660.4})
    revision = re.search(r'name="revision" value="(\d+)"', client.get(f"{PIECE}/pattern").text)[1]
    client.post(f"{PIECE}/layers", data={"revision": revision, "where": "all", "name": "over"})
    assert "Only facets on one ground" in lay(client, {"edge": "top", "mm": 20}, {"edge": "left", "mm": 30}, layer=1).text
    assert lay(client, {"edge": "top", "mm": 1000}, {"edge": "right", "mm": 300}, layer=0).status_code == 303
    layers = document(client)["layers"]
    assert len(layers[0]["pattern"]["lines"]) == 2
    assert "lines" not in layers[1]["pattern"]


def test_what_nearly_lines_up_is_put_right_by_one_press(client):
    lay(client, ["0", "30"], {"right": "0", "top": "30"})
    lay(client, ["50", "30 1/4"], ["40", "80"])
    page = client.get(f"{PIECE}/pattern").text
    assert "C: exactly onto A B" in page
    act(client, do="set", point="C", reading="on A B at 50")
    page = client.get(f"{PIECE}/pattern").text
    assert "exactly onto" not in page
