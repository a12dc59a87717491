"""A look that is kept: pattern, colours and method as on the surface where it was liked; laid on another one, where it is fitted anew."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any

from dividers.core.base.errors import BadInput, BadJob, DividersError
from dividers.core.base.lengths import read_length, write_kept
from dividers.core.base.units import EASY_STEP_MM
from dividers.core.job.document import Document, free_key
from dividers.core.job.model import Job, Piece
from dividers.core.job_file.first_values import first_document
from dividers.core.job_file.hand_reader import HAND_LAYER
from dividers.core.job_file.job_reader import read_job
from dividers.core.job_file.layer_reader import by_hand
from dividers.core.patterns import BY_KEY
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import Parameter
from dividers.core.plan.layered import plan_piece
from dividers.core.survey.sheet import sheets_of

ALIKE = Fraction(1, 50)  # a scale so near to 1 changes nothing
KEPT_OF_METHOD = ("taping", "seal", "pull")
KEPT_OF_LAYER = ("name", "zone", "pattern")


@dataclass(frozen=True)
class Recipe:
    """`pattern` as in a job file of that `units`, on a field `width` x `height` mm; colours by the pattern's own keys; what of the method goes along.

    Of a look of several layers `layers` has all of them, and `pattern` is the first one's.
    """

    name: str
    units: str
    width: Fraction
    height: Fraction
    pattern: Mapping[str, Any]
    colors: Mapping[str, Mapping[str, Any]]
    base: str
    method: Mapping[str, Any]
    layers: Sequence[Mapping[str, Any]] = ()


@dataclass(frozen=True)
class Fitted:
    """A recipe on a surface: the pattern (or layers), the palette with its colours in it, the base's key, the method, what was changed."""

    pattern: dict[str, Any]
    palette: dict[str, Any]
    base: str
    method: dict[str, Any]
    changed: tuple[str, ...]
    layers: tuple[dict[str, Any], ...] = ()


def recipe_of(document: Document, job: Job, piece: Piece, name: str) -> Recipe:
    """The look of a piece, to be kept."""
    number = job.pieces.index(piece)
    written = document["pieces"][number]
    field = sheets_of(piece.surface)[0].area
    used = {piece.base}
    for layer in piece.stack:
        used.update(BY_KEY[layer.pattern.kind].colors_in(layer.pattern.values))
    used.update(color for each in piece.by_hand for color in (*each.colors, each.inside) if color)
    all_layers = written.get("layers") or ()
    layers: list[Mapping[str, Any]] = [
        {key: each[key] for key in KEPT_OF_LAYER if key in each} for each in all_layers if not by_hand(each)
    ]
    pattern = layers[0]["pattern"] if layers else written["pattern"]
    if piece.by_hand:  # what is done by hand names its layer
        layers = [{**each, "name": own.name} for each, own in zip(layers, piece.stack, strict=True)]
        layers += [each for each in all_layers if by_hand(each)]
    colors = {key: dict(value) for key, value in document["palette"].items() if key in used}
    method = {key: value for key, value in (written.get("method") or {}).items() if key in KEPT_OF_METHOD}
    return Recipe(
        name,
        job.units,
        field.width,
        field.height,
        dict(pattern),
        colors,
        piece.base,
        method,
        layers if piece.layered or piece.by_hand else (),
    )


def fit(recipe: Recipe, document: Document, job: Job, piece: Piece) -> Fitted:
    """A recipe fitted to a piece of a job. Raises BadInput where not even its pattern can be laid there.

    It is scaled by the height: lengths to an easy step, counts across so that parts keep their shape.
    """
    field = sheets_of(piece.surface)[0].area
    palette, names = _palette(recipe, document["palette"])
    scale = field.height / recipe.height
    changed: list[str] = []
    other = abs(scale - 1) > ALIKE or abs(field.width / recipe.width - 1) > ALIKE
    stretch = field.width / (recipe.width * scale)
    pattern = _recolored({**recipe.pattern}, names)
    if other:
        _scale(recipe, pattern, scale, stretch, job.units, changed)
    fitted = Fitted(pattern, palette, names[recipe.base], dict(recipe.method), tuple(changed))
    if recipe.layers:
        layers = _layers(recipe, names, (field.width / recipe.width, scale) if other else None, job.units)
        whole = replace(fitted, layers=layers)
        if _can_be_laid(whole, document, job, piece):
            return whole
        fitted = replace(fitted, changed=(*fitted.changed, "Its other layers don't fit here and are left out."))
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
    look = {"layers": list(fitted.layers)} if fitted.layers else {"pattern": fitted.pattern}
    rest = {key: value for key, value in piece.items() if key not in ("pattern", "layers")}
    own = {**rest, **look, "base": fitted.base, "method": method}
    pieces = [own if turn == number else each for turn, each in enumerate(document["pieces"])]
    return {**document, "palette": fitted.palette, "pieces": pieces}


def _can_be_laid(fitted: Fitted, document: Document, job: Job, piece: Piece) -> bool:
    number = job.pieces.index(piece)
    try:
        read = read_job(laid(fitted, document, number))
        layouts = plan_piece(read, read.pieces[number]).layouts
    except (BadJob, DividersError):
        return False
    return any(bool(layout.painted.any()) for layout in layouts)


def _layers(
    recipe: Recipe, names: Mapping[str | None, str], by: tuple[Fraction, Fraction] | None, units: str
) -> tuple[dict[str, Any], ...]:
    """The layers in the job's colours; their sizes and zones scaled across and down, where `by` says how much."""
    found = []
    for layer in recipe.layers:
        if by_hand(layer):
            found.append(_by_hand_in(recipe, layer, names, by, units))
            continue
        pattern = _recolored({**layer["pattern"]}, names)
        own: dict[str, Any] = {**layer, "pattern": pattern}
        if "zone" in layer:
            own["zone"] = _recolored(layer["zone"], names)
        if by:
            _scale(recipe, pattern, by[1], by[0] / by[1], units, [])
            for holder, key in ((own, "zone"), (pattern, "along")):
                if isinstance(holder.get(key), dict | list):
                    holder[key] = _zone_scaled(holder[key], recipe.units, by, units)
        found.append(own)
    return tuple(found)


def _by_hand_in(
    recipe: Recipe,
    layer: Mapping[str, Any],
    names: Mapping[str | None, str],
    by: tuple[Fraction, Fraction] | None,
    units: str,
) -> dict[str, Any]:
    """A hand layer in the job's colours and units. Motifs keep their sizes; places go along with the field."""
    own = dict(HAND_LAYER.in_units(dict(layer), recipe.units, units))
    own |= {key: names.get(own[key], own[key]) for key in ("color", "inside", "dark", "bright") if key in own}
    if by and isinstance(own.get("at"), list):
        own["at"] = _zone_scaled(own["at"], units, by, units)
    return own


def _zone_scaled(written: Any, units: str, by: tuple[Fraction, Fraction], into: str) -> Any:
    """Places and rectangles of a zone, each length by how it lies: across or down."""
    if isinstance(written, dict):
        ways = {"left": 0, "width": 0, "top": 1, "height": 1}
        return {
            key: _at_scale(value, units, by[ways[key]], into) if key in ways
            else _zone_scaled(value, units, by, into) if key in ("rect", "points", "at") else value
            for key, value in written.items()
        }  # fmt: skip
    if isinstance(written, list) and len(written) == 2 and not isinstance(written[0], list):
        return [_at_scale(value, units, scale, into) for value, scale in zip(written, by, strict=True)]
    return [_zone_scaled(each, units, by, into) for each in written] if isinstance(written, list) else written


def _at_scale(value: Any, units: str, scale: Fraction, into: str) -> str:
    return write_kept(read_length(value, units).mm * scale, into)


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
