"""What is done by hand at the Pattern station: the motifs and shading there are, and the forms for them."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from dividers.core.base.errors import Fault
from dividers.core.base.lengths import exact, write_exact
from dividers.core.base.quantities import run, spoken
from dividers.core.job.free_steps import FreeStep
from dividers.core.job.kinds import OneOf, PaletteKey
from dividers.core.job.layers import MOTIF_PLACES, MOTIFS, SHADING
from dividers.core.job_file.hand_reader import HAND_LAYER
from dividers.core.job_file.layer_reader import by_hand
from dividers.core.job_file.piece_reader import FREE_STEP
from dividers.core.plan.piece_plan import PiecePlan
from dividers.services.jobs import hand_edits
from dividers.services.jobs.editing import Opened
from dividers.services.jobs.hand_edits import STEP

PLACE_WORDS = {"crossings": "At the crossings", "centres": "In the middle of parts", "between": "Between what is painted"}
WHEN_WORDS = {"first": "first of all", "before tape": "before tape", "tape off": "when all tape is off", "last": "last"}
LONG_FORM = ("height", "inside", "every", "spacing", "marked_by", "minutes_each", "minutes_per_m", "name")


@dataclass(frozen=True)
class HandField:
    """One field of a form: `choices` are (value, words) where it is chosen, `more` of them lie behind “More”."""

    key: str
    title: str
    help: str
    choices: tuple[tuple[str, str], ...]
    value: str
    fault: str
    more: bool


@dataclass(frozen=True)
class HandRow:
    """One hand layer: its number from 0, its name, and what it is in words."""

    number: int
    name: str
    kind: str
    words: str
    fields: tuple[HandField, ...]


def hand_board(plan: PiecePlan, opened: Opened, typed: Mapping[str, Any]) -> dict[str, Any]:
    """The rows and the two forms for another one. `typed` has what was refused: kind, number, values and faults by key."""
    layers = opened.document["pieces"][opened.piece_number(plan.piece.key)].get("layers") or []
    written = [each for each in layers if by_hand(each)]
    refused = typed.get("hand", {})

    def fields(kind: str, number: int | None, values: Mapping[str, Any]) -> tuple[HandField, ...]:
        own = bool(refused) and refused["kind"] == kind and refused["number"] == number
        shown = refused["values"] if own else values
        faults = refused["faults"] if own else {}
        return tuple(_field(plan, kind, key, shown.get(key, ""), faults.get(key, "")) for key in hand_edits.KEYS[kind])

    rows = [
        HandRow(number, each.name, each.kind, _words(plan, number), fields(each.kind, number, written[number]))
        for number, each in enumerate(plan.piece.by_hand)
    ]
    steps = opened.document["pieces"][opened.piece_number(plan.piece.key)].get("steps") or []
    rows += [
        HandRow(number, each.name, STEP, _step_words(each), fields(STEP, number, steps[number]))
        for number, each in enumerate(plan.piece.steps)
    ]
    return {
        "hand_rows": rows,
        "hand_forms": {kind: fields(kind, None, {}) for kind in (MOTIFS, SHADING, STEP)},
        "hand_open": (refused.get("kind"), refused.get("number")) if refused else None,
        "hand_said": refused.get("said", ()),
    }


def _field(plan: PiecePlan, kind: str, key: str, value: Any, fault: str) -> HandField:
    entry = (FREE_STEP if kind == STEP else HAND_LAYER).key(key)
    assert entry is not None
    choices: tuple[tuple[str, str], ...] = ()
    if key == "of":
        choices = tuple((layer.name, layer.name) for layer in plan.piece.stack)
        value = value or choices[-1][0]
    elif key == "at":
        choices = tuple((place, PLACE_WORDS[place]) for place in MOTIF_PLACES)
        if isinstance(value, list):
            choices, value = (*choices, ("", f"At {len(value)} places of the job file")), ""
    elif isinstance(entry.kind, PaletteKey):
        none = (("", "None" if kind == SHADING else "Choose" if key == "color" else "Any colour"),)
        choices = (*none, *((name, colour.name) for name, colour in plan.job.palette.items()))
    elif isinstance(entry.kind, OneOf):
        choices = entry.kind.worded()
        value = value or entry.default
    return HandField(
        key, entry.title, entry.help, choices, str(value if value is not None else ""), fault, kind != STEP and key in LONG_FORM
    )


def _step_words(step: FreeStep) -> str:
    wait = f", then {spoken(step.wait_min)} wait" if step.wait_min else ""
    return f"{WHEN_WORDS[step.when]}, {step.minutes:g} min{wait}"


def _words(plan: PiecePlan, number: int) -> str:
    """What a hand layer comes to: how many or how long, in what colour, how long it takes."""
    layer = plan.piece.by_hand[number]
    own = [work for work in plan.hand if work.number == number + len(plan.piece.stack)]
    copies = plan.piece.copies
    minutes = round(sum(work.minutes * work.coats(plan.piece) for work in own) * copies)
    if layer.kind == SHADING:
        length = run(sum(work.length_mm for work in own) / 1000 * copies, plan.job.units)
        return f"{length} of lines over {layer.of}, light from the {layer.light}, {minutes} min"
    count = sum(len(work.places) for work in own) * copies
    air = next((work.air_mm for work in own if work.air_mm is not None), None)
    fits = (
        "" if air is None else f", {write_exact(exact(air), plan.job.units)} of air" if air >= 0 else ", reaching over an edge"
    )
    return f"{count} {layer.tool}{'s' if count != 1 else ''} over {layer.of}{fits}, {minutes} min"


def faults_by_key(faults: tuple[Fault, ...]) -> tuple[dict[str, str], list[str]]:
    """The faults of a hand layer by its keys, and the others in words."""
    keys = {key for own in hand_edits.KEYS.values() for key in own}
    found: dict[str, str] = {}
    said: list[str] = []
    for fault in faults:
        key = fault.path.rpartition(".")[2]
        if key in keys and (".layers." in fault.path or ".steps." in fault.path):
            found.setdefault(key, fault.message)
        else:
            said.append(fault.message)
    return found, said
