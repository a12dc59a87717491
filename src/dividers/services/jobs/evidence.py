"""What the logbook knows about edges, counted, and put into a job's document for the forecast to go by."""

import json
import sqlite3
from collections.abc import Iterator
from dataclasses import astuple, replace

from dividers.core.job.edge_counts import Counts, FoundEdges, Substrate, count_up
from dividers.core.job.products import ADHESIONS, SEALS
from dividers.core.job.surface import TEXTURES
from dividers.core.job_file.job_reader import MOST_EVIDENCE
from dividers.core.risk.lift import HELD
from dividers.store import logbook, patches

MOST_STRIPS = 1_000_000  # more than a round can have
USUAL = {"tape": "", "risk": "bleed", "pull": ""}


def counts(connection: sqlite3.Connection) -> Counts:
    """Strips found clean on every kind of surface recorded, over all jobs and all test patches."""
    return count_up(_found(connection))


def unread(connection: sqlite3.Connection) -> list[logbook.Finding]:
    """The findings with an edge that can't be counted: of a surface, tape or seal that there isn't, or with counts that can't be. They came from elsewhere."""
    return [each for each in logbook.list_findings(connection) if not _readable(each) and each.edge]


def _readable(each: logbook.Finding) -> bool:
    return (
        each.texture in TEXTURES
        and each.adhesion in ADHESIONS
        and each.seal in SEALS[1:]
        and 0 <= each.clean <= each.strips <= MOST_STRIPS
        and each.strips > 0
    )


def _found(connection: sqlite3.Connection) -> Iterator[FoundEdges]:
    findings = [each for each in logbook.list_findings(connection) if _readable(each)]
    whole = {(f.job_id, f.piece, f.round, f.seal, f.tape) for f in findings if not f.strip}
    for each in findings:
        if each.strip and (each.job_id, each.piece, each.round, each.seal, each.tape) in whole:
            continue  # counted already with its round
        ground = Substrate(each.texture, each.adhesion, bool(each.swelling_edge), each.seal, each.tape, pull=each.pull)
        yield FoundEdges(ground, each.clean, each.strips)
        if each.lift:
            yield FoundEdges(replace(ground, risk="lift"), int(each.lift in HELD), 1)
        if each.bridge_looked:
            yield FoundEdges(replace(ground, risk="bridge"), int(each.bridge == "none"), 1)
    for texture, cell in patches.list_found(connection):
        if texture not in TEXTURES or cell.adhesion not in ADHESIONS or cell.seal not in SEALS[1:]:
            continue
        ground = Substrate(texture, cell.adhesion, bool(cell.swelling_edge), cell.seal, cell.tape)
        of_kind = says_its_kind(cell.tape)
        yield FoundEdges(ground, int(cell.edge == "clean"), 1, of_kind)
        if cell.lift:
            yield FoundEdges(replace(ground, risk="lift"), int(cell.lift in HELD), 1, of_kind)


def says_its_kind(tape: str) -> bool:
    """Whether a tape's name says how it holds or that its edge swells; other names stand for themselves alone."""
    return any(word in tape.lower() for word in (*ADHESIONS, "swelling"))


def informed(connection: sqlite3.Connection, document: str) -> str:
    """A job's document with what the logbook knows; the same text where it knows nothing."""
    known = counts(connection)
    if not known:
        return document
    counted = [
        {
            "texture": substrate.texture,
            "adhesion": substrate.adhesion,
            "swelling_edge": substrate.swelling_edge,
            "seal": substrate.seal,
            **{name: value for name in ("tape", "risk", "pull") if (value := getattr(substrate, name)) != USUAL[name]},
            "clean": count.clean,
            "strips": count.strips,
            "rounds": count.rounds,
        }
        for substrate, count in sorted(known.items(), key=lambda pair: (-pair[1].strips, astuple(pair[0])))[:MOST_EVIDENCE]
    ]
    return json.dumps(json.loads(document) | {"evidence": counted}, ensure_ascii=False, separators=(",", ":"))
