"""At the wall and the logbook without a script: forms do it all; what a phone sends is checked."""

import io
import json
import re
from urllib.parse import unquote

import pytest
from days import MORNING
from PIL import Image
from wall_forms import WALL, kind, page, record, state, steps

from dividers.services import clock
from dividers.services.opening import open_data
from dividers.services.stations import scheduling
from dividers.store import wall_runs
from dividers.web import filters


def test_a_step_is_begun_and_done_by_forms_alone(client):
    first = steps(client)[0]
    assert 'class="step is-open"' in page(client)
    assert record(client, kind="start", task=first).status_code == 303
    assert 'class="step is-running"' in page(client, task=first)
    record(client, kind="done", task=first, answer="go")
    shown = page(client)
    assert f'data-task="{first}"' not in shown
    assert re.search(r"Done today 08:00: [^<]*Base coat", shown) and "Undo it" in shown
    taken_back = re.search(r'name="of" value="([^"]+)"', shown).group(1)
    undone = record(client, kind="undo", of=taken_back)
    assert first in unquote(undone.headers["Location"])  # back to the step
    assert state(client)["tasks"][first]["state"] == "running"


def test_bad_input_is_said_and_loses_nothing(client):
    response = record(client, kind="air", task=steps(client)[0], temperature="warm", humidity="50")
    assert response.status_code == 422
    assert "a temperature. Write it like 21 C or 70 F" in response.get_data(as_text=True)
    assert record(client, kind="skip", task=steps(client)[0], reason=" ").status_code == 422


def test_a_queue_is_taken_in_order_and_once(client):
    run = state(client)["run"]
    one, two = steps(client)[:2]
    queue = [
        {"kind": "start", "task": one, "uid": "a1", "at": "2026-10-13T08:00:00Z"},
        {"kind": "done", "task": one, "uid": "a2", "at": "2026-10-13T08:00:00Z"},
        {"kind": "fly", "task": one, "uid": "a3"},
        {"kind": "start", "task": two, "uid": "a4", "painter": 2},
    ]
    answer = client.post(f"{WALL}/events?run={run}", json=queue).get_json()
    assert answer["settled"] == ["a1", "a2", "a3", "a4"]
    assert list(answer["faults"]) == ["a3"]
    again = client.post(f"{WALL}/events?run={run}", json=queue).get_json()
    assert (again["events"], again["plan"]) == (3, answer["plan"])
    assert (again["tasks"][one]["state"], again["tasks"][two]["painter"]) == ("done", 2)
    same = client.get(f"{WALL}/state?have={again['run']}.{again['events']}.{again['plan']}").get_json()
    assert set(same) == {"now", "same", "behind"}
    for bad in ({"kind": "start"}, [1, 2], "x"):
        assert client.post(f"{WALL}/events?run={run}", json=bad).status_code == 422
    assert client.post(f"{WALL}/events?run=99", json=[]).status_code == 404


def test_two_painters_have_their_own_thread(client):
    one = steps(client)[0]
    record(client, kind="start", task=one, painter=1)
    mine = re.search(r'data-task="([^"]+)"', page(client, painter=1)).group(1)
    other = re.search(r'data-task="([^"]+)"', page(client, painter=2)).group(1)
    assert mine == one
    assert 'name="painter" value="2" aria-pressed="true"' in page(client, painter=2)
    assert other


def test_what_is_due_stands_on_every_page(client, time):
    base = kind(client, "base")
    record(client, kind="start", task=base)
    time.on(10)
    record(client, kind="done", task=base)
    for address in ("/jobs", "/supplies", "/jobs/1/prop-trunk/tape", "/practice", "/due"):
        assert re.search(r'class="due-words">Dry for base coat 2: Prop trunk drawer', page(client, address)), address
    held = client.get(f"{WALL}/held").get_json()
    assert set(held["steps"]) == set(steps(client))
    assert all('class="step' in step for step in held["steps"].values())
    client.post(f"{WALL}/end")
    assert "due-words" not in page(client, "/jobs")
    assert "Begin at the wall" in page(client)


def test_the_plans_so_far_and_the_pages_of_the_logbook_show(client):
    record(client, kind="skip", task=steps(client)[0], reason="was done yesterday")
    assert "Plan 1" in page(client, f"{WALL}/plans")
    assert "was done yesterday" in page(client, "/jobs/1/record")
    for address in ("/jobs/1/logbook", "/logbook?q=trunk", "/patches", "/jobs/1/record.csv", "/jobs/1/record.json"):
        policy = client.get(address).headers["Content-Security-Policy"]
        assert "default-src 'self'" in policy
        assert not re.search(r"<script(?![^>]*src=)|\sstyle=|\son[a-z]+=", page(client, address))


def test_a_finding_with_a_photo_is_kept_and_served_safely(client):
    early = client.post("/jobs/1/logbook/findings", data={"round": "prop-trunk/1", "clean": "20"})
    assert early.status_code == 422 and "the tape is still on" in early.get_data(as_text=True)
    client.post(f"{WALL}/end")
    picture = io.BytesIO()
    Image.new("RGB", (3000, 2000), "#446688").save(picture, "JPEG", quality=100)
    typed = {
        "round": "prop-trunk/1",
        "clean": "20",
        "bleed": "2",
        "note": "at the handle",
        "photo": (io.BytesIO(picture.getvalue()), "../../x.svg"),
    }
    response = client.post("/jobs/1/logbook/findings", data=typed, content_type="multipart/form-data")
    assert response.status_code == 303
    shown = page(client, "/jobs/1/logbook")
    assert "20 clean, 2 bled" in shown
    photo = client.get(re.search(r'src="(/photos/\d+\.jpg)"', shown).group(1))
    assert (photo.mimetype, photo.headers["X-Content-Type-Options"]) == ("image/jpeg", "nosniff")
    assert "sandbox" in photo.headers["Content-Security-Policy"]
    assert client.get("/photos/7.jpg").status_code == 404
    bad = client.post(
        "/jobs/1/logbook/findings", data=typed | {"photo": (io.BytesIO(b"<html>"), "x.jpg")}, content_type="multipart/form-data"
    )
    assert bad.status_code == 422
    again = bad.get_data(as_text=True)
    assert "not a photo" in again
    assert 'value="at the handle"' in again
    assert "at the handle" in page(client, "/logbook?q=handle")


@pytest.mark.parametrize(
    ("address", "data", "said"),
    [
        ("touch-ups", {"piece": "prop-trunk", "what": ""}, "Say what needs doing"),
        ("used", {"item": "", "price": "ten"}, "Say what was used"),
        ("measured", {"tape": "narrow tape", "strips": "10", "length": "wide"}, "wide"),
        ("findings", {"round": "prop-trunk/1", "clean": "99999"}, "isn’t a number of strips|isn&#39;t a number of strips"),
    ],
)
def test_faults_of_the_logbooks_forms_stand_at_their_fields(client, address, data, said):
    response = client.post(f"/jobs/1/logbook/{address}", data=data)
    assert response.status_code == 422
    assert re.search(said, response.get_data(as_text=True))


def test_practice_answers_and_explains(client):
    shown = page(client, "/practice?kind=seal&seed=3")
    option = re.search(r'name="answer" value="([^"]+)"', shown).group(1)
    answered = client.post("/practice", data={"kind": "seal", "seed": "3", "answer": option}).get_data(as_text=True)
    assert re.search(r"Right\.|Not this time\.", answered)
    bad = client.post("/practice", data={"kind": "read", "seed": "3", "answer": "about 3"})
    assert bad.status_code == 422
    assert 'aria-invalid="true"' in bad.get_data(as_text=True)


def test_hostile_events_are_never_an_error_of_the_program(client, tmp_path):
    run = state(client)["run"]
    for event in (
        {"kind": "tick", "task": "x" * 5000, "uid": "b1", "body": {"item": ["a"]}},
        {"kind": "tick", "task": "prop-trunk/mark/-/-/-/-", "uid": "b2", "body": {"item": "m999999999"}},
        {"kind": "undo", "uid": "b3", "body": {"of": "b3"}},
        {"kind": "done", "task": steps(client)[0], "uid": "b4", "body": {"unticked": "many"}},
        {"kind": "air", "uid": "b5", "body": {"temperature": {"a": 1}, "humidity": None}},
        {"kind": "start", "uid": "b6", "at": "9999-99-99"},
        {"kind": "start", "uid": "b7", "painter": "2"},
    ):
        assert client.post(f"{WALL}/events?run={run}", json=[event]).status_code == 200, event
    assert page(client)
    connection = open_data(tmp_path)
    assert [json.loads(row.body) for row in wall_runs.list_events(connection, run) if row.uid == "b4"] == [{}]
    connection.close()


def test_the_sensor_is_offered_where_one_has_sent_and_says_how_old_that_is(client):
    assert "Use the" not in page(client)
    client.post("/devices/pretend", data={"device": "hygrometer", "true": "100"})
    shown = page(client)
    assert re.search(r"sensor: \d+ °F, [\d.]+ %, 0 min ago", re.sub(r"\s+", " ", shown))
    record(client, kind="sensor", task=steps(client)[0])
    assert re.search(r"\d+ °F, [\d.]+ % at today", page(client))
    record(client, kind="air", task=steps(client)[0], temperature="70", humidity="50")
    assert "70 °F, 50 % at today" in page(client)
    record(client, kind="air", task=steps(client)[0], temperature="20 C", humidity="50")
    assert "68 °F, 50 % at today" in page(client)


def test_the_time_zone_is_asked_once_and_every_time_follows_it(client, monkeypatch):
    monkeypatch.undo()
    at = MORNING.replace(hour=23)
    monkeypatch.setattr(clock, "moment", lambda: at)
    asked = page(client, "/jobs")
    assert "Which time zone is the work in?" in asked
    bad = client.post("/jobs/zone", data={"zone": "Moon/Crater"})
    assert bad.status_code == 422 and "isn&#39;t a time zone" in bad.get_data(as_text=True)
    try:
        client.post("/jobs/zone", data={"zone": "Asia/Kolkata"})
        shown = page(client, "/jobs")
        assert "Which time zone" not in shown and 'data-zone="Asia/Kolkata"' in shown
        assert scheduling.next_morning() == "2026-10-15"  # 23:00 UTC is 04:30 on the 14th there
        assert filters.site_time(at.timestamp() * 1000) == "today 04:30"
        assert filters.site_day(at.isoformat()) == "14 Oct 2026"
        client.post("/jobs/zone", data={"zone": "America/Los_Angeles"})
        assert scheduling.next_morning() == "2026-10-14"
    finally:
        clock.set_zone("")


def test_what_is_sent_again_under_its_name_counts_once(client):
    """The answer got lost, and the page's script sends the same finding again."""
    client.post(f"{WALL}/end")
    answers = [
        client.post("/jobs/1/logbook/findings", data={"round": "prop-trunk/1", "slight": "1"}, headers={"X-Once": name})
        for name in ("a1", "a1", "b2")
    ]
    assert [(each.status_code, "/jobs/1/logbook" in each.headers["X-Go-To"]) for each in answers] == [(200, True)] * 3
    assert page(client, "/jobs/1/logbook").count("1 slight") == 2


def test_a_deleted_job_takes_nothing_until_it_is_restored(client):
    event = [{"kind": "start", "task": steps(client)[0], "uid": "u1", "at": "2026-10-13T08:00:00+00:00", "body": {}}]
    client.post("/jobs/1/delete")
    for address in (WALL, f"{WALL}/state", f"{WALL}/held"):
        gone = client.get(address)
        assert gone.status_code == 404 and "Restore it from Jobs" in gone.get_data(as_text=True)
    assert client.post(f"{WALL}/events?run=1", json=event).status_code == 404
    client.post("/jobs/1/restore")
    assert client.post(f"{WALL}/events?run=1", json=event).get_json()["settled"] == ["u1"]
    assert state(client)["events"] == 1


def test_a_page_that_failed_gives_a_number_that_the_log_has_too(client, monkeypatch, caplog):
    monkeypatch.setattr("dividers.web.jobs.jobs.job_thumbnail", lambda *_: 1 / 0)
    failed = client.get("/jobs")
    number = re.search(r"was started: ([0-9a-f]{8})", failed.get_data(as_text=True))[1]
    assert failed.status_code == 500 and number in caplog.text and "ZeroDivisionError" in caplog.text


def test_the_other_pages_say_how_far_it_is_painted(client):
    record(client, kind="done", task=steps(client)[0], answer="go")
    of = len(steps(client))
    assert f"Being painted: 1 of {of} steps are done." in page(client, "/jobs/1/prop-trunk/pattern")
    for step in steps(client):
        record(client, kind="skip", task=step, reason="left out", answer="go")
    assert f"Painted: all {of} steps are done. What is left" in page(client, "/jobs/1/prop-trunk/marks")
    client.post(f"{WALL}/end")
    assert f"Painted: all {of} steps are done; closed today" in page(client, "/jobs/1/prop-trunk/tape")


def test_styles_and_scripts_are_kept_for_good_under_the_name_of_what_is_in_them(client):
    def kept(address):
        with client.get(address) as answer:
            return answer.headers["Cache-Control"]

    for good in (re.search(r"/static/wall\.css\?v=\w+", page(client))[0], "/static/vendor/bootstrap-5.3.9.min.css"):
        assert kept(good).endswith("immutable")
    for other in ("/static/wall.css", "/static/wall.css?v=older"):
        assert kept(other) == "no-cache"
