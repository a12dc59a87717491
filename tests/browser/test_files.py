"""Print and save, a photo of the place, devices: worked by hand."""

import re

from at_bench import unfold
from at_wall import saved
from axe import violations
from PIL import Image
from playwright.sync_api import expect

from dividers.cli import main

PIECE = "/jobs/1/booth-front"


def test_files_are_saved_from_their_page(sheet, address):
    sheet.goto(f"{address}{PIECE}/materials")
    sheet.locator("summary", has_text="Stock: delicate tape").click()
    sheet.get_by_label("In stock").and_(sheet.locator("[name='/supplies.delicate tape.stock']")).fill("20 m")
    sheet.keyboard.press("Tab")
    expect(sheet.locator("#shopping .warning")).to_contain_text("delicate tape: the 66 ft in stock run out at strip")
    assert violations(sheet) == []
    sheet.get_by_role("link", name="Print and save").click()
    assert violations(sheet) == []
    with sheet.expect_download() as download:
        sheet.get_by_role("link", name="Drawing in layers, true size (SVG)").click()
    assert download.value.suggested_filename == "booth-front-drawing.svg"


def test_a_pattern_is_laid_on_a_photo_by_hand_and_by_keys(sheet, address, tmp_path):
    Image.new("RGB", (1000, 750), "#e8e4dc").save(tmp_path / "place.jpg")
    sheet.goto(f"{address}{PIECE}/preview")
    sheet.set_input_files("#preview-photo", tmp_path / "place.jpg")
    sheet.get_by_role("button", name="Use it").click()
    handle = sheet.locator("[data-corner='0'] circle")
    expect(sheet.locator(".preview-cells path").first).to_be_attached()
    box, before = handle.bounding_box(), sheet.locator(".preview-cells path").first.get_attribute("d")
    sheet.mouse.move(box["x"] + 8, box["y"] + 8)
    sheet.mouse.down()
    sheet.mouse.move(box["x"] - 60, box["y"] - 40, steps=4)
    sheet.mouse.up()
    expect(sheet.locator(".preview-cells path").first).not_to_have_attribute("d", before)
    held = float(sheet.locator("[name=x1]").input_value())
    sheet.locator("[data-corner='1']").focus()
    for _ in range(3):
        sheet.keyboard.press("Shift+ArrowRight")
    expect(sheet.locator("[name=x1]")).to_have_value(f"{held + 30:.1f}")
    saved(sheet)
    sheet.reload()
    expect(sheet.locator("[name=x1]")).to_have_value(f"{held + 30:.1f}")
    assert violations(sheet) == []
    with sheet.expect_download() as download:
        sheet.get_by_role("link", name="Save as PNG").click()
    with Image.open(download.value.path()) as image:
        assert image.size == (1000, 750)


def test_a_range_finder_types_into_the_field_that_has_the_cursor(sheet, address, capsys):
    sheet.goto(f"{address}/devices")
    assert violations(sheet) == []
    sheet.get_by_role("button", name="Make a token").click()
    expect(sheet.locator("main")).to_contain_text(re.compile(r"Bearer \w{6}"))
    token = re.search(r"Bearer ([\w-]+)", sheet.locator("main").inner_text()).group(1)
    sheet.goto(f"{address}{PIECE}/measure")
    unfold(sheet, "pulled-up")
    sheet.get_by_label("Range finder types here").check()
    sheet.get_by_label("It reads").click()
    assert (
        main(["stand-in", "range-finder", "--to", f"{address}/device", "--token", token, "--length", "1847.9", "--seed", "3"])
        == 0
    )
    assert ": 1 received" in capsys.readouterr().out
    expect(sheet.get_by_label("It reads")).to_have_value(re.compile(r"^7[23]( \d+/\d+)? in$"))
    expect(sheet.locator("#finder-said")).to_contain_text("The range finder read 184")
    assert main(["stand-in", "laser", "--to", f"{address}/device", "--token", "wrong"]) == 1
    assert main(["stand-in", "hygrometer", "--to", "http://127.0.0.1:9/device", "--token", token]) == 1
