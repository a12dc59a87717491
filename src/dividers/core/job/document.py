"""Reading and changing a job document by dotted paths, and what an edit means for it. Documents are never changed in place."""

import copy
import re
from collections.abc import Mapping
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.base.whole import whole

Document = dict[str, Any]


def look_up(document: Any, path: str) -> Any:
    """The value at a path such as ``surface.panels.0.width``; None where there is none."""
    while path:
        key, path = _first_key(document, path)
        if isinstance(document, Mapping):
            document = document.get(key)
        elif isinstance(document, list) and (at := whole(key, len(document) - 1)) is not None:
            document = document[at]
        else:
            return None
    return document


def _first_key(document: Any, path: str) -> tuple[str, str]:
    """A path's first key and the rest. Names that people gave may hold dots: the longest that is there counts."""
    if isinstance(document, Mapping):
        for key in sorted(document, key=len, reverse=True):
            if path == key or path.startswith(f"{key}."):
                return key, path[len(key) + 1 :]
    key, _, rest = path.partition(".")
    return key, rest


def put(document: Any, path: str, value: Any) -> None:
    """Set the value at a path in place, making objects on the way; None removes the key. Raises BadInput for a lost list entry."""
    key, rest = _first_key(document, path)
    if isinstance(document, list) and whole(key, len(document) - 1) is None:
        raise BadInput(f"There is no entry {key} any more.", path)
    at: Any = int(key) if isinstance(document, list) else key
    if rest:
        if isinstance(document, dict) and not isinstance(document.get(at), dict | list):
            document[at] = {}
        put(document[at], rest, value)
    elif value is None and isinstance(document, dict):
        document.pop(at, None)
    else:
        document[at] = value


def changed(document: Document, changes: Mapping[str, Any]) -> Document:
    """A copy of a document with the values at some paths changed. Raises BadInput for a path that isn't there."""
    copied = copy.deepcopy(document)
    for path, value in changes.items():
        put(copied, path, value)
    return copied


def with_piece_ids(document: Document) -> Document:
    """A copy in which every piece has an id of its own, for addresses: from its name where it has none."""
    copied = copy.deepcopy(document)
    taken: set[str] = {str(piece["id"]) for piece in _pieces(copied) if "id" in piece}
    for piece in _pieces(copied):
        if "id" not in piece:
            piece["id"] = free_key(str(piece.get("name", "")), taken)
            taken.add(piece["id"])
    return copied


def _pieces(document: Document) -> list[Document]:
    pieces = document.get("pieces")
    return [piece for piece in pieces if isinstance(piece, dict)] if isinstance(pieces, list) else []


def free_key(name: str, taken: set[str] | Mapping[str, Any], usual: str = "piece") -> str:
    """A key made of a name that is not taken yet: small letters, digits and hyphens."""
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:40].strip("-") or usual
    key, number = stem, 2
    while key in taken:
        key, number = f"{stem}-{number}", number + 1
    return key


# What the readings under each key of a survey are of.
READINGS = {"widths": "width", "heights": "height", "diagonals": "diagonal", "level": "level", "plumb": "plumb"}
LEVEL_WAYS = ("top", "up", "bottom")  # under which of them a level reading stands
DIAGONALS = ("falling", "rising")


def differences(one: Any, other: Any, path: str = "") -> list[tuple[str, Any, Any]]:
    """Where two documents differ: (path, value in one, value in the other), in order."""
    if isinstance(one, dict) and isinstance(other, dict):
        keys = list(dict.fromkeys([*one, *other]))
        pairs = [(key, one.get(key), other.get(key)) for key in keys]
    elif isinstance(one, list) and isinstance(other, list) and len(one) == len(other):
        pairs = [(str(index), *both) for index, both in enumerate(zip(one, other, strict=True))]
    else:
        return [] if one == other else [(path, one, other)]
    return [entry for key, a, b in pairs for entry in differences(a, b, f"{path}.{key}".lstrip("."))]
