"""A look that is kept: pattern, colours and method as on the surface where it was liked; laid on another one, where it is fitted anew."""

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from dividers.core.base.errors import BadInput, BadJob, DividersError
from dividers.core.base.lengths import read_length, write_kept
from dividers.core.base.units import EASY_STEP_MM
from dividers.core.job.document import Document, free_key
from dividers.core.job.model import Job, Piece
from dividers.core.job_file.first_values import first_document
from dividers.core.job_file.job_reader import read_job
from dividers.core.patterns import BY_KEY
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import Parameter
from dividers.core.plan.layered import plan_piece
from dividers.core.survey.sheet import sheets_of

ALIKE = Fraction(1, 50)  # a scale so near to 1 changes nothing
KEPT_OF_METHOD = ("taping", "seal", "pull")


@dataclass(frozen=True)
class Recipe:
    """`pattern` as in a job file of that `units`, on a field `width` x `height` mm; colours by the pattern's own keys; what of the method goes along."""

    name: str
    units: str
    width: Fraction
    height: Fraction
    pattern: Mapping[str, Any]
    colors: Mapping[str, Mapping[str, Any]]
    base: str
    method: Mapping[str, Any]


@dataclass(frozen=True)
class Fitted:
    """A recipe on a surface: the pattern, the palette with its colours in it, the base's key, the method, and what had to be changed."""

    pattern: dict[str, Any]
    palette: dict[str, Any]
    base: str
    method: dict[str, Any]
    changed: tuple[str, ...]


def recipe_of(document: Document, job: Job, piece: Piece, name: str) -> Recipe:
    """The look of a piece, to be kept."""
    number = job.pieces.index(piece)
    written = document["pieces"][number]
    field = sheets_of(piece.surface)[0].area
    used = {piece.base, *BY_KEY[piece.pattern.kind].colors_in(piece.pattern.values)}
    colors = {key: dict(value) for key, value in document["palette"].items() if key in used}
    method = {key: value for key, value in (written.get("method") or {}).items() if key in KEPT_OF_METHOD}
    return Recipe(name, job.units, field.width, field.height, dict(written["pattern"]), colors, piece.base, method)


def fit(recipe: Recipe, document: Document, job: Job, piece: Piece) -> Fitted:
    """A recipe fitted to a piece of a job. Raises BadInput where not even its pattern can be laid there.

    It is scaled by the height: lengths to an easy step, counts across so that parts keep their shape.
    """
    field = sheets_of(piece.surface)[0].area
    palette, names = _palette(recipe, document["palette"])
    scale = field.height / recipe.height
    changed: list[str] = []
    pattern = _recolored({**recipe.pattern}, names)
    if abs(scale - 1) > ALIKE or abs(field.width / recipe.width - 1) > ALIKE:
        _scale(recipe, pattern, scale, field.width / (recipe.width * scale), job.units, changed)
    fitted = Fitted(pattern, palette, names[recipe.base], dict(recipe.method), tuple(changed))
    if not _can_be_laid(fitted, document, job, piece):
        ground = Ground.of(sheets_of(piece.surface)[0], float(piece.method.tape.width_mm))
        colors = [names.get(color) for color in recipe.pattern.get("colors") or [] if color is None or color in names]
        begun = first_document(str(recipe.pattern["kind"]), ground, job.units, colors or [next(iter(names.values())), None])
        fitted = Fitted(
            begun, palette, names[recipe.base], {}, ("Its sizes don't fit here: the pattern begins anew, in its colours.",)
        )
        if not _can_be_laid(fitted, document, job, piece):
            raise BadInput(f"“{recipe.name}” can't be laid on this surface.", "recipe")
    return fitted


def laid(fitted: Fitted, document: Document, number: int) -> Document:
    """A document with a fitted recipe on one piece."""
    piece = document["pieces"][number]
    method = {**(piece.get("method") or {}), **fitted.method}
    method.pop("coats", None) if fitted.base != piece.get("base") else None
    pieces = [
        {**each, "pattern": fitted.pattern, "base": fitted.base, "method": method} if turn == number else each
        for turn, each in enumerate(document["pieces"])
    ]
    return {**document, "palette": fitted.palette, "pieces": pieces}


def _can_be_laid(fitted: Fitted, document: Document, job: Job, piece: Piece) -> bool:
    number = job.pieces.index(piece)
    try:
        read = read_job(laid(fitted, document, number))
        layouts = plan_piece(read, read.pieces[number]).layouts
    except (BadJob, DividersError):
        return False
    return any(bool(layout.painted.any()) for layout in layouts)


def _palette(recipe: Recipe, palette: Mapping[str, Any]) -> tuple[dict[str, Any], dict[str | None, str]]:
    """The palette with the recipe's colours in it, and what each of its keys is called there: one of the same name and hex is that one."""
    found = dict(palette)
    names: dict[str | None, str] = {}
    for key, colour in recipe.colors.items():
        same = next(
            (k for k, v in found.items() if (v.get("name"), v.get("hex")) == (colour.get("name"), colour.get("hex"))), None
        )
        names[key] = same or free_key(str(colour.get("name", key)), found)
        found.setdefault(names[key], dict(colour))
    return found, names


def _recolored(value: Any, names: Mapping[str | None, str], key: str = "") -> Any:
    """The same with the colours' keys of the job in place of the recipe's."""
    if isinstance(value, dict):
        return {k: _recolored(v, names, k) for k, v in value.items()}
    if isinstance(value, list):
        return [_recolored(each, names, key) for each in value]
    return names.get(value, value) if isinstance(value, str) and "color" in key else value


def _scale(recipe: Recipe, pattern: dict[str, Any], scale: Fraction, stretch: Fraction, units: str, changed: list[str]) -> None:
    """Scale a pattern's lengths, and the counts along the width by how much longer that is."""
    for parameter in BY_KEY[str(pattern["kind"])].parameters:
        value = pattern.get(parameter.key)
        if value is None:
            continue
        if parameter.kind == "length" and not isinstance(value, bool):
            pattern[parameter.key] = _scaled(value, recipe.units, scale, units)
        elif parameter.kind == "lengths" and isinstance(value, list):
            pattern[parameter.key] = [_scaled(each, recipe.units, scale, units) for each in value]
        elif _runs_across(parameter, pattern) and isinstance(value, int):
            pattern[parameter.key] = max(round(value * stretch), 1)
        else:
            continue
        if pattern[parameter.key] != value:
            unit = f" {recipe.units}" if parameter.kind != "count" and units != recipe.units else ""
            changed.append(f"{parameter.title}: {_said(pattern[parameter.key])} instead of {_said(value)}{unit}.")


def _runs_across(parameter: Parameter, pattern: Mapping[str, Any]) -> bool:
    upright = str(pattern.get("direction", "vertical")) in ("vertical", "90")
    return parameter.kind == "count" and (parameter.divides == "across" or (parameter.divides == "run" and upright))


def _scaled(value: Any, units: str, scale: Fraction, into: str) -> str:
    mm = read_length(value, units).mm * scale
    step = EASY_STEP_MM[into] if mm >= 4 * EASY_STEP_MM[into] else EASY_STEP_MM[into] / 4
    return write_kept(max(round(mm / step), 1) * step, into)


def _said(value: Any) -> str:
    return ", ".join(map(str, value)) if isinstance(value, list) else str(value)
