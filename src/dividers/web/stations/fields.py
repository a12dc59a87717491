"""Fields of forms: how a value of the job document is shown in one, and how what was typed is taken.

A field's name is its path in the piece, or in the job with a slash before it. The same list makes the form and reads it.
"""

import json
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from dataclasses import field as made_by
from typing import Any

from dividers.core.base.errors import Fault
from dividers.core.patterns.free.points import fill_from, fill_text, place_from, place_text

Typed = Mapping[str, Sequence[str]]
BASE = ""  # the choice in a list of colours that leaves a part in the base colour


@dataclass(frozen=True)
class Field:
    """One value to type or choose.

    `kind`: text, length, lengths, count, number, select, segments, check, swatch, colors, points, paths, fills, folds, picker, group
    or direction. `values` are the texts shown (one,
    but for colors); `faults` go by the number of the value they are about.
    """

    name: str
    label: str
    kind: str = "length"
    help: str = ""
    options: tuple[tuple[str, str], ...] = ()
    optional: bool = False
    section: str = ""
    values: tuple[str, ...] = ("",)
    faults: tuple[tuple[int, str], ...] = ()
    remove: str = ""  # the action that takes this row away
    acts: tuple[tuple[str, str], ...] = ()  # what else can be done with the section it begins: label, action
    starts: Mapping[str, Any] = made_by(default_factory=dict)  # what each choice starts from, where choosing changes more

    @property
    def value(self) -> str:
        return self.values[0] if self.values else ""

    @property
    def id(self) -> str:
        return "f-" + "".join(c if c.isalnum() else "-" for c in self.name)


def worded(options: Sequence[str]) -> tuple[tuple[str, str], ...]:
    """Choices with their everyday words."""
    return tuple((option, option.replace("-", " ").capitalize()) for option in options)


def written(field: Field, value: Any) -> tuple[str, ...]:
    """A value of the document as its field shows it."""
    if field.kind == "colors":
        return tuple(color or BASE for color in value or [None])
    if field.kind == "lengths":
        return ("; ".join(str(length) for length in value or []),)
    if field.kind == "words":
        return (", ".join(str(word) for word in value or []),)
    if field.kind == "spans":
        return (", ".join("-".join(str(part) for part in span) for span in value or []),)
    if field.kind in SEVERAL_LINES:
        return (_lines_of(field.kind, value),)
    if field.kind == "folds":
        return tuple(json.dumps(fold) if fold else "" for fold in _folds_by_panel(field, value))
    if field.kind == "check":
        return ("on" if value else "",)
    if value is None:
        return (field.options[0][0] if field.options else "",)
    return (f"{value:g}" if isinstance(value, float) else str(value),)


def filled(fields: Sequence[Field], typed: Typed) -> list[Field]:
    """The same fields holding what was typed, where it was."""
    return [replace(field, values=tuple(typed[field.name])) if typed.get(field.name) else field for field in fields]


def changes_in(fields: Sequence[Field], typed: Typed) -> dict[str, Any]:
    """What the typed values change, by path; what reads as it did is left alone. Another pattern starts from its first values."""
    changes: dict[str, Any] = {}
    for field in fields:
        picked = next(iter(typed.get(field.name, ())), field.value)
        if field.kind == "picker" and picked != field.value and picked in field.starts:
            return {"pattern": field.starts[picked]}
    for field in fields:
        sent = tuple(typed.get(field.name) or (("",) if field.kind == "check" and field.name + ":shown" in typed else ()))
        if sent and sent != field.values:
            changes[field.name] = _taken(field, sent)
    for group in (field for field in fields if field.kind == "group"):
        _choose(group, typed, changes)
    return changes


def _taken(field: Field, sent: tuple[str, ...]) -> Any:
    """What goes into the document for what was sent."""
    if field.kind == "colors":
        return [color or None for color in sent]
    if field.kind == "lengths":
        return [part.strip() for part in sent[0].replace("\n", ";").split(";") if part.strip()]
    if field.kind == "words":
        return [word.lower() for word in re.split(r"[\s,;]+", sent[0].strip()) if word] or None
    if field.kind == "spans":
        return [re.split(r"\s*(?:-|–|to)\s*", span.strip()) for span in re.split(r"[,;]+", sent[0]) if span.strip()] or None
    if field.kind == "check":
        return True if sent[0] else None
    if field.kind in SEVERAL_LINES:
        return _lines_taken(field, sent[0])
    if field.kind == "folds":
        return [json.loads(fold) for fold in sent if fold in dict(field.options) and fold] or None
    if field.kind == "number" and re.fullmatch(r"[0-9]+([.,][0-9]+)?", sent[0].strip()):
        return float(sent[0].strip().replace(",", "."))
    text = sent[0].strip()
    return None if field.optional and not text else text


SEVERAL_LINES = ("points", "paths", "fills")


def _lines_of(kind: str, value: Any) -> str:
    """Points, paths or fills as lines of text."""
    if kind == "points":
        return "\n".join(place_text(name, place) for name, place in (value or {}).items())
    if kind == "paths":
        return "\n".join(" ".join(path) for path in value or [])
    return "\n".join(fill_text(fill) for fill in value or [])


def _lines_taken(field: Field, text: str) -> Any:
    """Lines of text as points, paths or fills; a point named twice keeps both, the second with a prime."""
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    if field.kind == "paths":
        return [re.split(r"[\s,]+", line) for line in lines]
    if field.kind == "fills":
        names = {label.lower(): key for key, label in field.options} | {key.lower(): key for key, _ in field.options}
        return [fill_from(line, names) for line in lines]
    found: dict[str, Any] = {}
    for line in lines:
        name, place = place_from(line)
        while name in found:
            name += "'"
        found[name or "?"] = place
    return found


def _folds_by_panel(field: Field, value: Any) -> list[Any]:
    """The fold that joins each panel but the first to one before it, or None."""
    folds = value or []
    names = field.starts["names"]
    return [next((fold for fold in folds if fold[2] == name), None) for name in names[1:]]


def _choose(group: Field, typed: Typed, changes: dict[str, Any]) -> None:
    """Keep the chosen one of parameters that exclude each other, starting from something usual when it was just chosen."""
    changes.pop(group.name, None)
    chosen = next(iter(typed.get(group.name, ())), group.value)
    if chosen != group.value and chosen in group.starts:
        for key in group.starts:
            changes[f"pattern.{key}"] = None
        changes[f"pattern.{chosen}"] = group.starts[chosen]


def _where(field: Field, rest: str) -> str:
    """Which entry of a field with several lines a fault is about, in words before it."""
    if field.kind not in SEVERAL_LINES or not rest:
        return ""
    name = rest.split(".")[0]
    return f"Line {int(name) + 1}: " if name.isdigit() and field.kind != "points" else f"{name}: "


def with_faults(fields: Sequence[Field], faults: Sequence[Fault], piece_path: str) -> tuple[list[Field], list[Fault]]:
    """Put each fault at its field; returns the fields, and the faults that belong to none of them."""
    unplaced: list[Fault] = []
    at: dict[str, list[tuple[int, str]]] = {}
    for fault in faults:
        name = fault.path.removeprefix(piece_path + ".") if fault.path.startswith(piece_path + ".") else "/" + fault.path
        home = next((f for f in fields if name == f.name or name.startswith(f.name + ".")), None)
        home = home or next((f for f in fields if f.name.startswith(name + ".")), None)
        if home is None:
            unplaced.append(fault)
            continue
        rest = name[len(home.name) + 1 :]
        at.setdefault(home.name, []).append(
            (int(rest) if rest.isdigit() and home.kind == "colors" else 0, _where(home, rest) + fault.message)
        )
    return [replace(field, faults=tuple(at.get(field.name, ()))) for field in fields], unplaced
