"""The Tape station's lists: the strips of one round in laying order, what to cut, one strip's cross-section."""

from dataclasses import dataclass
from typing import Any

from flask import request
from markupsafe import Markup

from dividers.core.base.lengths import GRADUATIONS, Graduation, exact, read_off, write_length
from dividers.core.job.model import Job
from dividers.core.output.section import section_of
from dividers.core.plan.plan import PiecePlan
from dividers.core.plan.plan_document import sides_in_words
from dividers.core.rounds.cutting import TAB_MM, cut_length, cutting_list
from dividers.core.tape.strips import Strips
from dividers.formats.drawings.sketch_svg import section_svg

MOST_ROWS = 400
KINDS = {"perimeter": "outer edge", "reserve": "reserve", "edge": "edge"}


@dataclass(frozen=True)
class StripRow:
    """A strip as the Tape station lists it."""

    key: str
    panel: str
    kind: str
    side: str
    length: str
    remarks: tuple[str, ...]


def strip_list(plan: PiecePlan, job: Job, shown: int) -> dict[str, Any]:
    """What the station's templates need of round `shown`."""
    rounds = plan.taping.chosen.rounds
    if not rounds:
        return {"strips": [], "rounds": rounds, "left_out": 0, "cuts": (), "section": None}
    each = rounds[shown - 1]
    rows: list[StripRow] = []
    places: list[tuple[int, int]] = []
    for sheet, strips in enumerate(each.strips):
        first = plan.strips_before(shown, sheet) + 1
        names = [placed.panel.name for placed in plan.layouts[sheet].sheet.placed]
        sides = sides_in_words(strips, plan.layouts[sheet].sheet)
        for index in range(len(strips)):
            places.append((sheet, index))
            if len(rows) < MOST_ROWS:
                panel = names[int(strips.panel[index])] if len(plan.piece.surface.panels) > 1 else ""
                length = write_cut(float(strips.lengths[index]), job.units)
                remarks = _remarks(strips, index, first, job)
                rows.append(StripRow(f"s{first + index}", panel, KINDS[strips.kind(index)], sides[index], length, remarks))
    return {
        "strips": rows,
        "rounds": rounds,
        "left_out": len(places) - len(rows),
        "cuts": [(write(float(cut.length_mm), job.units), cut.many) for cut in cutting_list(each, job.units)],
        "tab": write(TAB_MM, job.units),
        "section": _section(plan, job, shown, rows, places),
    }


def _remarks(strips: Strips, index: int, first: int, job: Job) -> tuple[str, ...]:
    """What is out of the ordinary about a strip."""
    found = []
    one, other = (f"{abs(angle):.0f}°" if abs(angle) > 0.5 else "square" for angle in strips.ends[index])
    if {one, other} != {"square"}:
        found.append(f"ends {one}" if one == other else f"ends {one}, {other}")
    slit = float(strips.slit_mm[index])
    if slit == slit:
        found.append(f"slit to {write(slit, job.units)}")
    on = int(strips.goes_on[index])
    if on >= 0:
        way = "crease it into the fold" if strips.crease(index) else "cut it at the fold"
        found.append(f"continues as {first + on}: {way}")
    under = strips.after[index].tolist()
    if under:
        found.append(f"over {', '.join(str(first + n) for n in under[:3])}{' …' if len(under) > 3 else ''}")
    return tuple(found)


def _section(
    plan: PiecePlan, job: Job, shown: int, rows: list[StripRow], places: list[tuple[int, int]]
) -> tuple[StripRow, str, Markup] | None:
    """The chosen strip, or else the first one that isn't an outer edge; the end for its tab; and its cross-section."""
    if not rows:
        return None
    wanted = request.values.get("strip", "")
    usual = next((n for n, row in enumerate(rows) if row.kind != "outer edge"), 0)
    number = next((n for n, row in enumerate(rows) if row.key == wanted), usual)
    section = section_of(plan, job.palette, shown, *places[number])
    sheet, index = places[number]
    end = _end_in_words(plan, shown, sheet, index)
    return rows[number], end, section_svg(section, write(section.width_mm, job.units))


def _end_in_words(plan: PiecePlan, shown: int, sheet: int, index: int) -> str:
    """The end of a strip to fold a tab at, as its panel hangs."""
    strips = plan.taping.chosen.rounds[shown - 1].strips[sheet]
    placed = plan.layouts[sheet].sheet.placed[int(strips.panel[index])]
    way = placed.to_panel_direction(strips.end[index] - strips.start[index])
    if strips.free_ends()[index] == "start":
        way = -way
    if abs(way[1]) > abs(way[0]):
        return "lower" if way[1] > 0 else "upper"
    return "right" if way[0] > 0 else "left"


def write_cut(mm: float, units: str) -> str:
    """A strip's length for cutting, tab included."""
    return write_length(cut_length(mm, units), _step(units))


def write(mm: float, units: str) -> str:
    """A length in a sentence about tape: to 1/16 in or 1 mm."""
    step = GRADUATIONS["1/16 in"] if units == "in" else GRADUATIONS["1 mm"].in_unit(units)
    return read_off(exact(mm), step).text


def _step(units: str) -> Graduation:
    return GRADUATIONS["1/4 in"] if units == "in" else GRADUATIONS["1 mm"].in_unit(units)
