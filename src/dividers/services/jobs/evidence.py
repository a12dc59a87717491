"""What the logbook knows about edges, counted, and put into a job's document for the forecast to go by."""

import json
import sqlite3
from collections.abc import Iterator

from dividers.core.job.edge_counts import Counts, FoundEdges, Substrate, count_up
from dividers.store import logbook, patches


def counts(connection: sqlite3.Connection) -> Counts:
    """Strips found clean on every kind of surface recorded, over all jobs and all test patches."""
    return count_up(_found(connection))


def _found(connection: sqlite3.Connection) -> Iterator[FoundEdges]:
    findings = logbook.list_findings(connection)
    whole = {(f.job_id, f.piece, f.round, f.seal, f.tape) for f in findings if not f.strip}
    for each in findings:
        if each.strip and (each.job_id, each.piece, each.round, each.seal, each.tape) in whole:
            continue  # counted already with its round
        yield FoundEdges(Substrate(each.texture, each.adhesion, bool(each.swelling_edge), each.seal), each.clean, each.strips)
    for texture, cell in patches.list_found(connection):
        yield FoundEdges(Substrate(texture, cell.adhesion, bool(cell.swelling_edge), cell.seal), int(cell.edge == "clean"), 1)


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
            "clean": count.clean,
            "strips": count.strips,
            "rounds": count.rounds,
        }
        for substrate, count in sorted(known.items(), key=lambda pair: pair[0].words)
    ]
    return json.dumps(json.loads(document) | {"evidence": counted}, ensure_ascii=False, separators=(",", ":"))
