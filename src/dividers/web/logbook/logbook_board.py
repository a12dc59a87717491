"""What the logbook's page shows beside its lists: pins on the drawing, the chance of a clean edge, drawn."""

import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from markupsafe import Markup

from dividers.core.risk.evidence import Chance
from dividers.core.risk.forecast import clean_edge
from dividers.formats.drawings.chance_svg import chance_svg
from dividers.services.jobs import evidence
from dividers.services.logbook.logbook import Finding, LoggedRound, TouchUp


@dataclass(frozen=True)
class Pin:
    """A place on the drawing: its number in its list, and what is there."""

    x: float
    y: float
    number: int
    kind: str
    words: str


def pins_of(findings: Sequence[Finding], touch_ups: Sequence[TouchUp], piece: str) -> list[Pin]:
    """The places on a piece's drawing that findings and touching up are about."""
    found = [
        Pin(f.x_mm, f.y_mm, number, f.edge or "todo", f"round {f.round}: {f.edge or 'not judged yet'}")
        for number, f in enumerate(findings, 1)
        if f.piece == piece and f.x_mm is not None and f.y_mm is not None
    ]
    found += [
        Pin(t.x_mm, t.y_mm, number, "done" if t.done_at else "todo", t.what)
        for number, t in enumerate(touch_ups, 1)
        if t.piece == piece and t.x_mm is not None and t.y_mm is not None
    ]
    return found


def chances_of(connection: sqlite3.Connection, rounds: Iterable[LoggedRound]) -> list[tuple[int, str, Chance, Markup]]:
    """For each round the chance of a clean edge next time, and its picture."""
    known = evidence.counts(connection)
    found = []
    for each in rounds:
        situation = replace(each.choice.situation, seal=each.choice.seal.method)
        chance = clean_edge(situation, known)
        found.append((each.choice.number, situation.substrate.words, chance, chance_svg(chance)))
    return found
