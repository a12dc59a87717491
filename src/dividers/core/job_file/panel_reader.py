"""A panel in a job file: its size, margins and openings; what was measured of it is in `readings`."""

import math
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from dividers.core.base.lengths import exact, write_exact
from dividers.core.geometry import polygons
from dividers.core.geometry.contours import box_of, ellipse, flattened, inset
from dividers.core.geometry.shapes import Point
from dividers.core.job.kinds import LengthText, OneOf, Text
from dividers.core.job.reader import Reader
from dividers.core.job.schema import Key, Object, Objects, Values
from dividers.core.job.surface import EDGE_KINDS, SIDES, TAPE, Contour, JudgedDistance, Opening, Panel, Rectangle, SurveyReading
from dividers.core.job_file.curve_reader import CURVE, LEAST_MM, MOST_MM
from dividers.core.job_file.outline_reader import DistancesKind, OutlineKind, corners_in
from dividers.core.job_file.survey_reader import MARKED, MEASURE, SURVEY
from dividers.core.survey.blunders import absurd
from dividers.core.survey.corners import adjust_corners

MOST_OPENINGS = 40
MOST_ADJUSTED = 60  # corners
LEAST_SHARE = 0.001  # of an opening that may lie off an outline: a curve's chords
OFF_BOX_MM = 0.5  # an arc's flattened top may fall so short of its box
USUAL_MM = Fraction(1000)  # stands in for a size that can't be read, so that the rest still can
PANEL_SIZE = LengthText(LEAST_MM, MOST_MM)


def read_panel(entry: Reader, values: Values) -> Panel:
    """A panel as a true rectangle with its readings; `survey.outline` fits its shape to them."""
    if entry.has("outline"):
        return _with_contour(entry, values)
    if values["between"]:
        entry.fault("between", "goes with an outline. A rectangle takes widths, heights and diagonals.")
    width, measured = _width(entry, values)
    entry.need("height", MEASURE)
    height = values["height"]
    measured = measured and height is not None  # else what depends on the size would be blamed for nothing
    height = height or USUAL_MM
    field = _field(entry, values["margin"], width, height, measured)
    if measured:
        outline = Rectangle(Fraction(0), Fraction(0), width, height)
        _check_openings(entry, values["openings"], outline, field)
        _check_readings(entry, values["survey"], width, height)
    number = int(entry.path.rpartition(".")[2]) + 1
    name = values["name"] or f"panel {number}"
    edges = values["edges"]
    depth = edges["wrap_depth"]
    return Panel(
        name,
        width,
        height,
        field,
        values["openings"],
        values["survey"],
        None,
        values["marked"],
        tuple(edges[side] for side in SIDES),
        depth,
    )


def _with_contour(entry: Reader, values: Values) -> Panel:
    """A panel by its outline: its box gives the size, its margins are measured square to its sides."""
    ring, corners, judged = _surveyed(entry, values)
    left, top, right, bottom = box_of(ring)
    if max(abs(left), abs(top)) > OFF_BOX_MM:
        entry.fault(
            "outline", "must begin at its box's left and top: its least distance from the left and from the top are both 0."
        )
    for key in ("width", "height", "curve"):
        if entry.has(key):
            entry.warn(key, "isn't used where there is an outline, which gives the size. Remove one of them.")
    if values["survey"]:
        entry.fault("survey", "goes with a width and height. A panel with an outline takes the corners as they were measured.")
    width, height = exact(right), exact(bottom)
    for size in (width, height):
        if not LEAST_MM <= size <= MOST_MM:
            least, most = (write_exact(each, entry.findings.unit) for each in (LEAST_MM, MOST_MM))
            entry.fault("outline", f"is too small or too large: from {least} to {most} across and down are allowed.")
            ring, width, height = ((0.0, 0.0), (1000.0, 0.0), (1000.0, 1000.0), (0.0, 1000.0)), USUAL_MM, USUAL_MM
    sides = values["margin"]
    inside = inset(ring, [float(sides[side]) for side in SIDES])
    if len(inside) != 1:
        first = next(side for side in SIDES if sides[side])
        entry.fault(f"margin.{first}", "the margins leave nothing to paint, or cut the field in two. Make them smaller.")
    field_ring = inside[0] if inside else list(ring)
    box = Rectangle(*(exact(each) for each in box_of(field_ring)))
    outline = Rectangle(Fraction(0), Fraction(0), width, height)
    _check_openings(entry, values["openings"], outline, box)
    openings = _within(entry, values["openings"], ring)
    number = int(entry.path.rpartition(".")[2]) + 1
    edges = values["edges"]
    return Panel(
        values["name"] or f"panel {number}",
        width,
        height,
        box,
        openings,
        (),
        None,
        values["marked"],
        tuple(edges[side] for side in SIDES),
        edges["wrap_depth"],
        Contour(tuple(ring), tuple(field_ring), corners, judged),
    )


def _surveyed(entry: Reader, values: Values) -> tuple[tuple[Point, ...], tuple[Point, ...], tuple[JudgedDistance, ...]]:
    """An outline as a ring, its corners, and how the distances between them fit: moved by these where there are any."""
    ring = values["outline"] or ((0.0, 0.0), (1000.0, 0.0), (1000.0, 1000.0), (0.0, 1000.0))
    if not values["outline"]:
        return ring, (), ()
    written = corners_in(entry, "outline")
    points = tuple(point for point, _ in written)
    known = []
    for number, each in enumerate(values["between"]):
        if max(each.start, each.end) > len(points):
            entry.fault(f"between.{number}", f"there are {len(points)} corners, numbered from 1 in the order of the outline.")
        elif abs(float(each.mm) - (straight := math.dist(points[each.start - 1], points[each.end - 1]))) > straight / 4:
            unit = entry.findings.unit
            said = write_exact(exact(round(straight, 1)), unit).removeprefix("≈ ")
            entry.fault(
                f"between.{number}",
                f"{write_exact(each.mm, unit)} is far from the {said} that the corners say, by more than a quarter of it.",
            )
        else:
            known.append(each)
    if not known or len(points) > MOST_ADJUSTED:
        if known:
            entry.fault("between", f"an outline of more than {MOST_ADJUSTED} corners isn't adjusted.")
        return ring, points, ()
    adjusted = adjust_corners(points, known, float(entry.findings.graduation.step_mm))
    moved = flattened([(at, rise) for at, (_, rise) in zip(adjusted.points, written, strict=True)])
    left, top, _, _ = box_of(moved)
    moved = [(x - left, y - top) for x, y in moved]
    if not polygons.simple(moved):
        entry.fault("between", "with these distances the outline crosses itself. Check the corners' numbers.")
        return ring, points, ()
    return tuple(moved), tuple((x - left, y - top) for x, y in adjusted.points), adjusted.judged


def _width(entry: Reader, values: Values) -> tuple[Fraction, bool]:
    """A panel's width, along the curve of a curved front, and whether it could be read."""
    if entry.has("curve"):
        curve = entry.child("curve")
        if not curve.get("stations"):
            curve.need("chord", "Measure straight from end to end.")
            curve.need("rise", "Measure from the middle of that line out to the curve.")
        return values["curve"] or USUAL_MM, values["curve"] is not None
    entry.need("width", MEASURE)
    return values["width"] or USUAL_MM, values["width"] is not None


def _field(entry: Reader, margin: Values, width: Fraction, height: Fraction, measured: bool) -> Rectangle:
    top, right, bottom, left = (margin[side] for side in SIDES)
    field = Rectangle(left, top, width - right, height - bottom)
    unit = entry.findings.unit
    for size, whole, first, second in ((field.width, width, "left", "right"), (field.height, height, "top", "bottom")):
        if measured and size < LEAST_MM:
            way = "width" if first == "left" else "height"
            entry.fault(
                f"margin.{first if margin[first] else second}",
                f"the margins {first} and {second} leave less than {write_exact(LEAST_MM, unit)} "
                f"of the {way} of {write_exact(whole, unit)}. Make them smaller.",
            )
    return field


# The two ways across and down that an opening is measured: its near and far edge from the same side, its middle, its size.
SPANS = (("left", "right", "centre", "width"), ("top", "bottom", "middle", "height"))


def _opening(item: Reader, values: Values) -> Opening:
    number = int(item.path.rpartition(".")[2]) + 1
    name = values["name"] or f"opening {number}"
    if item.has("outline"):
        ring = values["outline"] or ((0.0, 0.0), (100.0, 0.0), (100.0, 100.0))
        return Opening(name, Rectangle(*(exact(each) for each in box_of(ring))), tuple(ring))
    (left, right), (top, bottom) = (_span(item, values, *span) for span in SPANS)
    box = Rectangle(left, top, right, bottom)
    return Opening(name, box, _ring_of(item, values, box))


def _ring_of(item: Reader, values: Values, box: Rectangle) -> tuple[Point, ...]:
    """The ring of a round opening or one with an arched top; nothing for a rectangle."""
    left, top, right, bottom = (float(each) for each in (box.left, box.top, box.right, box.bottom))
    if values["shape"] == ROUND:
        return tuple(ellipse(left, top, right - left, bottom - top))
    if values["shape"] != ARCH:
        return ()
    rise = values["rise"] if values["rise"] is not None else min(box.width / 2, box.height)
    if rise > box.height or rise * 2 > box.width:
        item.fault(
            "rise",
            "is more than the opening's height, or than half of its width. Measure from where the arch begins up to its top.",
        )
        rise = min(box.width / 2, box.height)
    spring = top + float(rise)
    corners = [((left, spring), float(rise)), ((right, spring), 0.0), ((right, bottom), 0.0), ((left, bottom), 0.0)]
    return tuple(flattened(corners if spring < bottom else corners[:2]))


def _span(item: Reader, values: Values, near: str, far: str, middle: str, size: str) -> tuple[Fraction, Fraction]:
    """From where to where an opening reaches: two of its near edge, far edge, middle and size are given."""
    given = [key for key in (near, far, middle, size) if item.has(key)]
    if len(given) != 2 or set(given) in ({near, middle}, {far, middle}):
        said = f"is measured by {' and '.join(given)}" if given else f"needs its {near} and its {size}"
        ways = f"Give {near} and {size}, {near} and {far}, or {middle} and {size}, all from the panel's {near}."
        item.fault(next((key for key in (size, near) if key not in given), near), f"{said}. {ways}")
    length = {key: values[key] or Fraction(0) for key in given}
    usual = max(length.get(size, Fraction(100)), Fraction(1))
    if middle in length:
        start = length[middle] - usual / 2
        if start < 0:
            item.fault(middle, f"the opening would begin before the panel's {near} edge: half its {size} is more than that.")
        return max(start, Fraction(0)), max(start, Fraction(0)) + usual
    if far in length and near in length:
        if length[far] <= length[near]:
            item.fault(far, f"the {far} edge must lie farther from the panel's {near} than the {near} edge.")
        return length[near], max(length[far], length[near] + 1)
    if far in length:
        return max(length[far] - usual, Fraction(0)), max(length[far], usual)
    start = length.get(near, Fraction(0))
    return start, start + usual


def _check_openings(entry: Reader, openings: tuple[Opening, ...], outline: Rectangle, field: Rectangle) -> None:
    """Fault openings that reach beyond the panel, overlap, or leave nothing to paint."""
    items = entry.children("openings", MOST_OPENINGS)
    for number, (item, opening) in enumerate(zip(items, openings, strict=True)):
        _check_opening(item, opening, outline, openings[:number])
    if len(openings) == 1 and not openings[0].ring and openings[0].box.overlap(field) == field:
        entry.fault("openings.0.width", "the opening covers the whole field; nothing is left to paint.")


def _within(entry: Reader, openings: tuple[Opening, ...], ring: Sequence[Point]) -> tuple[Opening, ...]:
    """Openings as far as they lie within an outline; what is cut off or left out is said."""
    found = []
    for item, opening in zip(entry.children("openings", MOST_OPENINGS), openings, strict=True):
        parts = polygons.within(opening.corners, ring)
        inside = max(parts, key=lambda part: part.area, default=None)
        whole = polygons.ring(opening.corners).area
        if inside is None or inside.area < LEAST_SHARE * whole:
            item.warn("left", f"{opening.name} lies beside the panel: it is left out. Move it onto the panel, or remove it.")
        elif inside.area > (1 - LEAST_SHARE) * whole:
            found.append(opening)
        else:
            off = round(100 * (1 - inside.area / whole))
            item.warn("left", f"{off} % of {opening.name} lies beside the panel and is cut off. Is its place right?")
            left, top, right, bottom = (exact(each) for each in polygons.bounds_of(inside))
            found.append(replace(opening, box=Rectangle(left, top, right, bottom), ring=polygons.corners_of(inside)))
    return tuple(found)


def _check_opening(item: Reader, opening: Opening, outline: Rectangle, others: tuple[Opening, ...]) -> None:
    unit, box = item.findings.unit, opening.box
    across = (box.left, box.right, outline.right, "left", "width", "right")
    down = (box.top, box.bottom, outline.bottom, "top", "height", "bottom")
    for start, end, most, where, size, edge in (across, down):
        if end > most:
            key = where if start >= most and item.has(where) else size if item.has(size) else edge
            item.fault(key, f"{opening.name} reaches {write_exact(end - most, unit)} beyond the panel's {edge} edge.")
    for other in others:
        if opening.ring or other.ring:
            continue  # their boxes may overlap where they don't
        if both := box.overlap(other.box):
            item.fault(
                "left" if item.has("left") else "width",
                f"{opening.name} overlaps {other.name} by {write_exact(both.width, unit)} x {write_exact(both.height, unit)}. "
                "Move one, or make one opening of both.",
            )


def _check_readings(entry: Reader, readings: tuple[SurveyReading, ...], width: Fraction, height: Fraction) -> None:
    """Fault readings that can't be of a panel of that size."""
    for reading in readings:
        if message := absurd(reading, width, height, entry.findings.unit):
            entry.fault(f"survey.{reading.place}", message)


def _margin(side: str) -> Key:
    return Key(side, LengthText(), side.capitalize(), "left unpainted", Fraction(0))


def _edge(key: str, title: str) -> Key:
    """One way to say where an opening is; a size is more than nothing."""
    return Key(key, LengthText(Fraction(key in ("width", "height"))), title, "two of the four ways across, two of those down")


RECT, ROUND, ARCH = OPENING_SHAPES = ("rect", "round", "arch")
OPENING_WORDS = {RECT: "Rectangle", ROUND: "Round", ARCH: "Arched top"}
OPENING = Object(
    (
        Key("name", Text(), "Name", "else numbered"),
        Key("shape", OneOf(OPENING_SHAPES, OPENING_WORDS), "Shape", default=RECT, since="0.2.0"),
        Key("rise", LengthText(Fraction(1)), "Arch rises", "of an arched top; part of its height", since="0.2.0"),
        Key("outline", OutlineKind(), "Corners", "instead of size and place", default=(), since="0.2.0"),
        _edge("left", "Left edge"),
        _edge("right", "Right edge"),
        _edge("centre", "Centre, across"),
        _edge("width", "Width"),
        _edge("top", "Top edge"),
        _edge("bottom", "Bottom edge"),
        _edge("middle", "Centre, down"),
        _edge("height", "Height"),
    ),
    _opening,
)
WORDS = {"tape": "Taped", "cut-in": "Cut in by brush", "free": "Free", "wrap": "Painted round"}
EDGES = Object(
    (
        *(Key(side, OneOf(EDGE_KINDS, WORDS), f"{side.capitalize()} edge", default=TAPE, since="0.2.0") for side in SIDES),
        Key("wrap_depth", LengthText(), "Painted round by", "how far the paint goes round an edge", Fraction(0), since="0.2.0"),
    )
)
PANEL = Object(
    (
        Key("name", Text(), "Name", "else numbered"),
        Key("width", PANEL_SIZE, "Width", "not for a curved front"),
        Key("height", PANEL_SIZE, "Height"),
        Key("outline", OutlineKind(), "Outline", "corners clockwise, instead of width and height", default=(), since="0.2.0"),
        Key(
            "between",
            DistancesKind(),
            "Between corners",
            "distances, by the corners' numbers; they move the corners so that all fit",
            default=(),
            since="0.2.0",
        ),
        Key("curve", CURVE, help="of a curved front, whose width is then measured along the curve"),
        Key("margin", Object(tuple(_margin(side) for side in SIDES))),
        Key("edges", EDGES, help="how each of its own edges is done", since="0.2.0"),
        Key("openings", Objects(OPENING, MOST_OPENINGS), help="doors, windows, anything that isn't painted"),
        Key("survey", SURVEY, help="what was measured before marking"),
        Key("marked", MARKED, help="what was measured after marking"),
    ),
    read_panel,
)
