"""Readings as they stand in a job document: added, kept with their story, set aside. Documents given in are changed in place."""

from collections.abc import Iterator
from fractions import Fraction
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import read_length, write_kept
from dividers.core.job.document import DIAGONALS, LEVEL_WAYS, READINGS, Document, look_up, put
from dividers.core.job.surface import FLAT_KINDS

# The two lines that are struck to measure from, as they are called where things stand upright, and where they lie flat.
UPRIGHT_LINES = {"across": "level line", "down": "plumb line"}
FLAT_LINES = {"across": "struck line", "down": "square line"}

# What can be measured: its key in a form or a table, its words with {across} and {down} for the two lines, its place in a survey, and what else its row holds.
KINDS: dict[str, tuple[str, str, dict[str, str]]] = {
    "width": ("Width", "widths", {}),
    "height": ("Height", "heights", {}),
    "falling": ("Diagonal, top left to bottom right", "diagonals", {"way": "falling"}),
    "rising": ("Diagonal, bottom left to top right", "diagonals", {"way": "rising"}),
    "up": ("Top above the {across}", "level", {}),
    "top": ("Top below the {across}", "level", {}),
    "bottom": ("Bottom below the {across}", "level", {}),
    "left-in": ("Left side right of its {down}", "plumb", {"side": "left", "to": "right"}),
    "left-out": ("Left side left of its {down}", "plumb", {"side": "left", "to": "left"}),
    "right-in": ("Right side left of its {down}", "plumb", {"side": "right", "to": "left"}),
    "right-out": ("Right side right of its {down}", "plumb", {"side": "right", "to": "right"}),
}
NEEDS_PLACE = ("top", "up", "bottom", "left-in", "left-out", "right-in", "right-out")
STORY = ("by", "on")
MOST_BEFORE = 20  # so many earlier values of a reading are kept


def kind_words(surface: str) -> dict[str, str]:
    """What can be measured on a surface of some kind, in words, by its key.

    >>> kind_words("floor")["up"], kind_words("wall")["up"]
    ('Top above the struck line', 'Top above the level line')
    """
    lines = FLAT_LINES if surface in FLAT_KINDS else UPRIGHT_LINES
    return {key: words.format_map(lines) for key, (words, _, _) in KINDS.items()}


def reading_row(what: str, length: str, at: str, **story: str) -> tuple[str, Document]:
    """Where a new reading goes in a survey, and its row."""
    _, key, more = KINDS[what]
    row: Document = {length_key(key, what): length, **more}
    if at.strip():
        row["at"] = at.strip()
    return key, row | {name: text for name, text in story.items() if text}


def kind_of(key: str, row: Document) -> str:
    """What a row of a survey is, as a key of KINDS."""
    if key == "level":
        return next((way for way in LEVEL_WAYS if way in row), "top")
    if key == "plumb":
        side = row.get("side", "left")
        inward = (row.get("to", "right") == "right") == (side == "left")
        return f"{side}-{'in' if inward else 'out'}"
    return {"widths": "width", "heights": "height"}.get(key, str(row.get("way", "falling")))


def length_key(key: str, what: str) -> str:
    """Under which key a row of a survey holds what was read."""
    return what if key == "level" else "off" if key == "plumb" else "length"


def rows_as_objects(panel: Any) -> None:
    """Write every plain reading of a panel as an object, so that its story can be kept. What is no panel is left alone."""
    survey = panel.get("survey") if isinstance(panel, dict) else None
    if not isinstance(survey, dict):
        return
    for key in READINGS:
        rows = survey.get(key)
        if isinstance(rows, list) and not all(isinstance(row, dict) for row in rows):
            survey[key] = [row if isinstance(row, dict) else {"length": row} for row in rows]
        if key == "diagonals" and isinstance(survey.get(key), list):
            for number, row in enumerate(survey[key]):
                row.setdefault("way", DIAGONALS[number % 2])


def add_reading(document: Document, panel: str, key: str, row: Document) -> None:
    """Put a reading behind those of its kind, by the path of its panel. Raises BadInput for a panel that isn't there."""
    place = look_up(document, panel)
    if not isinstance(place, dict):
        raise BadInput("There is no such panel any more.", "panel")
    rows_as_objects(place)
    put(document, f"{panel}.survey.{key}", [*(look_up(place, f"survey.{key}") or []), row])


def remove_reading(document: Document, panel: str, key: str, number: int) -> None:
    place = look_up(document, panel)
    rows = look_up(place, f"survey.{key}") or []
    rows_as_objects(place)  # a diagonal keeps its way though another goes
    rows = look_up(place, f"survey.{key}") or []
    put(document, f"{panel}.survey.{key}", [row for at, row in enumerate(rows) if at != number] or None)


def set_aside(document: Document, panel: str, key: str, number: int) -> None:
    """Set a reading aside, or use it again."""
    rows_as_objects(look_up(document, panel))
    row = look_up(document, f"{panel}.survey.{key}.{number}")
    if isinstance(row, dict):
        put(document, f"{panel}.survey.{key}.{number}.aside", None if row.get("aside") else True)


def take_instead(document: Document, panel: str, key: str, number: int, text: str) -> None:
    """Give a reading another value."""
    rows_as_objects(look_up(document, panel))
    row = look_up(document, f"{panel}.survey.{key}.{number}")
    if isinstance(row, dict):
        put(document, f"{panel}.survey.{key}.{number}.{length_key(key, kind_of(key, row))}", text)


def keep_stories(before: Document, after: Document, now: str) -> None:
    """Note in `after` when and by whom each reading that `before` didn't have was taken, and keep what changed ones read before."""
    if before.get("units") != after.get("units"):
        return  # the same readings, written otherwise
    old_panels = dict(_panels(before))
    for name, panel in _panels(after):
        if name not in old_panels:
            continue
        survey, old_survey = panel.get("survey") or {}, old_panels[name].get("survey") or {}
        for key in READINGS:
            rows, old = survey.get(key) or [], old_survey.get(key) or []
            if len(rows) < len(old):
                continue  # one was removed: the rest moved up and keep their own history
            for number, row in enumerate(rows):
                if isinstance(row, dict):
                    _keep(row, old[number] if number < len(old) else None, key, str(survey.get("by") or ""), now)


def _keep(row: Document, old: Any, key: str, by: str, now: str) -> None:
    name = length_key(key, kind_of(key, row))
    if old is not None:
        reading = old if isinstance(old, dict) else {"length": old}
        before = reading.get(name)
        if before is None or str(before) == str(row.get(name)):
            return
        row["was"] = [*(row.get("was") or []), {"length": before} | {k: reading[k] for k in STORY if k in reading}][
            -MOST_BEFORE:
        ]
        row.pop("by", None)
    elif "on" in row:
        return
    row["on"] = now
    if by and "by" not in row:
        row["by"] = by


def _panels(document: Document) -> Iterator[tuple[tuple[str, str], Document]]:
    """Every panel by its piece's key and its own name."""
    for piece in document.get("pieces") or []:
        for number, panel in enumerate(look_up(piece, "surface.panels") or []):
            if isinstance(panel, dict):
                yield (str(piece.get("id")), str(panel.get("name", number))), panel


OPENING_WAYS = {
    "near": ("left", "width", "top", "height"),
    "edges": ("left", "right", "top", "bottom"),
    "centre": ("centre", "width", "middle", "height"),
}


def measure_opening(opening: Document, way: str, unit: str) -> None:
    """Write an opening's place another way: by its near edge and size, by both edges, or by its centre and size."""
    sizes: dict[str, Fraction] = {}
    for near, far, middle, size in (("left", "right", "centre", "width"), ("top", "bottom", "middle", "height")):
        mm = {key: read_length(opening[key], unit).mm for key in (near, far, middle, size) if opening.get(key) is not None}
        wide = mm[size] if size in mm else mm[far] - mm[near]
        start = mm.get(near, mm[middle] - wide / 2 if middle in mm else mm.get(far, wide) - wide)
        sizes |= {near: start, far: start + wide, middle: start + wide / 2, size: wide}
        for key in (near, far, middle, size):
            opening.pop(key, None)
    for key in OPENING_WAYS[way]:
        opening[key] = write_kept(sizes[key], unit)
