"""What is done by hand, as somebody would: nail heads and a stencil, bricks lit round a corner, a stamp between stripes, a canvas painted round its edge."""

import json
import re

import pytest
from at_bench import unfold
from jobs import wall
from playwright.sync_api import expect
from server import serving

from dividers.services.jobs.job_list import add_job
from dividers.services.opening import open_data


@pytest.fixture
def begun(tmp_path):
    """Begins with a job of one piece and gives its address."""
    opened = []

    def begin(pattern, surface=None, **piece):
        connection = open_data(tmp_path)
        job = wall(piece=piece)
        own = job["pieces"][0]
        own["pattern"] = pattern
        own["surface"] |= surface or {}
        add_job(connection, job, "Begun")
        connection.close()
        server = serving(tmp_path)
        opened.append(server)
        return server.__enter__() + "/jobs/1"

    yield begin
    for server in opened:
        server.__exit__(None, None, None)


def add(page, kind, button, **values):
    unfold(page, "over-it", f"new-{kind}")
    form = page.locator(f"#new-{kind}")
    for key, value in values.items():
        field = form.locator(f"[name={key}]")
        if key in ("every", "spacing", "height", "inside") and not field.is_visible():
            form.locator(".hand-more > summary").click()
        field.select_option(value) if field.evaluate("each => each.tagName") == "SELECT" else field.fill(value)
    with page.expect_navigation():
        form.get_by_role("button", name=button).click()


def hand(page, address):
    text = page.request.get(f"{address}.json").text()
    return [each for each in json.loads(text)["pieces"][0]["layers"] if "kind" in each]


def test_a_harlequin_wall_gets_nail_heads_and_a_stencil_in_every_second_diamond(page, begun):
    address = begun({"kind": "diamonds", "columns": 6, "rows": 4, "colors": ["ink", None]})
    page.goto(f"{address}/wall/pattern")
    add(page, "motifs", "Add them", at="crossings", tool="nail head", width="1/2", color="madder")
    expect(page.locator("#hand-motifs-0 > summary")).to_contain_text("38 nail heads over diamonds")
    add(page, "motifs", "Add them", at="centres", tool="stencil", width="5", color="cream", every="2")
    expect(page.locator("#hand-motifs-1 > summary")).to_contain_text("12 stencils over diamonds")
    expect(page.locator("#drawing path.by-hand")).to_have_count(2)
    assert [each["name"] for each in hand(page, address)] == ["motifs", "motifs 2"]
    page.goto(f"{address}/wall/schedule")
    expect(page.get_by_text(re.compile("38 nail heads in madder")).first).to_be_attached()
    page.goto(f"{address}/wall/pattern")
    unfold(page, "over-it", "hand-motifs-1")
    page.locator("#hand-motifs-1").get_by_role("button", name="Remove").click()
    expect(page.locator("#drawing path.by-hand")).to_have_count(1)


def test_bricks_round_a_corner_are_lit_from_the_top_left(page, begun):
    panels = [{"name": "front", "width": "48", "height": "30"}, {"name": "side", "width": "20", "height": "30"}]
    corner = {"panels": panels, "folds": [["front", "right", "side", "left"]]}
    address = begun({"kind": "brick", "course": "6", "length": "12", "joint": "1", "colors": ["madder"]}, corner)
    page.goto(f"{address}/wall/pattern")
    add(page, "shading", "Add it", light="top left", dark="ink", bright="cream", line="1/4")
    expect(page.locator("#hand-shading-0 > summary")).to_contain_text("light from the top left")
    dark, bright = page.locator("#drawing path.by-hand").all()
    assert (dark.get_attribute("fill"), bright.get_attribute("fill")) == ("#22345a", "#f1e6cf")
    boxes = [
        each.evaluate("each => { const box = each.getBBox(); return [box.x, box.x + box.width] }") for each in (dark, bright)
    ]
    assert all(low < 200 and high > 60 * 25.4 for low, high in boxes)  # on both sides of the corner


def test_a_stamp_between_stripes_on_two_doors(page, begun):
    stripes = {"kind": "stripes", "direction": "vertical", "widths": ["2", "2"], "colors": ["ink", None]}
    doors = {"kind": "furniture", "panels": [{"name": "door", "width": "18", "height": "30"}]}
    address = begun(stripes, doors, copies=2)
    page.goto(f"{address}/wall/pattern")
    add(page, "motifs", "Add them", at="between", tool="stamp", width="1 1/2", color="madder", spacing="6")
    expect(page.locator("#hand-motifs-0 > summary")).to_contain_text("40 stamps over stripes, 1/4 in of air")
    add(page, "motifs", "Add them", at="between", tool="stamp", width="2 1/2", color="madder", spacing="6")
    expect(page.locator("#to-know .warning", has_text="reaches over the edge")).to_have_count(1)


def test_a_canvas_with_a_horizon_is_painted_round_its_edge(page, begun):
    edges = dict.fromkeys(("top", "right", "bottom", "left"), "wrap") | {"wrap_depth": "3/4"}
    canvas = {
        "kind": "canvas",
        "texture": "canvas",
        "panels": [{"name": "front", "width": "24", "height": "18", "edges": edges}],
    }
    address = begun({"kind": "horizon", "drop": "7", "colors": ["ink", "madder"]}, canvas, method={"pull": "wet"})
    page.goto(f"{address}/wall/schedule")
    page.wait_for_selector(".working", state="detached")
    page.goto(f"{address}/wall/schedule/sheet")
    expect(page.get_by_text("nothing to tape").first).to_be_attached()  # the lower part runs on under the upper one
    expect(page.get_by_text(re.compile("round .* of edges, 3/4 in deep")).first).to_be_attached()
