"""The states of a job in its archive: what many of them share (palette, products, pieces) is written once."""

import json
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from dividers.core.base.errors import BadInput, BadJob
from dividers.core.job_file.job_reader import parse_document, read_job
from dividers.formats.archive_logbook import COUNT, MOMENT, TEXT, check_with, or_none, row

FORMAT = "dividers-history/1"
MOST_STATES = 20_000
MOST_BYTES = 20_000_000  # of what the states are made of; the oldest are left out beyond that

PART = {"type": "integer", "minimum": 0}
STATE = row(
    {
        "number": COUNT | {"minimum": 1},
        "parent": or_none(COUNT | {"minimum": 1}),
        **dict.fromkeys(("title", "label", "made_by"), TEXT),
        "made_at": MOMENT,
        "document": {"type": "object", "additionalProperties": {"anyOf": [PART, {"type": "array", "items": PART}]}},
    }
)
HISTORY = row(
    {
        "format": {"const": FORMAT},
        "head": COUNT | {"minimum": 1},
        "parts": {"type": "array"},
        "states": {"type": "array", "minItems": 1, "maxItems": MOST_STATES, "items": STATE},
    }
)


@dataclass(frozen=True)
class ArchivedState:
    """A state as the archive has it; `document` is the job file's text."""

    number: int
    parent: int | None
    title: str
    label: str
    made_at: str
    made_by: str
    document: str


def write_history(newest_first: Iterable[ArchivedState], head: int) -> tuple[bytes, int]:
    """The states as JSON, and how many of the oldest had no room. The one in force always has."""
    numbers: dict[str, int] = {}
    size, left_out = 0, 0
    states: list[dict[str, Any]] = []
    for state in newest_first:
        held = json.loads(state.document)
        texts = {key: [_text(each) for each in value] if key == "pieces" else _text(value) for key, value in held.items()}
        new = {text for text in _flat(texts.values()) if text not in numbers}
        size += sum(map(len, new))
        if (size > MOST_BYTES or len(states) >= MOST_STATES) and state.number != head:
            left_out += 1
            continue
        for text in _flat(texts.values()):
            numbers.setdefault(text, len(numbers))
        document = {
            key: [numbers[each] for each in text] if isinstance(text, list) else numbers[text] for key, text in texts.items()
        }
        about = {"number": state.number, "parent": state.parent, "title": state.title, "label": state.label}
        states.append(about | {"made_at": state.made_at, "made_by": state.made_by, "document": document})
    kept = {state["number"] for state in states}
    for each in states:
        each["parent"] = each["parent"] if each["parent"] in kept else None
    parts = ",".join(numbers)
    rest = json.dumps(states, ensure_ascii=False, separators=(",", ":"))
    return f'{{"format":"{FORMAT}","head":{head},"parts":[{parts}],"states":{rest}}}'.encode(), left_out


def _text(value: object) -> str:
    return json.dumps(value, ensure_ascii=False, separators=(",", ":"))


def _flat(texts: Iterable[str | list[str]]) -> Iterator[str]:
    for text in texts:
        yield from text if isinstance(text, list) else (text,)


def read_history(content: bytes) -> tuple[int, list[Mapping[str, Any]], list[Any]]:
    """The number of the state in force, the states in the order of their numbers, and their parts. Raises BadInput."""
    try:
        found = json.loads(content)
    except (ValueError, RecursionError) as fault:
        raise BadInput("The history in this archive can't be read. Nothing was imported.", "file") from fault
    check_with(HISTORY, found, "history")
    states = sorted(found["states"], key=lambda state: int(state["number"]))
    numbers = [state["number"] for state in states]
    parts = len(found["parts"])
    sound = (
        found["head"] in numbers
        and len(set(numbers)) == len(numbers)
        and all(state["parent"] is None or state["parent"] < state["number"] for state in states)
        and all(part < parts for state in states for part in _parts_of(state))
    )
    if not sound:
        raise BadInput("The history in this archive doesn't fit together. Nothing was imported.", "file")
    return found["head"], states, found["parts"]


def _parts_of(state: Mapping[str, Any]) -> Iterator[int]:
    for part in state["document"].values():
        yield from part if isinstance(part, list) else (part,)


def document_of(state: Mapping[str, Any], parts: list[Any]) -> str:
    """The job file's text of one state."""
    held = {
        key: [parts[each] for each in part] if isinstance(part, list) else parts[part]
        for key, part in state["document"].items()
    }
    return _text(held)


def unreadable(content: bytes) -> list[int]:
    """The numbers of the states that are no job file (any more). Raises BadInput for what is no history."""
    _, states, parts = read_history(content)
    known: dict[str, bool] = {}
    for state in states:
        text = document_of(state, parts)
        if text not in known:
            known[text] = _readable(text)
    return [state["number"] for state in states if not known[document_of(state, parts)]]


def _readable(text: str) -> bool:
    try:
        read_job(parse_document(text.encode()))
    except (BadInput, BadJob):
        return False
    return True
