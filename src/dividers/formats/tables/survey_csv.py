"""Readings of a survey as CSV: written plainly, read forgivingly."""

import csv
import io
import re
from collections.abc import Sequence
from dataclasses import dataclass

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import LONGEST_TEXT, read_length
from dividers.core.base.texts import counted
from dividers.core.base.units import LENGTH_MM
from dividers.core.job.document import READINGS, Document
from dividers.core.survey.kept_readings import KINDS, NEEDS_PLACE, kind_of, length_key
from dividers.formats.tables.csv_rows import read_rows

HEADINGS = ("panel", "what", "length", "at", "by", "on", "aside")
MOST_LINES = 1000
LONGEST_FILE = 200_000

# Words that people head their columns with, by ours.
SAME_HEADING = {
    "panel": ("panel", "wall", "surface", "part", "face"),
    "what": ("what", "kind", "type", "measurement", "measure", "item", "dimension"),
    "length": ("length", "reading", "value", "size", "distance", "measured", "result"),
    "at": ("at", "where", "place", "position", "station", "offset"),
    "unit": ("unit", "units"),
    "by": ("by", "who", "name", "measured by"),
    "on": ("on", "when", "date", "time", "taken"),
    "aside": ("aside", "ignore", "skip", "set aside"),
}
SAME_KIND = {
    "width": ("width", "w", "across", "breadth"),
    "height": ("height", "h", "high"),
    "falling": ("falling", "diagonal falling", "diagonal tl-br", "tl-br", "top left to bottom right", "diagonal 1", "d1"),
    "rising": ("rising", "diagonal rising", "diagonal bl-tr", "bl-tr", "bottom left to top right", "diagonal 2", "d2"),
    "top": ("top", "level", "ceiling", "top below level", "ceiling below level"),
    "up": ("up", "top above level", "ceiling above level"),
    "bottom": ("bottom", "floor", "bottom below level", "floor below level"),
}
DIAGONAL = ("diagonal", "diag", "d", "diagonals")
YES = ("yes", "y", "true", "1", "x")


@dataclass(frozen=True)
class Taken:
    """A reading of a table: the panel by number, a key of KINDS, lengths as written with their unit."""

    panel: int
    what: str
    length: str
    at: str = ""
    by: str = ""
    on: str = ""
    aside: bool = False


@dataclass(frozen=True)
class SurveyLine:
    """A line of a table with what it says, or what is wrong with it."""

    number: int
    raw: str
    taken: Taken | None
    fault: str = ""


def write_survey(panels: Sequence[Document], unit: str) -> str:
    """All readings of some panels, in CSV. Texts that a spreadsheet would run as a formula begin with an apostrophe."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(HEADINGS)
    for number, panel in enumerate(panels, 1):
        name = str(panel.get("name") or f"panel {number}")
        survey = panel.get("survey") or {}
        for key in READINGS:
            for at, row in enumerate(survey.get(key) or []):
                entry = row if isinstance(row, dict) else {"length": row}
                if key == "diagonals" and "way" not in entry:
                    entry = entry | {"way": ("falling", "rising")[at % 2]}
                what = kind_of(key, entry)
                length, place = (_with_unit(entry.get(k, ""), unit) for k in (length_key(key, what), "at"))
                aside = "yes" if entry.get("aside") else ""
                cells = (name, what, length, place, entry.get("by", ""), entry.get("on", ""), aside)
                writer.writerow(harmless(str(cell)) for cell in cells)
    return out.getvalue()


def _with_unit(written: object, unit: str) -> str:
    text = str(written if written is not None else "").strip()
    return f"{text} {unit}" if text and re.fullmatch(r"[0-9\s.,/½¼¾⅛⅜⅝⅞-]+", text) else text


def harmless(cell: str) -> str:
    return f"'{cell}" if cell[:1] in ("=", "+", "-", "@", "\t", "\r") else cell


def read_survey(text: str, unit: str, panels: Sequence[str]) -> list[SurveyLine]:
    """Every line of a table of readings. Separators, headings, their order and units may be almost anything.

    Raises BadInput where there is nothing that could be a table.
    """
    text = text.lstrip("\ufeff")
    if len(text) > LONGEST_FILE:
        raise BadInput(f"That is {len(text)} characters; at most {LONGEST_FILE} are read.", "table")
    rows = [(n, raw) for n, raw in enumerate(text.splitlines(), 1) if raw.strip()]
    if not rows:
        raise BadInput("There is nothing to read. Paste lines like: width; 119 1/8 in", "table")
    if len(rows) > MOST_LINES:
        raise BadInput(f"That has {counted(len(rows), 'line')}; at most {MOST_LINES} are read.", "table")
    separator = _separator([raw for _, raw in rows])
    split = [(n, raw, [_plain(cell) for cell in read_rows(raw, separator)[0]]) for n, raw in rows]
    columns, units = _columns(split[0][2])
    if columns:
        split = split[1:]
    else:
        columns = ("what", "length", "at") if len(panels) == 1 or len(split[0][2]) < 4 else ("panel", "what", "length", "at")
    diagonals: dict[int, int] = {}
    return [_line(n, raw, dict(zip(columns, cells, strict=False)), units, unit, panels, diagonals) for n, raw, cells in split]


def _plain(cell: str) -> str:
    return cell.strip().removeprefix("'").strip()


def _separator(rows: Sequence[str]) -> str:
    """The sign that most lines are split by: a tab or a semicolon before a comma, which may be a decimal one."""
    for sign in ("\t", ";"):
        if sum(sign in row for row in rows) * 2 > len(rows):
            return sign
    return ","


def _columns(cells: Sequence[str]) -> tuple[tuple[str, ...], dict[str, str]]:
    """Which column is which, and units that headings name; nothing where the first line is no heading."""
    columns, units = [], {}
    for cell in cells:
        words = re.sub(r"[\[(].*", "", cell.lower()).strip(" :.")
        name = next((ours for ours, theirs in SAME_HEADING.items() if words in theirs), "")
        columns.append(name)
        within = re.search(r"[\[(]\s*(\w+)", cell.lower())
        if name and within and within.group(1) in LENGTH_MM:
            units[name] = within.group(1)
    return (tuple(columns), units) if "length" in columns else ((), {})


def _line(
    number: int,
    raw: str,
    cells: dict[str, str],
    units: dict[str, str],
    unit: str,
    panels: Sequence[str],
    diagonals: dict[int, int],
) -> SurveyLine:
    try:
        panel = _panel(cells.get("panel", ""), panels)
        what = _kind(cells.get("what", ""), panel, diagonals)
        own = cells.get("unit", "").lower().strip(" .")
        if own and own not in LENGTH_MM:
            raise BadInput(f"“{own[:20]}” is not a known unit: {', '.join(name for name in LENGTH_MM if name.isalpha())}.")
        length = _length(cells.get("length", ""), own or units.get("length", unit), "the length")
        at = cells.get("at", "")
        place = _length(at, own or units.get("at", units.get("length", unit)), "the place") if at else ""
        if what in NEEDS_PLACE and not place:
            raise BadInput(f"has no place: how far along or down was the {KINDS[what][0].lower()} measured?")
        aside = cells.get("aside", "").lower() in YES
        taken = Taken(panel, what, length, place, cells.get("by", "")[:120], cells.get("on", "")[:120], aside)
    except BadInput as fault:
        return SurveyLine(number, raw, None, fault.message)
    return SurveyLine(number, raw, taken)


def _panel(name: str, panels: Sequence[str]) -> int:
    names = [panel.lower() for panel in panels]
    if name.lower() in names:
        return names.index(name.lower())
    if not name and len(panels) == 1:
        return 0
    raise BadInput(f"“{name[:40]}” isn't a panel of this piece: {', '.join(panels)}." if name else "names no panel.")


def _kind(words: str, panel: int, diagonals: dict[int, int]) -> str:
    """What was measured. A plain “diagonal” is alternately one and the other."""
    said = re.sub(r"[\s_]+", " ", words.lower()).strip(" :.0123456789") or words.lower()
    if words.lower() in KINDS:
        return words.lower()
    for candidate in (words.lower().strip(), said):
        found = next((ours for ours, theirs in SAME_KIND.items() if candidate in theirs), None)
        found = found or next((key for key, (title, _, _) in KINDS.items() if candidate == title.lower()), None)
        if found:
            return found
    if said in DIAGONAL:
        diagonals[panel] = diagonals.get(panel, 0) + 1
        return "falling" if diagonals[panel] % 2 else "rising"
    known = ", ".join(KINDS)
    raise BadInput(
        f"“{words[:40]}” is not something that can be measured here. Write one of: {known}."
        if words
        else "doesn't say what was measured."
    )


def _length(text: str, unit: str, what: str) -> str:
    """A length as written, with its unit. Raises BadInput."""
    if not text.strip():
        raise BadInput(f"{what} is missing.")
    mm = read_length(text, unit)
    written = f"{mm.text.strip()} {unit}" if mm.bare else mm.text.strip()
    if len(written) > LONGEST_TEXT:
        raise BadInput(f"{what} is too long.")
    return written
