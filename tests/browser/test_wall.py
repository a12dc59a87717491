"""At the wall on a phone: a whole round by thumb, clocks, no connection for a while, two phones, a program started anew."""

import json
import re
from datetime import datetime
from pathlib import Path

import pytest
from at_wall import WALL, press, press_again, tick_all, title
from axe import violations
from playwright.sync_api import expect
from server import serving
from wait_cases import CASES, NAMES, events_of, keys_of, lags_in_airs, moment

import dividers
from dividers.core.order.task_key import TaskKey

STATIC = Path(dividers.__file__).parent / "web/static"


def from_ms(case, key):
    at = case.get("from", {}).get(key)
    return datetime.fromisoformat(moment(at)).timestamp() * 1000 if at else None


def test_a_round_by_thumb_with_its_clocks(folder, phone, time):
    with serving(folder) as address:
        page = phone(f"{address}{WALL}")
        assert violations(page) == []
        assert page.evaluate("document.documentElement.scrollWidth") == 390
        for button in page.locator(".wall-bar button:visible, .ticks button").all()[:6]:
            assert button.bounding_box()["height"] >= 44
        title(page, "Base coat 1")
        press(page, "Begin")
        expect(page.locator("[data-slot=state]")).to_have_text("running")
        time.on(6)
        press(page, "Done")
        expect(page.locator("#due")).to_contain_text("Dry for marks")
        title(page, "Make")
        expect(page.locator("[data-slot=wait]")).to_contain_text("must be dry to the touch")
        press(page, "Begin")
        asked = page.locator("[data-slot=ask]")
        expect(asked).to_contain_text(re.compile(r"must be dry to the touch, .*: .*min more, until today \d\d:\d\d\."))
        assert violations(page) == []
        asked.get_by_text("Wait").click()
        expect(asked).to_be_hidden()
        expect(page.locator("[data-slot=state]")).to_have_text("")
        time.on(200)
        press(page, "Begin")
        expect(page.locator(".wall-drawing .tick.aim")).to_have_count(1)
        tick_all(page)
        time.on(8)
        press(page, "Done")
        title(page, "Round 1: lay and press")
        time.on(2500)
        press(page, "Begin")
        press(page, "Done")
        expect(asked).to_contain_text("It was begun 0 s ago, and about 25 min are planned. Is it done?")
        asked.get_by_label("Minutes it took, if you know").fill("20")
        page.keyboard.press("Enter")  # goes on to the buttons, and answers nothing
        press(page, "It is done")
        title(page, "coat 1 of old brass")
        press(page, "Begin")
        keep = page.locator("[data-slot=ask]")
        expect(keep).to_contain_text("of this round not ticked")
        assert violations(page) == []
        press(page, "They are on: tick them")
        expect(keep).to_be_hidden()
        expect(page.locator("#due")).to_contain_text("Window closes")
        time.on(2)
        press(page, "Done")
        title(page, "pull the tape")
        left = page.locator("#due .due-left").inner_text()
        assert re.fullmatch(r"\d+:\d\d", left), left
        assert left in page.title() or "Window closes" in page.title()
        press(page, "Wet")
        time.on(60)
        expect(page.locator("#due")).to_contain_text("Window over")
        # the plan is made again at most once a minute
        expect(page.locator("[data-slot=missed]")).to_contain_text("touch-dry", timeout=150_000)
        press(page, "Begin")
        press(page, "Done")
        expect(page.locator("#line")).to_have_text("Saved")
        press(page, "Undo it")
        expect(page.locator("#line")).to_have_text("Saved")
        page.reload()
        page.get_by_text(re.compile(r"^\s*All \d+ steps")).click()
        page.get_by_role("link", name=re.compile("pull the tape")).last.click()
        expect(page.locator("[data-slot=state]")).to_have_text("running")


def test_what_was_asked_about_goes_on_as_it_was_pressed_and_is_noted(folder, phone, time):
    """Done on a coat whose strips nobody ticked: one question, then straight to the clock of the pull; Done on marks on a bare wall: asked too."""
    with serving(folder) as address:
        page = phone(f"{address}{WALL}")

        def look_at(name):
            page.locator("#all-steps").evaluate("e => e.open = true")
            page.get_by_role("link", name=re.compile(name)).first.click()

        look_at("coat 1 of old brass")
        press(page, "Done")
        press(page, "They are on: tick them")
        title(page, "pull the tape")
        expect(page.locator("#due")).to_contain_text("Window closes")
        expect(page.locator("[data-slot=until]")).to_contain_text(re.compile(r"Be done by today \d\d:\d\d"))
        look_at("Make .* marks")
        press(page, "Done")
        asked = page.locator("[data-slot=ask]")
        for words in (
            "12 marks of this step not ticked",
            "Before it comes base coat 1, which isn't done.",
            "Nobody recorded when it was begun",
        ):
            expect(asked).to_contain_text(words)
        press(page, "Done anyway")  # all of it is answered once
        expect(page.locator("#line")).to_have_text("Saved")
        page.goto(f"{address}/jobs/1/record")
        expect(page.locator("main")).to_contain_text("gone on early: before base coat 1")


def test_a_second_press_takes_nothing_of_the_next_step_and_an_edge_is_ticked_whole(folder, phone, time):
    """Pressed again at once, while the finger is down and a little later: the record holds what was meant, once; undo leads back to the step."""
    with serving(folder) as address:
        page = phone(f"{address}{WALL}")
        press(page, "Begin")
        time.on(6)
        expect(page.locator("#wall[data-resting]")).to_have_count(0)
        press_again(page, page.get_by_role("button", name="Done", exact=True), 0, 60, 200)
        title(page, "Make")
        expect(page.locator("[data-slot=ask]")).to_be_hidden()
        expect(page.locator("#line")).to_have_text("Saved")
        expect(page.locator("#take-back")).to_contain_text(re.compile(r"Done today \d\d:\d\d:[\s\S]*Base coat 1"))
        state = json.loads(page.evaluate(f"fetch('{WALL}/state').then((answer) => answer.text())"))
        assert [task["state"] for task in state["tasks"].values()].count("done") == 1
        assert not any(state["ticks"].values())
        expect(page.locator("#wall[data-resting]")).to_have_count(0)
        page.locator(".tick-whole summary").click()
        page.get_by_role("button", name=re.compile("Right edge, 4")).click()
        expect(page.locator("[data-slot=count]")).to_have_text("4 of 12")
        page.get_by_role("button", name="All, 12").click()
        expect(page.locator("[data-slot=count]")).to_have_text("12 of 12")
        press(page, "Undo it")
        title(page, "Base coat 1")
        expect(page.locator("[data-slot=state]")).to_have_text("running")


def test_an_entry_that_the_server_fails_to_take_is_said_and_sent_again(folder, phone, time):
    with serving(folder) as address:
        page = phone(f"{address}{WALL}", service_workers="block")  # what a worker passes on can't be answered in its place
        page.route("**/wall/events*", lambda route: route.fulfill(status=500, body="no"))
        press(page, "Begin")
        expect(page.locator("#line")).to_have_text("Not saved: the server answered 500: 1 kept here, trying again")
        page.unroute("**/wall/events*")
        expect(page.locator("#line")).to_have_text("Saved")
        page.reload()
        expect(page.locator("[data-slot=state]")).to_have_text("running")


def test_taps_made_without_a_connection_reach_the_run_that_was_closed_meanwhile(folder, phone, time):
    with serving(folder) as address:
        page = phone(f"{address}{WALL}")
        other = phone(f"{address}{WALL}")
        page.context.set_offline(True)
        press(page, "Begin")
        time.on(5)
        press(page, "Done")
        expect(page.locator("#line")).to_have_text(re.compile("2 kept here"))
        other.get_by_text("Close this job at the wall").click()
        press(other, "Close it")
        expect(other.locator("main.begin")).to_be_visible()
        page.close()  # the phone is put away, and opened again later
        again = page.context.new_page()
        page.context.set_offline(False)
        again.goto(f"{address}{WALL}")
        expect(again.locator("[data-late]")).to_have_text(
            "2 entries made without a connection are in the record now, in the run that was closed meanwhile."
        )
        again.goto(f"{address}/jobs/1/record")
        expect(again.locator("main")).to_contain_text("Base coat 1")
        expect(again.locator("tbody tr").first).to_contain_text("5 of 2 min")
        again.goto(f"{address}{WALL}")
        expect(again.locator("[data-late]")).to_be_hidden()


def test_out_of_hours_who_is_here_says_so_and_works_now(folder, phone, time):
    with serving(folder) as address:
        time.on(15 * 60)
        page = phone(f"{address}{WALL}")
        expect(page.locator("#here")).to_contain_text("outside the stated hours")
        press(page, "I'm here now, for 2 h")
        expect(page.locator("#here")).to_contain_text(re.compile(r"until tomorrow \d\d:\d\d"))
        expect(page.locator("[data-slot=when]")).to_contain_text("planned today 23:0")


def test_without_a_connection_the_page_goes_on_and_tells_later_once(folder, phone, time):
    with serving(folder) as address:
        page = phone(f"{address}{WALL}")
        expect(page.locator("#line")).to_have_text("Saved")
        page.evaluate("navigator.serviceWorker.ready.then(() => true)")
        page.reload()
        expect(page.locator("#wall")).to_have_attribute("data-ready", "yes")
        page.context.set_offline(True)
        press(page, "Begin")
        time.on(5)
        press(page, "Done")
        expect(page.locator("#line")).to_have_text("No connection: 2 kept here, trying again")
        expect(page.locator("#due")).to_contain_text("Dry for")
        title(page, "Make")
        page.reload()  # the page itself comes from what was kept
        expect(page.locator("#line")).to_have_text(re.compile("No connection"))
        title(page, "Make")
        time.on(90)
        page.context.set_offline(False)
        expect(page.locator("#line")).to_have_text("Saved")
        state = json.loads(page.evaluate(f"fetch('{WALL}/state').then((answer) => answer.text())"))
        assert state["events"] == 2
        base = next(task for key, task in state["tasks"].items() if "/base/" in key)
        assert (base["ended"] - base["started"]) / 60_000 == pytest.approx(5, abs=0.2)


def test_two_phones_see_each_other_and_the_first_word_stands(folder, phone, time):
    with serving(folder) as address:
        one, two = phone(f"{address}{WALL}"), phone(f"{address}{WALL}?painter=2")
        press(one, "Begin")
        title(two, "Base coat 1")
        expect(two.locator("[data-slot=state]")).to_have_text("running")
        two.context.set_offline(True)
        press(two, "Done")
        time.on(3)
        press(one, "Done")
        expect(one.locator("#line")).to_have_text("Saved")
        two.context.set_offline(False)
        expect(two.locator("#said")).to_contain_text("It was done already")
        state = json.loads(one.evaluate(f"fetch('{WALL}/state').then((answer) => answer.text())"))
        base = next(task for key, task in state["tasks"].items() if "/base/" in key)
        assert (base["painter"], base["state"]) == (1, "done")


def test_clocks_go_on_when_the_program_is_started_anew(folder, phone, time):
    with serving(folder) as address:
        page = phone(f"{address}{WALL}")
        press(page, "Begin")
        time.on(5)
        press(page, "Done")
        expect(page.locator("#due")).to_contain_text("Dry for marks")
        expect(page.locator("#line")).to_have_text("Saved")
        port = int(address.rsplit(":", 1)[1])
    time.on(10)
    with serving(folder, port) as address:
        page.goto(f"{address}/jobs")
        expect(page.locator("#due")).to_contain_text("Dry for marks")
        before = page.locator("#due .due-left").inner_text()
        page.goto(f"{address}{WALL}")
        expect(page.locator("#timers .timer").first).to_contain_text("Dry for marks")
        (one, two), (three, four) = (
            map(int, said.split(":")) for said in (before, page.locator("#due .due-left").inner_text())
        )
        assert abs(60 * one + two - 60 * three - four) <= 2  # the page may round to either second


def test_the_logbook_takes_a_place_from_the_drawing_and_shows_the_chance(page, address):
    sheet = page  # whose console may say that a bare press was refused
    sheet.goto(f"{address}/jobs/1/logbook?piece=stage-floor")
    assert violations(sheet) == []
    strip = sheet.locator("#drawing [data-link^=s]").first
    strip.click(force=True)
    number = strip.get_attribute("data-link")[1:]
    expect(sheet.get_by_label("Strip number")).to_have_value(number)
    sheet.get_by_label("Repair").fill("a damp swab")
    sheet.locator("#finding").get_by_role("button", name="Save", exact=True).click()
    expect(sheet.locator("#finding")).to_contain_text("How did that strip's edge come out?")
    expect(sheet.get_by_label("Repair")).to_have_value("a damp swab")
    sheet.get_by_label("That strip's edge").select_option("bleed")
    sheet.locator("#finding").get_by_role("button", name="Save", exact=True).click()
    expect(sheet.locator("#findings")).to_contain_text(f"strip {number}")
    expect(sheet.locator("#drawing .pin text")).to_have_text("1")
    expect(sheet.locator(".chances")).to_contain_text("0 of 1 strip clean")
    sheet.get_by_role("button", name="Remove finding 1").click()
    expect(sheet.locator("#findings")).to_contain_text("Nothing yet")
    sheet.get_by_role("button", name="Put it back").click()
    expect(sheet.locator("#findings")).to_contain_text("a damp swab")
    sheet.get_by_role("link", name="Record to print").first.click()
    expect(sheet.locator("h1")).to_contain_text("record of the work")
    assert violations(sheet) == []


def test_patches_and_practice_are_worked_by_their_pages(page, address):
    sheet = page  # whose console may say that a bare press was refused
    sheet.goto(f"{address}/patches")
    sheet.get_by_label("What and where").fill("behind the booth")
    sheet.get_by_label("Tapes, one per line").fill("delicate tape")
    sheet.get_by_label("clear caulk, rubbed in").check()
    sheet.get_by_role("button", name="Set up the grid").click()
    sheet.get_by_role("button", name="Painted now").click()
    sheet.get_by_role("button", name="Pulled").click()
    expect(sheet.get_by_text("How did the edge come out?")).to_be_visible()
    sheet.get_by_label("Edge").select_option("slight")
    sheet.get_by_label("Paint that came off").select_option("5B")
    sheet.get_by_role("button", name="Pulled").click()
    expect(sheet.locator(".patch b.edge-slight")).to_be_visible()
    assert violations(sheet) == []
    sheet.goto(f"{address}/practice?kind=side&seed=1")
    assert violations(sheet) == []
    sheet.locator(".answers button").first.click()
    expect(sheet.locator(".verdict")).to_be_visible()


@pytest.mark.parametrize("case", CASES, ids=NAMES)
def test_the_phones_script_waits_as_the_program_does(page, case):
    for script in ("words.js", "wall-fold.js", "wall-ask.js"):
        page.add_script_tag(path=STATIC / script)
    keys = keys_of(case)
    tasks = {
        key: {
            "state": "open",
            "started": None,
            "ended": None,
            "kind": TaskKey.read(key).kind,
            "series": TaskKey.read(key).series,
            "from": from_ms(case, key),
            "from_why": "it was painted before" if key in case.get("from", {}) else "",
        }
        for key in keys
    }
    seen = page.evaluate(
        """([tasks, events, lags, now, asked]) => {
            const view = {tasks, ticks: {}};
            for (const event of events) DividersWall.apply(view, event);
            const timers = DividersWall.timersOf(view, lags, Date.parse(now), (key) => key);
            const early = asked.map(([key, at]) => DividersAsk.early(view, key, Date.parse(at), Date.parse(now), ""));
            return {tasks: view.tasks, early, timers: timers.map((t) => [t.kind, t.task, new Date(t.at).toISOString().slice(0, 16)])};
        }""",
        [
            tasks,
            events_of(case),
            lags_in_airs(case),
            moment(case["now"]),
            [[key, moment(at)] for key, at, *_ in case.get("early", ())],
        ],
    )
    assert {key: seen["tasks"][key]["state"] for key in case["states"]} == case["states"]
    assert seen["timers"] == [[kind, task, moment(at)[:16]] for kind, task, at in case["timers"]]
    for (key, _, minutes, first), early in zip(case.get("early", ()), seen["early"], strict=True):
        assert bool(early) == bool(minutes or first)
        if early:
            said = re.search(r": (?:(\d+) h ?)?(?:(\d+) min)? more, until", early["asked"])
            assert (int(said[1] or 0) * 60 + int(said[2] or 0) if said else None) == minutes
            assert (f"Before it comes {first[0]}" in early["asked"]) if first else ("Before" not in early["asked"]), key


SETTLED = "new Promise((ready) => requestAnimationFrame(() => requestAnimationFrame(ready)))"


def test_an_answer_from_before_an_entry_does_not_take_it_back(folder, phone, time):
    """What the server knew is on its way while Begin is pressed and saved; it comes after, and Begin stays."""
    with serving(folder) as address:
        page = phone(f"{address}{WALL}", service_workers="block")
        held = []
        page.route("**/wall/state*", lambda route: held.append(route))
        with page.expect_request("**/wall/state*"):
            page.evaluate("dispatchEvent(new Event('online'))")
        before = page.request.get(f"{address}{WALL}/state").text()
        press(page, "Begin")
        running = page.locator("[data-slot=state]")
        expect(running).to_have_text("running")
        while page.request.get(f"{address}{WALL}/state").json()["events"] == json.loads(before)["events"]:
            pass  # on its way
        page.evaluate(SETTLED)
        for route in held:
            route.fulfill(body=before, content_type="application/json")
        page.evaluate(SETTLED)
        expect(running).to_have_text("running")
        page.unroute_all()
        time.on(6)
        press(page, "Done")
        title(page, "Make")


def test_an_answer_from_before_the_phone_slept_does_not_set_its_clock(folder, phone, time):
    """Asked, then the phone sleeps while a step is worked on: old answers don't make it begun just now."""
    with serving(folder) as address:
        page = phone(f"{address}{WALL}", service_workers="block")
        press(page, "Begin")
        time.on(6)
        press(page, "Done")
        time.on(200)
        press(page, "Begin")
        tick_all(page)
        expect(page.locator("#line")).to_have_text("Saved")
        held = []
        page.route("**/wall/state*", lambda route: held.append(route))
        for _ in range(8):  # so many answers are weighed
            with page.expect_request("**/wall/state*"):
                page.evaluate("dispatchEvent(new Event('online'))")
        before = page.request.get(f"{address}{WALL}/state").text()
        time.on(30)
        for route in held:
            route.fulfill(body=before, content_type="application/json")
        page.evaluate(SETTLED)
        press(page, "Done")
        title(page, "Round 1: lay and press")
        expect(page.locator("[data-slot=ask]")).to_be_hidden()
