"""What the Measure station asks: the surface, its panels with margins and openings, every reading, and what goes unnoticed."""

import json
from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Any

from dividers.core.base.lengths import read_off
from dividers.core.job.document import READINGS, Document, look_up
from dividers.core.job.in_the_way import offered_on
from dividers.core.job.method import UNSEEN
from dividers.core.job.model import Job, Piece
from dividers.core.job.surface import BASE_ON, SIDES, TO_PAINT, WRAP, Opening, Panel
from dividers.core.job_file.panel_reader import ARCH, OPENING
from dividers.core.survey.kept_readings import kind_of, length_key
from dividers.web.forms.fields import BASE, SINCE, Field
from dividers.web.forms.schema_fields import declared, field_at, field_of

MOST_ON_DRAWING = 4  # panels whose sizes have room above the drawing
READ = "Readings"  # the section of the fields that stand in the table of readings


def survey_fields(job: Job, piece: Piece) -> Iterator[Field]:
    """The station's fields, in order."""
    limits = [field for field in declared("measure", job) if field.section in UNSEEN.values()]
    for field in declared("measure", job):
        if field.name == "surface.finish.base":
            yield replace(field, kind="since", help="", options=_base_options(piece))
        elif field not in limits:
            yield field
    if piece.copies > 1 or piece.surface.kind == "furniture":
        yield field_at("copies", job, label="Copies, such as drawers", help="how many", section="Surface")
    names = [panel.name for panel in piece.surface.panels]
    if len(names) > 1:
        joins = {"options": _fold_options(names), "starts": {"names": names}}
        yield field_at("surface.folds", job, kind="folds", section="Folds", **joins)
    document: Document = job.document["pieces"][[each.key for each in job.pieces].index(piece.key)]
    for number, panel in enumerate(piece.surface.panels):
        yield from _panel(job, piece, number, panel, look_up(document, f"surface.panels.{number}"))
    if any(panel.readings for panel in piece.surface.panels):
        yield from (field for field in limits if field.name != "method.border" or piece.method.fit == "hide")


def on_drawing(piece: Piece, fields: Sequence[Field]) -> dict[str, Any]:
    """The sizes that are typed on the drawing, (panel, width, height) for each panel; none where a panel is curved or no rectangle, or where there are many.

    With the names of these fields, and how many readings there are.
    """
    panels, by_name = piece.surface.panels, {field.name: field for field in fields}
    sides = [(f"surface.panels.{number}.width", f"surface.panels.{number}.height") for number in range(len(panels))]
    names = [name for pair in sides for name in pair]
    there = len(panels) <= MOST_ON_DRAWING and all(name in by_name for name in names)
    pairs = (
        [(panel.name, by_name[width], by_name[height]) for panel, (width, height) in zip(panels, sides, strict=True)]
        if there
        else []
    )
    return {
        "measures": pairs,
        "on_drawing": names if there else [],
        "readings": sum(len(panel.readings) for panel in panels),
        "in_the_way": offered_on(piece.surface.kind),
    }


def _base_options(piece: Piece) -> tuple[tuple[str, str], ...]:
    """Whether the base colour is on: what holds where nothing is said comes first."""
    paper = piece.surface.kind == "paper"
    usual = (("", "None: the paper stays bare"), (TO_PAINT, "Not yet")) if paper else ((TO_PAINT, "Not yet"),)
    return (*usual, (BASE_ON, "Yes, long dry"), (SINCE, "Yes, since …"))


def _panel(job: Job, piece: Piece, number: int, panel: Panel, document: Document) -> Iterator[Field]:
    at, alone = f"surface.panels.{number}", len(piece.surface.panels) == 1
    size = "Size" if alone else f"Size of {panel.name}"
    if not alone:
        yield field_at(f"{at}.name", job, help="", optional=False, section=size, remove=f"remove-panel:{number}")
    if panel.contour:
        yield field_at(f"{at}.outline", job, section=size, optional=False)
        yield field_at(f"{at}.between", job, section=size)
    curved = bool(document.get("curve"))
    if not curved and not panel.contour:
        yield field_at(f"{at}.width", job, help="", optional=False, section=size)
    if not panel.contour:
        yield field_at(f"{at}.height", job, section=size, optional=False)
    if curved or (not panel.contour and piece.surface.kind in ("furniture", "stairs")):
        along = {"help": f"makes {read_off(panel.width_mm, job.graduation).text} along the curve"} if curved else {}
        yield field_at(f"{at}.curve.chord", job, section=size, **along)
        yield field_at(f"{at}.curve.rise", job, section=size)
        yield field_at(f"{at}.curve.stations", job, section=size)
    margins = "Margins, left unpainted" if alone else f"Margins of {panel.name}"
    for side in SIDES:
        yield field_at(f"{at}.margin.{side}", job, help="", section=margins)
    edges = "Its own edges" if alone else f"Edges of {panel.name}"
    for side in SIDES:
        yield field_at(f"{at}.edges.{side}", job, kind="select", help="", section=edges)
    if WRAP in panel.edges:
        yield field_at(f"{at}.edges.wrap_depth", job, section=edges)
    for row, opening in enumerate(panel.openings):
        yield from _opening(job, f"{at}.openings.{row}", opening, "" if alone else f" in {panel.name}", document)
    yield from _readings(job, at, document)


def _opening(job: Job, at: str, opening: Opening, where: str, document: Document) -> Iterator[Field]:
    section = f"Opening: {opening.name}{where}"
    panel, row = at.split(".")[2::2]
    acts = (("Near edge", "near"), ("Both edges", "edges"), ("Centre", "centre"))
    yield field_at(
        f"{at}.name", job, help="", section=section, remove=f"remove-opening:{panel}:{row}",
        acts=tuple((label, f"measure-opening:{panel}:{row}:{way}") for label, way in acts),
    )  # fmt: skip
    yield field_of(f"{at}.shape", OPENING.keys[1], help="", section=section)
    if opening.ring and document["openings"][int(row)].get("shape") == ARCH:
        yield field_of(f"{at}.rise", OPENING.keys[2], section=section)
    for key in OPENING.keys[3:]:
        if document["openings"][int(row)].get(key.key) is not None:
            yield field_of(f"{at}.{key.key}", key, help="", optional=False, section=section)


def _readings(job: Job, at: str, document: Document) -> Iterator[Field]:
    """The length and the place of every reading; the table of readings arranges them."""
    survey = document.get("survey") or {}
    yield field_at(f"{at}.survey.by", job, section=READ)
    for key in READINGS:
        for number, row in enumerate(survey.get(key) or []):
            reading = row if isinstance(row, dict) else {"length": row}
            base = f"{at}.survey.{key}.{number}"
            yield field_at(f"{base}.{length_key(key, kind_of(key, reading))}", job, help="", optional=False, section=READ)
            if key != "diagonals":
                yield field_at(f"{base}.at", job, help="", optional=key in ("widths", "heights"), section=READ)


def _fold_options(names: Sequence[str]) -> tuple[tuple[str, str], ...]:
    """Every way to join a panel to one before it: its side to the side across, like the right of a wall to the left of the next."""
    options = [(BASE, "not joined")]
    for number, name in enumerate(names):
        for before in names[:number]:
            for side, across in (("right", "left"), ("left", "right"), ("top", "bottom"), ("bottom", "top")):
                options.append((json.dumps([before, side, name, across]), f"{name}: on the {side} of {before}"))
    if len(names) > 2:
        options.append((json.dumps([names[-1], "right", names[0], "left"]), f"{names[0]}: on the right of {names[-1]}"))
    return tuple(options)
