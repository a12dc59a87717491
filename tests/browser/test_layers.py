"""Layers by pointing: at a part, by a rectangle drawn on the drawing, seen growing, dragged to another place."""

import pytest
from at_bench import unfold
from at_wall import PHONE
from playwright.sync_api import expect

TRUNK = "/jobs/1/prop-trunk/pattern"


def names(page):
    return [" ".join(text.split()) for text in page.locator(".layer-name").all_inner_texts()]


def test_a_layer_is_added_where_one_points_and_stands_on_top(sheet, address):
    sheet.goto(f"{address}{TRUNK}")
    before = sheet.locator("#drawing .cell").count()
    sheet.locator("#drawing .cell[data-link=c3]").click()
    expect(sheet.locator("[data-part-words]")).to_contain_text("the part you pointed at (3")
    sheet.get_by_label("Its name").fill("inlay")
    sheet.get_by_role("button", name="Add this layer").click()
    expect(sheet.locator(".layer-name").first).to_have_text("inlay")
    assert names(sheet) == ["inlay", "bands"]
    assert sheet.locator("#drawing .cell").count() > before
    unfold(sheet, "layer-order")
    sheet.locator("[data-grow]").fill("1")
    expect(sheet.locator("#drawing g[data-layer='1']")).to_be_hidden()
    sheet.locator("[data-grow]").fill("2")
    expect(sheet.locator("#drawing g[data-layer='1']")).to_be_visible()
    sheet.get_by_label("inlay is shown").uncheck()
    expect(sheet.locator("#drawing g[data-layer='1']")).to_be_hidden()


def test_a_rectangle_is_drawn_and_layers_change_places_by_dragging(sheet, address):
    sheet.goto(f"{address}{TRUNK}")
    for name, share in (("left", 0.25), ("right", 0.6)):
        if name == "left":
            unfold(sheet, "over-it")
        unfold(sheet, "new-layer")
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
        expect(sheet.locator(".layer-name").first).to_have_text(name)
    assert names(sheet) == ["right", "left", "bands"]
    sheet.locator("[data-layer-row='2']").drag_to(sheet.locator("[data-layer-row='1']"))
    expect(sheet.locator(".layer-name").first).to_have_text("left")
    assert names(sheet) == ["left", "right", "bands"]
    unfold(sheet, "layer-order")
    sheet.get_by_role("button", name="Paint left earlier").click()
    expect(sheet.locator(".layer-name").first).to_have_text("right")


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
    handset.get_by_role("button", name="Add this layer").tap()
    expect(handset.locator(".layer-name").first).to_have_text("layer 2")
    handset.wait_for_load_state("load")
    handset.wait_for_function("document.documentElement.scrollWidth <= 390")
    context.close()
