"""Layers by pointing: at a part, by a rectangle drawn on the drawing, seen growing, dragged to another place."""

import pytest
from at_bench import unfold
from at_wall import PHONE
from playwright.sync_api import expect

TRUNK = "/jobs/1/prop-trunk/pattern"


def names(page):
    return [" ".join(text.split()) for text in page.locator("[data-layer-row] .layer-name").all_inner_texts()]


def test_a_layer_is_added_where_one_points_and_stands_on_top(sheet, address):
    sheet.goto(f"{address}{TRUNK}")
    before = sheet.locator("#drawing .cell").count()
    sheet.locator("#drawing .cell[data-link=c3]").click()
    sheet.get_by_role("button", name="A layer in this part").click()
    expect(sheet.locator("[data-part-words]")).to_contain_text("the part you pointed at (3")
    sheet.get_by_label("Its name").fill("inlay")
    sheet.get_by_role("button", name="Add this layer").click()
    expect(sheet.locator(".layer-stack .here")).to_contain_text("inlay")
    assert names(sheet) == ["bands", "inlay"]
    assert sheet.locator("#drawing .cell").count() > before
    unfold(sheet, "over-it", "layer-order")
    sheet.locator("[data-grow]").fill("1")
    expect(sheet.locator("#drawing g[data-layer='1']")).to_be_hidden()
    sheet.locator("[data-grow]").fill("2")
    expect(sheet.locator("#drawing g[data-layer='1']")).to_be_visible()
    sheet.get_by_label("inlay is shown").uncheck()
    expect(sheet.locator("#drawing g[data-layer='1']")).to_be_hidden()


def test_a_rectangle_is_drawn_and_layers_change_places_by_dragging(sheet, address):
    sheet.goto(f"{address}{TRUNK}")
    for name, share in (("left", 0.25), ("right", 0.6)):
        unfold(sheet, "over-it", "new-layer")
        sheet.get_by_role("button", name="Draw it").click()
        box = sheet.locator("#drawing .layer-outlines path").bounding_box()
        x, y = box["x"] + box["width"] * share, box["y"] + box["height"] * 0.3
        sheet.mouse.move(x, y)
        sheet.mouse.down()
        sheet.mouse.move(x + box["width"] * 0.2, y + box["height"] * 0.4, steps=4)
        sheet.mouse.up()
        expect(sheet.locator("[name=where][value=rect]")).to_be_checked()
        width = float(sheet.locator(".layer-sides [name=width]").input_value())
        assert width == pytest.approx(31.625 * 0.2, abs=0.3)
        sheet.get_by_label("Its name").fill(name)
        sheet.get_by_role("button", name="Add this layer").click()
        expect(sheet.locator("[data-layer-row] .layer-name").last).to_have_text(name)
    assert names(sheet) == ["bands", "left", "right"]
    sheet.locator("[data-layer-row='2']").drag_to(sheet.locator("[data-layer-row='1']"))
    expect(sheet.locator("[data-layer-row] .layer-name").last).to_have_text("left")
    assert names(sheet) == ["bands", "right", "left"]
    unfold(sheet, "over-it", "layer-order")
    sheet.get_by_role("button", name="Paint left earlier").click()
    expect(sheet.locator("[data-layer-row] .layer-name").last).to_have_text("right")


def test_a_layer_is_edited_like_a_pattern_and_the_one_below_stays(sheet, address):
    sheet.goto(f"{address}/jobs/1/poster/pattern")
    expect(sheet.locator(".layer-stack .here .layer-name")).to_have_text("lantern")
    sheet.get_by_role("link", name="rays").click()
    off = sheet.locator("#f-pattern-off")
    expect(off).to_have_value("1 1/4")
    unfold(sheet, "more-pattern")
    off.fill("2")
    expect(sheet.locator("#undo button")).to_be_enabled()
    sheet.reload()
    expect(sheet.locator("#f-pattern-off")).to_have_value("2")
    sheet.locator(".layer-stack a", has_text="all of it").click()
    expect(sheet.locator("#f-pattern-reserve")).to_have_value("1/4")


def test_a_phone_adds_a_layer_by_tapping(browser, address):
    context = browser.new_context(**PHONE)
    handset = context.new_page()
    handset.goto(f"{address}{TRUNK}")
    handset.locator("#drawing .cell[data-link=c3]").tap()
    handset.get_by_role("button", name="A layer in this part").tap()
    handset.get_by_role("button", name="Add this layer").tap()
    expect(handset.locator("[data-layer-row] .layer-name").last).to_have_text("layer 2")
    handset.wait_for_load_state("load")
    handset.wait_for_function("document.documentElement.scrollWidth <= 390")
    context.close()


def test_a_part_pressed_in_the_drawing_changes_its_colour(sheet, address):
    sheet.goto(f"{address}/jobs/1/booth-front/pattern")
    turns = sheet.locator(".in-turn select")
    sheet.locator("#drawing .cell").first.click()
    box = sheet.get_by_role("group", name="Curtain madder")
    expect(box.get_by_role("button", name="Curtain madder")).to_have_count(0)
    sheet.keyboard.press("Escape")
    expect(box).to_have_count(0)
    sheet.locator("#drawing .cell").first.click()
    box.get_by_role("button", name="Lamp cream, the base (changes places)").click()
    expect(turns.nth(1)).to_have_value("madder")
    expect(turns.nth(0)).to_have_value("")
    sheet.locator("#drawing .cell").nth(1).click()
    sheet.get_by_role("group", name="Curtain madder").get_by_role("button", name="Night blue").click()
    expect(turns.nth(1)).to_have_value("night")


def test_what_lies_below_is_changed_in_its_own_layer(sheet, address):
    sheet.goto(f"{address}/jobs/1/poster/pattern")
    sheet.locator("#drawing g[data-layer='0'] .cell").first.click()
    expect(sheet.locator("#part-here [data-part-colors]")).to_be_hidden()
    sheet.get_by_role("link", name="Change facets").click()
    sheet.locator("#drawing g[data-layer='0'] .cell").first.click()
    sheet.locator("#part-here").get_by_role("button", name="Old brass").click()
    expect(sheet.locator("#undo button")).to_be_enabled()
    expect(sheet.locator("#drawing g[data-layer='0'] .cell").first.locator("title")).to_have_text("Old brass")


def test_a_line_in_each_band_takes_two_presses(sheet, address):
    sheet.goto(f"{address}/jobs/1/booth-front/pattern")
    sheet.locator("#drawing .cell").first.click()
    sheet.get_by_role("button", name="A line in the middle of each").dblclick()
    expect(sheet.locator("[data-layer-row]")).to_have_count(2)
    zone = sheet.request.get(f"{address}/jobs/1.json").json()["pieces"][0]["layers"][1]["zone"]
    assert zone["color"] == "madder" and zone["each"] is True
    assert sheet.locator("#drawing g[data-layer='1'] .cell").count() >= 7
