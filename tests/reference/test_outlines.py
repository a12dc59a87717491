"""Panels of any outline: the contract by the independent checker, areas in closed form, marks that lie on the surface."""

import math

import layer_checker
import plan_checker
import pyclipper
import pytest
from budget import examples
from hypothesis import given
from jobs import wall
from outlined_jobs import outlined_jobs
from test_layered_contract import planned

from dividers.core.base.errors import BadJob
from dividers.core.base.lengths import read_length
from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_text

STRIPES = {"kind": "stripes", "direction": "vertical", "count": 5, "colors": ["ink", None]}


@examples(15)
@given(outlined_jobs())
def test_plans_on_any_outline_keep_the_contract(document):
    job, _, piece = planned(document)
    plan_checker.check_partition(piece)
    if not document["pieces"][0]["surface"]["panels"][0]["edges"]:
        plan_checker.check_passes(piece)
    plan_checker.check_order(piece)
    plan_checker.check_covers(piece)
    check_marks(piece, job)
    if not document["pieces"][0]["surface"]["panels"][0]["margin"]:
        check_hooks(piece)
    pattern = document["pieces"][0]["pattern"]
    if not (pattern.get("spacer") or pattern.get("reserve") or pattern.get("joint") or pattern.get("edge") == "torn"):
        layer_checker.check_lines(piece, [pattern["kind"]])
    check_field(document["pieces"][0]["surface"]["panels"][0], piece["panels"][0])


def lies_along(edge, *places):
    """Whether places lie on an edge, from one of its ends to the other."""
    (ax, ay), (bx, by) = edge
    length = math.dist(*edge)
    for x, y in places:
        off = abs((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / length
        along = ((bx - ax) * (x - ax) + (by - ay) * (y - ay)) / length
        if off > 0.05 or not -0.05 <= along <= length + 0.05:
            return False
    return True


def check_hooks(piece):
    """Each mark is read along an edge that is there, from a corner of it to the mark; or along a vertical that begins at a mark or a corner, or
    on the level line across the widest place."""
    [panel] = piece["panels"]
    rings = [panel["outline"], *panel["openings"]]
    edges = [edge for ring in rings for edge in zip(ring, ring[1:] + ring[:1], strict=True)]
    corners = [corner for ring in rings for corner in ring]
    widest = [(mark["x"], mark["y"]) for mark in piece["marks"] if mark["line"] == "level centre line"]
    for mark in (mark for mark in piece["marks"] if "origin" not in mark):
        place, hook = (mark["x"], mark["y"]), mark["hook"]
        others = [(m["x"], m["y"]) for m in piece["marks"] if m["line"] != mark["line"]]
        if mark["line"].startswith(("vertical", "across")):
            assert any(math.dist(hook, each) < 0.05 for each in [*others, *corners, *widest]), f"{mark} begins nowhere"
        elif mark["line"] != "level centre line":
            assert any(math.dist(hook, corner) < 0.05 for corner in corners), f"{mark} is hooked on nothing"
            assert any(lies_along(edge, hook, place) for edge in edges), f"{mark} is read along nothing"


def check_marks(piece, job):
    """Each mark lies on the panel, and reads what it is from where it says."""
    [panel] = piece["panels"]
    path = plan_checker.to_paths([panel["outline"]])[0]
    around = pyclipper.PyclipperOffset()
    around.AddPath(path, pyclipper.JT_SQUARE, pyclipper.ET_CLOSEDPOLYGON)
    [wide] = around.Execute(0.1 * plan_checker.SCALE)
    for mark in piece["marks"]:
        at = (round(mark["x"] * plan_checker.SCALE), round(mark["y"] * plan_checker.SCALE))
        assert pyclipper.PointInPolygon(at, wide), f"{mark} lies off the panel"
        reading = float(read_length(mark["reading"], job.units).mm)
        assert abs(reading - math.dist(mark.get("origin") or mark["hook"], (mark["x"], mark["y"])) - mark["error"]) < 1e-4
        assert abs(mark["error"]) <= float(job.graduation.step_mm) / 2 + 1e-5


def check_field(written, panel):
    """The field is what of the outline lies no nearer to a side than that side's margin."""
    inches = {side: float(read_length(length, "in").mm) for side, length in written["margin"].items()}
    ring = panel["outline"]
    outline = plan_checker.to_paths([ring])
    bands = []
    for (ax, ay), (bx, by) in zip(ring, [*ring[1:], ring[0]], strict=True):
        length = math.dist((ax, ay), (bx, by))
        ox, oy = (by - ay) / length, (ax - bx) / length
        faces = ("top" if oy < 0 else "bottom") if abs(oy) >= abs(ox) - 1e-9 else ("right" if ox > 0 else "left")
        margin = inches.get(faces, 0.0)
        if margin:
            bands.append([(ax, ay), (bx, by), (bx - ox * margin, by - oy * margin), (ax - ox * margin, ay - oy * margin)])
    left = outline
    for band in bands:
        left = plan_checker.clip(pyclipper.CT_DIFFERENCE, left, plan_checker.to_paths([band]))
    assert plan_checker.area_mm2(plan_checker.to_paths([panel["field"]])) == pytest.approx(
        plan_checker.area_mm2(left), rel=1e-5, abs=1000
    )


def area_of(outline, **panel):
    """The area in mm² of the field less the openings of a panel given in mm."""
    job = wall()
    job |= {"units": "mm", "graduation": "1 mm"}
    job["pieces"][0]["surface"]["panels"] = [{"name": "front", "outline": outline, **panel}]
    job["pieces"][0]["pattern"] = STRIPES
    return plan_job(read_job(job)).pieces[0].base_m2 * 1e6


def test_areas_are_those_of_the_textbook():
    gable = [["0", "600"], ["1500", "0"], ["3000", "600"], ["3000", "2400"], ["0", "2400"]]
    assert area_of(gable) == pytest.approx(3000 * 1800 + 3000 * 600 / 2)
    stair = [["0", "0"], ["3000", "2000"], ["3000", "4500"], ["0", "2500"]]
    assert area_of(stair) == pytest.approx(3000 * 2500)
    arch, radius = 250.0, (1000**2 / 4 + 250.0**2) / (2 * 250.0)  # the circular segment by chord and rise
    angle = 2 * math.asin(500 / radius)
    segment = radius**2 / 2 * (angle - math.sin(angle))
    arched = [{"at": ["0", "250"], "bulge": "250"}, ["1000", "250"], ["1000", "2000"], ["0", "2000"]]
    assert area_of(arched) == pytest.approx(1000 * 1750 + segment, rel=3e-4)  # flattened within 0.2 mm
    assert area_of(arched) < 1000 * 1750 + segment
    table = [
        {"at": [x, y], "bulge": f"{600 - 600 / math.sqrt(2):.4f}"}
        for x, y in (("600", "0"), ("1200", "600"), ("600", "1200"), ("0", "600"))
    ]
    assert area_of(table) == pytest.approx(math.pi * 600**2, rel=1e-3)
    door = {
        "openings": [
            {"name": "door", "shape": "arch", "left": "1000", "top": "900", "width": "800", "height": "1500", "rise": "400"}
        ]
    }
    assert area_of(gable) - area_of(gable, **door) == pytest.approx(800 * 1100 + math.pi * 400**2 / 2, rel=2e-3)
    hole = {"openings": [{"name": "eye", "shape": "round", "left": "1200", "top": "700", "width": "600", "height": "600"}]}
    assert area_of(gable) - area_of(gable, **hole) == pytest.approx(math.pi * 300**2, rel=2e-3)
    assert arch < radius


@pytest.mark.parametrize(
    ("panel", "path", "said"),
    [
        ({"outline": [["0", "0"], ["100", "100"], ["100", "0"], ["0", "100"]]}, "outline", "crosses itself"),
        ({"outline": [["0", "0"], ["100", "0"]]}, "outline", "at least three corners"),
        ({"outline": [["5", "5"], ["100", "5"], ["100", "90"]]}, "outline", "begin at its box"),
        ({"outline": [["0", "0"], ["100", "wide"], ["100", "90"]]}, "outline.1", "wide"),
        ({"outline": [["0", "0"], ["40", "0"], ["40", "40"]], "margin": {"top": "50"}}, "margin.top", "nothing to paint"),
        ({"outline": [["0", "0"], ["40", "0"], ["40", "40"]], "survey": {"widths": ["40"]}}, "survey", "goes with a width"),
        ({"width": "40"}, "height", ""),
    ],
)  # fmt: skip
def test_what_is_no_outline_is_told_at_its_key(panel, path, said):
    job = wall()
    job["pieces"][0]["surface"]["panels"] = [{"name": "front", **panel}]
    with pytest.raises(BadJob) as bad:
        read_job(job)
    assert any(fault.path == f"pieces.0.surface.panels.0.{path}" and said in fault.message for fault in bad.value.faults), (
        bad.value.faults
    )


def test_the_same_outline_gives_the_same_plan_in_other_units_and_the_same_bytes():
    job = wall()
    job["pieces"][0]["surface"]["panels"] = [{"name": "front", "outline": [["0", "24"], {"at": ["48", "0"], "bulge": "-3"}, ["96", "24"], ["96", "80"], ["0", "80"]]}]  # fmt: skip
    assert plan_text(plan_job(read_job(job))) == plan_text(plan_job(read_job(job)))
