"""The Measure station's board: what the readings say, the error drawn large, the ways out, and the table of readings."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from markupsafe import Markup

from dividers.core.advice.verdict import Verdict, Way, repeats_of, verdict_of
from dividers.core.base.lengths import write_kept
from dividers.core.job.outline_shapes import OUTLINE_SHAPES
from dividers.core.job.surface import Panel
from dividers.core.output.error_drawing import draw_error
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.survey.kept_readings import kind_words
from dividers.core.survey.readings import DistanceRow, ReadingRow, distance_rows, reading_rows
from dividers.formats.drawings.scene_svg import scene_svg
from dividers.services.jobs.editing import Opened
from dividers.web.forms.fields import Field
from dividers.web.stations.measure_fields import READ


@dataclass(frozen=True)
class BoardRow:
    """A reading with its fields, and the actions of its buttons."""

    row: ReadingRow
    length: Field | None
    at: Field | None
    aside: str
    drop: str
    take: str


@dataclass(frozen=True)
class BoardPanel:
    """One panel's readings and what they say."""

    number: int
    panel: Panel
    rows: tuple[BoardRow, ...]
    verdict: Verdict | None
    picture: Markup
    scale: int
    by: Field | None
    distances: tuple[DistanceRow, ...]


@dataclass(frozen=True)
class Advice:
    """A panel that is out of square, what is in use there, and what is advised for the pattern as it is now."""

    panel: str
    used: str
    way: Way
    border: str
    why: str


def advice_of(plan: PiecePlan, opened: Opened) -> list[Advice]:
    """The panels for which another way than the one in use is advised with this pattern."""
    job, piece = opened.job, plan.piece
    found = []
    for panel in piece.surface.panels:
        verdict = _verdict(plan, opened, panel)
        ways = {way.fit: way for way in verdict.ways} if verdict else {}
        if verdict and ways and verdict.recommended != piece.method.fit:
            way, used = ways[verdict.recommended], ways.get(piece.method.fit)
            border = write_kept(way.border_mm or Fraction(0), job.units)
            found.append(Advice(panel.name, used.title if used else "", way, border, verdict.why))
    return found


def _verdict(plan: PiecePlan, opened: Opened, panel: Panel) -> Verdict | None:
    job, piece = opened.job, plan.piece
    repeats = repeats_of(*_where(plan, panel))
    return verdict_of(panel, repeats, piece.method.limits, job.graduation, job.units, piece.surface.kind)


def _said_of(typed: Mapping[str, Any]) -> list[str]:
    """What is wrong with an outline as a whole."""
    keys = {key for shape in OUTLINE_SHAPES.values() for key, _ in shape.asked}
    return [*typed.get("said", ()), *(message for key, message in typed.get("faults", {}).items() if key not in keys)]


def survey_board(plan: PiecePlan, opened: Opened, fields: Sequence[Field], adding: Mapping[str, Any]) -> dict[str, Any]:
    """What the board's template shows."""
    job, piece = opened.job, plan.piece
    named = {field.name: field for field in fields if field.section == READ}
    panels = []
    for number, panel in enumerate(piece.surface.panels):
        rows = reading_rows(panel, job.graduation, job.units, piece.surface.kind)
        verdict, picture, scale = None, Markup(""), 1
        if rows and any(not row.reading.aside for row in rows):
            verdict = _verdict(plan, opened, panel)
            scene, scale = draw_error(panel, rows, job.graduation, job.units)
            picture = scene_svg(scene, f"{panel.name}: its error drawn {scale} times as large")
        between = distance_rows(panel, job.graduation, job.units)
        board_rows = tuple(_row(number, row, named) for row in rows)
        by = named.get(f"surface.panels.{number}.survey.by")
        panels.append(BoardPanel(number, panel, board_rows, verdict, picture, scale, by, between))
    numbers = {panel.name: number for number, panel in enumerate(piece.surface.panels)}
    return {
        "board_panels": panels,
        # The outlines in the drawing, by the numbers of their panels: one that is turned on its sheet is measured in the list.
        "measured_here": [
            None if placed.quarters else numbers[placed.panel.name] for sheet in plan.sheets for placed in sheet.placed
        ],
        "kinds": list(kind_words(piece.surface.kind).items()),
        "adding": {key: value for key, value in adding.items() if key != "outline"},
        "outline_shapes": OUTLINE_SHAPES,
        "outline_typed": adding.get("outline", {}),
        "outline_said": _said_of(adding.get("outline", {})),
        "border_text": lambda way: write_kept(way.border_mm or Fraction(0), job.units),
    }


def _where(plan: PiecePlan, panel: Panel) -> tuple[Any, int]:
    """The layout that a panel lies in, and its number there."""
    for layout in plan.layouts:
        for place, placed in enumerate(layout.sheet.placed):
            if placed.panel.name == panel.name:
                return layout, place
    raise LookupError(panel.name)


def _row(panel: int, row: ReadingRow, named: Mapping[str, Field]) -> BoardRow:
    key, number = row.reading.place.split(".")
    base = f"surface.panels.{panel}.survey.{key}.{number}"
    length = next((field for name, field in named.items() if name.startswith(f"{base}.") and not name.endswith(".at")), None)
    place = f"{panel}:{key}:{number}"
    return BoardRow(
        row, length, named.get(f"{base}.at"), f"aside:{place}", f"drop-reading:{place}", f"take-reading:{place}:{row.likely}"
    )
