"""The ways to carry lines are compared at Marks, and one is taken by its button."""

import json
import re

import pytest
from jobs import wall
from pages import reading

from dividers.services.jobs.job_list import add_job
from dividers.services.opening import open_data
from dividers.web.app import create_app

PIECE = "/jobs/1/wall"


@pytest.fixture
def client(tmp_path):
    connection = open_data(tmp_path)
    job = wall()
    job["pieces"][0]["pattern"] = {"kind": "stripes", "direction": "horizontal", "count": 9, "colors": ["ink", None]}
    add_job(connection, job, "Begun")
    connection.close()
    return reading(create_app(tmp_path)).test_client()


def ways(page):
    rows = re.findall(r'<tr[^>]*>\s*<th scope="row" class="reading">(\d+)</th>\s*<td>\s*(\w+)(.*?)</tr>', page, re.S)
    return [
        (int(marks), word, "in use" if "in use" in rest else "<button" if "<button" in rest else "")
        for marks, word, rest in rows
    ]


def test_the_fewest_come_first_and_one_press_takes_them(client):
    page = client.get(f"{PIECE}/marks").text
    assert ways(page) == [(8, "one", "<button"), (8, "ticks", ""), (16, "marks", "in use"), (16, "stepped", "")]
    revision = re.search(r'name="revision" value="(\d+)"', page)[1]
    action = 'use:{"method.mark_way": "laser"}'
    client.post(f"{PIECE}/marks", data={"revision": revision, "action": action})
    assert json.loads(client.get("/jobs/1.json").text)["pieces"][0]["method"]["mark_way"] == "laser"
    assert (8, "one", "in use") in ways(client.get(f"{PIECE}/marks").text)
