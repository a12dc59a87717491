"""What a strip's end takes hold of while it is laid: places with the reason, as data for whoever draws; and what is meant exactly."""

import itertools
import math
from collections.abc import Iterator, Mapping
from fractions import Fraction
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import Graduation, exact, write_kept
from dividers.core.geometry.shapes import Point
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.free.construction import legs_of, places_of
from dividers.core.patterns.free.located import located

MOST_CROSSINGS = 400
# What pointing is rounded to, mm: whole graduations that are round numbers too.
ROUND_STEPS = {
    "in": [
        Fraction(127, 5) * step
        for step in (Fraction(1, 32), Fraction(1, 16), Fraction(1, 8), Fraction(1, 4), Fraction(1, 2), 1, 2, 3)
    ],
    "mm": [Fraction(step) for step in (1, 2, 5, 10, 20, 50)],
}
EDGES = {"top": ("left", "top"), "bottom": ("left", "bottom"), "left": ("left", "top"), "right": ("right", "top")}
SHARES = ((Fraction(1, 2), "middle"), (Fraction(1, 3), "third"), (Fraction(2, 3), "third"), (Fraction(1, 4), "quarter"), (Fraction(3, 4), "quarter"))  # fmt: skip


def round_steps(unit: str, graduation: Graduation) -> list[Fraction]:
    """What pointing is rounded to, mm, from fine to coarse: whole graduations that are round numbers too."""
    return [step for step in ROUND_STEPS["in" if unit == "in" else "mm"] if step % graduation.step_mm == 0] or [
        graduation.step_mm
    ]


def targets(pattern: Mapping[str, Any], area: Rectangle, unit: str, graduation: Graduation) -> dict[str, Any]:
    """Everything that can be taken hold of, in mm on the sheet; what is `weak` gives way to a round reading that is nearer.

    Raises BadInput for a design that can't be laid.
    """
    points = located(places_of(pattern, unit), area)
    legs = legs_of(pattern)
    found = [{"x": x, "y": y, "place": name, "why": f"point {name}", "weak": False} for name, (x, y) in points.items()]
    found += _on_edges(area, unit)
    found += _on_legs(points, legs, unit)
    found += _crossings(points, legs, area)
    return {
        "area": [float(area.left), float(area.top), float(area.right), float(area.bottom)],
        "step": float(graduation.step_mm),
        "steps": [float(step) for step in round_steps(unit, graduation)],
        "points": found,
        "legs": [
            {"a": a, "b": b, "ends": [*points[a], *points[b]], "length_text": _length(points[a], points[b], unit, graduation)}
            for a, b in legs
        ],
    }


def _length(a: Point, b: Point, unit: str, graduation: Graduation) -> str:
    """How long a strip is as a tape measure reads, to lay another one as long."""
    step = graduation.step_mm
    return write_kept(round(exact(math.dist(a, b)) / step) * step, unit)


def _on_edges(area: Rectangle, unit: str) -> list[dict[str, Any]]:
    """Corners, middles, thirds and quarters of the field's edges."""
    wide, high = area.width, area.height
    zero = write_kept(Fraction(0), unit)
    corners: list[tuple[Point, dict[str, str], str]] = []
    for across, down in itertools.product(("left", "right"), ("top", "bottom")):
        at = (float(getattr(area, across)), float(getattr(area, down)))
        corners.append((at, {across: zero, down: zero}, "corner"))
    for share, why in SHARES:
        x, y = area.left + wide * share, area.top + high * share
        for down in ("top", "bottom"):
            corners.append(((float(x), float(getattr(area, down))), {"left": write_kept(wide * share, unit), down: zero}, why))
        for across in ("left", "right"):
            corners.append(
                ((float(getattr(area, across)), float(y)), {across: zero, "top": write_kept(high * share, unit)}, why)
            )
    return [{"x": x, "y": y, "place": place, "why": why, "weak": why != "corner"} for (x, y), place, why in corners]


def _on_legs(points: Mapping[str, Point], legs: list[tuple[str, str]], unit: str) -> list[dict[str, Any]]:
    """The middle of every strip."""
    found = []
    for a, b in legs:
        (ax, ay), (bx, by) = points[a], points[b]
        half = exact(math.dist((ax, ay), (bx, by)) / 2)
        place = {"on": [a, b], "at": write_kept(half, unit)}
        found.append({"x": (ax + bx) / 2, "y": (ay + by) / 2, "place": place, "why": f"middle of {a} {b}", "weak": True})
    return found


def _crossings(points: Mapping[str, Point], legs: list[tuple[str, str]], area: Rectangle) -> list[dict[str, Any]]:
    return list(itertools.islice(_each_crossing(points, legs), MOST_CROSSINGS))


def _each_crossing(points: Mapping[str, Point], legs: list[tuple[str, str]]) -> Iterator[dict[str, Any]]:
    """Where two strips cross between their ends."""
    for (a, b), (c, d) in itertools.combinations(legs, 2):
        if {a, b} & {c, d}:
            continue
        (ax, ay), (bx, by), (cx, cy), (dx, dy) = points[a], points[b], points[c], points[d]
        across = (bx - ax) * (dy - cy) - (by - ay) * (dx - cx)
        if abs(across) < 1e-6:
            continue
        t = ((cx - ax) * (dy - cy) - (cy - ay) * (dx - cx)) / across
        u = ((cx - ax) * (by - ay) - (cy - ay) * (bx - ax)) / across
        if -1e-9 <= t <= 1 + 1e-9 and -1e-9 <= u <= 1 + 1e-9:
            place = {"cross": [[a, b], [c, d]]}
            yield {
                "x": ax + (bx - ax) * t,
                "y": ay + (by - ay) * t,
                "place": place,
                "why": f"{a} {b} crosses {c} {d}",
                "weak": False,
            }


def meant(given: Any, area: Rectangle, unit: str, graduation: Graduation) -> Any:
    """What was pointed at, as the job file has it: a place that is taken as it is, or one read off to whole graduations.

    `given` is a point's name or a place; {"edge": "top", "mm": from the edge's left or top}; {"line": [A, B], "mm": from A}; or
    {"free": [x, y]} in mm on the sheet. Raises BadInput.
    """
    if not isinstance(given, dict):
        return given
    step = graduation.step_mm

    def read(mm: object) -> str:
        if isinstance(mm, bool) or not isinstance(mm, int | float) or not math.isfinite(mm) or abs(mm) > 1e6:
            raise BadInput("That place can't be read. Point again.", "points")
        return write_kept(max(round(exact(float(mm)) / step) * step, Fraction(0)), unit)

    if "edge" in given and given["edge"] in EDGES:
        edge = given["edge"]
        zero = write_kept(Fraction(0), unit)
        return (
            {"left": read(given.get("mm")), edge: zero}
            if edge in ("top", "bottom")
            else {edge: zero, "top": read(given.get("mm"))}
        )
    if "line" in given:
        return {"on": given["line"], "at": read(given.get("mm"))}
    if "free" in given:
        free = given["free"]
        if not isinstance(free, list) or len(free) != 2:
            raise BadInput("That place can't be read. Point again.", "points")
        return [read(free[0] - float(area.left)), read(free[1] - float(area.top))]
    return given
