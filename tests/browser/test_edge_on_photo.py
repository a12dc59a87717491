"""The edge on a photo: its lines are dragged onto it and moved by keys, and the figures come out."""

import io
import re

import pytest
from jobs import wall
from PIL import Image
from playwright.sync_api import expect
from server import serving
from test_edge_by_photo import bumps, drawn

from dividers.services.jobs.job_list import add_job
from dividers.services.logbook import logbook
from dividers.services.opening import open_data


@pytest.fixture
def address(tmp_path):
    connection = open_data(tmp_path)
    made = add_job(connection, wall(job={"units": "mm"}, panel={"width": "3000", "height": "2400"}), "Begun")
    content = io.BytesIO()
    Image.fromarray(drawn(bumps([15], [0.7]), 20, tilt=16).astype("uint8")).save(content, "JPEG", quality=95)
    logbook.add_finding(
        connection, made, {"round": "wall/1", "strip": "2", "edge": "clean"}, content.getvalue(), tmp_path / "photos"
    )
    connection.close()
    with serving(tmp_path) as found:
        yield f"{found}/jobs/1/logbook"


def test_lines_are_laid_on_a_photo_and_the_edge_is_measured(page, address):
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto(address)
    page.get_by_role("link", name="Measure the edge").click()
    picture = page.locator("#edge-picture > svg").first.bounding_box()
    scale = picture["width"] / 900

    def drag(name, x, y):
        grip = page.locator(f"[data-place={name}]").bounding_box()
        page.mouse.move(grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2)
        page.mouse.down()
        page.mouse.move(picture["x"] + x * scale, picture["y"] + y * scale, steps=4)
        expect(page.locator(".loupe")).to_be_visible()
        page.mouse.up()

    for name, x, y in (("a", 20, 123), ("b", 880, 137), ("k1", 20, 30), ("k2", 219, 30)):
        drag(name, x, y)
    page.locator("[data-place=k2]").focus()
    before = page.locator("[name=k2x]").input_value()
    page.keyboard.press("ArrowRight")
    assert float(page.locator("[name=k2x]").input_value()) == pytest.approx(float(before) + 1, abs=0.06)
    page.get_by_label("The dark line is").fill("10")
    page.get_by_role("button", name="Measure the edge").click()
    expect(page.get_by_text("Slight bleed, seen from 1 m")).to_be_visible()
    expect(page.get_by_text(re.compile("1 feather of more than 0.50 mm"))).to_be_visible()
    expect(page.locator(".edge-found")).to_have_count(1)
