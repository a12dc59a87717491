"""Sundries: small items that a method needs, and why. Common practice, no source."""

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from dividers.core.base.colour import luminance
from dividers.core.base.lengths import write_inches
from dividers.core.base.quantities import area
from dividers.core.base.units import INCH_MM
from dividers.core.cells.layout import widths_of
from dividers.core.job.model import Job
from dividers.core.order.round_choices import RoundChoice
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.plan.plan import Plan

ROLLERS_MM = (50, 100, 180, 230)
ROLLER_SHARE = 0.5  # of a part's width: a wider one runs over the tape beside it
BRUSHES_MM = (6, 12, 25, 38, 50)
TRIAL_WORDS = {"clear": "clear coat", "matte-medium": "matte medium"}
LIGHT = 0.35  # a base of more luminance shows a graphite line


def sundries_of(plan: Plan, choices: Mapping[str, tuple[RoundChoice, ...]]) -> list[tuple[str, str]]:
    """(what, what for) over all pieces, each item once."""
    found: dict[str, list[str]] = {}
    for piece in plan.pieces:
        for what, why in _of_piece(plan.job, piece, choices.get(piece.piece.key, ())):
            reasons = found.setdefault(what, [])
            if why not in reasons:
                reasons.append(why)
    return [(what, "; ".join(reasons)) for what, reasons in found.items()]


def _of_piece(job: Job, piece: PiecePlan, choices: Sequence[RoundChoice]) -> Iterator[tuple[str, str]]:
    own = piece.piece
    seals = {choice.seal.method for choice in choices}
    for trial in (choice.trial for choice in choices if choice.trial):
        seals.add(trial.seal.method)
        if trial.seal.method in ("clear", "matte-medium"):
            yield f"a little {TRIAL_WORDS[trial.seal.method]}", f"{own.name}: half a strip is sealed with it to compare"
    if piece.taping.chosen.rounds:
        if own.surface.kind in ("paper", "canvas"):
            yield (
                "soft cloth or a fingernail",
                f"{own.name}: pressing down the tape's edge without marking the {own.surface.kind}",
            )
        else:
            yield "putty knife or blunt blade", "pressing down the tape's edge"
        if _mitred(piece) or piece.taping.chosen.taping == "pieces":
            yield "new knife blades", f"{own.name}: ends cut at an angle"
    if "caulk" in seals:
        yield "caulking gun, damp rag", f"{own.name}: caulk rubbed in and wiped off"
    if "moisten" in seals:
        yield "damp sponge", f"{own.name}: moistening the tape's edge"
    if any(choice.window.pull_method != "wet" for choice in choices):
        yield "knife to score with", f"{own.name}: pulled once it has dried"
    yield from _tools(job, piece)
    yield _pencil(job, piece)
    box = own.surface.panels[0]
    if own.surface.kind in ("wall", "ceiling", "stairs", "furniture", "floor"):
        cloth_m2 = max(sum(float(panel.width_mm) for panel in own.surface.panels) / 1000, 1.0)
        deep = "3 ft" if job.units == "in" else "1 m"
        yield (
            "drop cloth",
            f"{own.name}: about {area(cloth_m2, job.units)}, {deep} wide along {box.name if len(own.surface.panels) == 1 else 'all panels'}",
        )
    yield "cloths", "wiping tape, hands and drips; a tack cloth for dust"
    if own.method.prep:
        yield "sanding paper, filler as needed", f"{own.name}: {', '.join(own.method.prep)}"
    if any(paint.binder != "water" for paint in own.method.paint.values()):
        yield "thinner by the label, lidded tin for rags", f"{own.name}: solvent paint: ventilate the room, no flames"


def _mitred(piece: PiecePlan) -> bool:
    return any(
        bool((np.abs(strips.ends) > 5).any()) for each in piece.taping.chosen.rounds for strips in each.strips if len(strips)
    )


def _tools(job: Job, piece: PiecePlan) -> Iterator[tuple[str, str]]:
    """Rollers and brushes no wider than what they paint."""
    for each in piece.taping.chosen.rounds:
        widths = [
            float(w) for layout, now in zip(piece.layouts, each.painted, strict=True) for w in widths_of(layout.cells)[now]
        ]
        if not widths:
            continue
        narrow = min(widths)
        roller = max(
            (size for size in ROLLERS_MM if size <= narrow * ROLLER_SHARE or size == ROLLERS_MM[0] <= narrow), default=None
        )
        if roller and piece.piece.method.tool == "roller":
            yield (
                f"{_width(roller, job.units)} roller, two sleeves",
                f"{piece.piece.name}: parts from {_width(narrow, job.units)} wide",
            )
        brush = max((size for size in BRUSHES_MM if size <= max(narrow * 0.6, BRUSHES_MM[0])), default=BRUSHES_MM[0])
        yield f"{_width(brush, job.units)} flat brush", f"{piece.piece.name}: edges and touching up"


def _width(mm: float, unit: str) -> str:
    """A tool's width as shops name it: to a quarter inch, or in mm."""
    return f"{write_inches(max(round(mm / INCH_MM * 4), 1) * INCH_MM / 4)} in" if unit == "in" else f"{mm:.0f} mm"


def _pencil(job: Job, piece: PiecePlan) -> tuple[str, str]:
    base = job.palette[piece.piece.base]
    if luminance(base.hex) > LIGHT:
        return "soft graphite pencil, eraser", f"shows on {base.name.lower()} and rubs out"
    return "white or yellow chalk pencil", f"shows on {base.name.lower()}; no red or blue chalk, it stains"
