"""A crooked wall in a real browser: measured with a mistake, found, mended, lived with; tables of readings; marks checked; counts fitted."""

import csv
import io
import re

from at_bench import unfold
from axe import violations
from playwright.sync_api import expect

BOOTH = "/jobs/1/booth-front"
FOYER = "/jobs/1/foyer-wall"


def add(page, what, length, at=""):
    unfold(page, "pulled-up")
    page.get_by_label("Measured", exact=True).select_option(what)
    page.get_by_label("It reads").fill(length)
    page.get_by_label("Where", exact=True).fill(at)
    rows = page.locator("tr[data-link^='r-']").count()
    page.get_by_role("button", name="Add reading").click()
    expect(page.locator("tr[data-link^='r-']")).to_have_count(rows + 1)


def test_a_crooked_wall_is_measured_with_a_mistake_that_is_found_and_mended(sheet, address):
    sheet.goto(f"{address}{BOOTH}/measure")
    for what, length, at in (
        ("width", "86 1/2", "1"),
        ("width", "86 7/8", "36"),
        ("width", "87 1/4", "72"),
        ("height", "72 3/4", "1"),
        ("height", "71 5/8", "85"),
        ("falling", "113 1/8", ""),
        ("rising", "112 15/16", ""),
    ):
        add(sheet, what, length, at)
    doubt = sheet.locator(".said-row")
    expect(doubt).to_have_count(0)
    reads = sheet.get_by_label("Height, 85 in along, reads")
    reads.fill("70 5/8")
    reads.press("Tab")
    expect(doubt).to_contain_text("one inch off")
    expect(sheet.locator(".warning", has_text="doesn't fit")).to_have_count(1)
    doubt.get_by_role("button", name="Take 71 5/8 in instead").click()
    expect(doubt).to_have_count(0)
    expect(sheet.locator("tr", has_text="Height, 85 in along")).to_contain_text("was 70 5/8")
    expect(sheet.locator(".findings").first).to_contain_text("wider at the bottom")
    assert violations(sheet) == []
    sheet.goto(f"{address}{BOOTH}/marks")
    square = sheet.locator("li[data-link^='m'] .reading").all_inner_texts()
    sheet.goto(f"{address}{BOOTH}/measure")
    unfold(sheet, "pulled-up")
    sheet.locator(".way").get_by_role("button", name="Follow the outline").click()
    expect(sheet.locator(".way.in-use h4")).to_have_text("Follow the outline")
    sheet.goto(f"{address}{BOOTH}/marks")
    followed = sheet.locator("li[data-link^='m'] .reading").all_inner_texts()
    assert followed != square
    unfold(sheet, "pulled-up")
    expect(sheet.locator("caption", has_text="as it was measured")).to_be_visible()


def test_a_reading_is_set_aside_and_used_again(sheet, address):
    """The button that was pressed has the focus, and still says what it does now."""
    sheet.goto(f"{address}{FOYER}/measure")
    add(sheet, "right-out", "11/16", "93")
    button = sheet.locator("tr[data-link='r-widths.0']").get_by_role("button").first
    for words in ("Set aside", "Use again", "Set aside"):
        expect(button).to_have_text(words)
        button.click()


def test_a_reading_that_cannot_be_is_told_at_its_field_and_kept(sheet, address):
    sheet.goto(f"{address}{FOYER}/measure")
    unfold(sheet, "pulled-up")
    sheet.get_by_label("Measured", exact=True).select_option("height")
    sheet.get_by_label("It reads").fill("9.3")
    sheet.get_by_role("button", name="Add reading").click()
    expect(sheet.locator("#new-length-fault")).to_contain_text("far from the height")
    expect(sheet.get_by_label("It reads")).to_have_value("9.3")
    sheet.get_by_label("Measured", exact=True).select_option("up")
    sheet.get_by_label("It reads").fill("40")
    sheet.get_by_role("button", name="Add reading").click()
    expect(sheet.locator("#new-at-fault")).to_contain_text("Say where")
    reads = sheet.get_by_label("Diagonal, top left to bottom right, reads")
    reads.fill("90")
    reads.press("Tab")
    expect(sheet.locator(".readings .fault")).to_contain_text("is not a possible diagonal")
    expect(reads).to_have_value("90")


def test_readings_go_out_as_a_table_and_come_in_again(sheet, address):
    sheet.goto(f"{address}{FOYER}/measure")
    unfold(sheet, "pulled-up")
    with sheet.expect_download() as download:
        sheet.get_by_role("link", name="Save as CSV").click()
    text = download.value.path().read_text(encoding="utf-8-sig")
    rows = list(csv.DictReader(io.StringIO(text)))
    assert len(rows) == 11
    assert rows[7]["length"] == "169 5/16 in"
    sheet.goto(f"{address}{BOOTH}/readings/table")
    table = sheet.get_by_label("The table")
    table.fill("what;length;at\nwidth;86 1/2;0\ngirth;12\nheight;72 3/4")
    sheet.get_by_role("button", name="Show how it is read").click()
    expect(sheet.locator("caption")).to_have_text("2 of 3 lines are valid")
    expect(sheet.locator("td .fault")).to_contain_text("is not something that can be measured")
    assert violations(sheet) == []
    sheet.get_by_role("button", name="Add the 2 good lines").click()
    expect(sheet.locator("tr[data-link^='r-']")).to_have_count(2)
    sheet.get_by_role("button", name="Undo").click()
    expect(sheet.locator("tr[data-link^='r-']")).to_have_count(0)


def test_marks_are_checked_as_made(sheet, address):
    sheet.goto(f"{address}{BOOTH}/marks")
    unfold(sheet, "pulled-up")
    found = sheet.get_by_label("Mark 2, found")
    found.fill("14 5/16")
    found.press("Tab")
    expect(sheet.locator(".as-marked .doubted")).to_contain_text("1 in too far (one inch off)")
    found.fill("thirteen")
    found.press("Tab")
    expect(sheet.locator(".as-marked .fault")).to_contain_text("is not a length")
    expect(found).to_have_value("thirteen")
    sheet.get_by_role("link", name="diagonals").click()
    first, second = (
        sheet.get_by_label(re.compile("from top left to bottom right, found")),
        sheet.get_by_label(re.compile("from top right to bottom left, found")),
    )
    first.fill("111")
    first.press("Tab")
    second.fill("110 1/16")
    second.press("Tab")
    expect(sheet.locator(".as-marked .said").first).to_contain_text("too far to the right")


def test_a_line_is_made_to_hit_a_window_and_the_drawing_has_it(sheet, address):
    sheet.goto(f"{address}{BOOTH}/pattern")
    unfold(sheet, "pulled-up", "hits")
    sheet.get_by_label("fall on").first.select_option(label="play window, left edge")
    sheet.locator("#hits").get_by_role("button", name="Find").click()
    row = sheet.locator("#hits tbody tr").first
    expect(row).to_contain_text("Hits it")
    row.get_by_role("button", name="Use").click()
    expect(sheet.locator(".fact", has_text="The first repeat across is cut")).to_have_count(1)
    unfold(sheet, "pulled-up", "keep-across")
    sheet.get_by_role("link", name="Keep the count").click()
    expect(sheet.locator("#keep-across tbody tr").first).to_be_visible()
    sheet.locator("#border summary").click()
    sheet.get_by_label("Border from").fill("5")
    sheet.get_by_label("to", exact=True).fill("1")
    sheet.locator("#border").get_by_role("button", name="Find").click()
    expect(sheet.locator("#border .fault")).to_contain_text("at least as wide")
    assert violations(sheet) == []
