"""A survey's readings for people: what each is called, what it is off by, and which don't fit and what they may have been."""

from dataclasses import dataclass
from fractions import Fraction

from dividers.core.base.lengths import Graduation, exact, read_off, write_exact
from dividers.core.job.surface import FLAT_KINDS, Panel, SurveyReading
from dividers.core.survey.adjustment import sigma_mm
from dividers.core.survey.blunders import NOTHING_MM, likely_mistake
from dividers.core.survey.kept_readings import FLAT_LINES, UPRIGHT_LINES
from dividers.core.survey.outline import adjusted_outline

PLACES = {0.0: "at the top", 0.5: "half-way down", 1.0: "at the bottom"}
ALONG = {0.0: "at the left", 0.5: "in the middle", 1.0: "at the right"}


UNSURE_MM = 10.0  # what the others say to no better than this is said with its doubt


@dataclass(frozen=True)
class ReadingRow:
    """One reading as a list shows it.

    `off_mm` is what it reads more than the adjusted outline, None where nothing checks it. One that doesn't fit has `doubt`, what is
    said of it, `likely`, the text it should probably have, and perhaps `rivals`, others that would explain the misfit as well.
    """

    reading: SurveyReading
    name: str
    text: str
    off_mm: float | None = None
    off: str = ""
    doubt: str = ""
    likely: str = ""
    rivals: tuple[str, ...] = ()


def reading_name(reading: SurveyReading, panel: Panel, unit: str, surface: str) -> str:
    """What a reading is of and where it was taken, like “Width, 24 in down”, in the words of a kind of surface."""
    flat = surface in FLAT_KINDS
    siblings = [each for each in panel.readings if each.kind == reading.kind]
    number = siblings.index(reading) if reading in siblings else 0
    match reading.kind:
        case "diagonal":
            return "Diagonal, top left to bottom right" if reading.way == "falling" else "Diagonal, bottom left to top right"
        case "level":
            edge = "Bottom" if reading.way == "bottom" else "Top"
            way = {"top": "below", "up": "above", "bottom": "below"}[reading.way]
            return f"{edge} {way} the {(FLAT_LINES if flat else UPRIGHT_LINES)['across']}, {_at(reading, unit)} along"
        case "plumb":
            return f"{reading.way.capitalize()} side off {'square' if flat else 'plumb'}, {_at(reading, unit)} down"
    down = reading.kind == "width"
    if reading.at_mm is not None:
        return f"{reading.kind.capitalize()}, {_at(reading, unit)} {'down' if down else 'along'}"
    share = 0.5 if len(siblings) == 1 else number / (len(siblings) - 1)
    words = (PLACES if down else ALONG).get(share, f"{number + 1} of {len(siblings)} {'down' if down else 'along'}")
    return f"{reading.kind.capitalize()} {words}"


def _at(reading: SurveyReading, unit: str) -> str:
    return write_exact(reading.at_mm or Fraction(0), unit)


def reading_rows(panel: Panel, graduation: Graduation, unit: str, surface: str) -> tuple[ReadingRow, ...]:
    """Every reading of a panel with how it fits the others, in the words of a kind of surface."""
    if not panel.readings:
        return ()
    adjusted, blunders = adjusted_outline(panel, graduation.step_mm, unit)
    names = [reading_name(reading, panel, unit, surface) for reading in panel.readings]
    rows = []
    for number, (reading, name) in enumerate(zip(panel.readings, names, strict=True)):
        blunder = next((b for b in blunders if b.number == number), None)
        row = ReadingRow(reading, name, write_exact(abs(reading.mm), unit))
        if blunder is not None:
            off = float(reading.mm) - blunder.expected_mm
            doubt, likely = _doubt(reading, blunder.expected_mm, blunder.sure_mm, graduation, unit)
            rivals = tuple(names[other] for other in blunder.rivals)
            row = ReadingRow(reading, name, row.text, off, _off(off, graduation), doubt, likely, rivals)
        elif number in adjusted.used:
            at = adjusted.used.index(number)
            if adjusted.share[at] > 0:
                off = float(adjusted.residual[at])
                row = ReadingRow(reading, name, row.text, off, _off(off, graduation))
        rows.append(row)
    return tuple(rows)


@dataclass(frozen=True)
class DistanceRow:
    """A distance between corners as a list shows it: what it is off by, and the doubt where it doesn't fit."""

    name: str
    text: str
    off: str
    doubt: str = ""


def distance_rows(panel: Panel, graduation: Graduation, unit: str) -> tuple[DistanceRow, ...]:
    """Every distance between corners of a panel with an outline, and how it fits the others."""
    rows = []
    for each in panel.contour.judged if panel.contour else ():
        own = each.distance
        off = "" if each.off_mm is None else _off(each.off_mm, graduation)
        doubt = ""
        if each.expected_mm is not None:
            doubt = f"the others give about {read_off(exact(each.expected_mm), graduation).text}"
            mistake = likely_mistake(own.mm, each.expected_mm, 2 * sigma_mm(each.expected_mm, float(graduation.step_mm)), unit)
            if mistake:
                doubt += f"; perhaps {mistake.words}: did you mean {write_exact(mistake.mm, unit)}?"
        rows.append(DistanceRow(f"Corner {own.start} to {own.end}", write_exact(own.mm, unit), off, doubt))
    return tuple(rows)


def distance_warnings(panel: Panel, graduation: Graduation, unit: str) -> list[str]:
    """The sentences about distances that don't fit."""
    return [
        f"{row.name}, of {panel.name}: {row.text} doesn't fit, {row.doubt}{'' if row.doubt.endswith('?') else '.'} Measure it again; until then it is not used."
        for row in distance_rows(panel, graduation, unit)
        if row.doubt
    ]


def reading_warning(row: ReadingRow, panel: str) -> str:
    """The sentence about a reading that doesn't fit."""
    rivals = f" {' or '.join(row.rivals)} could be the wrong one too." if row.rivals else ""
    return f"{row.name}, of {panel}: {row.text} doesn't fit, {row.doubt}. Measure it again; until then it is not used.{rivals}"


def _doubt(reading: SurveyReading, expected_mm: float, sure_mm: float, graduation: Graduation, unit: str) -> tuple[str, str]:
    """What is said of a reading that doesn't fit, and what it should probably be."""
    expected = expected_mm if reading.mm >= 0 else -expected_mm
    about = read_off(exact(abs(expected)), graduation)
    if expected < 0 and abs(expected) > sure_mm:
        return f"the others give about {about.text} the other way", ""
    said = f"the others give about {about.text}"
    if sure_mm > UNSURE_MM:
        said = f"the others give about {about.text}, give or take {read_off(exact(2 * sure_mm), graduation).text}"
    mistake = likely_mistake(abs(reading.mm), expected, sure_mm, unit)
    if mistake is None:
        return said, about.text
    likely = write_exact(mistake.mm, unit)
    if likely.startswith("≈"):
        likely = read_off(mistake.mm, graduation).text
    return f"{said}; perhaps {mistake.words}: did you mean {likely}?", likely


def _off(off_mm: float, graduation: Graduation) -> str:
    """A residual with its sign, on the tape measure's marks."""
    if abs(off_mm) < min(NOTHING_MM, float(graduation.step_mm) / 2):
        return "0"
    text = read_off(exact(abs(off_mm)), graduation).text
    return f"{'+' if off_mm > 0 else '−'}{text}"
