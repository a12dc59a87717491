"""A job that was begun at the wall keeps the choices it was begun with, though later versions choose otherwise."""

import json

from dividers.core.job.document import Document

AS_OF = "0.2.0"

# What versions before 0.2 did, as a method says it: the least taping, each round taped in one go, marks centre first.
BEFORE = {"day_worth": 0, "tape_in": "rounds", "mark_order": "centre-first"}


def stamped(document: Document) -> Document:
    """A document that is begun with now."""
    return {**document, "as_of": AS_OF}


def begun_with(text: str) -> str:
    """The version that a run's document was begun with; those before 0.2 kept no steps with it.

    >>> begun_with('{"as_of": "0.1.0"}')
    '0.1.0'
    """
    return str(json.loads(text).get("as_of", "0.1.0"))


def as_begun(text: str) -> str:
    """The document of a run, as text, with the choices of the version that began it written out. What is no job is left as it is."""
    document = json.loads(text)
    if not isinstance(document, dict) or "as_of" in document or not isinstance(document.get("pieces"), list):
        return text
    pieces = [
        piece | {"method": BEFORE | (piece.get("method") or {})} if isinstance(piece, dict) else piece
        for piece in document["pieces"]
    ]
    return json.dumps(document | {"as_of": "0.1.0", "pieces": pieces}, ensure_ascii=False, separators=(",", ":"))
