"""A run keeps the steps it was begun with when the same job is planned otherwise later, goes on with them, and takes today's only when asked."""

import re
import zipfile
from pathlib import Path

import pytest
from days import MORNING, Clock, settled
from jobs import wall
from pages import reading

from dividers.core.job_file.as_begun import stamped
from dividers.services.jobs import editing
from dividers.services.jobs.job_list import add_job, dump
from dividers.services.opening import open_data
from dividers.services.wall import at_the_wall
from dividers.services.wall.progress import progress_of
from dividers.web.app import create_app

WALL = "/jobs/1/wall"
CREW = {"crew": {"start": "2026-10-13T08:00"}}


@pytest.fixture
def time(monkeypatch):
    return Clock(monkeypatch, MORNING)


@pytest.fixture
def client(tmp_path, time):
    connection = open_data(tmp_path)
    add_job(connection, wall(job=CREW, pattern={"count": 5}), "a wall")
    settled(connection, 1)
    connection.close()
    made = reading(create_app(tmp_path)).test_client()
    made.post(f"{WALL}/begin")
    record(made, kind="start", task="wall/base/-/-/cream/1")  # the steps are kept with the first entry
    return made


def record(client, **data):
    return client.post(f"{WALL}/record", data={"answer": "go", **data})


def state(client):
    return client.get(f"{WALL}/state").get_json()


def rows(client, task):
    page = client.get(WALL, query_string={"task": task}).text
    return re.findall(r'data-item="([^"]+)".*?data-said="([^"]+)"', page, re.S)


def drawing(client, task):
    return re.search(r'<figure class="wall-drawing".*?</figure>', client.get(WALL, query_string={"task": task}).text, re.S)[0]


def planned_otherwise(folder, **pattern):
    """What a later version would do: the same run's job, planned otherwise."""
    document = wall(job=CREW, pattern={"count": 5} | pattern)
    document["pieces"][0]["id"] = "wall"
    document["pieces"][0]["method"]["coats"] = {"ink": 3}
    connection = open_data(folder)
    editing.change(connection, 1, None, "as a later version has it", lambda _: document)
    connection.execute("update runs set document = ?, revision = 2", (dump(stamped(document)),))
    connection.commit()
    connection.close()


def test_a_run_goes_on_with_the_steps_it_was_begun_with(client, tmp_path, time):
    tape = next(key for key in state(client)["order"] if "/tape/" in key)
    before, marks, drawn = rows(client, tape), state(client)["tasks"], drawing(client, tape)
    record(client, kind="tick", task=tape, item="s2")
    planned_otherwise(tmp_path, count=7)
    page = client.get(WALL).text
    assert "it goes on with the steps it was begun with" in page and "steps instead of" in page
    assert rows(client, tape) == before and state(client)["tasks"].keys() == marks.keys()
    assert client.get(f"{WALL}/held").get_json()["document"] == state(client)["document"]
    assert drawing(client, tape) == drawn
    time.on(60)
    record(client, kind="done", task="wall/base/-/-/cream/1")
    lately = state(client)["tasks"]["wall/base/-/-/cream/2"]["ready"]
    record(client, kind="air", temperature="50 F", humidity="85")
    assert state(client)["tasks"]["wall/base/-/-/cream/2"]["ready"] > lately + 3_600_000  # its waits follow the air as well
    record(client, kind="done", task=tape, took="20")
    logged = client.get("/jobs/1/logbook").text
    assert "strips have the numbers and the count that they have at the wall" in logged
    assert f"round 1: {len(before)} strips" in re.sub(r"\s+", " ", logged)
    assert client.get("/jobs/1/record").status_code == 200
    refused = client.post(f"{WALL}/takes-tape", data={"task": tape, "takes_tape": "1 h"})
    assert refused.status_code == 422 and "it goes on with the steps it was begun with" in client.get(WALL).text
    assert "coat 3 of ink" in page and "wall/coat/1/-/ink/3" not in state(client)["tasks"]


def test_todays_plan_is_taken_when_asked_and_ticks_follow_what_was_ticked(client, tmp_path):
    tape = next(key for key in state(client)["order"] if "/tape/" in key)
    said = dict(rows(client, tape))
    for item in said:
        record(client, kind="tick", task=tape, item=item)
    planned_otherwise(tmp_path, count=6)  # without a right edge: the lines have other numbers
    assert client.post("/jobs/1/wall/rebase").status_code == 303
    assert "it goes on with the steps" not in client.get(WALL).text
    now = dict(rows(client, tape))
    same = {words.partition(": ")[2] for words in said.values()}
    there = {item for item, words in now.items() if words.partition(": ")[2] in same}
    assert set(state(client)["ticks"].get(tape, [])) == there and 0 < len(there) < len(now)
    steps = len(state(client)["tasks"])
    assert f"Being painted: 0 of {steps} steps are done." in client.get("/jobs/1/wall/marks").text
    assert all(task["planned"] for task in state(client)["tasks"].values() if task["state"] == "open")


def test_a_folder_of_an_earlier_version_says_what_differs_and_goes_on(tmp_path, time):
    with zipfile.ZipFile(Path(__file__).parents[1] / "archives/folder-of-0.1.0.zip") as kept:
        kept.extractall(tmp_path)
    time.on(55 * 1440)
    client = reading(create_app(tmp_path)).test_client()
    page = client.get(WALL).text
    assert "Begun with version 0.1.0" in page and "112 steps instead of 111" in page
    made = state(client)
    assert sum(task["state"] == "done" for task in made["tasks"].values()) == 6
    assert len(made["ticks"]["poster/mark/-/-/-/-"]) == 7  # by their names; the eighth has another reading since
    nearest = next(key for key in made["order"] if made["tasks"][key]["state"] == "open")
    assert record(client, kind="start", task=nearest, uid="new-1").status_code == 303
    assert state(client)["tasks"][nearest]["state"] == "running"
    connection = open_data(tmp_path)
    assert not progress_of(
        connection, at_the_wall.open_run(connection, 1)
    ).kept  # kept with the first entry, as they are planned today
    connection.close()
