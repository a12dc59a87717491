"""What Supplies can hold: items with the keys that a job file has for them, typed into a form or a table."""

from collections.abc import Mapping
from typing import Any

from dividers.core.base.errors import BadJob, Fault
from dividers.core.job.document import Document
from dividers.core.job.kinds import EMPTY
from dividers.core.job.products import MODELS, Colour
from dividers.core.job.reader import LONGEST_NAME, Findings, Reader
from dividers.core.job.schema import Key, keys_of
from dividers.core.job_file.job_reader import read_product

KINDS = (*MODELS, "colour")
# A colour's name is its item's, and its sheen is a job's own affair.
KEYS: dict[str, tuple[Key, ...]] = {kind: keys_of(model) for kind, model in MODELS.items()} | {
    "colour": tuple(key for key in keys_of(Colour) if key.key == "hex")
}


def body_from(kind: str, typed: Mapping[str, str]) -> Document:
    """What was typed as a job file has it; empty fields are left out."""
    taken = {key.key: key.kind.taken(typed.get(key.key, "")) for key in KEYS[kind]}
    return {name: value for name, value in taken.items() if value not in EMPTY}


def check(kind: str, name: str, body: Document) -> None:
    """Raise BadJob with a fault at each figure that is not valid, or at `name`."""
    if kind not in KINDS:
        raise BadJob((Fault("kind", f"“{kind[:20]}” isn't known. Choose one of: {', '.join(KINDS)}."),))
    findings = Findings("mm")
    if not name.strip() or len(name) > LONGEST_NAME:
        findings.faults.append(Fault("name", f"Give it a name of 1 to {LONGEST_NAME} characters."))
    if kind == "colour":
        for key in KEYS[kind]:
            key.read(Reader(body, "", findings))
    else:
        read_product(name, Reader({"kind": kind, **body}, "", findings))
    if findings.faults:
        raise BadJob(tuple(findings.faults))


def shown(kind: str, body: Mapping[str, Any]) -> dict[str, str]:
    """A body's figures as a form shows them."""
    return {key.key: key.kind.shown(body.get(key.key)) for key in KEYS[kind]}
