"""Whole designs drawn with tape, in few actions: triangles from their readings, strips from a place in the middle, a shape masked on a painting,
a cube over a fold."""

import json
import re
from contextlib import contextmanager

from jobs import wall
from playwright.sync_api import expect
from server import serving
from test_draw import design, on_screen, strips

from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_document
from dividers.services.jobs.job_list import add_job
from dividers.services.opening import open_data

EMPTY = {"kind": "facets", "points": {}, "lines": [], "fills": []}


class Hand:
    """Somebody who draws, and counts what it takes: each press, drag or filled field."""

    def __init__(self, page, address, unit_mm=25.4):
        self.page, self.address, self.unit_mm, self.actions = page, address, unit_mm, 0
        page.set_viewport_size({"width": 1280, "height": 800})
        page.goto(address)

    def at(self, place):
        return on_screen(self.page, *(each * self.unit_mm / 25.4 for each in place))

    def press(self, name):
        self.actions += 1
        self.page.get_by_role("button", name=name, exact=True).click()

    def drag(self, start, end):
        self.actions += 1
        with self.page.expect_response("**/draw**"):
            self.page.mouse.move(*self.at(start))
            self.page.mouse.down()
            self.page.mouse.move(*self.at([(a + b) / 2 for a, b in zip(start, end, strict=True)]))
            self.page.mouse.move(*self.at(end))
            self.page.mouse.up()

    def lay(self, *strip_ends):
        for start, end in strip_ends:
            count = strips(self.page).count()
            self.drag(start, end)
            expect(strips(self.page)).to_have_count(count + 1)

    def color(self, name, *places):
        self.actions += 1
        self.page.locator("[data-swatches] label", has_text=name).click()
        for place in places:
            self.actions += 1
            colored = self.page.locator("#drawing .cell:not([fill='#f1e6cf'])")
            before = colored.count()
            with self.page.expect_response("**/draw**"):
                self.page.mouse.click(*self.at(place))
            expect(colored).to_have_count(before + 1)


@contextmanager
def drawing(folder, page, job, unit_mm=25.4):
    connection = open_data(folder)
    add_job(connection, job, "Begun")
    connection.close()
    with serving(folder) as found:
        yield Hand(page, f"{found}/jobs/1/wall/pattern", unit_mm)


def drawn(pattern=EMPTY, **piece):
    job = wall(piece=piece)
    job["pieces"][0]["pattern"] = pattern
    return job


def planned(job):
    return json.loads(json.dumps(plan_document(plan_job(read_job(job)))))["pieces"][0]


def test_a_wall_of_six_triangles_is_drawn_in_forty_actions_and_is_the_typed_one(page, tmp_path):
    # readings: common practice, no source
    with drawing(tmp_path, page, drawn()) as hand:
        hand.press("Lay tape")
        hand.lay(((26, 0), (0, 26)), ((62, 0), (0, 96)), ((120, 23.5), (66, 96)))
        page.get_by_text("More ways of drawing").click()
        for label, text in (("Off it", "6"), ("How many", "4"), ("Each further", "6")):
            page.get_by_label(label).fill(text)
        page.locator("#draw [name=line]").select_option("C D")
        page.locator("#draw [name=side]").select_option("right of it")
        hand.actions += 6
        hand.press("Lay them")
        expect(strips(page)).to_have_count(7)
        hand.press("Colour")
        hand.color("Ink", (5, 5), (115, 90))
        hand.color("Madder", (100, 10), (4, 50))
        made = design(page, hand.address)
    assert hand.actions <= 40
    points = {
        "A": ["26", "0"],
        "B": ["0", "26"],
        "C": ["62", "0"],
        "D": {"left": "0", "bottom": "0"},
        "E": {"right": "0", "top": "23 1/2"},
        "F": {"left": "66", "bottom": "0"},
    }
    assert made["lines"][:3] == [["A", "B"], ["C", "D"], ["E", "F"]]
    beside = {name: place for name, place in made["points"].items() if name not in points}
    assert [each["by"] for each in beside.values()] == ["6", "6", "12", "12", "18", "18", "24", "24"]
    one, other = planned(drawn(made)), planned(drawn({**made, "points": points | beside}))
    assert one == other
    assert sum(cell["color"] is not None for cell in one["cells"]) == 4


def test_eight_strips_from_the_middle_of_the_top_are_drawn_in_thirty_actions(page, tmp_path):
    job = drawn(surface={"kind": "wall", "panels": [{"name": "front", "width": "3000", "height": "2400"}]})
    job |= {"units": "mm", "graduation": "1 mm"}
    with drawing(tmp_path, page, job, unit_mm=1) as hand:
        hand.press("Lay tape")
        hand.lay(((1500, 0), (1500, 300)))
        ends = [(0, 2400), (800, 2400), (1500, 2400), (2200, 2400), (3000, 2400), (0, 800), (3000, 800)]
        hand.lay(*(((1500, 300), end) for end in ends))
        hand.press("Colour")
        hand.color("Ink", (400, 2200), (1700, 2200), (1000, 100))
        made = design(page, hand.address)
    assert hand.actions <= 30
    assert len(made["lines"]) == 8
    assert made["points"]["A"] == {"left": "1500", "top": "0"}
    assert all(line[0] == "B" for line in made["lines"][1:])


def test_a_triangle_must_not_line_up_with_traced_edges(page, tmp_path):
    paper = {"kind": "paper", "texture": "hot-pressed", "panels": [{"name": "front", "width": "30", "height": "22"}]}
    with drawing(tmp_path, page, drawn(surface=paper, method={"marks": "by-eye"})) as hand:
        hand.press("Guide")
        hand.drag((0, 8), (12, 8))
        hand.drag((26, 0), (26, 9))
        expect(page.locator("#drawing .guide-line")).to_have_count(2)
        hand.press("Lay tape")
        hand.lay(((14, 8.5), (24, 8.5)), ((24, 8.5), (19, 18)), ((19, 18), (14, 8.5)))
        told = page.locator("#to-know", has_text="nearly continues the guide A B")
        expect(told).to_have_count(1)
        page.locator(".draw-ways button").first.click()
        expect(page.locator("#undo button")).to_have_attribute("title", re.compile("set a reading", re.I))
        hand.press("Colour")
        hand.color("Ink", (19, 12))
        made = design(page, hand.address)
        assert len(made["guides"]) == 2 and len(made["lines"]) == 3
        page.goto(hand.address.replace("/pattern", "/marks"))
        expect(page.get_by_text("no mark is asked for")).to_be_attached()


def test_a_cube_is_drawn_over_wall_and_ceiling(page, tmp_path):
    panels = [{"name": "ceiling", "width": "96", "height": "48"}, {"name": "front", "width": "96", "height": "84"}]
    surface = {"kind": "wall", "panels": panels, "folds": [["ceiling", "bottom", "front", "top"]]}
    with drawing(tmp_path, page, drawn(surface=surface)) as hand:
        hand.press("Lay tape")
        # upright squares on ceiling and wall, set off by 12, and the triangles between them; the fold is 48 down
        hand.lay(
            ((30, 48), (30, 24)), ((30, 24), (54, 24)), ((54, 24), (54, 48)), ((42, 48), (42, 72)), ((42, 72), (66, 72)),
            ((66, 72), (66, 48)), ((30, 48), (42, 72)), ((54, 24), (66, 48)), ((30, 48), (66, 48)),
        )  # fmt: skip
        hand.press("Colour")
        hand.color("Ink", (38, 36))
        hand.color("Madder", (54, 60))
        made = design(page, hand.address)
    assert ["66", "48"] in made["points"].values()  # plain readings, where they say what a length or a mirror image would
    cells = {cell["color"]: cell["panel"] for cell in planned(drawn(made, surface=surface))["cells"] if cell["color"]}
    assert cells == {"ink": "ceiling", "madder": "front"}
