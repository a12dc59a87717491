"""What the page at the wall asks back before it takes an entry, and what it takes but once; without a script."""

import json
import re
from datetime import timedelta
from html import unescape

import pytest
from wall_forms import WALL, kind, page, record, state, steps

from dividers.web.wall import wall_board


def test_the_first_coat_asks_for_strips_that_nobody_ticked(client):
    coat, tape = kind(client, "coat"), kind(client, "tape")
    record(client, kind="toggle", task=tape, item="s1")
    response = record(client, kind="start", task=coat)
    asked = response.get_data(as_text=True)
    needed = len(re.search(r'data-needs="([^"]+)"', asked).group(1).split())
    assert response.status_code == 422
    assert f"{needed - 1} strips of this round not ticked: 2, 3, 4," in asked
    assert state(client)["tasks"][coat]["state"] == "open"
    record(client, kind="start", task=coat, answer="tick")
    assert len(state(client)["ticks"][tape]) == needed
    assert state(client)["tasks"][coat]["state"] == "running"
    record(client, kind="toggle", task=tape, item="s1")
    assert "s1" not in state(client)["ticks"][tape]


def test_a_step_that_is_still_to_wait_for_is_asked_about_and_noted(client):
    marks = kind(client, "mark")
    for kind_of in ("start", "done"):
        asked = record(client, kind=kind_of, task=marks)
        assert asked.status_code == 422
        said = unescape(asked.get_data(as_text=True))
        assert re.search(r"Before it comes [^<]*base coat \d[^<]*, which isn't done", said), re.findall("Before[^<]*", said)
        assert state(client)["tasks"][marks]["state"] == "open"
    bases = [key for key in steps(client) if "/base/" in key]
    for base in bases:
        record(client, kind="done", task=base, answer="go")
    asked = record(client, kind="done", task=marks).get_data(as_text=True)
    assert re.search(r"must be dry to the touch, [^:]*: 1 h \d+ min more, until today \d\d:\d\d\.", asked)
    assert asked.count("<li>") >= 3 and "marks of this step not ticked" in asked and "How many minutes did it take?" in asked
    record(client, kind="done", task=marks, answer="go")
    after = state(client)["tasks"][marks]
    assert after["state"] == "done"
    assert "gone on early" in after["reason"] and "min more" in after["reason"]


def test_a_wait_before_the_done_that_is_told_later_counts_too(client):
    """Done 20 min ago, when the base was 10 min old: asked about, though it would be dry by now."""
    marks, base = kind(client, "mark"), kind(client, "base")
    for each in [key for key in steps(client) if "/base/" in key]:
        record(client, kind="done", task=each, answer="go", ago="30")
        assert "Nothing lies before the run: recorded as done at its beginning, today " in client.get(WALL).get_data(
            as_text=True
        )
    assert base in steps(client)
    assert record(client, kind="done", task=marks, ago="20").status_code == 422


def test_what_was_done_before_is_never_taken_for_a_second_press(client, time):
    """It has typed minutes, so it is recorded, though the run's beginning, where it counts, is the moment of the entry before."""
    first, *rest = steps(client)
    record(client, kind="skip", task=first, reason="on already")
    message = {
        "kind": "done",
        "task": rest[0],
        "uid": "u1",
        "painter": 1,
        "at": (time.at - timedelta(minutes=10)).isoformat(),
        "body": {"sure": True},
    }
    answer = client.post(f"{WALL}/events?run={state(client)['run']}", json=[message])
    assert answer.json["faults"] == {} and answer.json["tasks"][rest[0]]["state"] == "done"
    assert answer.json["noted"]["u1"].startswith("Nothing lies before the run")
    record(client, kind="done", task=rest[1], ago="10", answer="go")
    assert state(client)["tasks"][rest[1]]["state"] == "done"


def test_a_step_that_is_done_at_once_is_asked_about_and_has_the_minutes_that_were_said(client, time):
    """Planned with over an hour, done after four seconds; nothing lies before the run was begun."""
    tape, begun = kind(client, "tape"), time.at
    time.on(20)
    record(client, kind="start", task=tape, answer="go")
    time.on(4 / 60)
    asked = record(client, kind="done", task=tape)
    assert asked.status_code == 422 and "It was begun 4 s ago, and about" in asked.text
    bad = record(client, kind="done", task=tape, answer="go", took="soon")
    assert bad.status_code == 422 and 'name="took" inputmode="numeric" autocomplete="off" value="soon"' in bad.text
    record(client, kind="done", task=tape, answer="go", took="45")
    assert "Nothing lies before the run: what it took counts from its beginning, today " in page(client)
    after = state(client)["tasks"][tape]
    assert after["started"] == begun.timestamp() * 1000  # 45 min ago nobody had begun
    line = next(line for line in json.loads(client.get("/jobs/1/record.json").text)["steps"] if line["kind"] == "tape")
    assert line["worked_min"] == pytest.approx(20.1, abs=0.05)


def test_what_nobody_said_the_minutes_of_has_none_anywhere(client, time):
    time.on(300)
    for task in steps(client)[:3]:
        record(client, kind="done", task=task, answer="go")
        time.on(5)
    record_json = json.loads(client.get("/jobs/1/record.json").text)
    assert [line["worked_min"] for line in record_json["steps"][:3]] == [None] * 3
    assert record_json["worked_min"] == 0
    assert min(line["started"] for line in record_json["steps"][:3]) >= "2026-10-13T08:00"
    assert "not said" in page(client, "/jobs/1/record")
    assert "0.0 h of work" in page(client, "/jobs/1/record") and "0.0 h of work" in page(client, "/jobs/1/record/client")


def test_a_second_press_that_meets_the_next_step_is_asked_about(client, time):
    one, two = steps(client)[:2]
    record(client, kind="start", task=one)
    time.on(10)
    record(client, kind="done", task=one)
    time.on(0.6 / 60)
    asked = record(client, kind="done", task=two)
    assert asked.status_code == 422 and "was pressed within a second of" in asked.text
    assert state(client)["tasks"][two]["state"] == "open"
    run = state(client)["run"]
    event = {"kind": "done", "task": two, "uid": "p1", "at": time.at.isoformat()}
    answer = client.post(f"{WALL}/events?run={run}", json=[event]).get_json()
    assert "Press it again" in answer["faults"]["p1"] and answer["tasks"][two]["state"] == "open"
    time.on(2 / 60)
    again = {**event, "uid": "p2", "at": time.at.isoformat()}
    assert client.post(f"{WALL}/events?run={run}", json=[again]).get_json()["tasks"][two]["state"] == "done"


def test_a_patch_that_is_asked_back_about_keeps_what_was_judged_and_presets_nothing(client):
    grid = {"title": "Behind the booth", "texture": "rough", "tapes": "delicate tape", "seals": "none", "waits": "45 min"}
    client.post("/patches", data=grid)
    client.post("/patches/1/1", data={"act": "painted"})
    fresh = page(client, "/patches")
    assert fresh.count("selected") == fresh.count('<option value="smooth" selected>') + fresh.count(
        '<option value="0" selected>'
    )
    bare = client.post("/patches/1/1", data={"act": "pulled", "edge": "", "lift": "", "note": ""})
    said = unescape(bare.text)
    assert bare.status_code == 422
    assert (
        "How did the edge come out?" in said and "Did the tape take paint off?" in said and "is to stay on 45 min more" in said
    )
    typed = {"act": "pulled", "edge": "bleed", "lift": "1B", "note": "tore at the end"}
    asked = client.post("/patches/1/1", data=typed).text
    assert '<option value="bleed" selected>' in asked and '<option value="1B" selected>' in asked
    assert 'value="tore at the end"' in asked and "How did the edge come out?" not in asked
    client.post("/patches/1/1", data=typed | {"early": "yes"})
    assert "bleed, 1B" in page(client, "/patches") and "tore at the end" in page(client, "/patches")


def test_a_part_of_many_marks_is_ticked_where_it_stands(client, monkeypatch):
    monkeypatch.setattr(wall_board, "UNFOLDED", 4)
    monkeypatch.setattr(wall_board, "LEAST_SECTION", 4)
    marks = kind(client, "mark")
    shown = page(client, task=marks)
    parts = re.findall(r'name="all" value="(m[^"]+)">Tick these (\d+)', shown)
    assert len(parts) > 1 and sum(int(many) for _, many in parts) == shown.count('class="tick-big"')
    record(client, kind="toggle", task=marks, all=parts[1][0])
    ticked = state(client)["ticks"][marks]
    assert len(ticked) == int(parts[1][1]) and set(parts[1][0].split("..")) <= set(ticked)


def test_a_time_that_is_none_is_said_at_its_field_and_kept(client, time):
    tape = kind(client, "tape")
    answer = client.post(f"{WALL}/takes-tape", data={"task": tape, "takes_tape": "an hour"})
    text = answer.get_data(as_text=True)
    assert (
        answer.status_code == 422
        and 'value="an hour"' in text
        and "isn\u2019t a time" in text.replace("isn&#39;t", "isn\u2019t")
    )
    assert client.post(f"{WALL}/takes-tape", data={"task": tape, "takes_tape": "90 min"}).status_code == 303
    assert "takes tape after 1 h 30 min" in page(client)


def test_a_tick_or_an_undo_pressed_twice_counts_once_and_says_so(client, time):
    tape = kind(client, "tape")
    for delay in (0, 0.9):
        record(client, kind="toggle", task=tape, item="s1")
        time.on(delay / 60)
        again = record(client, kind="toggle", task=tape, item="s1")
        assert again.status_code == 422 and "so it stays ticked" in again.text
        following = record(client, kind="toggle", task=tape, item="s2")  # where the first one stood
        assert following.status_code == 422 and "so it isn" in following.text
        assert state(client)["ticks"][tape] == ["s1"]
        time.on(1.1 / 60)
        record(client, kind="toggle", task=tape, item="s1")
        assert state(client)["ticks"].get(tape, []) == []
        time.on(1)
    for task in steps(client)[:2]:
        record(client, kind="done", task=task, answer="go")
        time.on(1)
    for task in steps(client)[1::-1]:
        record(client, kind="undo", of=last_entry(client))
        again = record(client, kind="undo", of=last_entry(client))
        assert again.status_code == 422 and "so one entry is undone" in again.text
        assert state(client)["tasks"][task]["state"] == "open"
        assert "done" in [state(client)["tasks"][each]["state"] for each in steps(client)] or task == steps(client)[0]
        time.on(1)


def last_entry(client):
    return re.search(r'name="of" value="([^"]*)"', page(client))[1]


def test_a_press_meant_for_the_step_before_ticks_nothing_of_the_next(client, time):
    marks, base = kind(client, "mark"), kind(client, "base")
    record(client, kind="skip", task=base, reason="on already")
    asked = record(client, kind="toggle", task=marks, item="m1")
    assert asked.status_code == 422 and "within a second of the step before" in unescape(asked.text)
    time.on(1)
    record(client, kind="toggle", task=marks, item="m1")
    assert state(client)["ticks"][marks] == ["m1"]
