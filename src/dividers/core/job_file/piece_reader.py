"""One piece in a job file: its surface with panels and openings, its pattern and its method."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.job.free_steps import LAST, WHENS, FreeStep
from dividers.core.job.kinds import ListOf, Measure, Moment, OneOf, PaletteKey, Plain, Rate, Text, WholeNumber
from dividers.core.job.layers import ALL, HandLayer, Layer
from dividers.core.job.method import Method, PatternChoice
from dividers.core.job.model import Piece
from dividers.core.job.products import TIME, USUAL_TAPE, Seal, Tape
from dividers.core.job.reader import Reader
from dividers.core.job.schema import Key, Object, Objects, Tagged, Values, keys_of
from dividers.core.job.surface import BASE_STATES, FINISH_STATES, SIDES, SURFACE_KINDS, TEXTURES, Fold, Surface
from dividers.core.job_file.layer_reader import LayersKind
from dividers.core.job_file.panel_reader import PANEL
from dividers.core.patterns import BY_KEY
from dividers.core.patterns.base.parameters import read_values
from dividers.core.survey.folded import folded
from dividers.core.survey.outline import measured

MOST_PANELS = 20
MOST_STEPS = 30
SURFACE_FORM = {"measure": "Surface"}


class FoldSides(Plain):
    """A panel, its side, another panel and its side."""

    allowed = f"a panel, its side, another panel and its side; sides: {', '.join(SIDES)}"

    def parse(self, written: object, reader: Reader) -> Fold:
        names = [
            str(panel.get("name", f"panel {n}"))
            for n, panel in enumerate(reader.items("panels", MOST_PANELS), 1)
            if isinstance(panel, dict)
        ]
        parts = [str(part) for part in written] if isinstance(written, list) else []
        if len(parts) != 4 or {parts[0], parts[2]} - set(names) or {parts[1], parts[3]} - set(SIDES) or parts[0] == parts[2]:
            raise BadInput(
                'must be a panel, its side, another panel and its side, like ["front", "right", "side", "left"], '
                f"with panels from: {', '.join(names)}."
            )
        return Fold(*parts)


def _surface(entry: Reader, values: Values) -> Surface:
    finish = values.pop("finish")
    names = [panel.name for panel in values["panels"]]
    for number, name in enumerate(names):
        if name in names[:number]:
            entry.fault(f"panels.{number}.name", f"“{name}” is the name of another panel already.")
    base = finish["base"] or finish["painted_on"] or ""
    return Surface(**values, finish=finish["state"], base=base)


def _method(entry: Reader, values: Values) -> Method:
    """The method with the job's first tape where none is chosen, and the job's seals."""
    products = entry.findings.products.values()
    tape = values.pop("tape") or next((product for product in products if isinstance(product, Tape)), USUAL_TAPE)
    return Method(**values, tape=tape, seals={product.method: product for product in products if isinstance(product, Seal)})


def _piece(entry: Reader, values: Values) -> Piece:
    """The piece with the shapes that its readings give; joined ones together."""
    _check_coats(entry, values["method"], values["base"])
    values["by_hand"] = tuple(each for each in values["layers"] if isinstance(each, HandLayer))
    layers = values["layers"] = tuple(each for each in values["layers"] if isinstance(each, Layer))
    if entry.has("layers") and entry.has("pattern"):
        entry.fault("layers", "excludes pattern: give one of them; a pattern is a piece of one layer.")
    if layers:
        values["pattern"] = layers[0].pattern
        if len(layers) == 1 and layers[0].zone.kind == ALL:
            values["method"] = layers[0].method
    elif not entry.has("pattern"):
        entry.fault("pattern", f"is missing. Give a kind: {', '.join(BY_KEY)}.")
    values["pattern"] = values["pattern"] or NO_PATTERN
    number = int(entry.path.rpartition(".")[2]) + 1
    return Piece(**{**values, "key": values["key"] or f"piece-{number}"})


def _check_coats(entry: Reader, method: Method, base: str) -> None:
    """Only the base may have no coat: it may be on already."""
    for color, coats in method.coats.items():
        if coats == 0 and color != base:
            entry.fault(f"method.coats.{color}", "0 is outside what is allowed: 1 to 20.")


def with_shapes(piece: Piece, entry: Reader) -> Piece:
    """The piece with the shapes that its readings give, joined panels together. Faults go to the reader."""
    folds = piece.surface.folds
    joined = {name for fold in folds for name in (fold.panel, fold.other_panel)}
    upright = _standing_on_folds(folds)
    panels = []
    for panel in piece.surface.panels:
        if panel.name in joined:
            panels.append(replace(panel, on_fold=panel.name in upright))
            continue
        try:
            panels.append(measured(panel, piece.method, entry.findings.graduation, entry.findings.unit))
        except BadInput as fault:
            entry.fault(fault.path, fault.message)
            panels.append(panel)
    shaped = folded(panels, folds, piece.method, entry.findings.graduation, entry.findings.unit)
    return replace(piece, surface=replace(piece.surface, panels=shaped))


def _standing_on_folds(folds: Sequence[Fold]) -> set[str]:
    """The panels whose bottom is another's top: measured from there, where the pattern runs on."""
    found = {fold.panel for fold in folds if (fold.side, fold.other_side) == ("bottom", "top")}
    return found | {fold.other_panel for fold in folds if (fold.side, fold.other_side) == ("top", "bottom")}


def _read_id(written: object) -> str:
    if not isinstance(written, str) or not re.fullmatch(r"[a-z0-9][a-z0-9-]{0,59}", written):
        raise BadInput("must have only small letters, digits and hyphens, at most 60.")
    return written


@dataclass(frozen=True)
class TaggedOrNone(Tagged):
    """As `Tagged`, and nothing where the key is missing."""

    def read(self, reader: Reader, key: str, default: Any) -> Any:
        return super().read(reader, key, default) if reader.get(key) is not None else default


def _pattern(kind: str, entry: Reader) -> PatternChoice:
    if not kind:
        return PatternChoice("stripes", {})
    values = read_values(BY_KEY[kind], entry)
    entry.close()
    return PatternChoice(kind, values)


def _free_step(entry: Reader, values: Values) -> FreeStep:
    return FreeStep(values["name"], values["when"], values["minutes"], int(values["wait"] or 0))


FREE_STEP = Object(
    (
        Key("name", Text(), "What is done", needed="Say what is done.", default="step"),
        Key("when", OneOf(WHENS), "When", "first of all, before tape, when all tape is off, or last", LAST),
        Key("minutes", Rate(0, 10_000), "Minutes", default=15.0),
        Key("wait", TIME, "Then wait", "before what follows, like 2 h"),
    ),
    _free_step,
)
FINISH = Object(
    (
        Key("state", OneOf(FINISH_STATES), "Finish", default="painted", forms=SURFACE_FORM),
        Key(
            "painted_on",
            Moment(),
            "Base painted on",
            "as `base` with a date; `base` comes first",
        ),
        Key(
            "base",
            Moment(BASE_STATES),
            "Is the base colour on already?",
            "else to paint, but not on paper",
            forms=SURFACE_FORM,
            since="0.2.0",
        ),
    )
)
SURFACE = Object(
    (
        Key("kind", OneOf(SURFACE_KINDS), "Surface", default="wall", forms=SURFACE_FORM),
        Key("texture", OneOf(TEXTURES), "Texture", default="smooth", forms=SURFACE_FORM),
        Key("finish", FINISH),
        Key(
            "panels",
            Objects(PANEL, MOST_PANELS, "needs at least one panel with width and height."),
            needed="Give at least one panel with width and height.",
        ),
        Key("folds", ListOf(FoldSides(), MOST_PANELS), "Joined at a fold", "the pattern continues across it", default=()),
    ),
    _surface,
)
PATTERN_KIND = Key("kind", OneOf(tuple(BY_KEY)), "Pattern", needed=f"Choose one of: {', '.join(BY_KEY)}.", default="")
PATTERNS_OF = {each.key: Object((PATTERN_KIND, *each.keys)) for each in BY_KEY.values()}
PATTERN = Tagged(PATTERN_KIND, PATTERNS_OF, _pattern)
METHOD = Object(keys_of(Method), _method)
NO_PATTERN = PatternChoice("stripes", {})
PIECE = Object(
    (
        Key("id", Measure(_read_id, "small letters, digits, hyphens"), help="its address, else numbered", attribute="key"),
        Key("name", Text(), "Name", needed="Name the piece, like Booth front.", default=""),
        Key(
            "base",
            PaletteKey(),
            "Base colour",
            "below all of it; painted first where it isn't on yet",
            needed="Name the base colour's key in the palette.",
            default="",
        ),
        Key("surface", SURFACE, needed="Give a kind and at least one panel."),
        Key("method", METHOD),
        Key("pattern", TaggedOrNone(PATTERN_KIND, PATTERNS_OF, _pattern), help="or else layers"),
        Key("layers", LayersKind(PATTERN, METHOD), help="in painting order, instead of pattern", default=(), since="0.2.0"),
        Key("steps", Objects(FREE_STEP, MOST_STEPS), "Steps of your own", default=(), since="0.2.0"),
        Key(
            "copies",
            WholeNumber(1, 999),
            "Copies of this piece",
            "how many copies, such as drawers",
            1,
        ),
    ),
    _piece,
)
