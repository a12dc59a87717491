"""What Supplies can hold: the fields of each kind of item, read and checked as a job reads its products."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from dividers.core.base.colour import read_hex
from dividers.core.base.errors import BadInput, BadJob, Fault
from dividers.core.job.document import Document
from dividers.core.job.products import ADHESIONS, BINDERS, SEALS, SHEENS
from dividers.core.job.reader import LONGEST_NAME, Findings, Reader
from dividers.core.job_file.job_reader import read_product

KINDS = ("paint", "tape", "seal", "colour")


@dataclass(frozen=True)
class Figure:
    """One figure of a kind: its key in the job file, its words, what is allowed."""

    key: str
    title: str
    help: str = ""
    options: tuple[str, ...] = ()
    flag: bool = False
    number: bool = False


FIGURES: dict[str, tuple[Figure, ...]] = {
    "paint": (
        Figure("binder", "Binder", options=BINDERS),
        Figure("sheen", "Sheen", options=SHEENS),
        Figure("spread", "Spread", "from the label, like 9 m2/L or 375 ft2/gal"),
        Figure("wet_edge", "Wet edge", "how long a stroke stays wet, like 10 min"),
        Figure("touch_dry", "Touch-dry", "like 45 min"),
        Figure("recoat", "Recoat", "like 2 h"),
        Figure("tape_safe", "Tape-safe", "when tape may go on it, like 24 h"),
        Figure("full_dry", "Fully dry", "like 3 d"),
        Figure("least", "Not below", "like 10 C"),
        Figure("most", "Not above", "like 30 C"),
        Figure("most_humidity", "Humidity at most", "percent", number=True),
    ),
    "tape": (
        Figure("width", "Actual width", "ten strips side by side, divided by ten"),
        Figure("adhesion", "Adhesion", options=ADHESIONS),
        Figure("swelling_edge", "Swelling edge", flag=True),
        Figure("roll", "On a roll", "like 55 m or 60 yd"),
        Figure("remove_within", "Comes off cleanly within", "like 14 d"),
    ),
    "seal": (
        Figure("method", "Method", options=SEALS[1:]),
        Figure("dry", "Wait before paint", "like 40 min"),
        Figure("skin", "Tape off within", "for caulk: before it skins over, like 30 min"),
        Figure("sealed_m_per_h", "Metres sealed per hour", number=True),
    ),
    "colour": (Figure("hex", "Colour", "# and six digits, like #22345a"),),
}


def body_from(kind: str, typed: Mapping[str, str]) -> Document:
    """What was typed as a job file has it; empty fields are left out."""
    body: Document = {}
    for figure in FIGURES[kind]:
        text = typed.get(figure.key, "").strip()
        if figure.flag:
            body[figure.key] = text.lower() in ("on", "yes", "true", "1")
        elif text:
            body[figure.key] = _number(text) if figure.number else text
    return body


def _number(text: str) -> Any:
    try:
        return float(text.replace(",", "."))
    except ValueError:
        return text


def check(kind: str, name: str, body: Document) -> None:
    """Raise BadJob with a fault at each figure that is not valid, or at `name`."""
    if kind not in KINDS:
        raise BadJob((Fault("kind", f"“{kind[:20]}” isn't known. Choose one of: {', '.join(KINDS)}."),))
    findings = Findings("mm")
    if not name.strip() or len(name) > LONGEST_NAME:
        findings.faults.append(Fault("name", f"Give it a name of 1 to {LONGEST_NAME} characters."))
    if kind == "colour":
        try:
            read_hex(body.get("hex"))
        except BadInput as fault:
            findings.faults.append(Fault("hex", fault.message))
    else:
        read_product(name, Reader({"kind": kind, **body}, "", findings))
    if findings.faults:
        raise BadJob(tuple(findings.faults))


def shown(kind: str, body: Mapping[str, Any]) -> dict[str, str]:
    """A body's figures as a form shows them."""
    found = {}
    for figure in FIGURES[kind]:
        value = body.get(figure.key)
        if figure.flag:
            found[figure.key] = "on" if value else ""
        else:
            found[figure.key] = "" if value is None else f"{value:g}" if isinstance(value, float) else str(value)
    return found
