"""What a thumb does on the page at the wall, and the clock of a test."""

from datetime import UTC, datetime, timedelta

from playwright.sync_api import expect

from dividers.services import clock

PHONE = {"viewport": {"width": 390, "height": 844}, "has_touch": True}
WALL = "/jobs/1/wall"


class Time:
    """The server's clock and the phones' clocks, moved together."""

    def __init__(self, monkeypatch):
        self.at = datetime.now(UTC).replace(hour=8, minute=0, second=0, microsecond=0)
        self.pages = []
        monkeypatch.setattr(clock, "moment", lambda: self.at)

    def on(self, minutes):
        self.at += timedelta(minutes=minutes)
        for page in self.pages:
            page.clock.set_fixed_time(self.at)


def saved(page):
    """Wait until the server has all that was typed or pressed in forms that save by themselves."""
    expect(page.locator("html")).to_have_attribute("data-saved", "yes")


def press(page, name):
    if name in ("Begin", "Done"):  # a step that has just come into sight takes nothing for a moment
        expect(page.locator("#wall[data-resting]")).to_have_count(0)
    page.get_by_role("button", name=name, exact=True).click()


# Presses again at the same place so long after a press, by the page's own timers: on a slow machine the test's would come too late.
AGAIN = """([x, y, delays]) => {
  document.documentElement.dataset.again = "";
  const again = () => { document.elementFromPoint(x, y)?.click(); document.documentElement.dataset.again += "."; };
  addEventListener("click", () => { for (const delay of delays) setTimeout(again, delay); }, { capture: true, once: true });
}"""


def place_of(button):
    """The middle of a button, once it is in sight."""
    button.scroll_into_view_if_needed()
    box = button.bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def press_again(page, button, *delays):
    """Press where a button is, and again at the same place after each delay, ms."""
    x, y = place_of(button)
    page.evaluate(AGAIN, [x, y, list(delays)])
    page.mouse.click(x, y)
    expect(page.locator("html")).to_have_attribute("data-again", "." * len(delays))


def title(page, words):
    expect(page.locator("#step-title")).to_contain_text(words)


def tick_all(page):
    """The first one by itself, the others by one press where that is offered."""
    ticks = page.locator(".ticks button[aria-pressed='false']")
    whole = page.locator(".tick-whole")
    expect(page.locator("#wall[data-resting=recorded]")).to_have_count(0)
    for _ in range(1 if whole.count() else ticks.count()):
        page.locator(".ticks .current button").click()
        expect(page.locator(".tick-list[data-resting]")).to_have_count(0)
    if whole.count():
        whole.locator("summary").click()
        whole.locator("button[value=all]").click()
    expect(ticks).to_have_count(0)
