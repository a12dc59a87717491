"""Each station's main act in a real browser, by mouse and by keyboard."""

import re

import pytest
from at_bench import look, unfold
from axe import violations
from playwright.sync_api import expect

BOOTH = "/jobs/1/booth-front"


def cells(page):
    return page.locator("#drawing .cell")


def test_a_job_from_nothing_by_keyboard_alone(sheet, address):
    sheet.goto(f"{address}/jobs")
    sheet.get_by_role("link", name="Lay out something").first.focus()
    sheet.keyboard.press("Enter")
    sheet.get_by_role("link", name="mm", exact=True).press("Enter")
    sheet.get_by_role("link", name="Wall", exact=True).press("Enter")
    expect(sheet.get_by_label("Width")).to_be_focused()
    sheet.keyboard.type("2.4 m")
    sheet.keyboard.press("Tab")
    sheet.keyboard.type("2100")
    sheet.get_by_role("button", name="Yes, it is on and dry").press("Enter")
    expect(sheet.locator(".top h1")).to_have_text("Wall")
    sheet.wait_for_load_state("load")  # the page's script listens from then on
    expect(sheet.locator("#drawing .label-ruler").filter(has_text="2400").first).to_be_visible()
    count = sheet.get_by_label("Equal stripes", exact=True).first
    count.focus()
    sheet.keyboard.press("Control+a")
    sheet.keyboard.type("8")
    expect(cells(sheet)).to_have_count(8)
    sheet.locator("#drawing").focus()
    sheet.keyboard.press("3")
    expect(sheet.locator(".marks li", has_text=re.compile("300 mm")).first).to_be_visible()


def test_typing_redraws_and_undo_goes_back(sheet, address):
    sheet.goto(f"{address}{BOOTH}/pattern")
    before = cells(sheet).count()
    sheet.locator("#f-pattern-count").fill("5")
    expect(cells(sheet)).not_to_have_count(before)
    expect(sheet.locator("#f-pattern-count")).to_be_focused()
    sheet.get_by_role("button", name="Undo").click()
    expect(cells(sheet)).to_have_count(before)
    expect(sheet.locator("#f-pattern-count")).to_have_value("13")
    sheet.get_by_role("button", name="Redo").click()
    expect(sheet.locator("#f-pattern-count")).to_have_value("5")


def test_switching_between_count_and_widths(sheet, address):
    sheet.goto(f"{address}{BOOTH}/pattern")
    unfold(sheet, "more-pattern")
    sheet.get_by_text("Widths, repeating").first.click()
    widths = sheet.locator("#f-pattern-widths")
    expect(widths).to_have_value("13 3/4")
    widths.fill("9; 4 1/2")
    expect(sheet.locator(".warning")).to_contain_text("cut to 5 1/2 in of its 9 in")


BAD = {
    "measure": ("surface-panels-0-width", "5 apples", "is not a length"),
    "pattern": ("pattern-count", "10000", "1 to 1000"),
    "tape": ("-products-delicate-tape-width", "NaN", "is not a length"),
    "materials": ("-products-cart-enamel-spread", "a lot", "isn't a spread rate"),
    "schedule": ("method-coats-madder", "0", "1 to 20"),
}


@pytest.mark.parametrize("station", BAD)
def test_bad_input_is_told_at_its_field_and_kept(sheet, address, station):
    sheet.goto(f"{address}{BOOTH}/{station}")
    field, typed, says = BAD[station]
    if station == "tape":
        unfold(sheet, "fold-f-method-tape")
    sheet.locator(f"#f-{field}").fill(typed)
    expect(sheet.locator(f"#f-{field}-fault")).to_contain_text(says)
    expect(sheet.locator(f"#f-{field}")).to_have_value(typed)
    sheet.goto(f"{address}{BOOTH}/marks")
    sheet.goto(f"{address}{BOOTH}/{station}")  # it is there still after another page
    expect(sheet.locator(f"#f-{field}")).to_have_value(typed)
    expect(sheet.locator(f"#f-{field}-fault")).to_contain_text(says)
    assert violations(sheet) == []
    sheet.get_by_role("button", name="Go back to the last valid values").click()
    expect(sheet.locator(f"#f-{field}-fault")).to_have_count(0)


def test_a_pattern_is_picked_from_its_picture(sheet, address):
    sheet.goto(f"{address}{BOOTH}/pattern")
    look(sheet, "Chevrons")
    expect(sheet.locator("#f-pattern-rise")).to_have_value("10 3/4")
    sheet.locator("#f-pattern-rise").fill("nothing")
    expect(sheet.locator("#f-pattern-rise-fault")).to_contain_text("is not a length")
    sheet.get_by_role("button", name="Go back to the last valid values").click()
    expect(sheet.locator("#f-pattern-rise-fault")).to_have_count(0)
    unfold(sheet, "look-fold")
    sheet.get_by_role("radio", name="Diamonds").focus()
    sheet.keyboard.press("Space")
    expect(sheet.locator("#f-pattern-rows")).to_have_value("")
    unfold(sheet, "more-pattern")
    sheet.get_by_text("Width", exact=True).click()
    expect(sheet.locator("#f-pattern-width")).to_have_value("13 3/4")
    assert violations(sheet) == []
    for _ in range(3):
        with sheet.expect_event("load"):  # a second press while the first is answered counts as one
            sheet.get_by_role("button", name="Undo").click()
    expect(sheet.locator("#f-pattern-count")).to_have_value("13")


def test_a_stale_tab_is_refused_with_both_versions_shown(sheet, address):
    sheet.goto(f"{address}{BOOTH}/pattern")
    other = sheet.context.new_page()
    other.goto(f"{address}{BOOTH}/pattern")
    other.locator("#f-pattern-count").fill("7")
    expect(other.locator("#drawing .cell").nth(6)).to_be_visible()
    expect(other.locator("#undo button")).to_be_enabled()
    sheet.locator("#f-pattern-count").fill("9")
    expect(sheet.get_by_role("heading", name="Two versions")).to_be_visible()
    row = sheet.locator("tr", has_text="count")
    expect(row).to_contain_text("7")
    expect(row).to_contain_text("9")
    assert violations(sheet) == []
    with sheet.expect_event("load"):
        sheet.get_by_role("button", name="Use mine").click()
    sheet.goto(f"{address}{BOOTH}/pattern")
    expect(sheet.locator("#f-pattern-count")).to_have_value("9")


def test_lists_and_drawing_light_each_other_up(sheet, address):
    sheet.goto(f"{address}{BOOTH}/tape")
    sheet.evaluate("document.querySelectorAll('details').forEach((fold) => { fold.open = true; })")
    sheet.locator('li[data-link="s5"]').hover()
    expect(sheet.locator('#drawing path[data-link="s5"]')).to_have_class(re.compile("lit"))
    sheet.locator('#drawing text[data-link="s2"]').hover()  # its number, which lies on it
    expect(sheet.locator('li[data-link="s2"]')).to_have_class(re.compile("lit"))
    sheet.locator('li[data-link="s7"]').focus()
    expect(sheet.locator('#drawing path[data-link="s7"]')).to_have_class(re.compile("lit"))


def test_units_switch_without_moving_anything(sheet, address):
    sheet.goto(f"{address}{BOOTH}/measure")
    unfold(sheet, "job-menu")
    sheet.get_by_role("button", name="mm", exact=True).click()
    expect(sheet.locator("#f-surface-panels-0-width")).to_have_value("2197.1")
    unfold(sheet, "job-menu")
    sheet.get_by_role("button", name="in", exact=True).click()
    expect(sheet.locator("#f-surface-panels-0-width")).to_have_value("86.5")
    sheet.goto(f"{address}{BOOTH}/marks")
    expect(sheet.locator("li[data-link=m1]")).to_contain_text("6 5/8 in")


def test_pieces_are_added_copied_moved_and_deleted(sheet, address):
    sheet.goto(f"{address}{BOOTH}/measure")
    names = sheet.locator(".pieces ol span")
    unfold(sheet, "piece-acts")
    before = names.all_text_contents()
    sheet.get_by_role("link", name="Another piece").click()
    sheet.get_by_role("link", name="Canvas").click()
    sheet.get_by_label("Width").fill("40")
    sheet.get_by_label("Height").fill("30")
    sheet.get_by_role("button", name="Not yet: paint it first").click()
    expect(names).to_have_text([*before, "Canvas"])
    unfold(sheet, "piece-acts")
    sheet.get_by_role("button", name="Move up").click()
    expect(names).to_have_text([*before[:-1], "Canvas", before[-1]])
    unfold(sheet, "piece-acts")
    sheet.get_by_role("button", name="Delete").click()
    expect(names).to_have_text(before)
    sheet.get_by_role("button", name="Undo").click()
    expect(names).to_have_count(len(before) + 1)


def test_openings_come_and_go(sheet, address):
    sheet.goto(f"{address}{BOOTH}/measure")
    expect(sheet.locator("#drawing .opening")).to_have_count(1)
    unfold(sheet, "in-the-way-0")
    sheet.get_by_role("button", name="Add knob").click()
    expect(sheet.locator("#drawing .opening")).to_have_count(2)
    sheet.get_by_role("button", name="Remove Opening: Knob").click()
    expect(sheet.locator("#drawing .opening")).to_have_count(1)


def test_the_shelf_deletes_restores_copies_and_imports(sheet, address, tmp_path):
    sheet.goto(f"{address}/jobs")
    sheet.get_by_role("button", name="Copy The Lantern Cart").click()
    expect(sheet.get_by_role("link", name="The Lantern Cart (copy)", exact=True)).to_be_visible()
    sheet.get_by_role("button", name="Delete The Lantern Cart (copy)").click()
    expect(sheet.get_by_role("status")).to_contain_text("was deleted")
    sheet.get_by_role("button", name="Restore The Lantern Cart (copy)").click()
    expect(sheet.locator(".jobs .job")).to_have_count(2)
    with sheet.expect_download() as download:
        sheet.get_by_role("link", name="Export The Lantern Cart (copy)").click()
    file = tmp_path / "job.json"
    download.value.save_as(file)
    sheet.get_by_label("Job file (.json)").set_input_files(file)
    sheet.get_by_role("button", name="Import the job file").click()
    expect(sheet.locator(".top h1")).to_have_text("The Lantern Cart (copy)")


def test_the_mark_sheet_prints_without_its_buttons(sheet, address):
    sheet.goto(f"{address}{BOOTH}/marks")
    unfold(sheet, "print-marks")
    sheet.get_by_role("link", name="Mark sheet to print").click()
    expect(sheet.get_by_role("link", name="As PDF")).to_be_visible()
    rows = sheet.locator(".sheet-list tbody tr").count()
    assert rows == 28  # 26 marks and both diagonals
    sheet.emulate_media(media="print")
    expect(sheet.get_by_role("link", name="As PDF")).to_be_hidden()
    expect(sheet.locator("#main svg.drawing")).to_be_visible()
    assert len(sheet.pdf()) > 20_000


@pytest.mark.parametrize("place", ["measure", "pattern", "marks", "tape", "materials", "mark-sheet", "jobs", "nowhere"])
def test_pages_are_accessible_in_light_and_dark(page, address, place):
    page.emulate_media(color_scheme="light", reduced_motion="reduce")  # no colour on its way to another
    page.goto(f"{address}/jobs" if place == "jobs" else f"{address}{BOOTH}/{place}")
    assert violations(page) == []
    page.emulate_media(color_scheme="dark", reduced_motion="reduce")
    assert violations(page, "color-contrast") == []  # the rest is the same in the dark


def test_keys_zoom_and_their_list(sheet, address):
    sheet.goto(f"{address}/jobs/1/stage-floor/tape")
    unfold(sheet, "fold-f-method-taping")
    sheet.get_by_role("radio", name="Strips").check(force=True)
    unfold(sheet, "pulled-up")
    expect(sheet.get_by_role("rowheader", name="Strips (in use)")).to_be_visible()
    sheet.locator("#drawing").focus()
    drawing = sheet.locator("#drawing svg")
    whole = drawing.get_attribute("viewBox")
    sheet.keyboard.press("+")
    assert drawing.get_attribute("viewBox") != whole
    sheet.keyboard.press("0")
    assert drawing.get_attribute("viewBox") == whole
    sheet.keyboard.press("]")
    expect(sheet.get_by_role("heading", name=re.compile("^Round 2:"))).to_be_visible()
    sheet.wait_for_load_state()
    sheet.locator("#drawing").focus()
    sheet.keyboard.press("?")
    expect(sheet.get_by_role("dialog")).to_be_visible()
    assert violations(sheet) == []


def test_everything_can_be_saved_without_javascript(browser, address):
    page = browser.new_context(java_script_enabled=False).new_page()
    page.goto(f"{address}{BOOTH}/pattern")
    page.locator("#f-pattern-count").fill("4")
    page.get_by_role("button", name="Redraw").last.click()
    expect(page.locator("#f-pattern-count")).to_have_value("4")
    page.locator("#f-pattern-count").fill("four")
    page.get_by_role("button", name="Redraw").last.click()
    expect(page.locator("#f-pattern-count-fault")).to_contain_text("isn't a whole number")


def test_patterns_are_picked_and_shown_taped(sheet, address):
    """A few of them; tests/web/test_pages.py picks every one."""
    sheet.goto(f"{address}{BOOTH}/pattern")
    for title in sheet.locator(".picker span").all_text_contents()[::6]:
        unfold(sheet, "look-fold")
        sheet.get_by_role("radio", name=title, exact=True).check(force=True)
        expect(sheet.locator("#look-fold strong")).to_have_text(title)
        expect(sheet.locator(".fault-box")).to_have_count(0)
    unfold(sheet, "view-menu")
    sheet.get_by_role("link", name="Masking").click()
    expect(sheet.locator("#drawing .strip").first).to_be_visible()
    assert violations(sheet) == []


def test_facets_are_written_as_lines_and_told_line_by_line(sheet, address):
    sheet.goto(f"{address}{BOOTH}/pattern")
    look(sheet, "Facets")
    lines = sheet.locator("#f-pattern-lines")
    expect(lines).to_have_value(re.compile("A D"))
    lines.fill("A D")
    expect(cells(sheet)).to_have_count(2)
    lines.fill("A D\nB Q")
    expect(sheet.locator("#f-pattern-lines-fault")).to_contain_text("There is no point “Q”")
    expect(lines).to_have_value("A D\nB Q")
    assert violations(sheet) == []


def test_marks_are_ticked_off(sheet, address):
    sheet.goto(f"{address}{BOOTH}/marks")
    mark = sheet.get_by_role("button", name="Mark 3 made", exact=True)
    mark.click()
    expect(mark).to_have_attribute("aria-pressed", "true")
    expect(sheet.get_by_text("1 of 26 made.")).to_be_visible()
    sheet.get_by_role("button", name="Clear the ticks").click()
    expect(mark).to_have_attribute("aria-pressed", "false")


def test_a_panel_is_added_over_a_fold_and_its_strips_say_so(sheet, address):
    sheet.goto(f"{address}/jobs/1/backdrop/measure")
    unfold(sheet, "outline-form")
    sheet.get_by_role("button", name="Add a panel").click()
    expect(sheet.locator("#drawing .fold")).to_have_count(2)
    sheet.goto(f"{address}/jobs/1/backdrop/tape")
    expect(sheet.locator(".side-list li", has_text="at the fold").first).to_be_visible()
    link = sheet.locator(".side-list a.strip-number").nth(5)
    number = link.text_content()
    link.click()
    expect(sheet.locator(".section-figure figcaption")).to_contain_text(f"{number} seen from its end")
    assert violations(sheet) == []


def test_the_other_pieces_keep_their_pictures_until_they_change(sheet, address):
    others = "() => [...document.querySelectorAll('#pieces li:not(.here) .thumbnail')].map(each => each.querySelectorAll('[fill=\"#9e3b32\"]').length)"
    sheet.goto(f"{address}{BOOTH}/pattern")
    before = sheet.evaluate(others)
    sheet.locator("#f-pattern-count").fill("9")
    expect(sheet.locator("#told")).to_contain_text("9 equal stripes")
    assert sheet.evaluate(others) == before and sum(before)
    unfold(sheet, "paints", "palette-madder")
    sheet.locator("#palette-madder [type=color]").fill("#102030")
    expect(sheet.locator("#pieces .here [fill='#102030']")).not_to_have_count(0)
    assert sum(sheet.evaluate(others)) == 0
