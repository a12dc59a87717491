"""The Tape station's lists: the strips of one round in laying order, what to cut, one strip's cross-section."""

from dataclasses import dataclass
from typing import Any

from flask import request
from markupsafe import Markup

from dividers.core.base.lengths import GRADUATIONS, Graduation, exact, read_off, write_length
from dividers.core.job.model import Job
from dividers.core.output.section import section_of
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.plan.spacers import spacers_said
from dividers.core.plan.strips_told import sides_in_words, strip_places
from dividers.core.rounds.cutting import TAB_MM, cut_length, cutting_list
from dividers.core.tape.strips import Strips
from dividers.formats.drawings.sketch_svg import section_svg

MOST_ROWS, MOST_SPANS = 400, 6
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
    where: str = ""
    group: str = ""

    @property
    def looks(self) -> tuple[object, ...]:
        """What strips that are alike have in common."""
        return self.panel, self.side, self.length, tuple(each for each in self.remarks if not each.startswith(NOT_ALIKE))


@dataclass(frozen=True)
class StripRun:
    """Strips of one group that are alike but for where they lie; `numbers` in words."""

    rows: tuple[StripRow, ...]
    numbers: str


@dataclass(frozen=True)
class StripGroup:
    """The strips along one kind of line, in laying order."""

    title: str
    many: int
    runs: tuple[StripRun, ...]


GROUPS = {
    "outer": "Along edges and openings",
    "upright": "Upright lines",
    "level": "Level lines",
    "rising": "Lines that rise to the right",
    "falling": "Lines that fall to the right",
}
NOT_ALIKE = ("over ", "continues as ")  # remarks that differ from strip to strip


def groups_of(rows: list[StripRow]) -> list[StripGroup]:
    """Rows by the kind of their line, those that are alike as one."""
    found = []
    for group in dict.fromkeys(row.group for row in rows):
        own = [row for row in rows if row.group == group]
        alike: dict[tuple[object, ...], list[StripRow]] = {}
        for row in own:
            alike.setdefault(row.looks, []).append(row)
        runs = tuple(StripRun(tuple(each), _numbers([int(row.key[1:]) for row in each])) for each in alike.values())
        found.append(StripGroup(GROUPS.get(group, "Strips"), len(own), runs))
    return found


def _numbers(numbers: list[int]) -> str:
    """Numbers in words, those that follow each other as from–to.

    >>> _numbers([5, 6, 7, 9, 11, 12])
    '5–7, 9, 11, 12'
    """
    spans: list[list[int]] = []
    for number in numbers:
        if spans and number == spans[-1][-1] + 1:
            spans[-1].append(number)
        else:
            spans.append([number])
    said = [f"{span[0]}–{span[-1]}" if len(span) > 2 else ", ".join(map(str, span)) for span in spans]
    return ", ".join(said[:MOST_SPANS]) + (" …" if len(said) > MOST_SPANS else "")


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
        lie = strip_places(strips, plan.layouts[sheet])
        on: dict[int, list[str]] = {}
        for strip, color in plan.colors_under(each, sheet):
            on.setdefault(strip, []).append(job.palette[color].name.lower())
        for index in range(len(strips)):
            places.append((sheet, index))
            if len(rows) < MOST_ROWS:
                panel = names[int(strips.panel[index])] if len(plan.piece.surface.panels) > 1 else ""
                length = write_cut(float(strips.lengths[index]), job.units)
                remarks = _remarks(strips, index, first, job)
                if index in on:
                    remarks = (*remarks, f"lies on {' and '.join(on[index])}")
                kind, place = KINDS[strips.kind(index)], lie[index]
                rows.append(StripRow(f"s{first + index}", panel, kind, sides[index], length, remarks, place.words, place.group))
    return {
        "strips": rows,
        "strip_groups": groups_of(rows),
        "rounds": rounds,
        "left_out": len(places) - len(rows),
        "cuts": [(write(float(cut.length_mm), job.units), cut.many) for cut in cutting_list(each, job.units)],
        "tab": write(TAB_MM, job.units),
        "spacers": spacers_said(plan),
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
