"""What the logbook of an archive may hold, as a JSON Schema (draft 2020-12), and its check before anything of it is kept."""

import json
from collections.abc import Mapping
from typing import Any

from jsonschema import Draft202012Validator
from jsonschema.exceptions import best_match

from dividers.core.base.errors import BadInput
from dividers.core.job.products import ADHESIONS, SEALS
from dividers.core.job.surface import TEXTURES
from dividers.core.risk.lift import BRIDGES, LIFT_WORDS
from dividers.core.wall.facts import KINDS, TOUCHES

Schema = dict[str, Any]
MOST_ROWS = 5000
MOST_TICKS = 200_000
MOST_DRAFTS = 200
LONGEST = 2000  # letters of a text

MOMENT: Schema = {"type": "string", "pattern": r"^\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d(\.\d{1,6})?)?([+-]\d\d:\d\d)?$"}
TEXT: Schema = {"type": "string", "maxLength": LONGEST}
COUNT: Schema = {"type": "integer", "minimum": 0, "maximum": 1_000_000}
NUMBER: Schema = {"type": "number", "minimum": -1e7, "maximum": 1e7}
PAINTER: Schema = {"type": "integer", "minimum": 1, "maximum": 20}


def one_of(*choices: str) -> Schema:
    return {"enum": list(choices)}


def or_none(schema: Schema) -> Schema:
    return {"anyOf": [{"type": "null"}, schema]}


def row(keys: Mapping[str, Schema], **optional: Schema) -> Schema:
    """An object with all of these keys, some it may have, and others that nobody reads."""
    return {"type": "object", "required": list(keys), "properties": {**keys, **optional}}


def rows(schema: Schema) -> Schema:
    return {"type": "array", "maxItems": MOST_ROWS, "items": schema}


def by_key(schema: Schema) -> Schema:
    return {"type": "object", "maxProperties": MOST_ROWS, "additionalProperties": schema}


def number_text(pattern: str) -> Schema:
    return {"type": "string", "maxLength": 30, "pattern": pattern}


FINDING = row(
    {
        **dict.fromkeys(("piece", "piece_name", "strip", "repair", "note", "tape", "paint"), TEXT),
        **dict.fromkeys(("round", "clean", "slight", "bleed"), COUNT),
        **dict.fromkeys(("x_mm", "y_mm", "minutes"), or_none(NUMBER)),
        "lift": or_none(one_of(*LIFT_WORDS)),
        "bridge": one_of(*BRIDGES),
        "texture": one_of(*TEXTURES),
        "adhesion": one_of(*ADHESIONS),
        "swelling_edge": {"enum": [0, 1]},
        "seal": one_of(*SEALS),
        "pull": one_of("wet", "touch-dry", "dry"),
        "photo_id": or_none(COUNT),
        "found_at": MOMENT,
    },
    bridge_looked={"enum": [0, 1]},
) | {
    "anyOf": [{"properties": {name: {"minimum": 1}}} for name in ("clean", "slight", "bleed")]
    + [{"properties": {"strip": {"minLength": 1}}}]  # one strip may wait for its photo to be measured
}
TOUCH_UP = row(
    {
        **dict.fromkeys(("piece", "piece_name", "what", "place", "colour", "tool"), TEXT),
        **dict.fromkeys(("x_mm", "y_mm", "minutes"), or_none(NUMBER)),
        "added_at": MOMENT,
        "done_at": or_none(MOMENT),
    }
)
SIGN_OFF = row({**dict.fromkeys(("piece", "piece_name", "name", "words"), TEXT), "signed_at": MOMENT})
USED = row(
    {
        **dict.fromkeys(("item", "batch", "amount", "currency"), TEXT),
        "price": number_text(r"^(\d+(\.\d+)?)?$"),
        "added_at": MOMENT,
    }
)
MEASURED = row(
    {
        "tape": TEXT,
        "strips": COUNT | {"minimum": 1},
        "length": TEXT,
        "mm": number_text(r"^\d+(\.\d+|/[1-9]\d*)?$"),
        "added_at": MOMENT,
    }
)
PHOTO = row({"id": COUNT, "file": TEXT}, caption=TEXT)
EVENT = row(
    {
        "uid": TEXT,
        "kind": one_of(*KINDS),
        "task": TEXT,
        "painter": PAINTER,
        "at": MOMENT,
        "received_at": MOMENT,
        "body": {"type": "string"},
    }
)
PLAN_ROW = row({"made_at": MOMENT, "events": COUNT, "said": {"type": "string"}, "plan": {"type": "string"}})
RUN = row(
    {"document": {"type": "string"}, "start": MOMENT, "begun_at": MOMENT},
    ended_at=or_none(MOMENT),
    events=rows(EVENT),
    plans=rows(PLAN_ROW) | {"minItems": 1},
)
RUN["required"] += ["events", "plans"]
TICK = row({"piece": TEXT, "mark": TEXT, "ticked_at": MOMENT})
DRAFT = row({"piece": TEXT, "station": TEXT, "typed": {"type": "string"}, "faults": {"type": "string"}})
SETTLED = row({"proposal": TEXT, "taken": {"enum": [0, 1]}, "settled_at": MOMENT})
PREVIEW = row({"piece": TEXT, "photo_id": COUNT, "corners": {"type": "string"}})
REFUSED = row({"base": COUNT, "document": {"type": "string"}, "label": TEXT, "made_at": MOMENT}, settled_at=or_none(MOMENT))
LOGBOOK = row(
    {},
    findings=rows(FINDING),
    touch_ups=rows(TOUCH_UP),
    sign_offs=rows(SIGN_OFF),
    used=rows(USED),
    measured=rows(MEASURED),
    photos=rows(PHOTO),
    runs=rows(RUN),
    ticks=rows(TICK) | {"maxItems": MOST_TICKS},
    drafts=rows(DRAFT) | {"maxItems": MOST_DRAFTS},
    settled=rows(SETTLED),
    previews=rows(PREVIEW),
    refused=rows(REFUSED),
)

# Texts in the rows of a run that are JSON themselves.
BODY = row(
    {},
    reason=TEXT,
    item=TEXT,
    of=TEXT,
    result=one_of(*TOUCHES),
    temperature=NUMBER | {"minimum": -10, "maximum": 50},
    humidity=NUMBER | {"minimum": 1, "maximum": 100},
    unticked=COUNT,
    early=TEXT,
    by=TEXT,
    minutes=NUMBER,
)
CORNERS = {
    "type": "array",
    "minItems": 4,
    "maxItems": 4,
    "items": {"type": "array", "minItems": 2, "maxItems": 2, "items": NUMBER},
}
BODIES = dict.fromkeys(KINDS, BODY) | {
    "here": BODY | {"required": ["minutes"]},
    "touch": BODY | {"required": ["result"]},
    "air": BODY | {"required": ["temperature", "humidity"]},
}
MISSED = row({"task": TEXT, "by": NUMBER, "advice": TEXT})
PLAN = row(
    {"starts": by_key(NUMBER), "ends": by_key(NUMBER), "missed": rows(MISSED), "possible": {"type": "boolean"}},
    painters=by_key(PAINTER),
    hands=by_key(PAINTER),
    whys=by_key(TEXT),
) | {"anyOf": [{"required": ["painters"]}, {"required": ["hands"]}]}


def check_logbook(logbook: Mapping[str, Any]) -> None:
    """Make sure that everything in an archive's logbook can be read later. Raises BadInput with the first place that can't."""
    check_with(LOGBOOK, logbook, "")
    for number, run in enumerate(logbook.get("runs", [])):
        for turn, event in enumerate(run["events"]):
            check_with(BODIES[event["kind"]], _json(event["body"]), f"runs.{number}.events.{turn}.body")
        for turn, plan in enumerate(run["plans"]):
            check_with(PLAN, _json(plan["plan"]), f"runs.{number}.plans.{turn}.plan")
    for number, preview in enumerate(logbook.get("previews", [])):
        check_with(CORNERS, _json(preview["corners"]), f"previews.{number}.corners")
    for number, draft in enumerate(logbook.get("drafts", [])):
        check_with(by_key({}), _json(draft["typed"]), f"drafts.{number}.typed")


def _json(text: str) -> object:
    try:
        return json.loads(text)
    except (ValueError, RecursionError):
        return None


def check_with(schema: Schema, value: object, where: str) -> None:
    fault = best_match(Draft202012Validator(schema).iter_errors(value))
    if fault is not None:
        place = ".".join(map(str, filter(lambda part: part != "", [where, *fault.absolute_path])))
        raise BadInput(
            f"The logbook in this archive can't be read: {place or 'logbook'} is not valid ({fault.message[:120]}). "
            "Nothing was imported.",
            "file",
        )
