"""The bench of a job: the drawing stays while anything is edited, nothing lies across the edge of any screen, what was removed comes back."""

from contextlib import closing

import pytest
from at_bench import unfold
from axe import violations
from playwright.sync_api import expect

from dividers.services.jobs.job_list import add_job
from dividers.services.opening import open_data

BOOTH = "/jobs/1/booth-front"
STATIONS = ("measure", "pattern", "marks", "tape", "schedule", "materials")
OTHERS = ("/jobs", "/supplies", "/jobs/1/logbook", "/jobs/1/history", f"{BOOTH}/files")
SCREENS = {"desk": (1280, 800), "phone": (390, 844), "small phone": (360, 640), "400 %": (320, 256)}
MOST_SCREENS = 2.5
LARGE = {
    "format": "dividers-job/1", "title": "Foyer", "units": "mm",
    "palette": {"base": {"name": "Cream", "hex": "#f3efe4"}, "dark": {"name": "Slate", "hex": "#3f5a7a"}},
    "pieces": [
        {
            "id": "floor", "name": "Floor", "base": "base",
            "surface": {"kind": "floor", "panels": [{"name": "floor", "width": "6000", "height": "10000"}]},
            "pattern": {"kind": "checker", "columns": 100, "rows": 100, "colors": ["dark", None]},
        }
    ],
}  # fmt: skip


def there(sheet, address):
    """Go to a page and wait until nothing on it is being worked out."""
    sheet.goto(address)
    expect(sheet.locator(".working")).to_have_count(0)


def in_view(sheet, selector):
    """How much of an element's height can be seen, from 0 to 1."""
    return sheet.evaluate(
        """(selector) => {
          const box = document.querySelector(selector).getBoundingClientRect();
          return (Math.min(box.bottom, innerHeight) - Math.max(box.top, 0)) / box.height;
        }""",
        selector,
    )


@pytest.mark.parametrize("station", STATIONS)
@pytest.mark.parametrize("screen", ["desk", "phone"])
def test_the_drawing_stays_while_the_last_field_is_edited(sheet, address, station, screen):
    sheet.set_viewport_size(dict(zip(("width", "height"), SCREENS[screen], strict=True)))
    there(sheet, f"{address}{BOOTH}/{station}")
    sheet.evaluate("document.querySelectorAll('details').forEach((fold) => { fold.open = true; })")
    last = sheet.locator("#controls input:not([type=hidden]):not([type=radio]):not(.picks), #controls select").last
    last.evaluate(
        "(field) => { field.scrollIntoView({block: 'nearest'}); field.focus(); }"
    )  # at once: the page may be drawn anew meanwhile
    assert in_view(sheet, "#drawing") > 0.95
    expect(sheet.locator("#next .btn")).to_be_in_viewport()


def test_no_page_is_wider_than_its_screen_or_endless(sheet, address):
    for path in [*(f"{BOOTH}/{station}" for station in STATIONS), *OTHERS]:
        there(sheet, f"{address}{path}")
        for name, (width, height) in SCREENS.items():
            sheet.set_viewport_size({"width": width, "height": height})
            wide, high = sheet.evaluate("[document.documentElement.scrollWidth, document.documentElement.scrollHeight]")
            assert wide <= width, (name, path)
            assert name != "desk" or high <= MOST_SCREENS * height, (name, path, high)


@pytest.mark.parametrize("station", STATIONS)
def test_nothing_is_wrong_with_any_fold_open_in_light_dark_and_forced_colours(sheet, address, station):
    there(sheet, f"{address}{BOOTH}/{station}")
    sheet.evaluate("document.querySelectorAll('details').forEach((fold) => { fold.open = true; })")
    sheet.emulate_media(color_scheme="light", reduced_motion="reduce")  # no colour on its way to another
    assert violations(sheet) == []
    sheet.emulate_media(color_scheme="dark", reduced_motion="reduce")
    assert violations(sheet, "color-contrast") == []  # the rest is the same in the dark
    sheet.emulate_media(color_scheme="light", forced_colors="active")
    chosen = sheet.locator(".unit[aria-pressed='true']")
    assert chosen.evaluate("(part) => getComputedStyle(part).outlineStyle") == "solid"


def test_what_is_removed_can_be_put_back_and_the_work_goes_on_where_it_was(sheet, address):
    there(sheet, f"{address}{BOOTH}/pattern")
    unfold(sheet, "paints")
    swatches = sheet.locator(".palette summary")
    before = swatches.count()
    sheet.get_by_role("button", name="Add a paint colour").click()
    expect(swatches).to_have_count(before + 1)
    assert sheet.evaluate("document.activeElement.textContent").strip() == "Add a paint colour"
    swatches.last.click()
    sheet.locator(".palette details[open]").get_by_role("button", name="Remove").click()
    expect(swatches).to_have_count(before)
    expect(sheet.locator(".toast")).to_contain_text("Removed")
    sheet.get_by_role("button", name="Put it back").click()
    expect(swatches).to_have_count(before + 1)
    swatches.first.click()  # the base colour is in use
    expect(sheet.locator(".palette details[open]").get_by_role("button", name="Remove")).to_be_disabled()


def test_single_keys_act_only_once_they_are_asked_for(sheet, address):
    there(sheet, f"{address}{BOOTH}/pattern")
    sheet.evaluate(
        "window.followed = []; document.addEventListener('click', (event) => followed.push(event.target.href), true)"
    )
    sheet.locator("body").press("3")
    assert sheet.evaluate("followed") == []
    unfold(sheet, "job-menu")
    sheet.get_by_role("button", name="Keys").click()
    sheet.get_by_label("Use these keys").check()
    sheet.get_by_role("button", name="Close").click()
    sheet.locator("body").press("3")
    sheet.wait_for_url("**/marks")


def test_strips_are_found_by_number_and_place_and_lit_on_the_drawing(sheet, address):
    there(sheet, f"{address}/jobs/1/stage-floor/tape")
    shown = sheet.locator("#station-list .strip-group > ul > li:visible")
    assert 2 < shown.count() < 30  # 112 strips, those that are alike as one
    unfold(sheet, "find-strip")
    sheet.get_by_label("Find a strip").fill("57")
    expect(shown).to_have_count(1)
    shown.locator("summary").click()
    shown.locator("li", has_text="57").first.hover()
    expect(sheet.locator("#drawing .strip.lit")).to_have_count(1)
    expect(sheet.locator('#drawing text[data-link="s57"]')).to_have_text("57")


def test_two_fingers_zoom_the_drawing_and_fractions_take_one_tap(browser, address):
    context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True)
    phone = context.new_page()
    phone.goto(f"{address}{BOOTH}/measure")
    width = phone.get_by_label("Width", exact=True).first
    width.tap()
    assert width.evaluate("(field) => field.inputMode") == "decimal"
    phone.get_by_role("button", name="3/8", exact=True).tap()
    expect(width).to_have_value("86 3/8")  # in place of the 1/2
    expect(phone.locator("#undo button")).to_be_enabled()
    seen = "document.querySelector('#drawing svg').getAttribute('viewBox').split(' ').map(Number)[2]"
    before = phone.evaluate(seen)
    session = context.new_cdp_session(phone)
    box = phone.locator("#drawing").bounding_box()
    middle = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2

    def touch(kind, apart):
        points = [{"x": middle[0] + side * apart, "y": middle[1]} for side in (-1, 1)] if apart else []
        session.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})

    touch("touchStart", 20)
    for apart in (30, 45, 60):
        touch("touchMove", apart)
    touch("touchEnd", 0)
    assert phone.evaluate(seen) < before / 2
    context.close()


def test_the_drawing_of_a_large_piece_follows_while_one_types_on(sheet, address, tmp_path):
    with closing(open_data(tmp_path)) as connection:
        job_id = add_job(connection, LARGE, "a floor")
    sheet.goto(f"{address}/jobs/{job_id}/floor/pattern")
    expect(sheet.locator("#drawing svg")).to_be_visible()
    columns, rows = sheet.locator("#f-pattern-columns"), sheet.locator("#f-pattern-rows")
    columns.fill("99")
    expect(sheet.locator("#board .working")).to_contain_text("The drawing follows")
    rows.fill("101")  # typed on while it is worked out
    expect(sheet.locator("#drawing svg")).to_be_visible()
    expect(columns).to_have_value("99")
    expect(rows).to_have_value("101")
    expect(rows).to_be_focused()
    sheet.goto(f"{address}/jobs/{job_id}/floor/materials")  # amounts go by marks too, which take their time
    expect(sheet.get_by_role("heading", name="The whole job: shopping list")).to_be_visible()
    sheet.locator("input[name='method.tool']").last.check(force=True)
    expect(sheet.locator("#undo button")).to_be_enabled()
    expect(sheet.get_by_role("heading", name="The whole job: shopping list")).to_be_visible()
