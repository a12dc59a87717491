"""Changing what is done by hand on a piece: motifs, shading and steps of one's own are added, changed and removed."""

import sqlite3
from collections.abc import Callable, Mapping

from dividers.core.base.errors import BadInput
from dividers.core.job.document import Document
from dividers.core.job.layers import MOTIFS, SHADING
from dividers.core.job_file.layer_reader import MOST_LAYERS, by_hand
from dividers.services.jobs import editing
from dividers.services.jobs.layer_edits import as_layers
from dividers.services.jobs.layer_view import with_piece

# The keys of a job file that the form for each kind has.
KEYS = {
    MOTIFS: ("of", "at", "tool", "width", "height", "color", "inside", "every", "spacing", "marked_by", "minutes_each", "name"),
    SHADING: ("of", "light", "dark", "bright", "line", "minutes_per_m", "name"),
}
STEP = "step"
KEYS[STEP] = ("name", "when", "minutes", "wait")
NUMBERS = ("every", "minutes_each", "minutes_per_m", "minutes")


def put(
    connection: sqlite3.Connection,
    job_id: int,
    base: int,
    piece_key: str,
    kind: str,
    typed: Mapping[str, str],
    number: int | None,
) -> None:
    """Add a hand layer, or change the one of a number from 0. Raises BadInput, BadJob."""
    if kind not in KEYS:
        raise BadInput("Choose motifs or shading.", "kind")
    values = {key: _value(key, typed[key].strip()) for key in KEYS[kind] if typed.get(key, "").strip()}
    if kind == STEP:
        _change_steps(connection, job_id, base, piece_key, values, number)
        return
    written = {"kind": kind} | values

    def act(hand: list[Document], taped: list[Document]) -> None:
        if len(hand) + len(taped) >= MOST_LAYERS and number is None:
            raise BadInput(f"There are {MOST_LAYERS} layers; no more are allowed.", "kind")
        name = str(written.get("name") or kind)
        taken = {str(each.get("name")) for at, each in enumerate([*taped, *hand]) if at - len(taped) != number}
        free = next(each for each in (name, *(f"{name} {n}" for n in range(2, MOST_LAYERS + 3))) if each not in taken)
        made = written | {"name": free}
        if number is None:
            hand.append(made)
        else:
            kept = {key: value for key, value in hand[_there(hand, number)].items() if key not in KEYS[kind]}
            hand[number] = {**kept, **made}

    _change(connection, job_id, base, piece_key, f"{'Added' if number is None else 'Changed'} {kind} by hand", act)


def remove(connection: sqlite3.Connection, job_id: int, base: int, piece_key: str, kind: str, number: int) -> None:
    """Remove a hand layer or a step of one's own, by its number from 0. Raises BadInput."""
    if kind == STEP:
        _change_steps(connection, job_id, base, piece_key, None, number)
        return

    def act(hand: list[Document], taped: list[Document]) -> None:
        del hand[_there(hand, number)]

    _change(connection, job_id, base, piece_key, "Removed what was done by hand", act)


def _change_steps(
    connection: sqlite3.Connection, job_id: int, base: int, piece_key: str, values: Document | None, number: int | None
) -> None:
    """Add a step (no number), change one, or remove it (no values)."""

    def edit(document: Document) -> Document:
        def changed(piece: Document) -> Document:
            steps = list(piece.get("steps") or [])
            if number is None:
                steps.append(values or {})
            elif values is None:
                del steps[_there(steps, number)]
            else:
                steps[_there(steps, number)] = values
            rest = {key: value for key, value in piece.items() if key != "steps"}
            return rest | ({"steps": steps} if steps else {})

        return with_piece(document, editing.number_of(document, piece_key), changed)

    label = "Removed a step" if values is None else "Added a step" if number is None else "Changed a step"
    editing.change(connection, job_id, base, label, edit, piece_key)


def _value(key: str, text: str) -> object:
    if key not in NUMBERS:
        return text
    try:
        number = float(text.replace(",", "."))
    except ValueError:
        return text
    return int(number) if number.is_integer() else number


def _there(hand: list[Document], number: int) -> int:
    if not 0 <= number < len(hand):
        raise BadInput("This isn't there any more. It may have been removed in another window.", "layers")
    return number


def _change(
    connection: sqlite3.Connection,
    job_id: int,
    base: int,
    piece_key: str,
    label: str,
    act: Callable[[list[Document], list[Document]], None],
) -> None:
    def edit(document: Document) -> Document:
        number = editing.number_of(document, piece_key)

        def changed(piece: Document) -> Document:
            hand = [dict(each) for each in piece.get("layers") or [] if by_hand(each)]
            taped = as_layers(piece)
            act(hand, taped)
            rest = {key: value for key, value in piece.items() if key not in ("pattern", "layers")}
            if not hand and not piece.get("layers"):
                return piece
            return rest | {"layers": [*taped, *hand]}

        return with_piece(document, number, changed)

    editing.change(connection, job_id, base, label, edit, piece_key)
