"""That no fewer marks would do: against an exact search over all places that lines of a small piece could be marked at.

The model stands on its own: from the plan's snapped lines it takes segments, gathers candidate places (ends, crossings, where verticals through
those cross slanting lines), and a solver (OR-Tools CP-SAT) chooses the fewest marks by which every line has two places well apart. A place inside
is read down a vertical, which takes a mark at its top and one at its bottom. That people mark so is common practice, no source.
"""

import itertools
import math

import pytest
from jobs import wall
from ortools.sat.python import cp_model

from dividers.core.job_file.job_reader import read_job
from dividers.core.marks.mark_places import meeting
from dividers.core.plan.plan import plan_job

NEAR = 0.01
APART = 0.5  # of a line's length lie its two marks at least
WIDE, HIGH = 120 * 25.4, 96 * 25.4


def segments(layout):
    """The lines to mark as ((x, y), (x, y)): through from side to side, level and plumb ones drawn out, else what is whole of them."""
    layout = layout.plain or layout
    borders, found = layout.borders, []
    at = [k for k, meets in enumerate(meeting(layout).tolist()) if meets]
    for line, group in itertools.groupby(at, key=lambda k: int(borders.line[k])):
        parts = [(float(borders.t0[k]), float(borders.t1[k])) for k in group]
        ends = borders.lines.point(line, parts[0][0]), borders.lines.point(line, parts[-1][1])
        level, plumb = abs(ends[0][1] - ends[1][1]) < NEAR, abs(ends[0][0] - ends[1][0]) < NEAR
        if level or plumb:
            (x, y), _ = ends
            found.append(((0.0, y), (WIDE, y)) if level else ((x, 0.0), (x, HIGH)))
        elif all(on_side(end) for end in ends):
            found.append(ends)
        else:
            whole = [list(parts[0])]
            for start, stop in parts[1:]:
                if start - whole[-1][1] < NEAR:
                    whole[-1][1] = stop
                else:
                    whole.append([start, stop])
            found += [(borders.lines.point(line, start), borders.lines.point(line, stop)) for start, stop in whole]
    return found


def on_side(point):
    x, y = point
    return min(abs(x), abs(x - WIDE), abs(y), abs(y - HIGH)) < NEAR


def is_corner(point):
    x, y = point
    return min(abs(x), abs(x - WIDE)) < NEAR and min(abs(y), abs(y - HIGH)) < NEAR


def share_of(segment, point):
    """How far along a segment a point lies, 0 to 1; None where it is not on it."""
    (ax, ay), (bx, by) = segment
    length = math.dist(*segment)
    across = ((bx - ax) * (point[1] - ay) - (by - ay) * (point[0] - ax)) / length
    along = ((bx - ax) * (point[0] - ax) + (by - ay) * (point[1] - ay)) / length**2
    return along if abs(across) < NEAR and -1e-6 < along < 1 + 1e-6 else None


def candidates(lines):
    found = {}

    def add(x, y):
        found.setdefault((round(x, 2), round(y, 2)), (x, y))

    for start, end in lines:
        add(*start)
        add(*end)
    for ((ax, ay), (bx, by)), ((cx, cy), (dx, dy)) in itertools.combinations(lines, 2):
        det = (bx - ax) * (dy - cy) - (by - ay) * (dx - cx)
        if abs(det) > 1e-6:
            t = ((cx - ax) * (dy - cy) - (cy - ay) * (dx - cx)) / det
            place = ax + (bx - ax) * t, ay + (by - ay) * t
            if share_of(((ax, ay), (bx, by)), place) is not None and share_of(((cx, cy), (dx, dy)), place) is not None:
                add(*place)
    across = sorted({x for x, _ in found})
    for (ax, ay), (bx, by) in lines:
        for x in across:
            if abs(ax - bx) > NEAR and min(ax, bx) <= x <= max(ax, bx):
                add(x, ay + (by - ay) * (x - ax) / (bx - ax))
    return list(found.values())


def fewest(lines):
    """The least number of marks by which every line has two places apart."""
    places = candidates(lines)
    model = cp_model.CpModel()
    made = [model.new_bool_var("") for _ in places]
    cost = [var for var, place in zip(made, places, strict=True) if not is_corner(place)]
    verticals = {}
    for var, (x, _) in ((v, p) for v, p in zip(made, places, strict=True) if not on_side(p)):
        model.add_implication(var, verticals.setdefault(round(x, 2), model.new_bool_var("")))
    for x, used in verticals.items():
        for y in (0.0, HIGH):
            end = next((n for n, place in enumerate(places) if math.dist(place, (x, y)) < 2 * NEAR), None)
            if end is None:
                cost.append(used)
            else:
                model.add_implication(used, made[end])
    for line in lines:
        on = [(n, share) for n, place in enumerate(places) if (share := share_of(line, place)) is not None]
        pairs = []
        for (one, first), (other, second) in itertools.combinations(on, 2):
            if abs(first - second) >= APART - 1e-6:
                pairs.append(model.new_bool_var(""))
                model.add_implication(pairs[-1], made[one])
                model.add_implication(pairs[-1], made[other])
        model.add_bool_or(pairs)
    model.minimize(sum(cost))
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 2
    solver.parameters.max_time_in_seconds = 60
    assert solver.solve(model) == cp_model.OPTIMAL
    return round(solver.objective_value)


FACET = {"a": ["30", "20"], "b": ["90", "30"], "c": ["60", "80"]}
FAN = {"a": ["60", "96"], "b": ["0", "30"], "c": ["30", "0"], "d": ["90", "0"], "e": ["120", "40"]}
SMALL = [
    {"kind": "stripes", "direction": "vertical", "count": 5, "colors": ["ink", None]},
    {"kind": "stripes", "direction": 30, "count": 5, "colors": ["ink", None]},
    {"kind": "checker", "columns": 4, "rows": 3, "colors": ["ink", None]},
    {"kind": "chevron", "columns": 2, "rise": "20", "band": "20", "colors": ["ink", None]},
    {"kind": "chevron", "columns": 3, "rise": "14", "band": "25", "colors": ["ink", None]},
    {"kind": "diamonds", "columns": 2, "rows": 2, "colors": ["ink", "madder"]},
    {"kind": "diamonds", "columns": 3, "rows": 2, "colors": ["ink", None]},
    {"kind": "diamonds", "columns": 3, "rows": 3, "shift": "half", "colors": ["ink", None]},
    {"kind": "brick", "course": "24", "length": "48", "joint": "2", "colors": ["ink"]},
    {"kind": "brick", "course": "20", "length": "40", "joint": "1", "colors": ["ink"]},
    {"kind": "frame", "widths": ["10", "5"], "colors": ["ink", "madder"]},
    {"kind": "horizon", "drop": "30", "colors": ["ink", "madder"]},
    {"kind": "facets", "points": FACET, "lines": [["a", "b", "c", "a"]], "fills": [{"at": ["60", "45"], "color": "ink"}]},
    {
        "kind": "facets",
        "points": FAN,
        "lines": [["a", "b"], ["a", "c"], ["a", "d"], ["a", "e"]],
        "fills": [{"at": ["40", "5"], "color": "ink"}, {"at": ["110", "5"], "color": "madder"}],
    },
]


@pytest.mark.parametrize("pattern", SMALL, ids=lambda pattern: f"{pattern['kind']}")
def test_no_fewer_marks_would_do(pattern):
    document = wall()
    document["pieces"][0]["pattern"] = pattern
    plan = plan_job(read_job(document)).pieces[0]
    assert len(plan.marks) == fewest(segments(plan.panel_layouts[0]))
