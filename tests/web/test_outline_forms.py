"""A panel gets an outline as people measure it, by its form; what is wrong stands at its field; it becomes a rectangle again."""

import json
import re
from fractions import Fraction

import pytest
from jobs import wall
from pages import reading

from dividers.core.base.errors import BadInput
from dividers.core.job.outline_shapes import OUTLINE_SHAPES, corners_of
from dividers.services.jobs.job_list import add_job
from dividers.services.opening import open_data
from dividers.web.app import create_app

PIECE = "/jobs/1/wall"


@pytest.fixture
def client(tmp_path):
    connection = open_data(tmp_path)
    add_job(connection, wall(), "Begun")
    connection.close()
    return reading(create_app(tmp_path)).test_client()


def panel(client):
    return json.loads(client.get("/jobs/1.json").text)["pieces"][0]["surface"]["panels"][0]


def post(client, address, **data):
    revision = re.search(r'name="revision" value="(\d+)"', client.get(f"{PIECE}/measure").text)[1]
    return client.post(f"{PIECE}/{address}", data={"revision": revision, **data})


def test_a_gable_is_measured_and_goes_back_to_a_rectangle(client):
    gable = {"shape": "gable", "width": "120", "left": "72", "right": "60", "ridge": "110 1/2", "ridge_at": "50"}
    assert post(client, "measure/outline", **gable).status_code == 303
    outline = [["0", "38 1/2"], ["50", "0"], ["120", "50 1/2"], ["120", "110 1/2"], ["0", "110 1/2"]]
    assert panel(client) == {"name": "front", "outline": outline}
    page = client.get(f"{PIECE}/measure").text
    assert "0, 38 1/2; 50, 0; 120, 50 1/2; 120, 110 1/2; 0, 110 1/2" in page
    assert "Its corners are taken as they were measured" in page
    for station in ("pattern", "marks", "tape", "materials"):
        assert client.get(f"{PIECE}/{station}").status_code == 200
    typed = post(client, "measure", **{"surface.panels.0.outline": "0, 40; 60, 0; 120, 40; 120, 110; 0, 110"})
    assert typed.status_code == 200
    assert panel(client)["outline"][0] == ["0", "40"]
    post(client, "measure/outline", shape="rect")
    assert panel(client) == {"name": "front", "width": "120", "height": "110"}


@pytest.mark.parametrize(
    ("typed", "key", "said"),
    [
        ({"shape": "gable", "width": "120", "left": "72", "right": "60", "ridge": "70"}, "ridge", "higher than both sides"),
        ({"shape": "slope", "width": "wide", "left": "72", "right": "60"}, "width", "wide"),
        ({"shape": "corner", "width": "120", "height": "90", "cut_width": "120", "cut_height": "20"}, "cut_width", "smaller than the whole"),
        ({"shape": "round"}, "across", "Give it: across."),
        ({"shape": "arch", "width": "40", "sides": "60", "middle": "90"}, "middle", "no more than half"),
    ],
)  # fmt: skip
def test_what_cannot_be_stands_at_its_field(client, typed, key, said):
    answer = post(client, "measure/outline", **typed)
    assert answer.status_code == 422
    assert said in re.search(rf'id="outline-{typed["shape"]}-{key}-fault">([^<]*)<', answer.text)[1]
    assert panel(client) == {"name": "front", "width": "120", "height": "96"}


def test_every_shape_has_the_sizes_that_were_measured():
    sizes = {"width": 1200, "left": 500, "right": 800, "ridge": 900, "run": 3000, "rise": 1700, "low": 2500, "height": 2000}
    sizes |= {"cut_width": 300, "cut_height": 400, "sides": 1500, "middle": 1800, "across": 1100}
    sizes = {key: Fraction(value) for key, value in sizes.items()}
    boxes = {"gable": (1200, 900), "slope": (1200, 800), "stair": (3000, 4200), "corner": (1200, 2000), "arch": (1200, 1800), "round": (1100, 1100)}  # fmt: skip
    for key in OUTLINE_SHAPES:
        corners = corners_of(key, sizes)
        assert (max(x for x, _, _ in corners), max(y for _, y, _ in corners)) == boxes[key]
        assert min(x for x, _, _ in corners) == 0
        assert min(y - rise for _, y, rise in corners) <= 0
    with pytest.raises(BadInput, match="Choose what"):
        corners_of("star", sizes)
