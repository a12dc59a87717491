"""Adding what stands in the way to a panel: with its usual size, where there is room, to be measured."""

from collections.abc import Mapping
from fractions import Fraction
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import read_length, write_kept
from dividers.core.base.units import EASY_STEP_MM, INCH_MM
from dividers.core.job.document import Document, look_up, put
from dividers.core.job.in_the_way import OTHER, Box, offered_on, placed

NO_SIZE_MM = 48 * INCH_MM  # of a panel that says none, as by an outline of its own


def add_opening(document: Document, piece: str, panel: int, word: str) -> None:
    """Put one more thing in the way on a panel of the piece at a path; by its word, or anything."""
    path = f"{piece}.surface.panels.{panel}"
    written, units = look_up(document, path), document["units"]
    thing = next(
        (each for each in offered_on(look_up(document, f"{piece}.surface.kind") or "wall") if each.word == word), OTHER
    )
    openings = written.get("openings") or []
    width, height = (_mm(written.get(key), units) or NO_SIZE_MM for key in ("width", "height"))
    box = placed(thing, width, height, [found for each in openings if (found := _box(each, units))], EASY_STEP_MM[units])
    sides = {key: write_kept(mm, units) for key, mm in zip(("left", "top", "width", "height"), box, strict=True)}
    shape = {"shape": "round"} if thing.round else {}
    put(document, f"{path}.openings", [*openings, {"name": _name(thing.word, openings), **shape, **sides}])


def _name(word: str, openings: list[Mapping[str, Any]]) -> str:
    """The word, with a number from the second on."""
    word = "Opening" if word == OTHER.word else word.capitalize()
    taken = {str(each.get("name", "")).lower() for each in openings}
    names = (word if number == 1 else f"{word} {number}" for number in range(1, len(openings) + 2))
    return next(name for name in names if name.lower() not in taken)


def _mm(written: Any, units: str) -> Fraction | None:
    try:
        return read_length(written, units).mm if written else None
    except BadInput:
        return None


def _box(opening: Mapping[str, Any], units: str) -> Box | None:
    """Where an opening lies that is measured by its left, top, width and height."""
    left, top, width, height = (_mm(opening.get(key), units) for key in ("left", "top", "width", "height"))
    return None if width is None or height is None else (left or Fraction(0), top or Fraction(0), width, height)
