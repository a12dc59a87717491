"""How calm a station is: what stands in sight at first, how much of the window the drawing has, how small its figures are; and what is said after a change."""

import re

import pytest
from at_bench import look, unfold
from at_wall import saved
from playwright.sync_api import expect

BOOTH = "/jobs/1/booth-front"
STATIONS = ("measure", "pattern", "marks", "tape")
SCREENS = {"desk": (1280, 800), "large": (1920, 1080), "phone": (390, 844)}
MOST_CONTROLS, LEAST_SHARE, SMALLEST_PX = 12, {"desk": 0.55, "large": 0.65, "phone": 0.4}, 10
# A row of a list, the choices of one question and a field with its steps are one thing for the hand.
IN_SIGHT = """() => [...document.querySelectorAll('#main :is(a[href], button, summary, select, textarea, input, fieldset.segments)')].filter((each) =>
  !each.closest('.pieces, .layer-stack, .marks li, .strip-group li') && !each.matches('[type=hidden], [type=radio], .stepper button, [tabindex="-1"]')
  && each.checkVisibility({ visibilityProperty: true, opacityProperty: true })
  && (({ top, bottom, left, right, width }) => width > 1 && bottom > 0 && top < innerHeight && right > 0 && left < innerWidth)(each.getBoundingClientRect())).length"""
SHARE = "() => { const box = document.querySelector('#drawing').getBoundingClientRect(); return box.width * box.height / innerWidth / innerHeight; }"
SMALLEST = """() => {
  const drawing = document.querySelector('#drawing svg.drawing'), scale = drawing.getScreenCTM().a;
  return Math.min(...[...drawing.querySelectorAll('text')].filter((text) => getComputedStyle(text).visibility !== 'hidden').map((text) => parseFloat(getComputedStyle(text).fontSize) * scale));
}"""
OVERLAPS = """() => {
  const boxes = [...document.querySelectorAll('#drawing svg.drawing text')].filter((text) => getComputedStyle(text).visibility !== 'hidden').map((text) => text.getBoundingClientRect());
  return boxes.filter((a, at) => boxes.slice(at + 1).some((b) => a.right > b.left + 1 && b.right > a.left + 1 && a.bottom > b.top + 1 && b.bottom > a.top + 1)).length;
}"""


def at(page, screen):
    page.set_viewport_size(dict(zip(("width", "height"), SCREENS[screen], strict=True)))


def dressed(page):
    """Until the figures of the drawing have their size."""
    expect(page.locator("#drawing svg.drawing")).to_have_attribute("style", re.compile("font-size"))


@pytest.mark.parametrize("screen", SCREENS)
def test_a_station_shows_a_dozen_controls_and_the_drawing(sheet, address, screen):
    at(sheet, screen)
    for station in STATIONS:
        sheet.goto(f"{address}{BOOTH}/{station}")
        dressed(sheet)
        found = {"controls": sheet.evaluate(IN_SIGHT), "share": sheet.evaluate(SHARE), "smallest": sheet.evaluate(SMALLEST)}
        assert found["controls"] <= MOST_CONTROLS, (station, found)
        assert found["share"] >= LEAST_SHARE[screen], (station, found)
        assert found["smallest"] >= SMALLEST_PX - 0.05, (station, found)
        assert sheet.evaluate(OVERLAPS) == 0, station


@pytest.mark.parametrize("piece", ["backdrop", "foyer-wall", "stage-floor", "poster", "cart-side"])
def test_other_pieces_are_as_calm(sheet, address, piece):
    at(sheet, "desk")
    for station, most in zip(
        STATIONS, (15, MOST_CONTROLS, MOST_CONTROLS, MOST_CONTROLS), strict=True
    ):  # several panels have their sizes on the drawing
        sheet.goto(f"{address}/jobs/1/{piece}/{station}")
        assert sheet.evaluate(IN_SIGHT) <= most, (piece, station)


def test_zoomed_figures_stay_readable(sheet, address):
    sheet.goto(f"{address}{BOOTH}/tape")
    dressed(sheet)
    for presses in ("-", "-", "-"):
        sheet.locator("#drawing").press(presses)
        sheet.wait_for_timeout(60)  # the next frame
        assert sheet.evaluate(SMALLEST) >= SMALLEST_PX - 0.05


def test_the_drawing_goes_over_the_whole_window_and_back(sheet, address):
    sheet.goto(f"{address}{BOOTH}/pattern")
    unfold(sheet, "view-menu")
    sheet.get_by_role("button", name="Whole window").click()
    expect(sheet.locator("#controls-column")).to_be_hidden()
    assert sheet.evaluate(SHARE) > 0.9
    sheet.keyboard.press("Escape")
    expect(sheet.locator("#controls-column")).to_be_visible()
    sheet.locator("#drawing").press("f")
    assert sheet.evaluate(SHARE) > 0.9


def test_a_change_is_said_in_a_sentence_and_nothing_jumps(sheet, address):
    sheet.goto(f"{address}{BOOTH}/pattern")
    told = sheet.locator("#told[role=status]")
    expect(told).to_contain_text("13 equal stripes: ≈ 6 21/32 in each, off the marks by 1/32 in")
    sheet.evaluate(
        "window.jumped = 0; new PerformanceObserver((list) => list.getEntries().forEach((each) => { jumped += each.value; })).observe({ type: 'layout-shift' })"
    )
    sheet.locator("#f-pattern-count").fill("12")
    expect(told).to_contain_text("12 equal stripes")
    expect(sheet.locator("#f-pattern-count")).to_be_focused()
    saved(sheet)
    sheet.get_by_role("button", name=re.compile("^Equal stripes: 1[0-9]")).last.click()
    expect(told).to_contain_text("14 equal stripes: ≈ 6 11/64 in each, off the marks by 1/64 in")
    saved(sheet)
    assert sheet.evaluate("jumped") < 0.05


def test_a_side_is_pressed_and_typed_where_it_lies(sheet, address):
    sheet.goto(f"{address}{BOOTH}/measure")
    sheet.locator(".handle", has_text="play window, top").click()
    field = sheet.get_by_label("play window, top", exact=True)
    expect(field).to_have_value("19 1/2")
    expect(sheet.locator("[name='surface.panels.0.openings.0.top']")).to_be_visible()  # what else belongs to it is open
    field.press("Escape")
    expect(field).to_have_count(0)
    sheet.locator(".handle", has_text="play window, top").click()
    field.fill("21")
    field.press("Enter")
    expect(sheet.locator("[name='surface.panels.0.openings.0.top']")).to_have_value("21")
    saved(sheet)
    assert sheet.request.get(f"{address}/jobs/1.json").json()["pieces"][0]["surface"]["panels"][0]["openings"][0]["top"] == "21"


def test_one_edge_is_marked_at_a_time_and_the_tape_shows_the_next_reading(sheet, address):
    sheet.goto(f"{address}{BOOTH}/marks")
    expect(sheet.locator(".strip-group[open]")).to_have_count(1)
    for number in (1, 2):
        sheet.get_by_role("button", name=f"Mark {number} made", exact=True).click()
        expect(sheet.locator(".blade figcaption strong").first).to_have_text(str(number + 1))
    sheet.locator(".strip-group > summary", has_text="Bottom edge").click()
    expect(sheet.locator(".strip-group[open]")).to_have_count(1)
    sheet.get_by_role("button", name="Mark 14 made", exact=True).click()
    expect(sheet.locator(".blade figcaption")).to_contain_text("Mark 15, bottom edge")


def test_a_look_is_chosen_from_pictures_and_folds_say_what_is_set(sheet, address):
    sheet.goto(f"{address}{BOOTH}/pattern")
    look(sheet, "Diamonds")
    expect(sheet.locator("#look-fold strong")).to_have_text("Diamonds")
    expect(sheet.locator(".look-choices")).to_be_hidden()
    unfold(sheet, "more-pattern")
    sheet.locator("#f-pattern-border").fill("2")
    expect(sheet.locator("#more-pattern > summary")).to_contain_text("2")


def test_a_phone_steps_from_station_to_station_by_arrows(browser, address):
    context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True)
    phone = context.new_page()
    phone.goto(f"{address}{BOOTH}/pattern")
    expect(phone.locator(".thread .here")).to_contain_text("Pattern of 8")
    assert phone.locator(".bench-top").bounding_box()["height"] < 100
    phone.locator(".thread .here + li a").tap()
    expect(phone.locator(".thread .here")).to_contain_text("Marks of 8")
    tick = phone.get_by_role("button", name="Mark 1 made", exact=True).bounding_box()
    assert min(tick["width"], tick["height"]) >= 44
    context.close()


def test_a_line_is_dragged_through_counts_that_come_out(sheet, address):
    sheet.goto(f"{address}{BOOTH}/pattern")
    box = sheet.locator(".handle", has_text="Equal stripes").bounding_box()
    middle = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    ends = sheet.locator("#drawing .layer-outlines path").first.bounding_box()
    sheet.mouse.move(*middle)
    sheet.mouse.down()
    sheet.mouse.move(ends["x"] + ends["width"] / 8, middle[1], steps=4)
    expect(sheet.locator(".handle-reading")).to_contain_text("8: 10 13/16 in")
    sheet.mouse.up()
    expect(sheet.locator("#f-pattern-count")).to_have_value("8")
    expect(sheet.locator("#told")).to_contain_text("8 equal stripes: 10 13/16 in each, on the marks")
    saved(sheet)


def test_a_second_width_is_typed_where_it_was_taken(sheet, address):
    sheet.goto(f"{address}{BOOTH}/measure")
    box = sheet.locator("#drawing .layer-outlines path").first.bounding_box()
    sheet.mouse.click(box["x"] + box["width"] * 0.3, box["y"] + box["height"] * 0.75)
    sheet.get_by_label(re.compile(r"^Width, 5\d in down")).fill("86 7/8")
    sheet.keyboard.press("Enter")
    expect(sheet.locator("#pulled-up > summary")).to_contain_text("(1)")
    box = sheet.locator("#drawing .layer-outlines path").first.bounding_box()
    sheet.mouse.click(box["x"] + box["width"] * 0.25, box["y"] + box["height"] * 0.25)
    sheet.get_by_label("Diagonal, top left to bottom right", exact=True).first.fill("113 1/8")
    sheet.keyboard.press("Enter")
    expect(sheet.locator("#pulled-up > summary")).to_contain_text("(2)")
    survey = sheet.request.get(f"{address}/jobs/1.json").json()["pieces"][0]["surface"]["panels"][0]["survey"]
    assert survey["widths"][0]["length"] == "86 7/8" and 50 <= int(survey["widths"][0]["at"]) <= 59
    assert survey["diagonals"][0]["length"] == "113 1/8"
    box = sheet.locator("#drawing .layer-outlines path").first.bounding_box()
    sheet.mouse.click(box["x"] + box["width"] * 0.8, box["y"] + box["height"] * 0.6)
    sheet.keyboard.type("80")
    sheet.keyboard.press("Escape")  # nobody took it
    expect(sheet.locator("#measure-here")).to_have_count(0)
    sheet.mouse.click(box["x"] + box["width"] * 0.8, box["y"] + box["height"] * 0.6)
    sheet.keyboard.type("86 3/4")
    sheet.locator("#told").click()  # left like any field: what is typed counts, once
    expect(sheet.locator("#pulled-up > summary")).to_contain_text("(3)")
    sheet.wait_for_load_state("networkidle")
    expect(sheet.locator("#pulled-up > summary")).to_contain_text("(3)")


def test_of_two_panels_the_one_that_is_pressed_is_measured(sheet, address):
    sheet.goto(f"{address}/jobs/1/backdrop/measure")
    box = sheet.locator("#drawing .layer-outlines path").nth(1).bounding_box()
    sheet.mouse.click(box["x"] + box["width"] * 0.3, box["y"] + box["height"] * 0.6)
    sheet.get_by_label(re.compile("^Width, ")).fill("47 7/8")
    sheet.keyboard.press("Enter")
    expect(sheet.locator("#pulled-up > summary")).to_contain_text("(")
    panels = sheet.request.get(f"{address}/jobs/1.json").json()["pieces"][2]["surface"]["panels"]
    assert [len(panel.get("survey", {}).get("widths", [])) for panel in panels] == [0, 1]
