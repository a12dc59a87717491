"""Checks a plan document against what always holds, from the document alone and by another method than the engine's.

The engine clips with one geometry library and reasons with intervals on lines; this uses another library (Clipper, on
integers of 10 nm) and points sampled beside the edges.
"""

import math
from fractions import Fraction

import pyclipper

SCALE = 100_000  # integers of 10 nm: on coarser ones the rounding of a 3 m edge alone passes 0.5 mm2
EDGE_TOLERANCE_MM2 = 0.5
STEP_MM = 0.05
SHORTEST_MM = 3.0  # no strip is shorter than this: such an edge is cut in by brush
CLEAR_MM = 0.25
SIDE_MM = 0.1


def to_paths(rings):
    return [[(round(x * SCALE), round(y * SCALE)) for x, y in ring] for ring in rings]


def clip(how, subject, other=()):
    clipper = pyclipper.Pyclipper()
    subject = [path for path in subject if len(path) > 2]
    if not subject:
        return []
    clipper.AddPaths(subject, pyclipper.PT_SUBJECT, True)
    if other:
        clipper.AddPaths(other, pyclipper.PT_CLIP, True)
    return clipper.Execute(how, pyclipper.PFT_EVENODD, pyclipper.PFT_EVENODD)


def area_mm2(paths):
    return sum(pyclipper.Area(path) for path in paths) / SCALE**2


def overlap_mm2(one, other):
    """How much of one shape's area lies in another's."""
    if one.right <= other.left or other.right <= one.left or one.bottom <= other.top or other.bottom <= one.top:
        return 0.0
    return area_mm2(clip(pyclipper.CT_INTERSECTION, one.paths, other.paths))


class Shape:
    """A shape to ask whether it holds a point: by counting the rings around it."""

    def __init__(self, document):
        self.document = document
        self.paths = to_paths(document["rings"])
        self.left, self.right = (pick(x for x, _ in self.paths[0]) for pick in (min, max))
        self.top, self.bottom = (pick(y for _, y in self.paths[0]) for pick in (min, max))

    def holds(self, x, y):
        x, y = round(x * SCALE), round(y * SCALE)
        if not (self.left <= x <= self.right and self.top <= y <= self.bottom):
            return False
        return sum(pyclipper.PointInPolygon((x, y), path) == 1 for path in self.paths) % 2 == 1

    def on_edge(self, x, y):
        point = (round(x * SCALE), round(y * SCALE))
        if not (self.left <= point[0] <= self.right and self.top <= point[1] <= self.bottom):
            return False
        return any(pyclipper.PointInPolygon(point, path) == -1 for path in self.paths)


class Place:
    """Shapes to ask by place: each stands in every square of a coarse grid that its box reaches."""

    SQUARE = 150 * SCALE

    def __init__(self, shapes):
        self.squares = {}
        for shape in shapes:
            for column in range(shape.left // self.SQUARE, shape.right // self.SQUARE + 1):
                for row in range(shape.top // self.SQUARE, shape.bottom // self.SQUARE + 1):
                    self.squares.setdefault((column, row), []).append(shape)

    def near(self, x, y):
        return self.squares.get((round(x * SCALE) // self.SQUARE, round(y * SCALE) // self.SQUARE), [])

    def around(self, shape):
        """The shapes that may meet another, each once."""
        columns = range(shape.left // self.SQUARE, shape.right // self.SQUARE + 1)
        rows = range(shape.top // self.SQUARE, shape.bottom // self.SQUARE + 1)
        found = {id(other): other for c in columns for r in rows for other in self.squares.get((c, r), [])}
        return found.values()


def check_partition(piece):
    """Rule 1: cells and reserves don't overlap, and together they are the field less the openings."""
    for panel in piece["panels"]:
        parts = [Shape(c) for c in [*piece["cells"], *piece["reserves"]] if c["panel"] == panel["name"]]
        field = to_paths([panel["field"]])
        for opening in panel["openings"]:
            field = clip(pyclipper.CT_DIFFERENCE, field, to_paths([opening]))
        allowed = EDGE_TOLERANCE_MM2 * sum(len(path) for part in parts for path in part.paths)
        areas = [area_mm2(clip(pyclipper.CT_UNION, part.paths)) for part in parts]
        assert abs(sum(areas) - area_mm2(field)) <= allowed, f"cells and field differ by {sum(areas) - area_mm2(field)} mm2"
        place = Place(parts)
        for part in parts:
            outside = area_mm2(clip(pyclipper.CT_DIFFERENCE, part.paths, field))
            assert outside <= EDGE_TOLERANCE_MM2 * len(part.paths[0]), (
                f"{part.document['id']} lies {outside} mm2 outside the field"
            )
            for other in place.around(part):
                if other.document["id"] < part.document["id"]:
                    assert overlap_mm2(part, other) <= EDGE_TOLERANCE_MM2 * len(part.paths[0]), "cells overlap"


def check_passes(piece, folds=()):
    """Rule 2: strips keep off what their pass paints, and every edge of paint that must stay clean runs along a strip.

    `folds` has (panel, side) of every side on a fold: what lies beyond those is another panel, which this doesn't unroll.
    """
    for panel in piece["panels"]:
        here = [Shape(cell) for cell in piece["cells"] if cell["panel"] == panel["name"]]
        cells = Place(here)
        for each in piece["rounds"]:
            strips = [Shape(strip) for strip in each["strips"] if strip["panel"] == panel["name"]]
            laid = Place(strips)
            wet = [shape for shape in here if shape.document["id"] in set(each["cells"])]
            assert all(shape.document["round"] == each["number"] or "under" in shape.document for shape in wet)
            painted = Place(wet)
            for strip in strips:
                over = sum(overlap_mm2(strip, cell) for cell in painted.around(strip))
                assert over <= EDGE_TOLERANCE_MM2, f"{strip.document['id']} lies {over} mm2 on paint of its own pass"
            for shape in wet:
                for (x, y), nearer in zip(beside_edges(shape), beside_edges(shape, STEP_MM / 100), strict=True):
                    if any(beyond(panel, side, x, y) for name, side in folds if name == panel["name"]):
                        continue
                    check_covered((x, y), nearer, each["number"], cells.near(x, y), laid.near(x, y))


def check_order(piece):
    """Strips that lie on each other are named in `after`, the one laid later naming the earlier; pulls run the other way round."""
    for each in piece["rounds"]:
        shapes = [Shape(strip) for strip in each["strips"]]
        turn = {shape.document["id"]: number for number, shape in enumerate(shapes)}
        pulls = [strip["pull"] for strip in each["strips"]]
        assert pulls == list(range(len(pulls), 0, -1))
        for panel in {strip["panel"] for strip in each["strips"]}:
            here = [shape for shape in shapes if shape.document["panel"] == panel]
            place = Place(here)
            for shape in here:
                under = set(shape.document["after"])
                assert all(turn[other] < turn[shape.document["id"]] for other in under)
                for other in place.around(shape):
                    if (
                        turn[other.document["id"]] < turn[shape.document["id"]]
                        and overlap_mm2(shape, other) > EDGE_TOLERANCE_MM2
                    ):
                        assert other.document["id"] in under, (
                            f"{shape.document['id']} lies on {other.document['id']} and doesn't say so"
                        )


def check_covers(piece):
    """What a strip says that it covers is what lies under it."""
    for each in piece["rounds"]:
        for panel in {strip["panel"] for strip in each["strips"]}:
            place = Place([Shape(cell) for cell in piece["cells"] if cell["panel"] == panel])
            for strip in (Shape(strip) for strip in each["strips"] if strip["panel"] == panel):
                under = {cell.document["id"]: overlap_mm2(strip, cell) for cell in place.around(strip)}
                told = set(strip.document["covers"])
                assert {cell for cell, area in under.items() if area > EDGE_TOLERANCE_MM2} <= told
                assert all(under.get(cell, 1.0) > 0 for cell in told)


def beyond(panel, side, x, y):
    """Whether a point lies outside a panel over one of its sides, on the line through it."""
    number = ["top", "right", "bottom", "left"].index(side)
    (ax, ay), (bx, by) = panel["outline"][number], panel["outline"][(number + 1) % len(panel["outline"])]
    return (bx - ax) * (y - ay) < (by - ay) * (x - ax)


def beside_edges(shape, step_mm=STEP_MM):
    """Points just outside a shape, several along each of its longer edges, on its sides that face outward."""
    for ring in shape.document["rings"]:
        for (ax, ay), (bx, by) in zip(ring, ring[1:] + ring[:1], strict=True):
            length = ((bx - ax) ** 2 + (by - ay) ** 2) ** 0.5
            if length < SHORTEST_MM:
                continue
            nx, ny = (by - ay) / length, -(bx - ax) / length
            for share in (0.0137, 0.3731, 0.5077, 0.7119, 0.9873):  # odd ones, to miss corners of neighbours
                if min(share, 1 - share) * length < CLEAR_MM:
                    continue  # a corner: which of several edges it belongs to is a matter of rounding
                x, y = ax + (bx - ax) * share, ay + (by - ay) * share
                for s in (STEP_MM, -STEP_MM):
                    if not shape.holds(x + s * nx, y + s * ny):
                        yield x + s / STEP_MM * step_mm * nx, y + s / STEP_MM * step_mm * ny


def check_covered(point, nearer, number, cells, strips):
    """A point beside paint lies on tape; where its neighbour is a wedge thinner than the step, the nearer one does."""
    x, y = point
    if any((shape.document["round"] or 0) >= number for shape in cells if shape.holds(x, y) or shape.holds(*nearer)):
        return
    if any(shape.on_edge(x, y) for shape in cells):
        return
    assert any(strip.holds(x, y) or strip.holds(*nearer) for strip in strips), f"no tape at {x:.2f}, {y:.2f} in pass {number}"


def measured_mm(mark, outline, field):
    """How far a mark lies from where its datum says that the tape measure is hooked, along its own line."""
    sides = {"top edge": (0, 1), "right edge": (1, 2), "bottom edge": (3, 2), "left edge": (0, 3)}
    here = (mark["x"], mark["y"])
    if "origin" in mark or "hook" in mark:  # read along a line that is struck already, or from the corner that it says
        return math.dist(here, mark.get("origin") or mark["hook"])
    if mark["line"] in sides:
        along = [field[corner] for corner in sides[mark["line"]]]
    elif mark["from"] in ("top", "bottom"):
        along = [here, (mark["x"], mark["y"] + 1)]
    else:
        along = [here, (mark["x"] + 1, mark["y"])]
    downward = mark["line"] in ("left edge", "right edge") or mark["from"] in ("top", "bottom")
    hooks = ((3, 2) if mark["from"].startswith("bottom") else (0, 1)) if downward else (0, 3)
    ends = [outline[corner] for corner in hooks]
    hooked = meeting(along, ends)
    return ((here[0] - hooked[0]) ** 2 + (here[1] - hooked[1]) ** 2) ** 0.5


def meeting(one, other):
    """Where two lines, each through two points, meet."""
    (ax, ay), (bx, by) = one
    (cx, cy), (dx, dy) = other
    det = (bx - ax) * (dy - cy) - (by - ay) * (dx - cx)
    t = ((cx - ax) * (dy - cy) - (cy - ay) * (dx - cx)) / det
    return ax + (bx - ax) * t, ay + (by - ay) * t


def check_marks(piece, step_mm, read_mm):
    """Rule 4: each mark is read from its datum and rounded once. `read_mm` turns a reading into mm."""
    panels = {panel["name"]: panel for panel in piece["panels"]}
    for mark in piece["marks"]:
        panel = panels[mark["panel"]]
        moved = float(read_mm(mark["reading"])) - measured_mm(mark, panel["outline"], panel["field"])
        a, b, c, d = panel["outline"]
        high, wide = max(d[1] - a[1], c[1] - b[1]), max(b[0] - a[0], c[0] - d[0])
        lean = max(abs(d[0] - a[0]), abs(c[0] - b[0])) / high
        slope = max(abs(b[1] - a[1]), abs(c[1] - d[1])) / wide
        longer = high * ((1 + lean**2) ** 0.5 - 1 + slope * lean)  # a vertical that leans, below a top that slopes
        slack = 1e-5 + (1.1 * longer if mark["line"].startswith("vertical") else 0.0)
        assert abs(moved - mark["error"]) < slack
        assert abs(mark["error"]) <= float(Fraction(step_mm) / 2) + 1e-5
    for line in {(mark["panel"], mark["line"]) for mark in piece["marks"]}:
        orders = sorted(m["order"] for m in piece["marks"] if (m["panel"], m["line"]) == line)
        assert orders == list(range(1, len(orders) + 1))


def shows(line, cells):
    """Whether a line parts two looks: a seam between parts of one colour needs no place of its own."""
    (ax, ay), (bx, by) = line
    length = math.dist(*line)
    nx, ny = (ay - by) / length * SIDE_MM, (bx - ax) / length * SIDE_MM
    seen = []
    for share in (0.31, 0.57, 0.83):
        x, y = ax + (bx - ax) * share, ay + (by - ay) * share
        seen.append([next((c.document["color"] for c in cells if c.holds(x + s * nx, y + s * ny)), "nothing") for s in (1, -1)])
    return any(one != other for one, other in seen)
