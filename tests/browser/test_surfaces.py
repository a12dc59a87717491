"""Surfaces that are no plain rectangle, entered as a new user would: a stair wall, a round table top, an S-curved front, a room that closes."""

import itertools
import json
import re

import pytest
from at_bench import unfold
from jobs import wall
from playwright.sync_api import expect
from server import serving

from dividers.services.jobs.job_list import add_job
from dividers.services.opening import open_data


@pytest.fixture
def measure(page, tmp_path):
    """Opens Measure of a job with one piece of a surface; gives what the job has of it."""
    opened = []

    def begin(**surface):
        connection = open_data(tmp_path)
        job = wall()
        job["pieces"][0]["surface"] |= surface
        add_job(connection, job, "Begun")
        connection.close()
        opened.append(serving(tmp_path))
        address = opened[-1].__enter__() + "/jobs/1"
        page.goto(f"{address}/wall/measure")
        return lambda: json.loads(page.request.get(f"{address}.json").text())["pieces"][0]["surface"]

    yield begin
    for server in opened:
        server.__exit__(None, None, None)


@pytest.mark.parametrize(
    ("title", "sizes", "box"),
    [
        ("Stair wall, rising to the right", {"Going, all steps": "120", "Rise, all steps": "84", "Height at the foot": "96"}, ("120", "180")),
        ("Round", {"Across": "48"}, ("48", "24")),
    ],
)  # fmt: skip
def test_an_outline_is_entered_by_what_is_measured_of_it(page, measure, title, sizes, box):
    surface = measure()
    page.get_by_text("Not a rectangle").click()
    page.get_by_text(title, exact=True).click()
    form = page.locator("#outline-form details[open]").last
    for label, size in sizes.items():
        form.get_by_label(label, exact=True).fill(size)
    with page.expect_navigation():
        form.get_by_role("button", name="Use this outline").click()
    corners = [each["at"] if isinstance(each, dict) else each for each in surface()["panels"][0]["outline"]]
    assert box in {(x, y) for x, y in corners} or box[0] in {x for x, _ in corners}
    expect(page.locator("#drawing .outline")).to_have_count(1)
    for station in ("Pattern", "Marks", "Tape"):
        page.get_by_role("link", name=f"Next: {station}").click()
        expect(page.locator("#drawing svg")).to_be_visible()


def test_an_s_curved_front_is_as_wide_as_its_curve(page, measure):
    panel = {"name": "drawer", "curve": {"chord": "36", "rise": "2"}, "height": "10"}
    surface = measure(kind="furniture", panels=[panel])
    stations = page.get_by_label("Off a straight board")
    stations.fill("0, 2; 9, 4; 18, 2; 27, 0; 36, 2")
    with page.expect_response(lambda answer: answer.request.method == "POST"):
        stations.press("Tab")
    expect(page.get_by_text(re.compile("makes 37 (1/4|¼) in along the curve"))).to_be_visible()
    assert surface()["panels"][0]["curve"]["stations"] == [["0", "2"], ["9", "4"], ["18", "2"], ["27", "0"], ["36", "2"]]


def test_four_walls_close_in_a_ring_and_pattern_says_whether_stripes_come_out(page, measure):
    names = ("north", "east", "south", "west")
    panels = [{"name": name, "width": "90", "height": "96"} for name in names]
    surface = measure(panels=panels, folds=[[a, "right", b, "left"] for a, b in itertools.pairwise(names)])
    unfold(page, "fold-f-surface-folds")
    ring = page.get_by_label("Where the ring closes")
    ring.select_option(label="north: on the right of west: all round")
    expect(page.get_by_text("The walls close in a ring, 360 in round: 6 repeats come out.")).to_have_count(1)
    assert surface()["folds"][-1] == ["west", "right", "north", "left"]
