"""Reading aloud at the wall: off until wanted, each mark as people say it, the space bar ticks and reads on."""

from at_wall import WALL, press
from playwright.sync_api import expect
from server import serving

VOICE = """
window.spoken = [];
window.speechSynthesis.speak = (speech) => window.spoken.push(speech.text);
window.speechSynthesis.cancel = () => {};
"""


def test_marks_are_read_and_ticked_by_space_alone(folder, phone, time):
    with serving(folder) as address:
        page = phone(f"{address}{WALL}")
        page.evaluate(VOICE)
        expect(page.get_by_role("button", name="Read aloud")).to_have_attribute("aria-pressed", "false")
        expect(page.locator("[data-voice-next]")).to_be_hidden()
        page.keyboard.press("Space")
        assert page.evaluate("window.spoken") == []
        press(page, "Read aloud")
        expect(page.locator("[data-voice-next]")).to_be_focused()  # so that the space bar presses it
        assert page.evaluate("window.spoken.at(-1)").startswith("Base coat 1")
        page.locator(".wall-bar [data-way=after]").click()
        expect(page.locator("#step-title")).to_contain_text("Make")
        first, second = (page.locator(".ticks li").nth(n).get_attribute("data-said") for n in (0, 1))
        assert first.startswith("Mark ") and not any(letter.isdigit() for letter in first.split(":")[1])
        page.wait_for_function("window.spoken.at(-1).includes('First: Mark')")
        page.locator("body").press("Space")
        expect(page.locator(".ticks li").first.locator("button")).to_have_attribute("aria-pressed", "true")
        page.wait_for_function("words => window.spoken.at(-1) === words", arg=second)
        page.locator("body").press("r")
        assert page.evaluate("window.spoken.at(-1)") == page.evaluate("window.spoken.at(-2)") == second
        page.clock.run_for(1100)  # sooner it would be the same press
        page.locator("[data-voice-next]").click()
        expect(page.locator(".ticks button[aria-pressed='true']")).to_have_count(2)
        press(page, "Read aloud")
        page.evaluate("document.activeElement.blur()")
        count = page.evaluate("window.spoken.length")
        page.locator("body").press("Space")
        assert page.evaluate("window.spoken.length") == count


def test_from_afar_one_large_reading_is_ticked_by_the_whole_picture(folder, phone, time):
    with serving(folder) as address:
        page = phone(f"{address}{WALL}")
        page.locator(".wall-bar [data-way=after]").click()
        expect(page.locator("#step-title")).to_contain_text("Make")
        first, second = (page.locator(".ticks li .tick-words").nth(n).inner_text().split("\n")[0] for n in (0, 1))
        press(page, "Large, from afar")
        what = page.locator("[data-afar-what]")
        expect(what).to_have_text(first)
        box, whole = what.bounding_box(), page.viewport_size
        assert box["width"] <= whole["width"] and what.evaluate("each => parseFloat(getComputedStyle(each).fontSize)") > 60
        page.locator("[data-afar-next]").click()
        expect(what).to_have_text(second)
        page.reload()  # kept on this device
        expect(page.locator("[data-afar-what]")).to_be_visible()
        press(page, "Near")
        expect(page.locator(".ticks button[aria-pressed='true']")).to_have_count(1)
        press(page, "Left hand")
        assert page.locator(".tick-big .tick-mark").last.bounding_box()["x"] < 100
