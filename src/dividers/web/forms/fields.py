"""Fields of forms: how a value of the job document is shown in one, and how what was typed is taken.

A field's name is its path in the piece, or in the job with a slash before it. The same list makes the form and reads it.
"""

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from dataclasses import field as made_by
from typing import Any

from dividers.core.base.errors import Fault
from dividers.core.base.whole import whole
from dividers.core.job.crew import USUAL_DAYS, USUAL_HOURS
from dividers.core.job.kinds import EMPTY, Kind, OneOf, Text

Typed = Mapping[str, Sequence[str]]
SINCE = "since"  # the choice that a date belongs to
SINCE_WHEN = "no date yet"  # where no date was typed: no date, so that it is asked for
BASE = ""  # the choice in a list of colours that leaves a part in the base colour


@dataclass(frozen=True)
class Field:
    """One value to type or choose.

    `kind`, how it is typed: text, length, count, number, select, segments, check, swatch, colors, direction, points, paths,
    fills, folds, picker, group, since (a choice, the last of them with a date), moment, days, hours (from and to in turn), or help for a sentence alone. `of` is the kind of the value in the job file. `values` are the
    texts shown (one, but for colors and folds); `faults` go by the number of the value they are about.
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
    of: Kind = Text()
    starts: Mapping[str, Any] = made_by(default_factory=dict)  # what each choice starts from, where choosing changes more
    rare: bool = False  # waits behind “More”, unless something is in it

    @property
    def is_set(self) -> bool:
        """Whether something is in it that isn't there by itself, or something is wrong with it."""
        first = self.options[0][0] if self.options else ""
        return bool(self.faults) or (any(self.values) and self.value != first)

    @property
    def value(self) -> str:
        return self.values[0] if self.values else ""

    @property
    def shown(self) -> str:
        """What is in it, in the words in which it is chosen."""
        return ", ".join(dict(self.options).get(value, value) for value in self.values if value)

    @property
    def id(self) -> str:
        return "f-" + "".join(c if c.isalnum() else "-" for c in self.name)


def worded(options: Sequence[str]) -> tuple[tuple[str, str], ...]:
    """Choices with their everyday words."""
    return OneOf(tuple(options)).worded()


def written(field: Field, value: Any) -> tuple[str, ...]:
    """A value of the document as its field shows it."""
    if field.kind == "colors":
        return tuple(color or BASE for color in value or [None])
    if field.kind == "folds":
        return tuple(json.dumps(fold) if fold else "" for fold in _folds_by_panel(field, value))
    if field.kind == "since":
        return _since_shown(field, value)
    if field.kind == "days":
        return tuple(str(day).strip().lower()[:3] for day in (USUAL_DAYS if value is None else value))
    if field.kind == "hours":
        return tuple(str(time) for span in (USUAL_HOURS if value is None else value) for time in span)
    if field.kind == "moment":
        return (field.of.shown(value).replace("T", " "),)
    if value is None and field.options and field.kind != "fills":
        return (field.options[0][0],)
    return (field.of.shown(value),)


def filled(fields: Sequence[Field], typed: Typed) -> list[Field]:
    """The same fields holding what was typed, where it was."""
    return [replace(field, values=_sent(field, typed)) if typed.get(field.name) else field for field in fields]


def changes_in(fields: Sequence[Field], typed: Typed) -> dict[str, Any]:
    """What the typed values change, by path; what reads as it did is left alone. Another pattern starts from its first values."""
    changes: dict[str, Any] = {}
    for field in fields:
        picked = next(iter(typed.get(field.name, ())), field.value)
        if field.kind == "picker" and picked != field.value and picked in field.starts:
            return {"pattern": field.starts[picked]}
    for field in fields:
        sent = _sent(field, typed)
        if sent and sent != field.values:
            changes[field.name] = _taken(field, sent)
    for group in (field for field in fields if field.kind == "group"):
        _choose(group, typed, changes)
    return changes


def _sent(field: Field, typed: Typed) -> tuple[str, ...]:
    """What came for a field; an empty check box sends nothing itself, a date comes beside its choice."""
    sent = tuple(typed.get(field.name, ()))
    if field.kind in ("check", "days") and not sent and f"{field.name}:shown" in typed:
        return ("",)
    if field.kind == "hours":
        return tuple(time for at in range(0, len(sent), 2) if any(sent[at : at + 2]) for time in sent[at : at + 2]) or sent[:1]
    if field.kind == "since" and sent:
        return (sent[0], next(iter(typed.get(f"{field.name}:date", ())), "") if sent[0] == SINCE else "")
    return sent


def _since_shown(field: Field, value: Any) -> tuple[str, str]:
    """The choice and the date of a value that is one of some words or a date."""
    if value is None:
        return (field.options[0][0], "")
    if str(value) in dict(field.options):
        return (str(value), "")
    return (SINCE, str(value))


def _taken(field: Field, sent: tuple[str, ...]) -> Any:
    """What goes into the document for what was sent."""
    if field.kind == "colors":
        return [color or None for color in sent]
    if field.kind == "folds":
        return [json.loads(fold) for fold in sent if fold in dict(field.options) and fold] or None
    if field.kind == "since":
        return (sent[1].strip() or SINCE_WHEN) if sent[0] == SINCE else sent[0] or None
    if field.kind == "days":
        return [day for day in sent if day] or None
    if field.kind == "hours":
        return [list(sent[at : at + 2]) for at in range(0, len(sent), 2) if any(sent[at : at + 2])] or None
    names = {label.lower(): key for key, label in field.options} | {key.lower(): key for key, _ in field.options}
    taken = field.of.taken(sent[0], names)
    return None if field.optional and taken in EMPTY else taken


SEVERAL_LINES = ("points", "paths", "fills")


def _folds_by_panel(field: Field, value: Any) -> list[Any]:
    """The fold that joins each panel but the first to one before it, or None; of three and more also the one that closes a ring."""
    folds = value or []
    names = field.starts["names"]
    closing = [names[-1], "right", names[0], "left"]
    ring = [closing if closing in folds or closing[2:] + closing[:2] in folds else None] if len(names) > 2 else []
    return [next((fold for fold in folds if fold[2] == name), None) for name in names[1:]] + ring


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
    line = whole(name)
    return f"{name}: " if line is None or field.kind == "points" else f"Line {line + 1}: "


def _name_of(path: str, piece_path: str) -> str:
    """The name of the field that a fault's path means; on a form of no job's, the path itself."""
    if not piece_path:
        return path
    return path.removeprefix(f"{piece_path}.") if path.startswith(f"{piece_path}.") else f"/{path}"


def with_faults(fields: Sequence[Field], faults: Sequence[Fault], piece_path: str) -> tuple[list[Field], list[Fault]]:
    """Put each fault at its field; returns the fields, and the faults that belong to none of them."""
    unplaced: list[Fault] = []
    at: dict[str, list[tuple[int, str]]] = {}
    for fault in faults:
        name = _name_of(fault.path, piece_path)
        home = next((f for f in fields if name == f.name or name.startswith(f.name + ".")), None)
        home = home or next((f for f in fields if f.name.startswith(name + ".")), None)
        if home is None:
            unplaced.append(fault)
            continue
        rest = name[len(home.name) + 1 :]
        at.setdefault(home.name, []).append(
            ((whole(rest) or 0) if home.kind == "colors" else 0, _where(home, rest) + fault.message)
        )
    return [replace(field, faults=tuple(at.get(field.name, ()))) for field in fields], unplaced
