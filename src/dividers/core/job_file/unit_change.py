"""Changing the units of a job file: every length stays exactly the same length."""

import copy
from typing import Any

from dividers.core.base.lengths import LONGEST_TEXT, read_length, rewrite, usual_graduation
from dividers.core.job.document import READINGS, Document, _pieces
from dividers.core.patterns import BY_KEY
from dividers.core.patterns.free.points import EDGES


def in_units(document: Document, new_unit: str) -> Document:
    """A copy whose `units` are others and whose every length is still exactly the same length."""
    old_unit = document["units"]
    copied = copy.deepcopy(document)
    copied["units"] = new_unit
    if (old_unit == "in") != (new_unit == "in"):
        copied["graduation"] = usual_graduation(new_unit)
    for holder, keys in _holders_of_lengths(copied):
        for key in keys:
            if holder.get(key) is not None:
                holder[key] = _rewritten(holder[key], old_unit, new_unit)
    return copied


def _rewritten(written: Any, old_unit: str, new_unit: str) -> Any:
    if isinstance(written, list):
        return [_rewritten(entry, old_unit, new_unit) for entry in written]
    if written in (None, ""):
        return written  # a mark that wasn't measured
    length = read_length(written, old_unit)
    text = rewrite(length, old_unit, new_unit)
    return text if len(text) <= LONGEST_TEXT else f"{length.mm.numerator}/{length.mm.denominator} mm"


def _holders_of_lengths(document: Document) -> list[tuple[Document, tuple[str, ...]]]:
    """Every object in a job that has lengths, with the keys they stand under."""
    held: list[tuple[Document, tuple[str, ...]]] = [
        (product, ("width", "roll")) for product in document.get("products", {}).values() if product.get("kind") == "tape"
    ]
    for piece in _pieces(document):
        pattern = piece["pattern"]
        kinds = ("length", "lengths")
        parameters = BY_KEY[pattern["kind"]].parameters
        held.append((pattern, tuple(p.key for p in parameters if p.kind in kinds)))
        words = {word for p in parameters if p.kind == "origin" for word in p.choices}
        held.append((pattern, tuple(p.key for p in parameters if p.kind == "origin" and pattern.get(p.key) not in words)))
        held += _free_holders(pattern)
        for panel in piece["surface"]["panels"]:
            held += _panel_holders(panel)
        method = piece.get("method") or {}
        held.append((method, ("border",)))
        held.append((method.get("limits") or {}, ("unnoticed", "per_repeat", "stretch")))
    return held


def _panel_holders(panel: Document) -> list[tuple[Document, tuple[str, ...]]]:
    survey, marked = panel.get("survey") or {}, panel.get("marked") or {}
    held: list[tuple[Document, tuple[str, ...]]] = [
        (panel, ("width", "height")),
        (panel.get("curve") or {}, ("chord", "rise")),
        (panel.get("margin") or {}, ("top", "right", "bottom", "left")),
        (marked, ("diagonals",)),
        (marked.get("lines") or {}, tuple(marked.get("lines") or ())),
    ]
    openings = ("left", "right", "centre", "width", "top", "bottom", "middle", "height")
    held += [(opening, openings) for opening in panel.get("openings") or []]
    for key, lengths in READINGS.items():
        rows = survey.get(key) or []
        if all(not isinstance(row, dict) for row in rows):
            held.append((survey, (key,)))
            continue
        survey[key] = [row if isinstance(row, dict) else {"length": row} for row in rows]
        held += [(row, lengths) for row in survey[key]]
        held += [(was, ("length",)) for row in survey[key] for was in row.get("was") or []]
    return held


def _free_holders(pattern: Document) -> list[tuple[Document, tuple[str, ...]]]:
    """The objects with lengths inside named points and fills."""
    held: list[tuple[Document, tuple[str, ...]]] = []
    for parameter in BY_KEY[pattern["kind"]].parameters:
        written = pattern.get(parameter.key)
        if parameter.kind == "points" and isinstance(written, dict):
            held.append((written, tuple(name for name, place in written.items() if isinstance(place, list))))
            held += [(place, (*EDGES, "at")) for place in written.values() if isinstance(place, dict)]
        elif parameter.kind == "fills" and isinstance(written, list):
            held += [(fill, ("at",)) for fill in written]
            held += [(fill["stripes"], ("width",)) for fill in written if fill.get("stripes")]
    return held
