"""What an edit of a job changed, in a sentence."""

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

MOST_SAID = 3
LONGEST_VALUE = 40
# Groups that say nothing to a painter: what lies in them says enough by its own name.
SILENT = {"pieces", "surface", "panels", "method", "palette", "products", "openings", "survey"}

Change = tuple[tuple[str, ...], Any, Any]


def changes_said(before: Mapping[str, Any], after: Mapping[str, Any]) -> str:
    """The first changes between two states of a job document, and how many more there are; "" where they are the same.

    >>> changes_said({"pieces": [{"id": "a", "name": "Door", "pattern": {"count": 4}}]},
    ...              {"pieces": [{"id": "a", "name": "Door", "pattern": {"count": 5}}]})
    'Door, pattern count: 5 instead of 4.'
    """
    found = list(_changes(before, after, ()))
    said = [_said(*each) for each in found[:MOST_SAID]]
    more = len(found) - len(said)
    text = "; ".join(said) + (f"; and {more} more" if more else "")
    return f"{text[0].upper()}{text[1:]}." if text else ""


def _changes(before: Any, after: Any, at: tuple[str, ...]) -> Iterator[Change]:
    """Every value that differs, by the words of its place; in reading order."""
    if before == after:
        return
    if isinstance(before, Mapping) and isinstance(after, Mapping):
        for key in dict.fromkeys([*before, *after]):
            yield from _changes(before.get(key), after.get(key), (*at, _words_of(key, before, after)))
    elif _named(before) and _named(after):
        then, now = _by_name(before), _by_name(after)
        for name in dict.fromkeys([*then, *now]):
            called = str((now.get(name) or then.get(name) or {}).get("name", name))
            yield from _changes(then.get(name), now.get(name), (*at, called))
        if list(then) != list(now) and sorted(then) == sorted(now):
            yield (*at, "order"), list(then), list(now)
    elif isinstance(before, list) and isinstance(after, list) and len(before) == len(after):
        for number, (one, other) in enumerate(zip(before, after, strict=True), 1):
            yield from _changes(one, other, (*at, str(number)))
    else:
        yield at, before, after


def _words_of(key: str, before: Mapping[str, Any], after: Mapping[str, Any]) -> str:
    """A key as it is said; what has a name of its own, as a colour has, is called by it."""
    held = after.get(key) or before.get(key)
    if isinstance(held, Mapping) and isinstance(held.get("name"), str):
        return str(held["name"])
    return key.replace("_", " ")


def _named(values: Any) -> bool:
    """Whether a value is a list of things with ids or names, no two alike."""
    if not isinstance(values, list) or not all(
        isinstance(each, Mapping) and ("id" in each or "name" in each) for each in values
    ):
        return False
    return len(_by_name(values)) == len(values)


def _by_name(values: Sequence[Mapping[str, Any]]) -> dict[str, Mapping[str, Any]]:
    return {str(each.get("id", each.get("name"))): each for each in values}


def _said(place: tuple[str, ...], before: Any, after: Any) -> str:
    where = _place(place)
    if before is None:
        shown = _value(after)
        return f"{where}: {shown}" if shown else f"{where}: added"
    if after is None:
        shown = _value(before)
        return f"{where}: removed" + (f" (it was {shown})" if shown else "")
    one, other = _value(before), _value(after)
    return f"{where}: {other} instead of {one}" if one and other else f"{where}: changed"


def _place(place: tuple[str, ...]) -> str:
    """The words of a place: a piece or panel by name with a comma, the rest as a phrase."""
    if place[-1] == "order":
        return "the order of " + " ".join(place[-2:-1])
    kept = [word for number, word in enumerate(place) if word not in SILENT or number == len(place) - 1]
    head = 1 if place[0] in SILENT and place[0] != kept[0] and len(kept) > 1 else 0
    return ", ".join([*kept[:head], " ".join(kept[head:])])


def _value(value: Any) -> str:
    """A value in words; "" for one that is too much to say."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, str | int | float):
        text = str(value)
        return text if len(text) <= LONGEST_VALUE else f"{text[:LONGEST_VALUE]}…"
    if isinstance(value, list) and all(isinstance(each, str | int | float) or each is None for each in value):
        text = ", ".join("base" if each is None else str(each) for each in value)
        return text if len(text) <= LONGEST_VALUE else ""
    return ""
