"""A phone on the ladder, over https at an address of the network: joined by its link, cut off, locked, outlived by a new server; nothing lost or doubled."""

import json
import re
from contextlib import closing

import pytest
from at_wall import WALL, press, tick_all, title
from axe import violations
from playwright.sync_api import expect
from server import SHARED, shared

from dividers.services.access import letting_in
from dividers.services.opening import open_data

PASSPHRASE = "brass hinge lantern"


def link_of(folder, name):
    with closing(open_data(folder)) as connection:
        return letting_in.make_link(connection, 1, name, "")[1]


@pytest.fixture
def ladder(folder, trusted):
    """The folder of a job being painted, with an authority that the browser trusts and a passphrase."""
    (folder / "tls").mkdir()
    for name in ("authority.pem", "authority.key"):
        (folder / "tls" / name).write_bytes((trusted / "tls" / name).read_bytes())
    connection = open_data(folder)
    letting_in.set_passphrase(connection, PASSPHRASE)
    connection.close()
    return folder, link_of(folder, "ladder phone")


def recorded(page):
    return json.loads(page.evaluate(f"fetch('{WALL}/state').then((answer) => answer.text())"))


def test_a_round_on_the_ladder(ladder, phone, time):
    folder, link = ladder
    with shared(folder) as ports:
        secure = f"https://{SHARED}:{ports[1]}"
        page = phone(f"{secure}/join/{link}")
        assert page.url == f"{secure}{WALL}"
        cookie = page.context.cookies()[0]
        assert cookie["name"].startswith("__Host-") and cookie["secure"] and cookie["httpOnly"]
        expect(page.locator("#wall")).to_have_attribute("data-kept", "yes")  # from the first visit on
        expect(page.locator("#awake")).to_have_text("The screen stays on.")
        kept = page.evaluate(
            "fetch(document.querySelector('link[rel=manifest]').href, {credentials: 'include'}).then((a) => a.json())"
        )
        assert kept["start_url"] == WALL and kept["display"] == "standalone"
        other = phone(f"{secure}/join/{link_of(folder, 'floor phone')}")
        desk = phone(f"http://127.0.0.1:{ports[0]}{WALL}?painter=2")

        press(page, "Begin")
        page.context.set_offline(True)  # the first time out of reach
        time.on(6)
        press(page, "Done")
        expect(page.locator("#line")).to_have_text("No connection: 1 kept here, trying again")
        page.reload()  # and looked at again meanwhile
        title(page, "Make")
        page.context.set_offline(False)
        expect(page.locator("#line")).to_have_text("Saved")
        for elsewhere in (desk, other):
            expect(elsewhere.locator("[data-slot=state]")).to_have_text("done")

        time.on(200)
        press(page, "Begin")
        tick_all(page)
        time.on(8)
        press(page, "Done")
        title(page, "Round 1: lay and press")
        expect(page.locator("#line")).to_have_text("Saved")
    time.on(2500)
    with shared(folder, ports):  # the server was started anew under the open page
        press(page, "Begin")
        tick_all(page)
        time.on(20)
        press(page, "Done")
        title(page, "coat 1 of old brass")
        expect(page.locator("#line")).to_have_text("Saved")
        time.on(1)
        press(page, "Begin")
        expect(page.locator("#line")).to_have_text("Saved")
        time.on(60)  # locked for an hour: the timers of the page stood still, its clock did not
        expect(page.locator("#due")).to_contain_text("Window over")
        page.context.set_offline(True)  # the second time out of reach
        press(page, "Done")
        title(page, "pull the tape")
        time.on(1)
        press(page, "Begin")
        asked = page.locator("[data-slot=ask]")
        if asked.is_visible():
            press(page, "Go on now")
        time.on(3)
        press(page, "Done")
        expect(page.locator("#line")).to_have_text(re.compile("3 kept here"))
        desk.get_by_text("Close this job at the wall").click()
        press(desk, "Close it")
        expect(desk.locator("main.begin")).to_be_visible()
        page.context.set_offline(False)
        expect(page.locator("#line, main.begin").first).to_have_text(re.compile("Saved|Begin"))
        desk.goto(f"http://127.0.0.1:{ports[0]}/jobs/1/record")
        rows = desk.locator("tbody tr").all_inner_texts()
        for words in ("Base coat 1", "coat 1 of old brass", "pull the tape"):
            assert sum(words.lower() in row.lower() for row in rows) >= 1, (words, rows)
        connection = open_data(folder)
        events = connection.execute("select kind, task, uid, body from run_events order by number").fetchall()
        connection.close()
        assert len({event["uid"] for event in events}) == len(events)
        kinds = [(event["kind"], event["task"]) for event in events if event["kind"] in ("start", "done")]
        assert len(kinds) == len(set(kinds)), kinds
        assert [kind for kind, _ in kinds] == ["start", "done"] * 5
        assert {json.loads(event["body"])["by"] for event in events} == {"ladder phone"}


def test_what_a_phone_kept_goes_along_to_the_computers_new_address(ladder, phone, time):
    folder, link = ladder
    with shared(folder) as ports:
        page = phone(f"https://{SHARED}:{ports[1]}/join/{link}")
        page.context.set_offline(True)
        press(page, "Begin")
        time.on(5)
        press(page, "Done")
        expect(page.locator("#line")).to_have_text(re.compile("2 kept here"))
        expect(page.locator("#moved")).to_be_hidden()
        page.clock.fast_forward(50_000)
        expect(page.locator("#moved")).to_be_visible()
        assert violations(page) == []
    other = "127.0.0.3"
    with shared(folder, ports, name=other):
        page.get_by_label("New address").fill("not an address")
        press(page, "Go there")
        expect(page.locator("#moved .fault")).to_be_visible()
        page.context.set_offline(False)
        page.get_by_label("New address").fill(f"https://{other}:{ports[1]}/")
        press(page, "Go there")
        page.wait_for_url(f"https://{other}:{ports[1]}{WALL}")
        expect(page.locator("#came-along")).to_contain_text("2 entries kept at the old address came along.")
        assert recorded(page)["events"] == 0  # an address can be written by anybody
        press(page, "Take them over")
        expect(page.locator("[data-slot=state]")).to_have_text("done")
        expect(page.locator("#came-along")).to_be_hidden()
        expect(page.locator("#line")).to_have_text("Saved")  # they have arrived
        assert recorded(page)["events"] == 2
