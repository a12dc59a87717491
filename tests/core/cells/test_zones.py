"""Layers in zones: where they are laid, from what was measured, and what is said of it."""

import pytest
from jobs import readings_of, wall

from dividers.core.base.errors import BadJob
from dividers.core.cells.as_painted import bands_of
from dividers.core.job_file.job_reader import read_job
from dividers.core.order.schedule import schedule_of, start_of
from dividers.core.order.tasks import work_of
from dividers.core.output.look_words import look_in_words
from dividers.core.plan.plan import plan_job
from dividers.core.wall.steps import step_of

BANDS = {"name": "bands", "pattern": {"kind": "stripes", "direction": "horizontal", "count": 8, "colors": ["ink", None]}}
PIN = {
    "name": "pin",
    "zone": {"cells": "bands", "color": "ink", "each": True},
    "pattern": {
        "kind": "stripes",
        "direction": "horizontal",
        "count": 1,
        "colors": [None],
        "pinstripe": "2 1/2",
        "pinstripe_color": "madder",
    },
}


def layered(*layers, **changes):
    job = wall(job={"graduation": "1/32 in"}, piece={"pattern": None, "layers": list(layers), **changes})
    return plan_job(read_job(job)).pieces[0]


def faults(*layers):
    with pytest.raises(BadJob) as caught:
        layered(*layers)
    return [(fault.path.removeprefix("pieces.0."), fault.message) for fault in caught.value.faults]


def bands(*readings):
    return BANDS | {"as_painted": [dict(zip(("line", "at", "along"), reading, strict=False)) for reading in readings]}


def runs(plan, layer, axis=1):
    """Where the painted cells of a layer begin and end, in inches."""
    layout = plan.layers[layer].layouts[0]
    bounds = layout.cells.bounds()[layout.painted] / 25.4
    return [(low, high) for low, high in zip(bounds[:, axis].tolist(), bounds[:, axis + 2].tolist(), strict=True)]


def test_a_pinstripe_is_centred_in_each_band_as_it_came_out():
    # Bands of 12 in that came out 11 7/8, 12 1/16 and 11 1/2 in wide: common practice, no source
    measured = bands(
        ("band 1, bottom", "11 7/8"),
        ("band 3, top", "24"),
        ("band 3, bottom", "36 1/16"),
        ("band 5, top", "48 1/4"),
        ("band 5, bottom", "59 3/4"),
    )
    plan = layered(measured, PIN)
    found = runs(plan, 1)
    assert [high - low for low, high in found] == pytest.approx([2.5] * 4)
    edges = [(0, 11.875), (24, 36.0625), (48.25, 59.75), (72, 84)]
    sides = [(low - top, bottom - high) for (low, high), (top, bottom) in zip(found, edges, strict=True)]
    assert [one for one, _ in sides] == pytest.approx([4 + 11 / 16, 4 + 25 / 32, 4.5, 4.75])
    assert [one for one, _ in sides] == pytest.approx([other for _, other in sides])
    said = " ".join(fact.message for fact in plan.facts)
    assert "4 11/16 in (band 1), 4 25/32 in (band 3), 4 1/2 in (band 5)" in said
    assert "band 5 11 1/2 in (planned 12 in)" in said
    readings = {mark.reading.text for mark in plan.marks if mark.layer == 1 and mark.line == "left edge"}
    assert {"4 11/16 in", "7 3/16 in", "28 25/32 in", "31 9/32 in", "52 3/4 in", "55 1/4 in"} <= readings
    assert runs(plan, 0) == runs(layered(BANDS, PIN), 0)  # the bands themselves are on the wall


@pytest.mark.parametrize(
    ("widths", "sides", "said"),
    [
        (["5", "2", "5"], (4.9375, 4.9375), "is centred in each band as it came out, with on both sides 4 15/16 in (band 1)"),
        (["4", "2", "6"], (3.9375, 5.9375), "with at its top and its bottom 3 15/16 in and 5 15/16 in (band 1)"),
        (
            ["4", "2", "9"],
            (4, 5.875),
            "with at its top and its bottom 4 in and 5 7/8 in (band 1)",
        ),  # these didn't fill the band
    ],
)
def test_widths_that_fill_a_band_as_planned_share_what_it_came_out_narrower_by(widths, sides, said):
    """A band of 12 in that came out 11 7/8: the outer two take a sixteenth less each, and the sentence says where it lies."""
    pins = PIN | {"pattern": {"kind": "stripes", "direction": "horizontal", "widths": widths, "colors": [None, "madder", None]}}
    plan = layered(bands(("band 1, bottom", "11 7/8")), pins)
    low, high = sorted(runs(plan, 1))[0]
    assert high - low == pytest.approx(2)
    assert (low, 11.875 - high) == pytest.approx(sides)
    assert any(said in fact.message for fact in plan.facts), [fact.message for fact in plan.facts]


def test_a_line_between_two_bands_is_the_same_line_by_either_name():
    plan = layered(bands(("band 2, bottom", "24 1/8"), ("band 4, top", "35 3/4")), PIN)
    low, high = sorted(runs(plan, 1))[1]
    assert (low + high) / 2 == pytest.approx((24.125 + 35.75) / 2)


def test_a_band_that_leans_has_its_pinstripe_along_its_own_middle_and_as_wide():
    leaning = bands(
        ("band 3, top", "24", "0"),
        ("band 3, top", "24 1/2", "120"),
        ("band 3, bottom", "36", "0"),
        ("band 3, bottom", "36", "120"),
    )
    plan = layered(leaning, PIN)
    layout = plan.layers[1].layouts[0]
    [cell] = [n for n in layout.painted.nonzero()[0] if 24 < layout.cells.bounds()[n, 1] / 25.4 < 36]
    corners = sorted((round(x / 25.4, 6), round(y / 25.4, 6)) for x, y in layout.polygons[cell].exterior.coords[:-1])
    assert corners == [(0, 28.75), (0, 31.25), (120, 29.0), (120, 31.5)]


def test_a_pinstripe_follows_bands_that_follow_a_wall_out_of_square():
    corners = [(0.0, 0.0), (3048.0, 0.0), (3048.0, 2438.4), (0.0, 2400.0)]
    panel = {"name": "front", "width": "120", "height": "96", "survey": readings_of(corners)}
    plan = layered(BANDS, PIN, surface={"kind": "wall", "panels": [panel]}, method={"tape": "delicate", "fit": "follow"})
    bands, pins = (part.layouts[0] for part in plan.layers)
    for band, pin in zip(bands.painted.nonzero()[0], pins.painted.nonzero()[0], strict=True):
        edges, own = (sorted(layout.polygons[cell].exterior.coords[:-1]) for layout, cell in ((bands, band), (pins, pin)))
        for at in (slice(0, 2), slice(2, 4)):  # at the left, and at the right
            (_, top), (_, bottom) = edges[at]
            (_, low), (_, high) = own[at]
            assert low - top == pytest.approx(bottom - high, abs=1.0)
            assert high - low == pytest.approx(63.5, abs=0.1)


@pytest.mark.parametrize(
    ("reading", "said"),
    [
        (("band 9, top", "90"), "There are 8 bands"),
        (("third band", "36"), "is no line of these bands"),
        (("band 3, left", "36"), "Write it like “band 1, top”"),
        (("band 3, top", "3 1/16"), "more than half a band away"),
    ],
)
def test_a_reading_that_fits_no_band_is_told(reading, said):
    [(path, message)] = faults(bands(reading), PIN)
    assert path.startswith("layers.0.as_painted.0.")
    assert said in message


def test_four_stripes_with_gaps_begin_so_far_off_a_slanting_line():
    # 2 in stripes with 6 in between, 6 in off the line: common practice, no source
    points = {"A": ["0", "24"], "B": ["120", "60"]}
    facets = {"name": "facets", "pattern": {"kind": "facets", "points": points, "lines": [["A", "B"]], "fills": []}}
    along = {"along": [["0", "24"], ["120", "60"]], "off": "6", "widths": ["2", "6"], "many": 4, "colors": ["ink", None]}
    zone = {"cells": "facets", "at": [["90", "20"]]}
    plan = layered(facets, {"name": "lines", "zone": zone, "pattern": {"kind": "stripes", **along}})
    layout = plan.layers[1].layouts[0]
    slant = (120**2 + 36**2) ** 0.5
    off = []
    for cell in layout.painted.nonzero()[0]:
        far = [(120 * (24 - y / 25.4) + 36 * x / 25.4) / slant for x, y in layout.polygons[cell].exterior.coords]
        off.append((min(far), max(far)))
    assert sorted(off) == [pytest.approx(pair, abs=1e-4) for pair in ((6, 8), (14, 16), (22, 24), (30, 32))]
    assert len([mark for mark in plan.marks if mark.layer == 1]) == 16


@pytest.mark.parametrize(("way", "many", "verticals"), [("auto", 2 * 8, 0), ("laser", 2 * 8 + 2, 1)])
def test_slanting_lines_in_a_facet_are_read_along_its_sides_or_marked_on_one_vertical_for_all(way, many, verticals):
    points = {"A": ["0", "24"], "B": ["120", "60"], "C": ["70", "96"]}
    lines = [["A", "B"], ["A", "C"]]
    fills = [{"at": ["30", "80"], "color": "madder"}]
    facets = {"name": "facets", "pattern": {"kind": "facets", "points": points, "lines": lines, "fills": fills}}
    along = {"along": [["0", "24"], ["120", "60"]], "off": "6", "widths": ["2", "6"], "many": 4, "colors": ["ink", None]}
    zone = {"cells": "facets", "at": [["100", "80"]]}
    lines = {"name": "lines", "zone": zone, "pattern": {"kind": "stripes", **along}, "method": {"mark_way": way}}
    plan = layered(facets, lines)
    own = [mark for mark in plan.marks if mark.layer == 1]
    assert len(own) == many
    assert len({mark.line for mark in own if mark.line.startswith("vertical")}) == verticals
    layout = plan.layers[1].layouts[0]
    slant = (120**2 + 36**2) ** 0.5
    off = [(120 * (mark.y / 25.4 - 24) - 36 * mark.x / 25.4) / slant for mark in own if mark.what != "vertical"]
    edges = sorted([6, 8, 14, 16, 22, 24, 30, 32] * 2)
    assert sorted(off) == pytest.approx(edges, abs=1e-4)
    assert layout.painted.sum() == 4


def test_stripes_along_a_line_are_no_level_or_upright_bands():
    """What is laid in them isn't laid about the middle of a band, whatever direction their stripes would have."""
    along = {"along": [["26", "42"], ["55", "21"]], "widths": ["17"], "many": 4, "colors": [None, "madder"]}
    plan = plan_job(read_job(wall(pattern={"kind": "stripes", "direction": None, "count": None, **along}))).pieces[0]
    assert bands_of(plan.layouts[0], plan.piece.pattern) == []
    upright = plan_job(read_job(wall())).pieces[0]
    assert len(bands_of(upright.layouts[0], upright.piece.pattern)) == 6


def test_a_layer_that_nobody_will_see_is_pointed_out():
    small = {"rect": {"left": "10", "top": "10", "width": "10", "height": "10"}}
    whole = {"kind": "stripes", "count": 1, "colors": ["madder"]}
    plan = layered(BANDS, {"name": "spot", "zone": small, "pattern": whole}, {"name": "over", "pattern": whole})
    hidden = [warning.message for warning in plan.warnings if warning.code == "unseen-layer"]
    assert len(hidden) == 2
    assert "spot" in hidden[1]


def test_the_base_colour_of_the_first_layer_is_what_it_leaves_unpainted():
    named, bare = (
        layered(BANDS, PIN | {"zone": {"cells": "bands", "color": color, "each": True}}) for color in ("cream", None)
    )
    assert runs(named, 1) == runs(bare, 1)
    assert len(runs(bare, 1)) == 4


def test_a_zone_without_parts_says_so_where_it_is_chosen():
    zone = {"cells": "bands", "color": "madder"}
    assert faults(BANDS, PIN | {"zone": zone}) == [
        ("layers.1.zone", "“bands” has no part in madder. Choose parts that are there.")
    ]


def test_masks_over_each_other_on_canvas_wait_for_the_paint_below():
    shapes = [("10", "10"), ("30", "20"), ("50", "30")]
    layers = [
        {
            "name": f"mask {n}",
            "zone": {"rect": {"left": left, "top": top, "width": "40", "height": "40"}},
            "pattern": {"kind": "stripes", "count": 1, "colors": [color]},
        }
        for n, ((left, top), color) in enumerate(zip(shapes, ["ink", "madder", "ink"], strict=True))
    ]
    plan = layered(*layers, surface={"kind": "canvas", "panels": [{"width": "120", "height": "96"}]})
    rounds = plan.taping.chosen.rounds
    assert [each.layer for each in rounds] == [0, 1, 2]
    assert len(rounds[1].lies_on(1, 0)[0]) > 0
    assert len(rounds[2].lies_on(2, 1)[0]) > 0


def test_measuring_is_a_step_before_the_marks_of_what_is_laid_in_bands_until_it_is_done():
    plan = layered(BANDS, PIN)
    job = plan_job(plan.job)
    kinds = [task.kind for task in work_of(job, start_of(plan.job)).tasks]
    assert kinds.count("measure") == 1
    order = schedule_of(job, 0.5)
    times = order.solution.times
    at = {task.kind: times.start(n) for n, task in enumerate(times.tasks) if task.kind == "measure" or task.name.turn == 2}
    first_round_off = max(times.end(n) for n, task in enumerate(times.tasks) if task.kind == "pull" and task.number == 1)
    assert first_round_off <= at["measure"] < at["mark"]
    [step] = [step_of(plan, task, ()) for task in times.tasks if task.kind == "measure"]
    assert step.measured == 0
    marks = [step_of(plan, task, ()) for task in times.tasks if task.kind == "mark"]
    ticked = [tick.keys[0] for step in sorted(marks, key=lambda step: step.view) for tick in step.ticks]
    assert len(ticked) == len(set(ticked)) == len(plan.marks)
    measured = plan_job(layered(bands(("band 3, top", "24")), PIN).job)
    assert "measure" not in [task.kind for task in work_of(measured, start_of(measured.job)).tasks]


def test_what_a_drawing_shows_is_said_with_its_layers():
    assert look_in_words(layered(BANDS, PIN)).startswith("Wall: stripes, with pin painted over it, 12 parts: ")
