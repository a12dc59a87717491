"""Reads one piece of a job: its surface with panels and openings, its pattern and its method."""

import re
from collections.abc import Mapping
from dataclasses import replace
from datetime import datetime
from fractions import Fraction

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import Graduation
from dividers.core.job.method import (
    DATUMS,
    EXITS,
    FITS,
    MARK_ORDERS,
    MARK_SIDES,
    MARK_WAYS,
    PREPS,
    PULLS,
    TAPINGS,
    TOOLS,
    Limits,
    Method,
    PatternChoice,
    Rates,
)
from dividers.core.job.model import Piece
from dividers.core.job.products import SEALS, Colour, Paint, Seal, Tape
from dividers.core.job.reader import Reader
from dividers.core.job.surface import FINISH_STATES, SIDES, SURFACE_KINDS, TEXTURES, Fold, Panel, Surface
from dividers.core.job_file.panel_reader import read_panel
from dividers.core.patterns import BY_KEY
from dividers.core.patterns.base.parameters import read_values
from dividers.core.survey.outline import measured

MOST_PANELS = 20

# When a job names no tape: the commonest roll, whose "1 in" is 24 mm (common practice, no source).
USUAL_TAPE = Tape("masking tape", Fraction(24), "medium", False, Fraction(55_000))


def read_piece(
    entry: Reader,
    usual_key: str,
    palette: Mapping[str, Colour],
    products: Mapping[str, Paint | Tape | Seal],
    graduation: Graduation,
) -> Piece:
    """Read a piece; `usual_key` is its key where the file gives no id. Faults go to the reader's findings."""
    entry.need("name", "Name the piece, like Booth front.")
    entry.need("base", "Name the base colour's key in the palette.")
    entry.need("surface", "Give a kind and at least one panel.")
    entry.need("pattern", f"Give a kind: {', '.join(BY_KEY)}.")
    before = len(entry.findings.faults)
    surface = _surface(entry.child("surface"))
    method = _method(entry.child("method"), palette, products, entry.raw.get("base"))
    if len(entry.findings.faults) == before:
        surface = _measured(entry, surface, method, graduation)
    piece = Piece(
        key=entry.value("id", _read_key, usual_key),
        name=entry.text("name"),
        base=_palette_key(entry, "base", palette),
        surface=surface,
        pattern=_pattern(entry.child("pattern"), palette),
        method=method,
        copies=entry.count("copies", 1, 999, 1),
    )
    entry.close()
    return piece


def _measured(entry: Reader, surface: Surface, method: Method, graduation: Graduation) -> Surface:
    """The surface with the shapes that its readings give; panels joined at folds stay true rectangles."""
    joined = {name for fold in surface.folds for name in (fold.panel, fold.other_panel)}
    panels = []
    for panel in surface.panels:
        try:
            panels.append(panel if panel.name in joined else measured(panel, method, graduation, entry.findings.unit))
        except BadInput as fault:
            entry.fault(fault.path, fault.message)
            panels.append(panel)
    return replace(surface, panels=tuple(panels))


def _read_key(written: object) -> str:
    if not isinstance(written, str) or not re.fullmatch(r"[a-z0-9][a-z0-9-]{0,59}", written):
        raise BadInput("must have only small letters, digits and hyphens, at most 60.")
    return written


def _palette_key(entry: Reader, key: str, palette: Mapping[str, Colour]) -> str:
    return entry.choice(key, tuple(palette), next(iter(palette), ""))


def _surface(entry: Reader) -> Surface:
    entry.need("kind", f"Choose one of: {', '.join(SURFACE_KINDS)}.")
    if entry.need("panels", "Give at least one panel with width and height.") and not entry.items("panels", MOST_PANELS):
        entry.fault("panels", "needs at least one panel with width and height.")
    panels = tuple(read_panel(panel, number) for number, panel in enumerate(entry.children("panels", MOST_PANELS), 1))
    finish = entry.child("finish")
    surface = Surface(
        kind=entry.choice("kind", SURFACE_KINDS, "wall"),
        texture=entry.choice("texture", TEXTURES, "smooth"),
        finish=finish.choice("state", FINISH_STATES, "painted"),
        panels=panels,
        folds=tuple(_fold(entry, index, fold, panels) for index, fold in enumerate(entry.items("folds", MOST_PANELS))),
        painted_on=finish.value("painted_on", _read_moment, None),
    )
    names = [panel.name for panel in panels]
    for number, name in enumerate(names):
        if name in names[:number]:
            entry.fault(f"panels.{number}.name", f"“{name}” is the name of another panel already.")
    finish.close()
    entry.close()
    return surface


def _read_moment(written: object) -> str:
    try:
        return datetime.fromisoformat(str(written)).isoformat(timespec="minutes")
    except ValueError:
        raise BadInput(f"“{str(written)[:40]}” isn't a date. Write it like 2027-03-06 or 2027-03-06T08:00.") from None


def _fold(entry: Reader, index: int, fold: object, panels: tuple[Panel, ...]) -> Fold:
    names = {panel.name for panel in panels}
    parts = [str(part) for part in fold] if isinstance(fold, list) else []
    if len(parts) != 4 or {parts[0], parts[2]} - names or {parts[1], parts[3]} - set(SIDES) or parts[0] == parts[2]:
        entry.fault(
            f"folds.{index}",
            'must be a panel, its side, another panel and its side, like ["front", "right", "side", "left"], '
            f"with panels from: {', '.join(names)}.",
        )
        return Fold("", "", "", "")
    return Fold(*parts)


def _pattern(entry: Reader, palette: Mapping[str, Colour]) -> PatternChoice:
    entry.need("kind", f"Choose one of: {', '.join(BY_KEY)}.")
    kind = entry.choice("kind", tuple(BY_KEY), "")
    if not kind:
        return PatternChoice("stripes", {})
    values = read_values(BY_KEY[kind], entry, palette)
    entry.close()
    return PatternChoice(kind, values)


def _known_color(key: object, palette: Mapping[str, Colour]) -> str:
    if not isinstance(key, str) or key not in palette:
        raise BadInput(f"isn't a colour of the palette: {', '.join(palette)}.")
    return key


def _read_prep(written: object) -> str:
    if written not in PREPS:
        raise BadInput(f"“{str(written)[:40]}” isn't known. Choose from: {', '.join(PREPS)}.")
    return str(written)


def _rates(entry: Reader) -> Rates:
    usual = Rates()
    rates = Rates(
        float(entry.number("taped_m_per_h", 1, 1000, Fraction(usual.taped_m_per_h))),
        float(entry.number("cut_min", 0, 60, Fraction(usual.cut_min))),
        float(entry.number("round_min", 0, 600, Fraction(usual.round_min))),
        float(entry.number("painted_m2_per_h", 1, 200, Fraction(usual.painted_m2_per_h))),
        float(entry.number("sealed_m_per_h", 1, 1000, Fraction(usual.sealed_m_per_h))),
        float(entry.number("pulled_m_per_h", 1, 2000, Fraction(usual.pulled_m_per_h))),
        float(entry.number("mark_min", 0, 60, Fraction(usual.mark_min))),
    )
    entry.close()
    return rates


def _limits(entry: Reader) -> Limits:
    usual = Limits()
    limits = Limits(
        entry.length("unnoticed", usual.unnoticed_mm),
        entry.length("per_repeat", usual.per_repeat_mm),
        entry.number("slope", 0, 10, usual.slope_deg),
        entry.length("stretch", usual.stretch_mm),
    )
    entry.close()
    return limits


def _coats(entry: Reader, palette: Mapping[str, Colour], base: object) -> dict[str, int]:
    """How many coats each colour gets; the base may be on already, and get none."""
    return {key: entry.count(key, int(key != base), 20, 2) for key in entry.raw if key in palette}


def _method(entry: Reader, palette: Mapping[str, Colour], products: Mapping[str, Paint | Tape | Seal], base: object) -> Method:
    tapes = {key: product for key, product in products.items() if isinstance(product, Tape)}
    paints = {key: product for key, product in products.items() if isinstance(product, Paint)}
    chosen = entry.choice("tape", tuple(tapes), "")
    paint, coats = entry.child("paint"), entry.child("coats")
    for colours in (paint, coats):
        for key in colours.raw:
            if key not in palette:
                colours.fault(key[:60], f"isn't a colour of the palette: {', '.join(palette)}.")
    used = [key for key in paint.raw if key in palette]
    names = {key: paint.choice(key, tuple(paints), "") for key in used}
    method = Method(
        tape=tapes.get(chosen) or next(iter(tapes.values()), USUAL_TAPE),
        fit=entry.choice("fit", FITS, "square"),
        border_mm=entry.length("border"),
        limits=_limits(entry.child("limits")),
        taping=entry.choice("taping", TAPINGS, "auto"),
        paint={key: paints[name] for key, name in names.items() if name},
        coats=_coats(coats, palette, base),
        seal=entry.choice("seal", SEALS, "auto"),
        pull=entry.choice("pull", PULLS, "auto"),
        marks=entry.choice("marks", MARK_SIDES, "auto"),
        mark_order=entry.choice("mark_order", MARK_ORDERS, "centre-first"),
        mark_way=entry.choice("mark_way", MARK_WAYS, "auto"),
        datum=entry.choice("datum", DATUMS, "left"),
        order=tuple(
            entry.entry(f"order.{index}", lambda key: _known_color(key, palette), key, "")
            for index, key in enumerate(entry.items("order", 60))
        ),
        rates=_rates(entry.child("rates")),
        tool=entry.choice("tool", TOOLS, "roller"),
        tape_waste_percent=entry.count("tape_waste", 0, 200, 10),
        prep=tuple(
            entry.entry(f"prep.{n}", _read_prep, prep, "clean") for n, prep in enumerate(entry.items("prep", len(PREPS)))
        ),
        clear_coats=entry.count("clear_coats", 0, 10, 0),
        exit=entry.choice("exit", EXITS, "bottom"),
        window_percent=entry.count("window", 10, 100, 80),
        seals={product.method: product for product in products.values() if isinstance(product, Seal)},
    )
    entry.close()
    return method
