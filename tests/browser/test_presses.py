"""Every button of a run pressed twice, at the same place, soon after each other: the record holds what was meant, once."""

import json
from contextlib import closing
from datetime import timedelta
from time import monotonic
from urllib.parse import quote

import pytest
from at_wall import WALL, place_of, press_again
from playwright.sync_api import expect
from server import serving

from dividers.services import clock
from dividers.services.opening import open_data
from dividers.store import wall_runs

DELAYS_MS = (0, 60, 200, 800)


def twice(page, name, delay):
    """Press where a button is, and again at the same place."""
    expect(page.locator("#wall[data-resting]")).to_have_count(0)
    press_again(page, page.get_by_role("button", name=name, exact=True), delay)


def state(page, address):
    return json.loads(page.request.get(f"{address}{WALL}/state").text())


@pytest.mark.parametrize(
    ("latency", "sideways"),
    [(0, False), (300, True), (2000, False), (None, False)],
    ids=["at once", "300 ms", "2 s", "offline"],
)
def test_a_run_pressed_twice_throughout_is_recorded_once(folder, phone, time, monkeypatch, latency, sideways):
    begun = monotonic()
    monkeypatch.setattr(clock, "moment", lambda: time.at + timedelta(seconds=monotonic() - begun))  # seconds count here
    with serving(folder) as address:
        page = phone(f"{address}{WALL}")
        if sideways:
            page.set_viewport_size({"width": 844, "height": 390})
        expect(page.locator("#line")).to_have_text("Saved")
        if latency:
            network = {"offline": False, "latency": latency, "downloadThroughput": -1, "uploadThroughput": -1}
            page.context.new_cdp_session(page).send("Network.emulateNetworkConditions", network)
        order = state(page, address)["order"][:4]  # a delay each
        page.context.set_offline(latency is None)
        for turn, key in enumerate(order):
            page.locator("#all-steps").evaluate("e => e.open = true")
            page.locator(f"[data-step='{key}'] a").click()
            expect(page.locator(f".step[data-task='{key}']")).to_be_visible()
            for name in ("Begin", "Done"):
                twice(page, name, DELAYS_MS[turn % 4])
                asked = page.locator("[data-slot=ask]")
                if asked.is_visible():  # what is waited for, what isn't ticked, how long it took
                    asked.locator("[data-slot=tick], [data-slot=go]").locator("visible=true").first.click()
        page.context.set_offline(False)
        expect(page.locator("#line")).to_have_text("Saved")
        kept = [(each["kind"], each["task"]) for each in entries(folder) if each["kind"] in ("start", "done", "skip")]
        assert kept == [(kind, key) for key in order for kind in ("start", "done")]


def test_ticks_undo_touch_air_and_enter_twice_count_once(folder, phone, time):
    """Undo doesn't take back one more, a tick stays, a question isn't answered by the press that brought it; a second later each may be meant."""
    with serving(folder) as address:
        page = phone(f"{address}{WALL}")

        def look_at(kind):
            page.locator("#all-steps").evaluate("e => e.open = true")
            key = next(key for key in state(page, address)["order"] if f"/{kind}/" in key)
            page.locator(f"[data-step='{key}'] a").click()
            expect(page.locator(f".step[data-task='{key}']")).to_be_visible()
            return key

        for delay in DELAYS_MS:
            marks = look_at("mark")
            tick = page.locator(".ticks .current button")
            item = tick.get_attribute("value")
            press_again(page, tick, delay)
            expect(page.locator(f"[data-item='{item}'] button")).to_have_attribute("aria-pressed", "true")
            expect(page.locator("#line")).to_have_text("Saved")
            assert state(page, address)["ticks"][marks] == [item]
            page.wait_for_timeout(1100)
            page.locator(f"[data-item='{item}'] button").click()  # meant now
            expect(page.locator(f"[data-item='{item}'] button")).to_have_attribute("aria-pressed", "false")
        look_at("pull")
        press_again(page, page.get_by_role("button", name="Wet", exact=True), 60)
        page.locator(".air-form").evaluate(
            "e => { for (let up = e; up; up = up.parentElement) if (up.tagName === 'DETAILS') up.open = true; }"
        )
        page.get_by_label("Temperature").fill("70")
        page.get_by_label("Humidity").fill("50")
        press_again(page, page.get_by_role("button", name="Update drying times"), 200)
        expect(page.locator("#line")).to_have_text("Saved")
        assert [each["kind"] for each in entries(folder) if each["kind"] in ("touch", "air")] == ["touch", "air"]
        marks = look_at("mark")
        page.get_by_role("button", name="Done", exact=True).focus()
        for _ in range(3):  # asked back about; the focus is on an answer then
            page.keyboard.press("Enter")
        expect(page.locator("[data-slot=ask]")).to_be_visible()
        for key in state(page, address)["order"][:2]:
            page.locator(f"[data-step='{key}'] a").click()
            page.locator("[data-slot=skip] summary").click()
            page.get_by_label("Why? The record needs it").fill("there already")
            page.keyboard.press("Enter")
            page.keyboard.press("Enter")
            expect(page.locator("#line")).to_have_text("Saved")
        press_again(page, page.get_by_role("button", name="Undo it"), 200)
        expect(page.locator("#line")).to_have_text("Saved")
        kept = [each["kind"] for each in entries(folder) if each["kind"] in ("skip", "undo", "done")]
        assert kept == ["skip", "skip", "undo"]
        tasks = state(page, address)["tasks"]
        look_at(next(key for key, task in tasks.items() if task["state"] == "open").split("/")[1])
        page.locator("[data-slot=earlier] summary").click()
        page.get_by_label("Minutes ago").fill("10")
        page.keyboard.press("Enter")
        expect(page.locator("#line")).to_have_text("Saved")
        expect(page.locator("#said")).to_contain_text(
            "Nothing lies before the run: recorded as done at its beginning, today 08:00."
        )


@pytest.mark.parametrize(
    ("fold", "field", "typed"), [("skip", "Why? The record needs it", "on it"), ("earlier", "Minutes ago", "10")]
)
def test_a_press_soon_after_skip_it_or_done_then_ticks_nothing_of_the_next_step(folder, phone, time, fold, field, typed):
    with serving(folder) as address:
        page = phone(f"{address}{WALL}")
        page.set_viewport_size({"width": 844, "height": 390})
        page.locator(f"[data-slot={fold}] summary").click()
        page.get_by_label(field).fill(typed)
        page.locator(f"[data-slot={fold}] button").evaluate("""button => {
            button.click();
            setTimeout(() => document.querySelector(".ticks .current button").click(), 200);
            setTimeout(() => document.documentElement.dataset.again = "yes", 400);
        }""")
        expect(page.locator("html")).to_have_attribute("data-again", "yes")
        expect(page.locator("#line")).to_have_text("Saved")
        assert not any(state(page, address)["ticks"].values())
        expect(page.locator("#wall[data-resting]")).to_have_count(0)
        page.locator(".ticks .current button").click()  # meant now
        expect(page.locator("[data-slot=count]")).to_have_text("1 of 12")


@pytest.mark.parametrize("delay", [0, 200])
def test_without_a_script_each_button_pressed_twice_counts_once(browser, folder, time, delay):
    """Forms alone: the second press goes with the page of the first, or meets the next one's buttons and is asked about."""
    with serving(folder) as address:
        context = browser.new_context(java_script_enabled=False, viewport={"width": 390, "height": 844})
        page = context.new_page()
        order = state(page, address)["order"][:2]
        for key in order:
            for name in ("Begin", "Done"):
                page = context.new_page()
                page.goto(f"{address}{WALL}?task={quote(key)}")
                place = place_of(page.get_by_role("button", name=name, exact=True))
                page.mouse.click(*place)
                page.wait_for_timeout(delay)  # the delay is what is tested; the server's clock stands still
                page.mouse.click(*place)
                reached = "running" if name == "Begin" else "done"
                asked = page.locator(f".step[data-task='{key}'] [data-slot=ask]:not([hidden])")
                expect(page.locator(f"[data-step='{key}'].is-{reached}").or_(asked).first).to_be_attached()
                if state(page, address)["tasks"][key]["state"] != reached:
                    asked.locator("[data-slot=tick], [data-slot=go]").locator("visible=true").first.click()
                    expect(page.locator(f"[data-step='{key}'].is-{reached}")).to_be_attached()
                page.close()
            time.on(20)
        kept = [(each["kind"], each["task"]) for each in entries(folder) if each["kind"] in ("start", "done", "skip")]
        assert kept == [(kind, key) for key in order for kind in ("start", "done")]
        context.close()


def entries(folder):
    with closing(open_data(folder)) as connection:
        run = wall_runs.find_open(connection, 1)
        return [{"kind": row.kind, "task": row.task} for row in wall_runs.list_events(connection, run.id)]
