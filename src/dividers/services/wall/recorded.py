"""What phones record, checked before it is kept."""

import json
import re
from collections.abc import Mapping
from datetime import UTC, datetime, timedelta
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.base.quantities import read_celsius, temperature
from dividers.core.base.texts import storable
from dividers.core.base.whole import whole
from dividers.core.wall.facts import KINDS, LONGEST_MIN, TOUCHES
from dividers.services import clock
from dividers.services.jobs.planning import job_of
from dividers.store import wall_runs

LONGEST_UID, LONGEST_REASON = 60, 200
PAINTERS = range(1, 21)
MOST_AGO_MIN = 2880
MOST_HERE_MIN = 720
CLOCK_OFF = timedelta(minutes=10)  # a clock that is put right by the network moves so much
LEAST_AIR_C, MOST_AIR_C = -10, 50


def check(run: wall_runs.WallRun, message: Mapping[str, Any]) -> None:
    """Whether one message can be read. Raises BadInput."""
    read(run, message)


def read(run: wall_runs.WallRun, message: Mapping[str, Any], by: str = "") -> wall_runs.EventRow:
    """Check one message, sent `by` a phone of that name. Raises BadInput."""
    if not storable(message):
        raise BadInput("This entry holds half of a letter, which can't be stored.", "body")
    kind, uid, task = (str(message.get(name, "")) for name in ("kind", "uid", "task"))
    if kind not in KINDS:
        raise BadInput(f"“{kind[:20]}” is not a kind of entry; allowed are {', '.join(KINDS)}.", "kind", kind)
    if not re.fullmatch(rf"[\w.:-]{{1,{LONGEST_UID}}}", uid):
        raise BadInput("Each entry needs its own name: letters, digits and dashes, up to 60.", "uid", uid)
    painter = message.get("painter", 1)
    if not isinstance(painter, int) or painter not in PAINTERS:
        raise BadInput(f"Painters have numbers, 1 to {PAINTERS[-1]}.", "painter", painter)
    body = message.get("body") or {}
    if not isinstance(body, dict):
        raise BadInput("The details of this entry can't be read.", "body", body)
    now = clock.moment()
    begun = datetime.fromisoformat(run.begun_at)
    if now < begun - CLOCK_OFF:
        raise BadInput(
            f"This computer's clock reads {now:%Y-%m-%d %H:%M}, but the job was begun {begun:%Y-%m-%d %H:%M} (UTC). "
            "Set the clock right; what was pressed is kept on the page until then.",
            "at",
        )
    return wall_runs.EventRow(
        0,
        uid,
        kind,
        task[:300],
        painter,
        _at(run, message.get("at"), now),
        now.isoformat(),
        json.dumps(_body(kind, body, job_of(run.document).units) | ({"by": by} if by else {})),
    )


def said_moment(at: object) -> datetime:
    """When it was, as the phone says. Raises BadInput."""
    try:
        moment = datetime.fromisoformat(str(at))
    except ValueError as fault:
        raise BadInput(f"“{str(at)[:40]}” is not a date with time.", "at", at) from fault
    return moment if moment.tzinfo else moment.replace(tzinfo=UTC)


def _at(run: wall_runs.WallRun, at: object, now: datetime) -> str:
    """When it was: as the phone says, but neither in the future nor before the run."""
    moment = said_moment(at) if at else now
    return min(max(moment, datetime.fromisoformat(run.begun_at)), now).astimezone(UTC).isoformat()


def _body(kind: str, body: Mapping[str, Any], unit: str) -> dict[str, Any]:
    """What goes with an event of a kind, checked."""
    if kind == "skip":
        reason = str(body.get("reason", "")).strip()
        if not reason:
            raise BadInput("Say briefly why it is skipped: the record needs it.", "reason")
        return {"reason": reason[:LONGEST_REASON]}
    if kind in ("tick", "untick"):
        return {"item": str(body.get("item", ""))[:40]}
    if kind == "touch":
        result = str(body.get("result", ""))
        if result not in TOUCHES:
            raise BadInput(f"A touch finds paint {', '.join(TOUCHES)}.", "result", result)
        return {"result": result}
    if kind == "air":
        return {"temperature": _celsius(body, unit), "humidity": _number(body, "humidity", 1, 100, "%")}
    if kind == "here":
        return {"minutes": int(_number(body, "minutes", 15, MOST_HERE_MIN, "minutes"))}
    if kind == "undo":
        return {"of": str(body.get("of", ""))[:LONGEST_UID]}
    early = str(body.get("early", "")).strip()
    found: dict[str, Any] = {"early": early[:LONGEST_REASON]} if early else {}
    if kind == "done" and str(body.get("took", "")).strip():
        found["took"] = _number(body, "took", 0, LONGEST_MIN, "min", "time in minutes")
    return found | ({"sure": True} if body.get("sure") else {})


def _celsius(body: Mapping[str, Any], unit: str) -> float:
    """The temperature typed, in °C; a bare number goes by the job's unit."""
    try:
        found = float(round(read_celsius(str(body.get("temperature", "")), unit), 2))
    except BadInput as fault:
        raise BadInput(fault.message, "temperature", body.get("temperature")) from fault
    if not LEAST_AIR_C <= found <= MOST_AIR_C:
        allowed = f"{temperature(LEAST_AIR_C, unit)} to {temperature(MOST_AIR_C, unit)}"
        raise BadInput(f"{temperature(found, unit)} is not air that anybody paints in; allowed are {allowed}.", "temperature")
    return found


def _number(body: Mapping[str, Any], name: str, least: float, most: float, unit: str, called: str = "") -> float:
    text = str(body.get(name, "")).strip().replace(",", ".").rstrip("% ").strip()
    try:
        found = float(text)
    except ValueError as fault:
        raise BadInput(f"“{text[:20]}” is not a {called or name}: type a number, like 55.", name, text) from fault
    if not least <= found <= most:
        raise BadInput(
            f"A {called or name} of {found:g} {unit} is not valid; allowed are {least:g} to {most:g} {unit}.", name, text
        )
    return found


def ago(minutes: str) -> datetime:
    """The moment so many minutes ago, in UTC. Raises BadInput."""
    text = minutes.strip()
    found = whole(text, MOST_AGO_MIN)
    if found is None:
        raise BadInput(f"“{text[:20]}” isn't a number of minutes; allowed are 0 to {MOST_AGO_MIN}.", "ago", text)
    return clock.moment() - timedelta(minutes=found)
