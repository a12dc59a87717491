"""Reads a panel: its size, margins and openings, and what was measured of it before and after marking."""

import math
from fractions import Fraction

from dividers.core.base.lengths import read_length, write_exact
from dividers.core.job.reader import LONGEST_NAME, Reader, read_bounded
from dividers.core.job.surface import SIDES, Marked, Opening, Panel, Rectangle, SurveyReading
from dividers.core.survey.blunders import absurd

LEAST_PANEL_MM = Fraction(10)
MOST_PANEL_MM = Fraction(100_000)
MOST_OPENINGS = 40
MOST_READINGS = 300  # of a kind
MEASURE = "Measure it, like 119 or 2.4 m."


def read_panel(entry: Reader, number: int) -> Panel:
    """Read a panel as a true rectangle with its readings; `survey.outline` fits its shape to them."""
    before = len(entry.findings.faults)
    width, height = _size(entry)
    measured = len(entry.findings.faults) == before  # else what depends on the size would be blamed for nothing
    field = _field(entry.child("margin"), width, height, measured)
    openings = _openings(entry, Rectangle(Fraction(0), Fraction(0), width, height) if measured else None)
    readings = _survey(entry.child("survey"), width, height, measured)
    marked = _marked(entry.child("marked"))
    panel = Panel(entry.text("name", f"panel {number}"), width, height, field, openings, readings, None, marked)
    if measured and len(openings) == 1 and openings[0].box.overlap(field) == field:
        entry.fault("openings.0.width", "the opening covers the whole field; nothing is left to paint.")
    entry.close()
    return panel


def _size(entry: Reader) -> tuple[Fraction, Fraction]:
    """A panel's width and height; a curved front's width is measured along the curve."""
    curve = entry.child("curve")
    if entry.has("curve"):
        chord, rise = (
            curve.length("chord", Fraction(1000), LEAST_PANEL_MM, MOST_PANEL_MM),
            curve.length("rise", Fraction(1), Fraction(1, 2)),
        )
        curve.need("chord", "Measure straight from end to end.")
        curve.need("rise", "Measure from the middle of that line out to the curve.")
        curve.close()
        if rise * 2 > chord:
            curve.fault("rise", "is more than half of the chord: that is more than half a circle.")
        width = developed_mm(chord, min(rise, chord / 2))
        entry.get("width")
    else:
        entry.need("width", MEASURE)
        width = entry.length("width", Fraction(1000), LEAST_PANEL_MM, MOST_PANEL_MM)
    entry.need("height", MEASURE)
    return width, entry.length("height", Fraction(1000), LEAST_PANEL_MM, MOST_PANEL_MM)


def developed_mm(chord: Fraction, rise: Fraction) -> Fraction:
    """The length along a circular arc over a chord, `rise` mm out in its middle; to a thousandth of a millimetre.

    >>> developed_mm(Fraction(2000), Fraction(1000))  # half a circle of radius 1 m
    Fraction(3141593, 1000)
    """
    c, h = float(chord), float(rise)
    radius = c * c / (8 * h) + h / 2
    return Fraction(round(2 * radius * math.asin(min(c / (2 * radius), 1.0)) * 1000), 1000)


def _field(margin: Reader, width: Fraction, height: Fraction, measured: bool) -> Rectangle:
    top, right, bottom, left = (margin.length(side) for side in SIDES)
    field = Rectangle(left, top, width - right, height - bottom)
    unit = margin.findings.unit
    for size, whole, first, second in ((field.width, width, "left", "right"), (field.height, height, "top", "bottom")):
        if measured and size < LEAST_PANEL_MM:
            way = "width" if first == "left" else "height"
            margin.fault(
                first if margin.has(first) else second,
                f"the margins {first} and {second} leave less than {write_exact(LEAST_PANEL_MM, unit)} "
                f"of the {way} of {write_exact(whole, unit)}. Make them smaller.",
            )
    margin.close()
    return field


# The two ways across and down that an opening is measured: its near and far edge from the same side, its middle, its size.
SPANS = (("left", "right", "centre", "width"), ("top", "bottom", "middle", "height"))


def _openings(entry: Reader, outline: Rectangle | None) -> tuple[Opening, ...]:
    openings: list[Opening] = []
    for number, item in enumerate(entry.children("openings", MOST_OPENINGS), 1):
        left, right = _span(item, *SPANS[0])
        top, bottom = _span(item, *SPANS[1])
        opening = Opening(item.text("name", f"opening {number}"), Rectangle(left, top, right, bottom))
        if outline:
            _check_opening(item, opening, outline, openings)
        openings.append(opening)
        item.close()
    return tuple(openings)


def _span(item: Reader, near: str, far: str, middle: str, size: str) -> tuple[Fraction, Fraction]:
    """From where to where an opening reaches: two of its near edge, far edge, middle and size are given."""
    given = [key for key in (near, far, middle, size) if item.has(key)]
    if len(given) != 2 or set(given) in ({near, middle}, {far, middle}):
        said = f"is measured by {' and '.join(given)}" if given else f"needs its {near} and its {size}"
        ways = f"Give {near} and {size}, {near} and {far}, or {middle} and {size}, all from the panel's {near}."
        item.fault(next((key for key in (size, near) if key not in given), near), f"{said}. {ways}")
    for key in (near, far, middle, size):
        item.get(key)
    length = {key: item.length(key, Fraction(0), Fraction(1 if key == size else 0)) for key in given}
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


def _check_opening(item: Reader, opening: Opening, outline: Rectangle, others: list[Opening]) -> None:
    unit, box = item.findings.unit, opening.box
    across = (box.left, box.right, outline.right, "left", "width", "right")
    down = (box.top, box.bottom, outline.bottom, "top", "height", "bottom")
    for start, end, most, where, size, edge in (across, down):
        if end > most:
            key = where if start >= most and item.has(where) else size if item.has(size) else edge
            item.fault(key, f"{opening.name} reaches {write_exact(end - most, unit)} beyond the panel's {edge} edge.")
    for other in others:
        if both := box.overlap(other.box):
            item.fault(
                "left" if item.has("left") else "width",
                f"{opening.name} overlaps {other.name} by {write_exact(both.width, unit)} x {write_exact(both.height, unit)}. "
                "Move one, or make one opening of both.",
            )


# The keys of a survey whose entries are plain readings, and what each reading is of.
PLAIN = {"widths": "width", "heights": "height", "diagonals": "diagonal"}
DIAGONALS = ("falling", "rising")
LEVEL_WAYS = ("top", "up", "bottom")


def _survey(entry: Reader, width: Fraction, height: Fraction, measured: bool) -> tuple[SurveyReading, ...]:
    """All readings of a panel. Those that can't be of it are faulted."""
    found = [
        reading
        for key, kind in PLAIN.items()
        for number, written in enumerate(entry.items(key, MOST_READINGS))
        if (reading := _plain(entry, f"{key}.{number}", kind, number, written))
    ]
    found += [r for number, row in enumerate(entry.children("level", MOST_READINGS)) if (r := _level(row, f"level.{number}"))]
    found += [r for number, row in enumerate(entry.children("plumb", MOST_READINGS)) if (r := _plumb(row, f"plumb.{number}"))]
    entry.text("by")
    entry.close()
    for reading in found:
        if measured and (message := absurd(reading, width, height, entry.findings.unit)):
            entry.fault(reading.place, message)
    return tuple(found)


def _plain(entry: Reader, place: str, kind: str, number: int, written: object) -> SurveyReading | None:
    """A width, a height or a diagonal: a length, or an object with its length, where it was taken, by whom and when."""
    way = DIAGONALS[number % 2] if kind == "diagonal" else ""
    if not isinstance(written, dict):
        length = entry.entry(place, lambda w: read_bounded(w, entry.findings.unit, Fraction(1), None), written, None)
        return SurveyReading(kind, place, length, None, way) if length else None
    row = Reader(written, entry.at(place), entry.findings)
    row.need("length", MEASURE)
    length = row.length("length", Fraction(0), Fraction(1))
    at = row.length("at") if row.has("at") else None
    way = row.choice("way", DIAGONALS, way) if kind == "diagonal" else ""
    story = _story(row)
    row.close()
    return SurveyReading(kind, place, length, at, way, *story) if length else None


def _level(row: Reader, place: str) -> SurveyReading | None:
    """A distance to the level line: how far the top lies below it or above it, or the bottom below it."""
    given = [way for way in LEVEL_WAYS if row.has(way)]
    if len(given) != 1:
        row.fault(
            "top", "give one of: top (the top lies so far below the level line), up (above it), bottom (the bottom below it)."
        )
        return None
    at, length = row.length("at"), row.length(given[0])
    story = _story(row)
    row.close()
    return SurveyReading("level", place, length, at, given[0], *story)


def _plumb(row: Reader, place: str) -> SurveyReading | None:
    """How far a side has moved from a plumb line at its top, to the left or the right, somewhere down."""
    row.need("off", "Measure from the plumb line to the side.")
    row.need("at", "Say how far down that was measured.")
    side = row.choice("side", ("left", "right"), "left")
    towards = row.choice("to", ("right", "left"), "right")
    off, at = row.length("off"), row.length("at")
    story = _story(row)
    row.close()
    return SurveyReading("plumb", place, off if towards == "right" else -off, at, side, *story)


def _story(row: Reader) -> tuple[bool, str]:
    """Whether a reading is set aside, and its story in words: who took it when, and what was read before."""
    by, on = row.text("by", "", LONGEST_NAME), row.text("on", "", LONGEST_NAME)
    said = [f"by {by}" if by else "", on.replace("T", " ")]
    for was in row.children("was", MOST_READINGS):
        before = str(was.get("length") or "")[:LONGEST_NAME]
        taker, when = was.text("by", "", LONGEST_NAME), was.text("on", "", LONGEST_NAME).replace("T", " ")
        said.append("was " + ", ".join(part for part in (before, f"by {taker}" if taker else "", when) if part))
        was.close()
    return row.flag("aside"), "; ".join(part for part in said if part)


def _marked(entry: Reader) -> Marked:
    """What was measured after marking; empty texts stand for what wasn't."""
    lines = {
        line: _found(entry, f"lines.{line}", written if isinstance(written, list) else [])
        for line, written in list(entry.child("lines").raw.items())[:MOST_READINGS]
    }
    diagonals = _found(entry, "diagonals", entry.items("diagonals", 2))
    entry.close()
    return Marked(lines, diagonals)


def _found(entry: Reader, path: str, written: list[object]) -> tuple[Fraction | None, ...]:
    unit = entry.findings.unit

    def read(text: object) -> Fraction | None:
        return read_length(text, unit).mm if str(text or "").strip() else None

    return tuple(entry.entry(f"{path}.{n}", read, text, None) for n, text in enumerate(written[:MOST_READINGS]))
