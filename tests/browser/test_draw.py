"""Draw with tape, by mouse, by finger and by keys alone: what is laid is what was read, exactly."""

import json
import re

import pytest
from at_wall import PHONE
from jobs import wall
from playwright.sync_api import expect
from server import serving

from dividers.services.jobs.job_list import add_job
from dividers.services.opening import open_data

EMPTY = {"kind": "facets", "points": {}, "lines": [], "fills": []}


@pytest.fixture
def wall_page(tmp_path):
    """The address of the Pattern station of a wall of 120 x 96 in with a free design without any tape."""
    connection = open_data(tmp_path)
    job = wall(pattern=EMPTY)
    job["pieces"][0]["pattern"] = EMPTY
    add_job(connection, job, "Begun")
    connection.close()
    with serving(tmp_path) as found:
        yield f"{found}/jobs/1/wall/pattern"


def design(page, address):
    return json.loads(page.request.get(address.replace("/wall/pattern", ".json")).text())["pieces"][0]["pattern"]


def on_screen(page, x, y):
    """Where a place on the wall, in inches, is on the screen."""
    return page.evaluate(
        """([x, y]) => {
            const point = new DOMPoint(x * 25.4, y * 25.4).matrixTransform(document.querySelector("#drawing svg").getScreenCTM());
            return [point.x, point.y];
        }""",
        [x, y],
    )


def drag(page, start, end):
    page.mouse.move(*on_screen(page, *start))
    page.mouse.down()
    middle = [(a + b) / 2 for a, b in zip(start, end, strict=True)]
    page.mouse.move(*on_screen(page, *middle))
    page.mouse.move(*on_screen(page, *end))
    page.mouse.up()


def strips(page):
    return page.locator("#drawing .layer-draw .strip-laid")


def test_triangles_are_laid_from_their_readings_coloured_and_moved(page, wall_page):
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto(wall_page)
    page.get_by_role("button", name="Lay tape").click()
    laid = [((26, 0), (0, 26)), ((62, 0), (0, 96)), ((120, 23.5), (66, 96))]
    for number, (start, end) in enumerate(laid, 1):
        drag(page, start, end)
        expect(strips(page)).to_have_count(number)
    assert design(page, wall_page)["points"] == {
        "A": {"left": "26", "top": "0"},
        "B": {"left": "0", "top": "26"},
        "C": {"left": "62", "top": "0"},
        "D": {"left": "0", "bottom": "0"},
        "E": {"right": "0", "top": "23 1/2"},
        "F": {"left": "66", "bottom": "0"},
    }
    page.get_by_role("button", name="Colour", exact=True).click()
    page.locator("[data-swatches] label", has_text="Ink").click()
    page.mouse.click(*on_screen(page, 5, 5))
    expect(page.locator("#drawing .cell[fill='#22345a']")).to_have_count(1)
    page.get_by_role("button", name="Move", exact=True).click()
    drag(page, (62, 0), (80, 0))
    expect(page.locator("#undo button")).to_have_attribute("title", re.compile("moved a point", re.I))
    found = design(page, wall_page)
    assert found["points"]["C"] == {"left": "80", "top": "0"}
    assert [fill["color"] for fill in found["fills"]] == ["ink"]
    page.mouse.click(*on_screen(page, 0, 26))
    page.get_by_label("Point B").fill("left 0, top 30 1/8")
    page.get_by_role("button", name="Set", exact=True).click()
    expect(page.locator("#f-pattern-points")).to_have_value(
        "A: left 26, top 0\nB: left 0, top 30 1/8\nC: left 80, top 0\nD: left 0, bottom 0\nE: right 0, top 23 1/2\nF: left 66, bottom 0"
    )
    page.get_by_role("button", name="Undo").click()
    page.wait_for_load_state("load")
    expect(page.locator("#f-pattern-points")).to_have_value(
        "A: left 26, top 0\nB: left 0, top 26\nC: left 80, top 0\nD: left 0, bottom 0\nE: right 0, top 23 1/2\nF: left 66, bottom 0"
    )


def test_a_strip_runs_square_to_another_and_ends_where_it_meets_it(page, wall_page):
    page.goto(wall_page)
    page.get_by_role("button", name="Lay tape").click()
    drag(page, (0, 24), (120, 60))
    expect(strips(page)).to_have_count(1)
    drag(page, (50, 90), (64.0, 43.5))  # only about: it takes hold of the true place
    expect(strips(page)).to_have_count(2)
    points = design(page, wall_page)["points"]
    assert points["D"] == {"meets": ["A", "B"], "from": "C", "square": ["A", "B"]}


def test_four_stripes_are_laid_off_a_line_and_taken_off_again(page, wall_page):
    page.goto(wall_page)
    page.get_by_role("button", name="Lay tape").click()
    drag(page, (0, 24), (120, 60))
    expect(strips(page)).to_have_count(1)
    page.get_by_text("More ways of drawing").click()
    page.get_by_label("Off it").fill("6")
    page.get_by_label("How many").fill("4")
    page.get_by_label("Each further").fill("8")
    page.get_by_role("button", name="Lay them").click()
    expect(page.locator("#undo button")).to_have_attribute("title", re.compile("beside a line"))
    assert len(design(page, wall_page)["lines"]) == 5
    page.get_by_role("button", name="Take off", exact=True).click()
    page.mouse.click(*on_screen(page, 60, 42))
    expect(strips(page)).to_have_count(4)
    page.get_by_label("Off it").fill("900")
    page.get_by_role("button", name="Lay them").click()
    expect(page.locator("#draw .fault")).to_contain_text("lies outside the field")
    expect(page.get_by_label("Off it")).to_have_value("900")


def test_a_strip_is_laid_by_keys_alone(page, wall_page):
    page.goto(wall_page)
    page.get_by_role("button", name="Lay tape").press("Enter")
    expect(page.locator("#drawing")).to_be_focused()
    for _ in range(26):
        page.keyboard.press("Shift+ArrowRight")
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    expect(page.locator("[data-draw-said]")).to_contain_text("26 3/16 in across, 0 in down")
    page.keyboard.press("Enter")
    for _ in range(10):
        page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Enter")
    expect(strips(page)).to_have_count(1)
    assert design(page, wall_page)["points"] == {"A": {"left": "26 3/16", "top": "0"}, "B": ["26 3/16", "10"]}
    page.keyboard.press("Escape")
    expect(strips(page)).to_have_count(0)


def test_a_strip_is_laid_by_two_taps_of_a_finger(browser, wall_page):
    context = browser.new_context(**PHONE)
    page = context.new_page()
    page.goto(wall_page)
    page.get_by_role("button", name="Lay tape").tap()
    for place in ((60, 0), (60, 96)):
        page.touchscreen.tap(*on_screen(page, *place))
    expect(strips(page)).to_have_count(1)
    points = design(page, wall_page)["points"]
    assert {tuple(sorted(place.items())) for place in points.values()} == {
        (("left", "60"), ("top", "0")),
        (("bottom", "0"), ("left", "60")),
    }
    said, frame = page.locator("[data-draw-said]").bounding_box(), page.locator("#drawing").bounding_box()
    assert said["y"] + said["height"] <= frame["y"]  # the finger doesn't hide the reading
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    context.close()


def test_an_opening_and_a_horizon_are_dragged_and_their_fields_have_the_reading(page, tmp_path):
    connection = open_data(tmp_path)
    job = wall(pattern={})
    panel = job["pieces"][0]["surface"]["panels"][0]
    panel["openings"] = [{"name": "door", "left": "40", "top": "30", "width": "30", "height": "66"}]
    job["pieces"][0]["pattern"] = {"kind": "horizon", "drop": "24", "colors": ["ink", None]}
    add_job(connection, job, "Begun")
    connection.close()
    with serving(tmp_path) as found:
        page.set_viewport_size({"width": 1280, "height": 800})
        page.goto(f"{found}/jobs/1/wall/measure")
        expect(page.locator("#drawing .handle")).to_have_count(8)
        with page.expect_response(lambda answer: answer.request.method == "POST"):
            drag(page, (55, 30), (58, 20))
        expect(page.locator("[name='surface.panels.0.openings.0.top']")).to_have_value("20")
        expect(page.locator("#undo button")).to_be_enabled()
        with page.expect_response(lambda answer: answer.request.method == "POST"):
            drag(page, (120, 48), (114, 50))
        expect(page.locator("[name='surface.panels.0.margin.right']")).to_have_value("6")
        page.goto(f"{found}/jobs/1/wall/pattern")
        with page.expect_response(lambda answer: answer.request.method == "POST"):
            drag(page, (57, 24), (57, 36))
        expect(page.locator("[name='pattern.drop']")).to_have_value("36")
        kept = json.loads(page.request.get(f"{found}/jobs/1.json").text())["pieces"][0]
    own = kept["surface"]["panels"][0]
    assert (own["openings"][0]["top"], own["margin"]["right"], kept["pattern"]["drop"]) == ("20", "6", "36")


def test_a_strip_is_as_long_as_another_and_ends_where_a_point_is_mirrored(page, wall_page):
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto(wall_page)
    page.get_by_role("button", name="Lay tape").click()
    drag(page, (10, 20), (41, 20))
    expect(strips(page)).to_have_count(1)
    drag(page, (60, 80), (82, 58.2))  # at 45 degrees, 31 in long: 21 15/16 each way
    expect(strips(page)).to_have_count(2)
    points = design(page, wall_page)["points"]
    assert points["D"] == {"length": "31", "from": "C", "turn": "45"}
    page.mouse.move(*on_screen(page, 100, 90))
    page.mouse.down()
    page.mouse.move(*on_screen(page, 120 - 81.92, 58.08))
    expect(page.locator("[data-draw-said]")).to_contain_text("D mirrored")
    page.mouse.up()
    expect(strips(page)).to_have_count(3)
    assert design(page, wall_page)["points"]["F"] == {"mirror": "D", "in": "left to right"}


def test_the_rectangle_of_a_layer_is_dragged_by_its_side(page, tmp_path):
    connection = open_data(tmp_path)
    job = wall()
    stripes = job["pieces"][0].pop("pattern")
    inlay = {
        "name": "inlay",
        "zone": {"rect": {"left": "12", "top": "20", "width": "48", "height": "30"}},
        "pattern": {**stripes, "count": 3},
    }
    job["pieces"][0]["layers"] = [{"name": "below", "pattern": stripes}, inlay]
    add_job(connection, job, "Begun")
    connection.close()
    with serving(tmp_path) as found:
        page.set_viewport_size({"width": 1280, "height": 800})
        page.goto(f"{found}/jobs/1/wall/pattern?layer=1")
        expect(page.locator("#drawing .handle")).to_have_count(4)
        with page.expect_navigation():
            drag(page, (60, 35), (84, 40))
        expect(page.locator("#drawing .handle")).to_have_count(
            4
        )  # a page that is still being drawn when its server ends can't be closed
        kept = json.loads(page.request.get(f"{found}/jobs/1.json").text())["pieces"][0]
    assert kept["layers"][1]["zone"] == {"rect": {"left": "12", "top": "20", "width": "72", "height": "30"}}


def test_strips_drawn_faster_than_the_server_answers_are_all_laid_in_turn(page, wall_page):
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto(wall_page)
    page.get_by_role("button", name="Lay tape").click()
    slow = {"offline": False, "latency": 900, "downloadThroughput": -1, "uploadThroughput": -1}
    page.context.new_cdp_session(page).send("Network.emulateNetworkConditions", slow)
    for start, end in (((20, 20), (60, 20)), ((60, 20), (60, 60)), ((60, 60), (20, 60))):
        drag(page, start, end)
    expect(page.locator("#drawing .strip-drawn")).to_have_count(3)  # seen at once, though none is saved yet
    expect(strips(page)).to_have_count(3)
    expect(page.locator("#drawing .strip-drawn")).to_have_count(0)
    assert len(design(page, wall_page)["lines"]) == 3
    assert page.url == wall_page


def test_a_strip_drawn_without_a_connection_stays_in_sight_and_is_saved_once_there_is_one(page, wall_page):
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto(wall_page)
    page.get_by_role("button", name="Lay tape").click()
    page.context.set_offline(True)
    drag(page, (20, 20), (60, 20))
    expect(page.locator("[data-draw-said]")).to_contain_text("Not saved yet: no answer. Trying again")
    expect(page.locator("#drawing .strip-drawn")).to_have_count(1)
    page.context.set_offline(False)
    expect(strips(page)).to_have_count(1)
    expect(page.locator("#drawing .strip-drawn")).to_have_count(0)
    assert len(design(page, wall_page)["lines"]) == 1
