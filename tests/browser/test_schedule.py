"""The schedule in a real browser: worked out, explained, compared, saved; a colour of the cupboard taken."""

import re
from contextlib import closing

from axe import violations
from playwright.sync_api import expect

from dividers.services.jobs import editing
from dividers.services.opening import open_data

ORDER = "/jobs/1/booth-front/schedule"


def test_the_days_are_read_in_goes_and_pulls_can_be_chosen(sheet, address, tmp_path):
    _keep_two_pieces(tmp_path)
    sheet.goto(f"{address}{ORDER}")
    expect(sheet.locator(".day-bands .go").first).to_be_visible()
    expect(sheet.locator(".finish-said")).to_have_text(re.compile("^Done "))
    expect(sheet.locator(".start-said")).to_contain_text("Start with 1, ")
    rows = sheet.locator(".go-row")
    assert rows.count() == sheet.locator(".day-bands .go").count() > 5
    rows.nth(3).hover()
    expect(sheet.locator(".day-bands .go.lit")).to_have_count(1)
    rows.nth(1).locator("summary").click()
    expect(rows.nth(1).locator("tr").nth(1)).to_be_visible()  # the steps of a go
    assert sheet.evaluate("document.documentElement.scrollHeight") <= 2.5 * 800
    assert violations(sheet) == []
    sheet.get_by_text("Dry", exact=True).click()
    expect(sheet.locator(".forecast").first).to_contain_text("pulled dry")


def test_hours_and_days_are_picked_and_bad_ones_told(sheet, address, tmp_path):
    _keep_two_pieces(tmp_path)
    sheet.goto(f"{address}{ORDER}")
    begin = sheet.get_by_label("Hours from, 1")
    begin.fill("13:00")
    begin.press("Tab")
    expect(sheet.locator(".hours .fault")).to_contain_text("must be a span of the day")
    expect(begin).to_have_value("13:00")
    begin.fill("09:00")
    begin.press("Tab")
    expect(sheet.locator(".fault")).to_have_count(0)
    expect(sheet.locator(".go-row .go-when").first).to_have_text(re.compile("^(09|1[0-6])"))
    sheet.get_by_text("Sat", exact=True).click()  # not on Saturdays
    expect(sheet.locator("#undo button")).to_be_enabled()
    sheet.get_by_role("textbox", name="Start", exact=True).fill("16 Oct 2026 8:00")  # a Friday, as people write it
    sheet.get_by_role("textbox", name="Start", exact=True).press("Tab")
    expect(sheet.locator(".day summary").first).to_contain_text("Friday 16 October")
    assert "Saturday" not in "".join(sheet.locator(".day summary").all_text_contents())


def test_what_could_be_done_otherwise_stands_side_by_side(sheet, address, tmp_path):
    _keep_two_pieces(tmp_path)
    sheet.goto(f"{address}{ORDER}?whatif=1")
    row = sheet.locator("#whatif tr", has_text="One more painter")
    expect(row).to_be_visible()
    expect(sheet.locator("#whatif tr", has_text="As planned")).to_be_visible()


def test_the_calendar_and_the_day_list_are_saved(sheet, address, tmp_path):
    _keep_two_pieces(tmp_path)
    sheet.goto(f"{address}{ORDER}")
    expect(sheet.locator(".day-bands")).to_be_visible()
    with sheet.expect_download() as download:
        sheet.get_by_role("link", name="Calendar (.ics)").click()
    assert download.value.path().read_bytes().startswith(b"BEGIN:VCALENDAR")
    sheet.get_by_role("link", name="Day list to print").click()
    expect(sheet.locator("h1")).to_contain_text("schedule")
    assert violations(sheet) == []


def test_the_cupboard_measures_mixes_and_gives_to_a_job(sheet, address):
    sheet.goto(f"{address}/supplies")
    assert violations(sheet) == []
    sheet.get_by_label("Together they measure").fill("9 1/4 in")
    sheet.get_by_role("button", name="Divide").click()
    expect(sheet.locator("#strips .reading")).to_contain_text("23.495 mm")
    sheet.get_by_role("link", name="Masking tape, 24 mm").click()
    sheet.get_by_label("Actual width").fill("23.5 mm")
    sheet.get_by_role("button", name="Save").click()
    expect(sheet.locator("tr", has_text="Masking tape, 24 mm")).to_contain_text("23.5 mm")
    sheet.goto(f"{address}{ORDER}")
    sheet.get_by_text("From Supplies, and into them").click()
    sheet.locator("#cup-item").select_option(label="Masking tape, 24 mm (tape)")
    with sheet.expect_event("load"):
        sheet.get_by_role("button", name="Take", exact=True).click()
    sheet.goto(f"{address}/jobs/1/booth-front/tape")
    expect(sheet.locator("#f-method-tape option", has_text="Masking tape")).to_have_count(1)


def _keep_two_pieces(folder):
    """A job that is compared quickly."""
    with closing(open_data(folder)) as connection:
        for key in [piece.key for piece in editing.open_job(connection, 1).job.pieces[2:]]:
            editing.delete_piece(connection, 1, editing.open_job(connection, 1).revision.number, key)
