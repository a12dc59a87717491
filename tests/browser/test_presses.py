"""Every button of a run pressed twice, at the same place, soon after each other: the record holds what was meant, once."""

import json
from contextlib import closing
from datetime import timedelta
from time import monotonic

import pytest
from at_wall import WALL
from playwright.sync_api import expect
from server import serving

from dividers.services import clock
from dividers.services.opening import open_data
from dividers.store import wall_runs

DELAYS_MS = (0, 60, 200, 800)


def twice(page, name, delay):
    """Press where a button is, and again at the same place."""
    expect(page.locator("#wall[data-resting]")).to_have_count(0)
    button = page.get_by_role("button", name=name, exact=True)
    button.scroll_into_view_if_needed()
    box = button.bounding_box()
    place = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.click(*place)
    page.wait_for_timeout(delay)  # the delay is what is tested
    page.mouse.click(*place)


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


def entries(folder):
    with closing(open_data(folder)) as connection:
        run = wall_runs.find_open(connection, 1)
        return [{"kind": row.kind, "task": row.task} for row in wall_runs.list_events(connection, run.id)]
