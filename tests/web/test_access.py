"""Who may have what: every address of the application, tried as a stranger, by phones, and as the owner."""

import hashlib
import io
import re
from contextlib import closing
from datetime import timedelta
from functools import partial

import argon2
import pytest
from days import MORNING, Clock, settled
from jobs import wall as plain_wall
from PIL import Image

from dividers.services.access import letting_in
from dividers.services.jobs.demo import demo_document
from dividers.services.jobs.job_list import add_job
from dividers.services.opening import open_data
from dividers.services.supplies import devices as supplies_devices
from dividers.store import devices
from dividers.store.database import transaction
from dividers.web.access.guard import OPEN, PHONE
from dividers.web.app import create_app


def at(host="192.168.1.4", address="192.168.1.20"):
    """A request to a name of this machine, from an address."""
    return {"base_url": f"http://{host}", "environ_base": {"REMOTE_ADDR": address}}


ELSEWHERE = at()
PASSPHRASE = "brass hinge lantern"
FILLED = {
    "job_id": 1, "piece": "prop-trunk", "station": "marks", "surface": "wall", "recipe": "begin-1", "filename": "look.css", "which": "marks.csv", "photo_id": 1, "patch_id": 1,
    "number": 1, "item_id": 1, "act": "copy", "kind": "tape", "finding_id": 1, "touch_up_id": 1, "refused_id": 1, "token": "x" * 22,
    "phone_id": 1, "layer": 0,
}  # fmt: skip
OWNER, STRANGER, ENDED = "owner", "stranger", "ended"
ENDS = {"access.leave", "run.end", "jobs.delete", "access.put_passphrase", "access.shut_out"}  # tried by themselves below
SLOW = {
    "schedule.calendar",
    "schedule.sheet",
    "files.save",
    "rehearsal.picture",
    "rehearsal.contact_sheet",
    "quote.as_pdf",
}  # work of seconds, not asked for again only to see the owner let in


@pytest.fixture(autouse=True)
def quick_hash(monkeypatch):
    """The hash is slow on purpose; here it may be quick."""
    monkeypatch.setattr(argon2, "PasswordHasher", partial(argon2.PasswordHasher, time_cost=1, memory_cost=8, parallelism=1))


@pytest.fixture
def app(tmp_path, monkeypatch):
    """Two jobs, the first being painted; a phone for each."""
    time = Clock(monkeypatch, MORNING)
    document = demo_document()
    document["pieces"] = [piece for piece in document["pieces"] if piece["id"] == "prop-trunk"]
    document["crew"] = {"start": "2026-10-13T08:00"}
    connection = open_data(tmp_path)
    settled(connection, add_job(connection, document, "a trunk"))
    add_job(connection, plain_wall(), "a wall")
    letting_in.set_passphrase(connection, PASSPHRASE)
    made = create_app(tmp_path, ["192.168.1.4"])
    made.config["WTF_CSRF_ENABLED"] = False
    made.time, made.connection = time, connection
    made.links = {job: letting_in.make_link(connection, job, f"phone of {job}", "3") for job in (1, 2)}
    yield made
    connection.close()


def client_of(app, who):
    client = app.test_client()
    if who == OWNER:
        assert client.post("/enter", data={"passphrase": PASSPHRASE}, **ELSEWHERE).status_code == 303
    elif who in (1, 2, ENDED):
        number, token = app.links[1 if who == ENDED else who]
        assert client.get(f"/join/{token}", **ELSEWHERE).status_code == 303
        if who == ENDED:
            letting_in.shut_out(app.connection, number)
    return client


def rules(app):
    for rule in app.url_map.iter_rules():
        for method in sorted(rule.methods - {"HEAD", "OPTIONS"}):
            yield rule, method


def ask(client, rule, method):
    path = rule.rule
    for name in rule.arguments:
        path = re.sub(rf"<(?:\w+:)?{name}>", str(FILLED[name]), path)
    with client.open(path, method=method, **ELSEWHERE) as answer:
        answer.get_data()
        return answer.status_code


def test_every_address_opens_to_whom_it_may(app):
    """A new address is closed to all but the owner until it is named in the guard's lists; one whose parts aren't in FILLED fails here."""
    for who in (STRANGER, 2, 1, OWNER, ENDED):  # the last shuts the first phone out
        client = client_of(app, who)
        for rule, method in rules(app):
            if rule.endpoint in ENDS or (who == OWNER and rule.endpoint in SLOW):
                continue
            status = ask(client, rule, method)
            may = who == OWNER or rule.endpoint in OPEN
            if who == 1:
                may |= rule.endpoint in PHONE and rule.endpoint != "logbook.photo"  # there is no photo of its job
            if who == 2:
                may |= rule.endpoint in ("wall.due", "help.show")  # everything else asked for is of job 1
            if may:
                assert status != 403, (who, rule.endpoint, method)
                assert rule.endpoint in OPEN or status != 401, (who, rule.endpoint, method)
            else:
                assert status == (401 if who in (STRANGER, ENDED) else 403), (who, rule.endpoint, method, status)


def test_nothing_is_taken_without_a_token_of_the_page(app):
    """But what a device sends: it has no page, and a token of its own."""
    for who in (STRANGER, 1, OWNER):
        app.config["WTF_CSRF_ENABLED"] = False
        client = client_of(app, who)
        app.config["WTF_CSRF_ENABLED"] = True
        for rule, method in rules(app):
            if method == "POST" and rule.endpoint != "devices.receive":
                assert ask(client, rule, method) == 400, (who, rule.endpoint)
    assert app.connection.execute("select count(*) from phones where revoked_at is null").fetchone()[0] == 2


@pytest.mark.parametrize("who", [STRANGER, 1])
def test_what_ends_things_is_closed_to_strangers_and_phones(app, who):
    client = client_of(app, who)
    for address in ("/jobs/1/wall/end", "/jobs/1/delete", "/phones/passphrase", "/phones/1/out"):
        assert client.post(address, **ELSEWHERE).status_code == (401 if who == STRANGER else 403), address


def test_a_photo_opens_to_the_phone_of_its_job_alone(app):
    picture = io.BytesIO()
    Image.new("RGB", (40, 30), "#446688").save(picture, "JPEG")
    client = client_of(app, OWNER)
    client.post("/jobs/1/wall/end", **ELSEWHERE)
    sent = {"round": "prop-trunk/1", "clean": "3", "photo": (io.BytesIO(picture.getvalue()), "x.jpg")}
    assert client.post("/jobs/1/logbook/findings", data=sent, content_type="multipart/form-data", **ELSEWHERE).status_code == 303  # fmt: skip
    for who, status in ((1, 200), (2, 403)):
        with client_of(app, who).get("/photos/1.jpg", **ELSEWHERE) as answer:
            assert answer.status_code == status


def test_this_machines_own_browser_needs_no_passphrase_unless_told_so(app, tmp_path):
    def status(made, **asked):
        return made.test_client().get("/jobs", **at(**asked)).status_code

    assert status(app, host="localhost", address="127.0.0.1") == 200
    assert status(app, host="192.168.1.4", address="127.0.0.1") == 401
    assert status(app, host="localhost", address="192.168.1.9") == 401
    for name in ("LOCALHOST:8640", "localhost.", "[::1]:8640"):
        assert status(app, host=name, address="127.0.0.1") == 200, name
    assert status(app, host="elsewhere.example", address="127.0.0.1") == 421
    assert status(create_app(tmp_path, ask_here=True), host="localhost", address="127.0.0.1") == 401


def test_guessing_is_slowed_over_restarts_too(app, tmp_path):
    client = app.test_client()
    for _ in range(5):
        assert client.post("/enter", data={"passphrase": "guess"}, **ELSEWHERE).status_code == 401
    again = create_app(tmp_path, ["192.168.1.4"])
    again.config["WTF_CSRF_ENABLED"] = False
    blocked = again.test_client().post("/enter", data={"passphrase": PASSPHRASE}, **ELSEWHERE)
    assert blocked.status_code == 429 and "Wait 15 minutes" in blocked.get_data(as_text=True)
    other = at(address="192.168.1.21")
    assert client.post("/enter", data={"passphrase": PASSPHRASE}, **other).status_code == 303
    app.time.on(16)
    assert client.post("/enter", data={"passphrase": PASSPHRASE}, **ELSEWHERE).status_code == 303
    for _ in range(5):
        assert client.get(f"/join/{'z' * 22}", **ELSEWHERE).status_code == 401
    assert client.get(f"/join/{app.links[1][1]}", **ELSEWHERE).status_code == 429


def test_sessions_end_with_the_passphrase_and_links_with_their_day(app):
    owner, phone = client_of(app, OWNER), client_of(app, 1)
    assert phone.get("/jobs/1/wall", **ELSEWHERE).status_code == 200
    letting_in.set_passphrase(app.connection, "another set of words")
    assert owner.get("/jobs", **ELSEWHERE).status_code == 401
    app.time.on(3 * 24 * 60 + 1)
    ended = phone.get("/jobs/1/wall", **ELSEWHERE)
    assert ended.status_code == 401 and "link has ended" in ended.get_data(as_text=True)


def test_the_owners_session_lasts_half_a_day_from_its_last_request_and_a_phones_over_the_night(app):
    owner, phone = client_of(app, OWNER), client_of(app, 1)
    for hours, status in ((11, 200), (11, 200), (13, 401)):
        app.time.on(hours * 60)
        assert owner.get("/jobs", **ELSEWHERE).status_code == status, hours
    assert phone.get("/jobs/1/wall", **ELSEWHERE).status_code == 200
    assert app.permanent_session_lifetime >= timedelta(days=letting_in.MOST_DAYS)


def test_links_are_kept_hashed_and_what_a_phone_records_says_so(app):
    _, token = app.links[1]
    dump = "\n".join(app.connection.iterdump())
    assert token not in dump and PASSPHRASE not in dump
    assert len({letting_in.make_link(app.connection, 1, "again", "")[1] for _ in range(20)}) == 20
    client = client_of(app, 1)
    page = client.get("/jobs/1/wall", **ELSEWHERE).get_data(as_text=True)
    assert "phone of 1" in page and "Close this job at the wall" not in page
    first = re.search(r'data-step="([^"]+)"', page)[1]
    client.post("/jobs/1/wall/record", data={"kind": "start", "task": first}, **ELSEWHERE)
    assert "phone of 1" in client_of(app, OWNER).get("/jobs/1/record", **ELSEWHERE).get_data(as_text=True)
    assert letting_in.list_phones(app.connection)[-1].seen_at


@pytest.mark.parametrize(("person", "shown"), [("Ines", "Ines"), ("", "by passphrase from 192.168.1.20")])
def test_history_says_who_came_by_the_passphrase(app, person, shown):
    client = app.test_client()
    client.post("/enter", data={"passphrase": PASSPHRASE, "person": person}, **ELSEWHERE)
    client.post("/jobs/2/rename", data={"title": "another wall"}, **ELSEWHERE)
    page = client.get("/jobs/2/history", **ELSEWHERE).get_data(as_text=True)
    assert f", {shown}</span>" in page and page.count("this computer") == 1


def test_a_phone_sees_nothing_of_other_jobs(app):
    shown = client_of(app, 2).get("/due", **ELSEWHERE).get_data(as_text=True)
    assert "Prop trunk" not in shown
    assert "Prop trunk" in client_of(app, 1).get("/due", **ELSEWHERE).get_data(as_text=True)


def test_phones_are_made_shown_once_and_shut_out_on_their_page(app):
    client = client_of(app, OWNER)
    made = client.post("/phones", data={"job": "1", "name": "ladder phone", "days": "7"}, **ELSEWHERE)
    link = re.search(r"<code>(http://192\.168\.1\.4/join/[\w-]{22})</code>", made.get_data(as_text=True))[1]
    assert "<svg" in made.get_data(as_text=True)
    listed = client.get("/phones", **ELSEWHERE).get_data(as_text=True)
    assert "ladder phone" in listed and link not in listed
    for typed, words in (({"name": ""}, "Give the phone a name"), ({"name": "x", "days": "999"}, "allowed are 1 to 120")):
        refused = client.post("/phones", data={"job": "1", **typed}, **ELSEWHERE)
        assert refused.status_code == 422 and words in refused.get_data(as_text=True)
    number = letting_in.list_phones(app.connection)[0].id
    client.post(f"/phones/{number}/out", **ELSEWHERE)
    assert app.test_client().get(link.removeprefix("http://192.168.1.4"), **ELSEWHERE).status_code == 401
    short = client.post("/phones/passphrase", data={"passphrase": "short"}, **ELSEWHERE)
    assert short.status_code == 422 and "10 to 200 are needed" in short.get_data(as_text=True)


def test_cookies_of_two_programs_and_of_two_ways_keep_apart(tmp_path):
    with closing(open_data(tmp_path)) as connection:
        letting_in.set_passphrase(connection, PASSPHRASE)
    seen = {}
    for port, way in ((8640, "http"), (8650, "http"), (8640, "https")):
        app = create_app(tmp_path, ["192.168.1.4"], port=port)
        app.config["WTF_CSRF_ENABLED"] = False
        asked = {"base_url": f"{way}://192.168.1.4", "environ_base": ELSEWHERE["environ_base"]}
        cookie = app.test_client().post("/enter", data={"passphrase": PASSPHRASE}, **asked).headers["Set-Cookie"]
        seen[cookie.partition("=")[0]] = cookie
        assert ("Secure" in cookie) == (way == "https") and "HttpOnly" in cookie and "SameSite=Strict" in cookie
    assert list(seen) == ["dividers-8640", "dividers-8650", "__Host-dividers-8640"]


def test_what_an_earlier_version_kept_plain_is_hashed_and_files_are_their_owners_alone(tmp_path):
    with closing(open_data(tmp_path)) as connection, transaction(connection):
        devices.put_token(connection, "ab12" * 8, "2026-01-01T00:00:00+00:00")
    with closing(open_data(tmp_path)) as connection:
        assert devices.find_token(connection) == hashlib.sha256(b"ab12" * 8).hexdigest()
        assert supplies_devices.receive(connection, "ab12" * 8, "length 2413.5 mm") == 1
    create_app(tmp_path)
    for name in ("dividers.sqlite", "secret"):
        assert (tmp_path / name).stat().st_mode & 0o077 == 0, name
