"""Everything of a job that can be printed or saved: (file name, kind, content) of each."""

import sqlite3
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from typing import Any

from dividers.core.base.errors import BadInput, NotFound, NotYet
from dividers.core.base.lengths import GRADUATIONS, exact, read_off
from dividers.core.base.quantities import amount
from dividers.core.base.safety import SAFETY
from dividers.core.base.texts import counted
from dividers.core.job.document import free_key
from dividers.core.order.schedule_document import schedule_document
from dividers.core.output.cad_layers import Layers, layers_of
from dividers.core.output.cutouts import Template, templates_of
from dividers.core.output.scene import View
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.plan.plan import Plan
from dividers.core.plan.plan_document import plan_document, plan_text
from dividers.core.plan.spacers import spacers_said
from dividers.core.plan.strips_told import sides_in_words, strip_places
from dividers.core.rounds.cutting import cut_length, cutting_list
from dividers.core.rounds.rounds import Round
from dividers.formats.drawings.cad_svg import layer_svg
from dividers.formats.drawings.dxf import layer_dxf
from dividers.formats.drawings.finished_png import layer_png
from dividers.formats.gpl import write_gpl
from dividers.formats.print.ink import SIZES
from dividers.formats.print.paper import About, Pen, paper, paper_for
from dividers.formats.print.template_tiles import sheets_of, write_templates
from dividers.formats.tables.plan_csv import cells_csv, marks_csv, schedule_csv, strips_csv
from dividers.services.clock import date_of
from dividers.services.jobs import evidence
from dividers.services.jobs.editing import Opened, not_taken, open_job
from dividers.services.jobs.planning import piece_plan
from dividers.services.logbook.record import record_of
from dividers.services.stations import large_plans, scheduling
from dividers.services.stations.pictures import scene_of
from dividers.services.stations.shopping import shopping, shopping_csv

PDF, SVG, DXF, PNG, CSV, JSON, GPL = (
    "application/pdf", "image/svg+xml", "image/vnd.dxf", "image/png", "text/csv", "application/json", "text/plain",
)  # fmt: skip


@dataclass(frozen=True)
class File:
    """Something saved: its name, what kind it is, what it holds."""

    name: str
    kind: str
    content: bytes


@dataclass(frozen=True)
class _Wanted:
    """What a file is made from."""

    connection: sqlite3.Connection
    opened: Opened
    plan: PiecePlan
    size: str
    shape: int

    @property
    def document(self) -> str:
        return self.opened.revision.document

    def about(self, title: str) -> About:
        revision = self.opened.revision
        return About(
            title,
            f"{self.opened.job.title}, revision {revision.number}",
            date_of(revision.made_at).isoformat(),
            self.size,
            self.opened.job.units == "in",
            tuple(each.words for each in not_taken(self.connection, self.opened.id)),
        )


# key of the file: what it is, in words; whether it is about one piece
KINDS: dict[str, tuple[str, bool]] = {
    "tape-cards.pdf": ("Tape cards, round by round", True),
    "cutting-list.pdf": ("Cutting list", True),
    "templates.pdf": ("Templates at true size, tiled", True),
    "drawing.svg": ("Drawing in layers, true size (SVG)", True),
    "drawing.dxf": ("Drawing in layers, millimetres (DXF)", True),
    "drawing.png": ("Picture of the finished look (PNG)", True),
    "marks.csv": ("Marks (CSV)", True),
    "strips.csv": ("Strips (CSV)", True),
    "cells.csv": ("Cells (CSV)", True),
    "schedule.pdf": ("Schedule", False),
    "shopping-list.pdf": ("Shopping list", False),
    "record.pdf": ("Record of the work", False),
    "shopping-list.csv": ("Shopping list (CSV)", False),
    "schedule.csv": ("Schedule (CSV)", False),
    "plan.json": ("Plan (JSON)", False),
    "palette.gpl": ("Palette (GPL)", False),
}


def make(connection: sqlite3.Connection, job_id: int, piece: str, which: str, size: str, shape: int = 0) -> File:
    """One file of a job; of templates all, or one `shape` by its number. Raises NotFound, BadInput, NotYet."""
    if which not in KINDS:
        raise NotFound("There is no such file to save.")
    opened = open_job(connection, job_id)
    if size and size not in SIZES:
        raise BadInput(f"Paper comes as {' or '.join(SIZES)}.", "size", size)
    if KINDS[which][1]:
        large_plans.require_ready(job_id, opened.revision.document, piece, marks=True)
    elif which not in ("palette.gpl", "record.pdf"):
        large_plans.require_all_ready(job_id, opened.revision.document, marks=True)
    asked = _Wanted(
        connection,
        opened,
        piece_plan(opened.revision.document, piece),
        size or paper_for(opened.job.units),
        shape,
    )
    kind, content = MAKERS[which](asked)
    stem, _, ending = which.rpartition(".")
    name = free_key(asked.plan.piece.name if KINDS[which][1] else opened.job.title, set())
    return File(f"{name}-{stem}.{ending}", kind, content if isinstance(content, bytes) else content.encode())


@lru_cache(maxsize=16)
def piece_document(document: str, piece: str) -> Mapping[str, Any]:
    """The plan document of one piece."""
    plan = piece_plan(document, piece)
    found: Mapping[str, Any] = plan_document(Plan(plan.job, (plan,)))["pieces"][0]
    return found


def _layers(asked: _Wanted) -> Layers:
    piece = asked.plan.piece
    return layers_of(piece_document(asked.document, piece.key), asked.opened.job.palette, piece.base)


def _tape_cards(asked: _Wanted) -> tuple[str, bytes]:
    plan, job = asked.plan, asked.opened.job

    def write(pen: Pen) -> None:
        if not plan.taping.chosen.rounds:
            pen.text("This piece takes no tape.")
        for each in plan.taping.chosen.rounds:
            if each.number > 1:
                pen.turn()
            colors = ", ".join(job.palette[color].name for color in each.colors)
            pen.heading(f"{plan.piece.round_title(each.number, each.layer)} of {len(plan.taping.chosen.rounds)}: {colors}")
            pen.scene(scene_of(asked.document, plan.piece.key, View(strips_of=each.number)), 300)
            pen.text(
                "Paint the areas with a wave, keep the areas with a cross. Lay the strips in this order and pull them in reverse."
            )
            rows = []
            for sheet, strips in enumerate(each.strips):
                first = plan.strips_before(each.number, sheet) + 1
                sides = sides_in_words(strips, plan.layouts[sheet].sheet)
                lie = strip_places(strips, plan.layouts[sheet])
                for index in range(len(strips)):
                    ends = ", ".join(f"{abs(a):.0f}°" if abs(a) > 0.5 else "square" for a in strips.ends[index])
                    over = ", ".join(str(first + n) for n in strips.after[index].tolist()[:4])
                    kind = {"perimeter": "outer edge", "reserve": "reserve", "edge": ""}[strips.kind(index)]
                    rows.append(
                        [
                            str(first + index),
                            ", ".join(filter(None, (lie[index].words, sides[index], kind))),
                            _length(float(strips.lengths[index]), job.units),
                            ends,
                            over,
                        ]
                    )
            pen.table([("No.", 0.08), ("Lies", 0.4), ("Along the line", 0.2), ("Ends", 0.18), ("Over", 0.14)], rows, tick=True)

    return PDF, paper(asked.about(f"{plan.piece.name}: tape cards"), write)


def _length(mm: float, units: str) -> str:
    """A length to read off a tape measure."""
    return read_off(exact(mm), GRADUATIONS["1/16 in"] if units == "in" else GRADUATIONS["1 mm"].in_unit(units)).text


def _cutting(asked: _Wanted) -> tuple[str, bytes]:
    plan, units = asked.plan, asked.opened.job.units

    def write(pen: Pen) -> None:
        copies = plan.piece.copies
        for each in plan.taping.chosen.rounds:
            cuts = cutting_list(each, units)
            numbers = _strips_of_cuts(plan, each, units)
            pen.heading(
                f"{plan.piece.round_title(each.number, each.layer)}: {counted(sum(cut.many for cut in cuts), 'strip')} of {plan.piece_in(each.layer).method.tape.key}{f', for each of {copies} alike' if copies > 1 else ''}"
            )
            pen.table(
                [("Cut", 0.22), ("How many", 0.18), ("Strips", 0.6)],
                [[_length(float(cut.length_mm), units), str(cut.many), numbers[cut.length_mm]] for cut in cuts],
                tick=True,
            )
        if said := spacers_said(plan):
            pen.text(said)
        pen.text("Lengths include a tab to pull by, and are rounded up to an easy number.")

    return PDF, paper(asked.about(f"{plan.piece.name}: cutting list"), write)


def _strips_of_cuts(plan: PiecePlan, each: Round, units: str) -> dict[Fraction, str]:
    """The numbers of the strips that each cut is for, as they stand on drawings and tape cards."""
    found: dict[Fraction, list[str]] = {}
    for sheet, strips in enumerate(each.strips):
        first = plan.strips_before(each.number, sheet) + 1
        for index, length in enumerate(strips.lengths):
            found.setdefault(cut_length(float(length), units), []).append(str(first + index))
    return {cut: ", ".join(own[:24]) + (" …" if len(own) > 24 else "") for cut, own in found.items()}


def _templates(asked: _Wanted) -> tuple[str, bytes]:
    plan, units = asked.plan, asked.opened.job.units
    shapes = [(turn, shape) for turn, shape in enumerate(templates_of(plan), 1) if asked.shape in (0, turn)]
    made = [shape for _, shape in shapes]
    words = [shape_words(turn, shape, units) for turn, shape in shapes]

    def write(pen: Pen) -> None:
        pen.text("Print at 100 %, no scaling, and check the bar at the foot. Sheets overlap by 10 mm: line up the crosses.")
        if not made:
            pen.text("This piece has no shapes to cut out.")
        write_templates(pen, made, words)

    return PDF, paper(asked.about(f"{plan.piece.name}: templates, 1:1"), write)


def shape_words(turn: int, shape: Template, units: str) -> str:
    """A template in words."""
    size = f"{_length(shape.width, units)} × {_length(shape.height, units)}"
    which = shape.motif or f"like part {shape.cell[1:]}"
    return f"Shape {turn}: {size}, {shape.many} of these ({which})"


def template_sheets(connection: sqlite3.Connection, job_id: int, piece: str, size: str) -> list[tuple[str, int]]:
    """Each template of a piece in words, with how many sheets of a paper it takes."""
    opened = open_job(connection, job_id)
    plan = piece_plan(opened.revision.document, piece)
    made = enumerate(templates_of(plan), 1)
    return [(shape_words(turn, shape, opened.job.units), sheets_of(shape, size)) for turn, shape in made]


def _schedule_document(asked: _Wanted) -> Mapping[str, Any]:
    schedule = scheduling.schedule_for(asked.opened.id, evidence.informed(asked.connection, asked.document))
    if schedule is None:
        raise NotYet("the schedule")
    if schedule.solution.times is None:
        raise NotFound(f"There is no schedule to save. {schedule.said[0]}")
    return schedule_document(schedule)


def _schedule(asked: _Wanted) -> tuple[str, bytes]:
    schedule = _schedule_document(asked)

    def write(pen: Pen) -> None:
        for said in schedule["said"]:
            pen.text(said)
        days: dict[str, list[list[str]]] = {}
        for task in schedule["tasks"]:
            days.setdefault(task["start"][:10], []).append(
                [f"{task['start'][11:16]}-{task['end'][11:16]}", task["piece"], task["what"], str(task["painter"])]
            )
        for day, rows in days.items():
            pen.heading(day)
            pen.table([("When", 0.16), ("Piece", 0.22), ("What", 0.52), ("Who", 0.1)], rows, tick=True)
        for caution in schedule["cautions"]:
            pen.text(f"Safety: {caution}")
        pen.text(SAFETY["label"])

    return PDF, paper(asked.about("Schedule"), write)


def _shopping(asked: _Wanted) -> tuple[str, bytes]:
    found = shopping(asked.document)

    units = asked.opened.job.units

    def write(pen: Pen) -> None:
        rows = []
        for line in found.lines:
            unit = line.need.unit
            packs = ", ".join(f"{many} × {amount(float(pack.size), unit, units)}" for pack, many in line.packs) or "nothing"
            cost = f"{float(line.cost):.2f}" if line.priced and line.cost is not None else ""
            stock = amount(float(line.stock), unit, units) if line.stock else ""
            rows.append([line.need.item, amount(line.need.amount, unit, units), stock, packs, cost])
        pen.heading("To buy")
        pen.table([("Item", 0.38), ("Needed", 0.14), ("In stock", 0.14), ("Buy", 0.22), ("Price", 0.12)], rows, tick=True)
        if found.cost:
            pen.text(
                f"{float(found.cost):.2f} {found.currency} in all{f', {found.unpriced} without a price' if found.unpriced else ''}.",
                bold=True,
            )
        for said in found.runs_out:
            pen.text(said)
        pen.heading("Sundries")
        pen.table([("What", 0.34), ("What for", 0.66)], [[what.capitalize(), why] for what, why in found.sundries], tick=True)

    return PDF, paper(asked.about("Shopping list"), write)


def _record(asked: _Wanted) -> tuple[str, bytes]:
    record = record_of(asked.connection, asked.opened.id)

    def write(pen: Pen) -> None:
        if not record.lines:
            pen.text("Nothing was painted at the wall yet.")
        else:
            pen.text(
                f"Begun {date_of(record.begun_at)}; {record.worked_min / 60:.1f} h of work, {record.planned_min / 60:.1f} h planned."
            )
        if record.used:
            pen.heading("Materials used")
            pen.table(
                [("What", 0.4), ("Batch or mix", 0.3), ("Amount", 0.15), ("Price", 0.15)],
                [[u.item, u.batch, u.amount, f"{u.price} {u.currency}".strip()] for u in record.used],
            )
        if record.findings:
            pen.heading("Found after the pull")
            rows = [
                [
                    f"{f.piece_name}, round {f.round}" + (f", strip {f.strip}" if f.strip else ""),
                    f"{f.clean} clean, {f.slight} slight, {f.bleed} bled" if f.edge else "not judged",
                    f.lift or "",
                    " ".join(filter(None, (f.repair, f.note))),
                ]
                for f in record.findings
            ]
            pen.table([("Where", 0.34), ("Edge", 0.28), ("Lift", 0.08), ("Repair, note", 0.3)], rows)
        for signed in record.sign_offs:
            pen.text(
                f"{signed.piece_name}: inspected from 1 m and signed off by {signed.name}, {date_of(signed.signed_at)}. {signed.words}"
            )
        if record.lines:
            pen.heading("Step by step")
            rows = [
                [
                    f"{line.ended:%d %b %H:%M}" if line.ended else line.state,
                    line.piece,
                    line.what + (f" ({line.reason})" if line.reason else ""),
                    line.off_said,
                ]
                for line in record.lines
            ]
            pen.table([("Done", 0.16), ("Piece", 0.22), ("What", 0.46), ("Against the plan", 0.16)], rows)

    return PDF, paper(asked.about("Record of the work"), write)


MAKERS: dict[str, Callable[[_Wanted], tuple[str, bytes | str]]] = {
    "tape-cards.pdf": _tape_cards,
    "cutting-list.pdf": _cutting,
    "templates.pdf": _templates,
    "drawing.svg": lambda asked: (SVG, layer_svg(_layers(asked))),
    "drawing.dxf": lambda asked: (DXF, layer_dxf(_layers(asked))),
    "drawing.png": lambda asked: (PNG, layer_png(_layers(asked))),
    "marks.csv": lambda asked: (CSV, marks_csv(piece_document(asked.document, asked.plan.piece.key))),
    "strips.csv": lambda asked: (CSV, strips_csv(piece_document(asked.document, asked.plan.piece.key))),
    "cells.csv": lambda asked: (CSV, cells_csv(piece_document(asked.document, asked.plan.piece.key))),
    "schedule.pdf": _schedule,
    "shopping-list.pdf": _shopping,
    "record.pdf": _record,
    "shopping-list.csv": lambda asked: (CSV, shopping_csv(asked.document)),
    "schedule.csv": lambda asked: (CSV, schedule_csv(_schedule_document(asked))),
    "plan.json": lambda asked: (JSON, plan_text(scheduling.planned(asked.document))),
    "palette.gpl": lambda asked: (
        GPL,
        write_gpl(asked.opened.job.title, [(c.name, c.hex) for c in asked.opened.job.palette.values()]),
    ),
}
