"""What the buttons of the Measure station do to the document, besides saving the fields."""

import itertools
from collections.abc import Callable, Sequence

from dividers.core.base.whole import whole
from dividers.core.job.document import READINGS, Document, look_up, put
from dividers.core.job.method import DATUMS, FITS
from dividers.core.survey.kept_readings import OPENING_WAYS, measure_opening, remove_reading, set_aside, take_instead


def survey_action(name: str, places: Sequence[str]) -> Callable[[Document, str], None] | None:
    """The change that a button of the Survey station names; None where it names none."""
    match name, places:
        case "begin-at", [number] if _numbers(number):
            return lambda document, piece: _begin_at(document, piece, int(number))
        case "fit-way", [fit, border] if fit in FITS:
            return lambda document, piece: _take_way(document, piece, fit, border)
        case "datum", [side] if side in DATUMS:
            return lambda document, piece: put(document, f"{piece}.method.datum", side)
        case "level", [down]:
            return lambda document, piece: put(document, f"{piece}.method.level_line", down or None)
        case "measure-opening", [panel, number, way] if _numbers(panel, number) and way in OPENING_WAYS:
            return lambda document, piece: _measure(document, f"{piece}.surface.panels.{panel}.openings.{number}", way)
        case (("aside" | "drop-reading"), [panel, key, number]) if _numbers(panel, number) and key in READINGS:
            act = set_aside if name == "aside" else remove_reading
            return lambda document, piece: act(document, f"{piece}.surface.panels.{panel}", key, int(number))
        case "take-reading", [panel, key, number, text] if _numbers(panel, number) and key in READINGS:
            return lambda document, piece: take_instead(document, f"{piece}.surface.panels.{panel}", key, int(number), text)
    return None


def _numbers(*texts: str) -> bool:
    return all(whole(text, 999) is not None for text in texts)


def _take_way(document: Document, piece: str, fit: str, border: str) -> None:
    put(document, f"{piece}.method.fit", fit)
    if fit == "hide":
        put(document, f"{piece}.method.border", border)


def _measure(document: Document, path: str, way: str) -> None:
    opening = look_up(document, path)
    if isinstance(opening, dict):
        measure_opening(opening, way, document["units"])


def chain_of(folds: object, names: Sequence[str]) -> bool:
    """Whether panels follow each other, each joined by its left to the right of the one before: like the walls of a room."""
    return len(names) > 1 and folds == [[one, "right", other, "left"] for one, other in itertools.pairwise(names)]


def _begin_at(document: Document, piece: str, number: int) -> None:
    """Let the round of a room's walls begin at another one: those before it go behind the last, joined on there."""
    panels = look_up(document, f"{piece}.surface.panels")
    names = [str(panel.get("name")) for panel in panels]
    if not chain_of(look_up(document, f"{piece}.surface.folds"), names) or number >= len(panels):
        return
    turned = [*panels[number:], *panels[:number]]
    order = [*names[number:], *names[:number]]
    put(document, f"{piece}.surface.panels", turned)
    put(document, f"{piece}.surface.folds", [[one, "right", other, "left"] for one, other in itertools.pairwise(order)])
