"""Reading and changing a job document by dotted paths, and what an edit means for it. Documents are never changed in place."""

import copy
import re
from collections.abc import Mapping
from typing import Any

from dividers.core.errors import BadInput
from dividers.core.lengths import LONGEST_TEXT, read_length, rewrite, usual_graduation
from dividers.core.patterns import BY_KEY
from dividers.core.patterns.free import EDGES

Document = dict[str, Any]


def look_up(document: Any, path: str) -> Any:
    """The value at a path such as ``surface.panels.0.width``; None where there is none."""
    while path:
        key, path = _first_key(document, path)
        if isinstance(document, Mapping):
            document = document.get(key)
        elif isinstance(document, list) and key.isdigit() and int(key) < len(document):
            document = document[int(key)]
        else:
            return None
    return document


def _first_key(document: Any, path: str) -> tuple[str, str]:
    """A path's first key and the rest. Names that people gave may hold dots: the longest that is there counts."""
    if isinstance(document, Mapping):
        for key in sorted(document, key=len, reverse=True):
            if path == key or path.startswith(f"{key}."):
                return key, path[len(key) + 1 :]
    key, _, rest = path.partition(".")
    return key, rest


def put(document: Any, path: str, value: Any) -> None:
    """Set the value at a path in place, making objects on the way; None removes the key. Raises BadInput for a lost list entry."""
    key, rest = _first_key(document, path)
    if isinstance(document, list) and (not key.isdigit() or int(key) >= len(document)):
        raise BadInput(f"There is no entry {key} here any more.", path)
    at: Any = int(key) if isinstance(document, list) else key
    if rest:
        if isinstance(document, dict) and not isinstance(document.get(at), dict | list):
            document[at] = {}
        put(document[at], rest, value)
    elif value is None and isinstance(document, dict):
        document.pop(at, None)
    else:
        document[at] = value


def changed(document: Document, changes: Mapping[str, Any]) -> Document:
    """A copy of a document with the values at some paths changed. Raises BadInput for a path that isn't there."""
    copied = copy.deepcopy(document)
    for path, value in changes.items():
        put(copied, path, value)
    return copied


def with_piece_ids(document: Document) -> Document:
    """A copy in which every piece has an id of its own, for addresses: from its name where it has none."""
    copied = copy.deepcopy(document)
    taken: set[str] = {str(piece["id"]) for piece in _pieces(copied) if "id" in piece}
    for piece in _pieces(copied):
        if "id" not in piece:
            piece["id"] = free_key(str(piece.get("name", "")), taken)
            taken.add(piece["id"])
    return copied


def _pieces(document: Document) -> list[Document]:
    pieces = document.get("pieces")
    return [piece for piece in pieces if isinstance(piece, dict)] if isinstance(pieces, list) else []


def free_key(name: str, taken: set[str] | Mapping[str, Any], usual: str = "piece") -> str:
    """A key made of a name that is not taken yet: small letters, digits and hyphens."""
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:40].strip("-") or usual
    key, number = stem, 2
    while key in taken:
        key, number = f"{stem}-{number}", number + 1
    return key


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


# Under which keys readings stand in a survey, with the keys of their lengths.
READINGS = {
    "widths": ("length", "at"),
    "heights": ("length", "at"),
    "diagonals": ("length",),
    "level": ("at", "top", "up", "bottom"),
    "plumb": ("at", "off"),
}


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


def differences(one: Any, other: Any, path: str = "") -> list[tuple[str, Any, Any]]:
    """Where two documents differ: (path, value in one, value in the other), in order."""
    if isinstance(one, dict) and isinstance(other, dict):
        keys = list(dict.fromkeys([*one, *other]))
        pairs = [(key, one.get(key), other.get(key)) for key in keys]
    elif isinstance(one, list) and isinstance(other, list) and len(one) == len(other):
        pairs = [(str(index), *both) for index, both in enumerate(zip(one, other, strict=True))]
    else:
        return [] if one == other else [(path, one, other)]
    return [entry for key, a, b in pairs for entry in differences(a, b, f"{path}.{key}".lstrip("."))]
