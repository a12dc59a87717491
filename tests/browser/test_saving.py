"""Slow servers, lost answers, Enter, Tab and double presses: what is typed is kept and saved once, and no button counts that nobody pressed."""

import re

import pytest
from at_bench import look, unfold
from at_wall import saved
from playwright.sync_api import expect

BOOTH = "/jobs/1/booth-front"


def job(page, address):
    return page.request.get(f"{address}/jobs/1.json").json()


def slow(page, milliseconds):
    """Every answer comes so much later; the page itself goes on meanwhile."""
    network = {"offline": False, "latency": milliseconds, "downloadThroughput": -1, "uploadThroughput": -1}
    page.context.new_cdp_session(page).send("Network.emulateNetworkConditions", network)


@pytest.fixture
def quiet(page, address):
    """A page whose console may complain of what fails on purpose."""
    page.set_viewport_size({"width": 1280, "height": 800})
    return page


@pytest.mark.parametrize("milliseconds", [0, 300, 2000])
def test_tabbing_through_fields_presses_no_button(quiet, address, milliseconds):
    before = job(quiet, address)
    quiet.goto(f"{address}{BOOTH}/pattern")
    slow(quiet, milliseconds)
    colors = before["pieces"][0]["pattern"]["colors"]
    count = quiet.locator("#f-pattern-count")
    count.fill("9")
    buttons = quiet.locator("#controls button[name=action]:visible")
    for number in range(min(buttons.count(), 3)):
        buttons.nth(number).focus()
    count.fill("7")
    buttons.first.focus()
    saved(quiet)
    after = job(quiet, address)["pieces"][0]
    assert str(after["pattern"]["count"]) == "7"
    assert after["pattern"]["colors"] == colors
    assert job(quiet, address)["palette"] == before["palette"]


def test_a_button_pressed_while_a_save_is_under_way_still_counts_and_once(quiet, address):
    quiet.goto(f"{address}{BOOTH}/measure")
    unfold(quiet, "in-the-way-0")
    slow(quiet, 700)
    openings = len(job(quiet, address)["pieces"][0]["surface"]["panels"][0].get("openings", []))
    with quiet.expect_request(lambda sent: sent.method == "POST"):  # it is on its way
        quiet.get_by_label("Width", exact=True).first.fill("70")
    quiet.get_by_role("button", name="Add something else").dblclick()
    quiet.get_by_label("Height", exact=True).first.fill("61")
    expect(quiet.get_by_label("Height", exact=True).first).to_have_value("61")
    saved(quiet)
    panel = job(quiet, address)["pieces"][0]["surface"]["panels"][0]
    assert (panel["width"], panel["height"], len(panel["openings"])) == ("70", "61", openings + 1)


@pytest.mark.parametrize(
    ("station", "label", "value"), [("pattern", None, "9"), ("measure", "Width", "70"), ("schedule", "Painters", "2")]
)
@pytest.mark.parametrize("fails", ["lost", "broken"])
def test_a_save_that_fails_is_said_at_its_field_and_made_good(quiet, address, station, label, value, fails):
    quiet.goto(f"{address}{BOOTH}/{station}")
    field = quiet.get_by_label(label, exact=True).first if label else quiet.locator("#f-pattern-count")
    broken = lambda route: route.fulfill(status=500, body="no") if fails == "broken" else route.abort()  # noqa: E731
    pattern = f"**{BOOTH}/{station}"
    quiet.route(pattern, lambda route: broken(route) if route.request.method == "POST" else route.continue_())
    field.fill(value)
    said = quiet.locator(".unsaved")
    expect(said).to_contain_text("the server answered 500" if fails == "broken" else "there is no connection")
    expect(said).to_contain_text("trying again in")
    expect(field).to_have_value(value)
    asked = []
    quiet.on("dialog", lambda dialog: (asked.append(dialog.type), dialog.accept()))
    quiet.unroute(pattern)
    expect(said).to_have_count(0)
    document = job(quiet, address)
    piece = document["pieces"][0]
    found = {"pattern": piece["pattern"].get("count"), "measure": piece["surface"]["panels"][0]["width"], "schedule": document["crew"].get("painters")}  # fmt: skip
    assert str(found[station]) == value
    quiet.goto(f"{address}/jobs")
    assert asked == []


def test_leaving_with_something_unsaved_is_asked_about(quiet, address):
    quiet.goto(f"{address}{BOOTH}/pattern")
    quiet.route(f"**{BOOTH}/pattern", lambda route: route.abort() if route.request.method == "POST" else route.continue_())
    quiet.locator("#f-pattern-count").click()
    quiet.keyboard.press("Control+a")
    quiet.keyboard.type("9")
    expect(quiet.locator(".unsaved")).to_be_visible()
    asked = []
    quiet.on("dialog", lambda dialog: (asked.append(dialog.type), dialog.dismiss()))
    with quiet.expect_event("dialog"):
        quiet.evaluate("setTimeout(() => location.assign('/jobs'), 0)")
    assert asked == ["beforeunload"]
    expect(quiet.locator("#f-pattern-count")).to_have_value("9")


def test_enter_in_the_logbook_saves_what_is_typed(quiet, address):
    quiet.goto(f"{address}/jobs/1/logbook")
    for name, value in (("clean", "3"), ("slight", "2"), ("bleed", "1")):
        quiet.locator(f"#finding input[name={name}]").fill(value)
    quiet.keyboard.press("Enter")
    expect(quiet.locator("#findings")).to_contain_text("3 clean, 2 slight, 1 bled")
    quiet.locator("#finding input[name=slight]").fill("1")
    quiet.get_by_role("button", name="All clean: save").click()
    expect(quiet.locator("#findings tbody tr")).to_have_count(2)
    expect(quiet.locator("#findings")).to_contain_text("1 slight")


@pytest.mark.parametrize("fails", ["answer lost", "broken"])
def test_a_plain_form_whose_answer_fails_keeps_what_was_typed_and_saves_once(quiet, address, fails):
    quiet.goto(f"{address}/jobs/1/logbook")
    place = "**/logbook/findings"

    def fail(route):
        if fails == "broken":
            return route.fulfill(status=503, body="no")
        if fails == "answer lost":
            route.fetch(max_redirects=0)
        return route.abort()

    quiet.route(place, fail)
    quiet.locator("#finding input[name=slight]").fill("2")
    quiet.locator("#finding button.btn-primary").click()
    said = quiet.locator("#finding .unsaved")
    expect(said).to_contain_text("503" if fails == "broken" else "no connection")
    expect(quiet.locator("#finding input[name=slight]")).to_have_value("2")
    quiet.unroute(place)
    expect(quiet.locator("#findings tbody tr")).to_have_count(1)
    expect(quiet.locator("#findings")).to_contain_text("2 slight")


def test_what_is_not_valid_in_a_plain_form_comes_back_with_what_was_typed(quiet, address):
    quiet.goto(f"{address}/jobs/1/logbook")
    quiet.locator("#finding input[name=clean]").fill("many")
    quiet.keyboard.press("Enter")
    expect(quiet.locator("#finding .fault")).to_contain_text("isn't a number of strips")
    expect(quiet.locator("#finding input[name=clean]")).to_have_value("many")
    quiet.locator("#finding input[name=clean]").fill("2")
    quiet.keyboard.press("Enter")
    expect(quiet.locator("#findings")).to_contain_text("2 clean")


def test_enter_pressed_twice_before_a_slow_answer_saves_once(quiet, address):
    quiet.goto(f"{address}/jobs/1/logbook")
    slow(quiet, 800)
    sent = []
    quiet.on("request", lambda request: sent.append(request.url) if request.method == "POST" else None)
    quiet.locator("#finding input[name=slight]").fill("2")
    quiet.keyboard.press("Enter")
    quiet.keyboard.press("Enter")
    expect(quiet.locator("#findings tbody tr")).to_have_count(1)
    assert len(sent) == 1
    quiet.reload()
    expect(quiet.locator("#findings tbody tr")).to_have_count(1)


def test_pressing_again_after_an_answer_that_got_lost_saves_once(quiet, address):
    quiet.goto(f"{address}/jobs/1/logbook")

    def lost(route):
        route.fetch(max_redirects=0)
        route.abort()

    quiet.route("**/logbook/findings", lost)
    quiet.locator("#finding input[name=slight]").fill("2")
    quiet.keyboard.press("Enter")
    expect(quiet.locator("#finding .unsaved")).to_be_visible()
    quiet.unroute("**/logbook/findings")
    quiet.locator("#finding button.btn-primary").click()
    expect(quiet.locator("#findings tbody tr")).to_have_count(1)


def test_a_press_before_the_scripts_are_there_is_sent_once_they_are(page, address):
    """Scripts that come late, as over a slow line: a pattern picked meanwhile is taken."""
    late = []
    page.route("**/page.js?*", lambda route: late.append(route))
    with page.expect_request("**/page.js?*"):
        page.goto(f"{address}/jobs/1/booth-front/pattern", wait_until="commit")
    look(page, "Diamonds")
    expect(page.get_by_role("radio", name="Diamonds")).to_be_checked()
    late[0].continue_()
    expect(page.locator("#f-pattern-columns")).to_be_visible()
    expect(page.locator("#undo button")).to_be_enabled()


def test_a_field_typed_while_a_count_is_being_used_goes_after_it_without_a_word_of_another_window(quiet, address):
    quiet.goto(f"{address}{BOOTH}/pattern")
    unfold(quiet, "pulled-up")
    slow(quiet, 1500)
    use = quiet.locator(".counts button", has_text="Use").first
    count = re.search(r"\d+", use.inner_text())[0]
    with quiet.expect_request(lambda sent: sent.method == "POST"):
        use.click()
    name = quiet.locator("#controls [name^='/palette.'][name$='.name']").first
    name.evaluate(
        "field => { for (const fold of document.querySelectorAll('details')) if (fold.contains(field)) fold.open = true; }"
    )
    name.fill("Blue of the night")
    saved(quiet)
    expect(quiet.get_by_text("Two versions")).to_have_count(0)
    document = job(quiet, address)
    assert str(document["pieces"][0]["pattern"]["count"]) == count
    assert "Blue of the night" in {colour["name"] for colour in document["palette"].values()}


def test_a_form_pressed_while_a_field_is_saved_goes_after_it(quiet, address):
    quiet.goto(f"{address}{BOOTH}/pattern")
    slow(quiet, 1500)
    with quiet.expect_request(lambda sent: sent.method == "POST"):
        quiet.locator("#f-pattern-count").fill("8")
    quiet.get_by_role("button", name="Undo").click()  # a plain form: it takes back what it meets
    expect(quiet.locator("#f-pattern-count")).to_have_value("13")
    assert str(job(quiet, address)["pieces"][0]["pattern"]["count"]) == "13"


def test_a_field_whose_save_has_not_left_yet_is_not_lost_by_a_press(quiet, address):
    """Typed, and a plain form pressed by a key before the pause after typing is over: both count."""
    quiet.goto(f"{address}{BOOTH}/pattern")
    quiet.evaluate(
        """() => {
            const field = document.querySelector("#f-pattern-count");
            field.value = "8";
            field.dispatchEvent(new Event("input", { bubbles: true }));
            document.querySelector(".undo-form button, #undo button").form.requestSubmit();
        }"""
    )
    with quiet.expect_event("load"):
        pass
    labels = quiet.request.get(f"{address}/jobs/1/history").text()
    assert "Pattern changed" in labels  # it was saved before it was taken back
