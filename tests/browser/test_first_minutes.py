"""From an empty list of jobs to the pencil: how many inputs it takes, on a desk and on a phone, on every surface; nothing is planned that wasn't measured."""

import pytest
from at_wall import saved
from axe import violations
from playwright.sync_api import expect
from server import serving

from dividers.core.job.beginnings import BEGINNINGS
from dividers.services.opening import open_data

SCREENS = {"desk": {"width": 1280, "height": 800}, "phone": {"width": 390, "height": 844}}


class Hand:
    """Presses and types, and counts both."""

    def __init__(self, page, touch=False):
        self.page, self.touch, self.inputs = page, touch, 0

    def press(self, place):
        self.inputs += 1
        place.tap() if self.touch else place.click()

    def type(self, place, text):
        self.inputs += 1
        (self.page.get_by_label(place, exact=True) if isinstance(place, str) else place).fill(text)


@pytest.fixture
def nothing(tmp_path):
    """The address of a server without any job."""
    open_data(tmp_path).close()
    with serving(tmp_path) as found:
        yield found


@pytest.fixture(params=SCREENS)
def hand(request, browser, nothing):
    context = browser.new_context(viewport=SCREENS[request.param], has_touch=request.param == "phone")
    page = context.new_page()
    page.goto(f"{nothing}/jobs")
    yield Hand(page, request.param == "phone")
    context.close()


def laid_out(hand, title="Wall"):
    hand.press(hand.page.get_by_role("link", name="Lay out something").first)
    hand.press(hand.page.get_by_role("link", name=title, exact=True))
    hand.type("Width", "120")
    hand.type("Height", "96")


def test_five_stripes_on_a_wall_take_six_inputs(hand):
    laid_out(hand)
    hand.press(hand.page.get_by_role("button", name="Yes, it is on and dry"))
    hand.press(hand.page.get_by_role("link", name="Next: Marks"))
    expect(hand.page.locator(".marks .reading").first).to_be_visible()
    readings = {text.strip() for text in hand.page.locator(".marks li[data-find*='top edge'] .reading").all_inner_texts()}
    assert {"24 in", "48 in", "72 in", "96 in"} <= readings
    assert hand.inputs <= 6


def test_enter_goes_from_field_to_field_and_answers_nothing_about_the_base(hand):
    laid_out(hand)
    page = hand.page
    page.get_by_label("Width", exact=True).press("Enter")
    expect(page.get_by_label("Height", exact=True)).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Yes, it is on and dry")).to_be_focused()
    assert "/new/" in page.url


@pytest.mark.parametrize("pattern", ["Chevrons", "Diamonds"])
def test_eight_by_four_chevrons_or_diamonds_take_nine_inputs(hand, pattern):
    laid_out(hand)
    page = hand.page
    hand.press(page.get_by_role("button", name="Yes, it is on and dry"))
    hand.press(page.locator(".picker span", has_text=pattern))
    expect(page.locator("#f-pattern-columns")).to_be_visible()
    hand.type(page.locator("#f-pattern-columns"), "8")
    expect(page.locator("#undo button")).to_be_enabled()
    if pattern == "Diamonds":
        hand.type(page.locator("#f-pattern-rows"), "4")
    else:
        hand.type(page.locator("#f-pattern-band"), "24")
    saved(page)  # it is taken while one looks
    hand.press(page.get_by_role("link", name="Next: Marks"))
    expect(page.locator(".marks .reading").first).to_be_visible()
    assert hand.inputs <= 9


SURFACES = [(screen, of) for screen in SCREENS for of in BEGINNINGS if screen == "desk" or of is BEGINNINGS[0]]


@pytest.mark.parametrize(
    ("hand", "of"), SURFACES, ids=[f"{of.key} on a {screen}" for screen, of in SURFACES], indirect=["hand"]
)
def test_every_surface_is_laid_out_only_once_it_is_measured(hand, nothing, of):
    page = hand.page
    page.goto(f"{nothing}/new/{of.key}")
    for field in page.locator("input.form-control").all():
        assert field.input_value() == ""  # nothing is measured before it is
    hand.press(page.locator("main .btn-primary").first)
    expect(page.locator(".fault").first).to_contain_text("Measure it")
    page.get_by_label(of.width, exact=True).fill("60")
    page.get_by_label(of.height, exact=True).fill("30")
    if of.more:
        page.get_by_label(of.more, exact=True).fill("20")
    if of.copies:
        page.get_by_label("How many are alike").fill("3")
    if of is BEGINNINGS[0] or of.more or of.copies:  # forms that differ
        assert violations(page) == []
    hand.press(page.locator("main .btn-primary").first)
    expect(page.locator(".pieces .here")).to_contain_text(of.name)
    page.goto(page.url.rpartition("/")[0] + "/marks")
    expect(page.locator("#station-list .reading").first).to_be_visible()


def test_an_empty_list_offers_three_ways_and_the_sample_job_is_looked_round(hand, nothing):
    page = hand.page
    for name in ("Lay out something", "Divide a length"):
        expect(page.get_by_role("link", name=name).first).to_be_visible()
    page.get_by_role("button", name="Look at the sample job").click()
    expect(page.locator(".look-round")).to_contain_text("1 of 5")
    assert violations(page) == []
    for stop in range(2, 6):
        page.get_by_role("link", name="Next stop").press("Enter")
        expect(page.locator(".look-round")).to_contain_text(f"{stop} of 5")
    page.get_by_role("link", name="That's all").click()
    expect(page.locator(".look-round")).to_have_count(0)


def test_a_length_is_divided_by_four_inputs_and_made_a_job(hand):
    page = hand.page
    hand.press(page.get_by_role("link", name="Divide a length").first)
    hand.type("Length", "119")
    hand.type("Into", "4")
    page.keyboard.press("Enter")
    expect(page.locator(".answer-said")).to_contain_text("4 parts of 29")
    expect(page.locator(".answer .tape-measure")).to_be_visible()
    assert hand.inputs <= 4
    assert violations(page) == []
    page.get_by_role("link", name="Make it a job").click()
    expect(page.get_by_label("Width", exact=True)).to_have_value("119")
    page.get_by_label("Height", exact=True).fill("50")
    page.get_by_role("button", name="Yes, it is on and dry").click()
    expect(page.locator("#f-pattern-count")).to_have_value("4")
