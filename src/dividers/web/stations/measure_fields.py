"""What the Measure station asks: the surface, its panels with margins and openings, every reading, and what goes unnoticed."""

import json
from collections.abc import Iterator, Sequence
from fractions import Fraction

from dividers.core.base.lengths import read_off
from dividers.core.job.document import READINGS, Document, look_up
from dividers.core.job.method import Limits
from dividers.core.job.model import Job, Piece
from dividers.core.job.surface import FINISH_STATES, SURFACE_KINDS, TEXTURES, Opening, Panel
from dividers.core.survey.kept_readings import kind_of, length_key
from dividers.web.stations.fields import BASE, Field, worded

READ = "Readings"  # the section of the fields that stand in the table of readings

OPENING_LABELS = {
    "left": "Left edge",
    "right": "Right edge",
    "centre": "Centre, across",
    "width": "Width",
    "top": "Top edge",
    "bottom": "Bottom edge",
    "middle": "Centre, down",
    "height": "Height",
}


def survey_fields(job: Job, piece: Piece) -> Iterator[Field]:
    """The station's fields, in order."""
    yield Field("surface.kind", "Surface", "select", options=worded(SURFACE_KINDS), section="Surface")
    yield Field("surface.texture", "Texture", "select", options=_usual_first(TEXTURES, "smooth"), section="Surface")
    yield Field("surface.finish.state", "Finish", "select", options=_usual_first(FINISH_STATES, "painted"), section="Surface")
    if piece.copies > 1 or piece.surface.kind == "furniture":
        yield Field("copies", "Copies, such as drawers", "count", "how many", optional=True, section="Surface")
    names = [panel.name for panel in piece.surface.panels]
    if len(names) > 1:
        help_text, options = "the pattern continues across it", _fold_options(names)
        yield Field("surface.folds", "Joined at a fold", "folds", help_text, options, section="Folds", starts={"names": names})
    document: Document = job.document["pieces"][job.pieces.index(piece)]
    for number, panel in enumerate(piece.surface.panels):
        yield from _panel(job, piece, number, panel, look_up(document, f"surface.panels.{number}"))
    if any(panel.readings for panel in piece.surface.panels):
        yield from _limits(job, piece)


def _panel(job: Job, piece: Piece, number: int, panel: Panel, document: Document) -> Iterator[Field]:
    at, alone = f"surface.panels.{number}", len(piece.surface.panels) == 1
    size = "Size" if alone else f"Size of {panel.name}"
    if not alone:
        yield Field(f"{at}.name", "Name", "text", section=size, remove=f"remove-panel:{number}")
    curved = bool(document.get("curve"))
    if not curved:
        yield Field(f"{at}.width", "Width", section=size)
    yield Field(f"{at}.height", "Height", section=size)
    if curved or piece.surface.kind in ("furniture", "stairs"):
        help_text = (
            f"makes {read_off(panel.width_mm, job.graduation).text} along the curve" if curved else "only for a curved front"
        )
        yield Field(f"{at}.curve.chord", "Straight across", help=help_text, optional=True, section=size)
        yield Field(f"{at}.curve.rise", "Curves out by", optional=True, section=size)
    margins = "Margins, left unpainted" if alone else f"Margins of {panel.name}"
    for side in ("top", "right", "bottom", "left"):
        yield Field(f"{at}.margin.{side}", side.capitalize(), optional=True, section=margins)
    for row, opening in enumerate(panel.openings):
        yield from _opening(f"{at}.openings.{row}", number, row, opening, "" if alone else f" in {panel.name}", document)
    yield from _readings(at, document)


def _opening(at: str, panel: int, row: int, opening: Opening, where: str, document: Document) -> Iterator[Field]:
    section = f"Opening: {opening.name}{where}"
    help_text: Document = document["openings"][row]
    acts = (("Near edge", "near"), ("Both edges", "edges"), ("Centre", "centre"))
    yield Field(
        f"{at}.name", "Name", "text", optional=True, section=section, remove=f"remove-opening:{panel}:{row}",
        acts=tuple((label, f"measure-opening:{panel}:{row}:{way}") for label, way in acts),
    )  # fmt: skip
    for key, label in OPENING_LABELS.items():
        if help_text.get(key) is not None:
            yield Field(f"{at}.{key}", label, section=section)


def _readings(at: str, document: Document) -> Iterator[Field]:
    """The length and the place of every reading; the table of readings arranges them."""
    survey = document.get("survey") or {}
    yield Field(f"{at}.survey.by", "Measured by", "text", optional=True, section=READ)
    for key in READINGS:
        for number, row in enumerate(survey.get(key) or []):
            help_text = row if isinstance(row, dict) else {"length": row}
            base = f"{at}.survey.{key}.{number}"
            yield Field(f"{base}.{length_key(key, kind_of(key, help_text))}", "Reads", section=READ)
            if key != "diagonals":
                yield Field(f"{base}.at", "At", optional=key in ("widths", "heights"), section=READ)


def _limits(job: Job, piece: Piece) -> Iterator[Field]:
    usual, section = Limits(), "What the eye won't notice"

    def said(mm: Fraction) -> str:
        return f"{read_off(mm, job.graduation).text} is common practice"

    yield Field("method.limits.unnoticed", "A taper up to", help=said(usual.unnoticed_mm), optional=True, section=section)
    yield Field(
        "method.limits.per_repeat", "A repeat differs by", help=said(usual.per_repeat_mm), optional=True, section=section
    )
    yield Field("method.limits.stretch", "A remainder stretched", help=said(usual.stretch_mm), optional=True, section=section)
    help_text = f"{float(usual.slope_deg):g}° is common practice"
    yield Field("method.limits.slope", "Lines slope by, degrees", "number", help_text, optional=True, section=section)
    if piece.method.fit == "hide":
        yield Field("method.border", "Border that hides it", help="0 if trim will cover it", optional=True, section=section)


def _usual_first(options: Sequence[str], usual: str) -> tuple[tuple[str, str], ...]:
    """Choices, the one that holds when nothing is said first."""
    return worded([usual, *(option for option in options if option != usual)])


def _fold_options(names: Sequence[str]) -> tuple[tuple[str, str], ...]:
    """Every way to join a panel to one before it: its side to the side across, like the right of a wall to the left of the next."""
    options = [(BASE, "not joined")]
    for number, name in enumerate(names):
        for before in names[:number]:
            for side, across in (("right", "left"), ("left", "right"), ("top", "bottom"), ("bottom", "top")):
                options.append((json.dumps([before, side, name, across]), f"{name}: on the {side} of {before}"))
    return tuple(options)
