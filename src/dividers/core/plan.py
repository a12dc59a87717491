"""The one door into the core: a job goes in, its plan comes out."""

from dataclasses import dataclass

import numpy as np

from dividers.core.errors import BadInput, BadJob, Fault
from dividers.core.job import Job, Piece
from dividers.core.layout import Layout, lay_out, widths_of
from dividers.core.lengths import write_exact
from dividers.core.marks import Check, Mark, exact, plan_checks, plan_marks
from dividers.core.materials import PaintNeed, TapeNeed, paint_needs, tape_need
from dividers.core.passes import Taping, colour_order, plan_taping
from dividers.core.tolerances import SLIVER_MM


@dataclass(frozen=True)
class Caution:
    """Something the painter should know: a code that stays, the piece, and a sentence."""

    code: str
    piece: str
    message: str


@dataclass(frozen=True)
class PiecePlan:
    """Everything computed for one piece; panels, layouts, and strips of each pass go by panel number."""

    piece: Piece
    layouts: tuple[Layout, ...]
    taping: Taping
    marks: tuple[Mark, ...]
    checks: tuple[Check, ...]
    paints: tuple[PaintNeed, ...]
    tape: TapeNeed
    warnings: tuple[Caution, ...]

    @property
    def first_cell(self) -> tuple[int, ...]:
        """The number of cells before each panel: cell i of panel p is called c{first_cell[p] + i + 1}."""
        return tuple(int(n) for n in np.cumsum([0, *(len(layout.cells) for layout in self.layouts)]))


@dataclass(frozen=True)
class Plan:
    job: Job
    pieces: tuple[PiecePlan, ...]
    warnings: tuple[Caution, ...]


def plan_job(job: Job) -> Plan:
    """Plan every piece. Raises BadJob where a pattern can't be laid on its panels."""
    faults: list[Fault] = []
    pieces: list[PiecePlan] = []
    for number, piece in enumerate(job.pieces):
        try:
            pieces.append(plan_piece(job, piece))
        except BadInput as fault:
            faults.append(Fault(f"pieces.{number}.pattern.{fault.path}".rstrip("."), fault.message))
    if faults:
        raise BadJob(tuple(faults))
    odd = tuple(Caution("job-file", "", str(warning)) for warning in job.warnings)
    return Plan(job, tuple(pieces), odd + tuple(warning for piece in pieces for warning in piece.warnings))


def plan_piece(job: Job, piece: Piece) -> PiecePlan:
    """Plan one piece: layout, marks, tape, materials. Raises BadInput with a pattern's key as path."""
    layouts = tuple(lay_out(panel, piece.pattern, piece.base) for panel in piece.surface.panels)
    taping = plan_taping(piece, layouts, job.palette)
    order = colour_order(layouts, job.palette)
    return PiecePlan(
        piece=piece,
        layouts=layouts,
        taping=taping,
        marks=tuple(mark for layout in layouts for mark in plan_marks(layout, piece.method, job.graduation)),
        checks=tuple(check for layout in layouts for check in plan_checks(layout, job.graduation)),
        paints=paint_needs(piece, layouts, order),
        tape=tape_need(piece, taping.chosen),
        warnings=_warnings(job, piece, layouts, taping),
    )


def _warnings(job: Job, piece: Piece, layouts: tuple[Layout, ...], taping: Taping) -> tuple[Caution, ...]:
    found: list[tuple[str, str]] = []
    for layout in layouts:
        for note in layout.notes:
            found.append((note.code, note.message.format(*(write_exact(mm, job.units) for mm in note.lengths))))
        found += _slivers(job, layout)
    found += _tape_warnings(job, piece, taping)
    return tuple(Caution(code, piece.name, message) for code, message in dict.fromkeys(found))


def _slivers(job: Job, layout: Layout) -> list[tuple[str, str]]:
    widths = widths_of(layout.cells)
    if not (widths < SLIVER_MM).any():
        return []
    many, least = int((widths < SLIVER_MM).sum()), write_exact(exact(float(widths.min())), job.units)
    parts = "part is" if many == 1 else "parts are"
    return [
        ("sliver", f"{many} {parts} too thin to tape or paint on {layout.panel.name}, the thinnest {least}. Change the sizes.")
    ]


def _tape_warnings(job: Job, piece: Piece, taping: Taping) -> list[tuple[str, str]]:
    """What to say of tape that is wider than the ground beside its line."""
    width = write_exact(piece.method.tape.width_mm, job.units)
    if taping.chosen.tightest_mm is not None:
        gap = write_exact(exact(taping.chosen.tightest_mm), job.units)
        return [
            (
                "wider-than-cell",
                f"The tape is {width} wide, but two parts of one colour lie {gap} apart, so they are painted in separate rounds. "
                f"Tape of {gap} or less would do both in one.",
            )
        ]
    slit = [strips.slit_mm for each in taping.chosen.passes for strips in each.strips]
    narrow = np.concatenate([s[~np.isnan(s)] for s in slit]) if slit else np.zeros(0)
    if not len(narrow):
        return []
    least = write_exact(exact(float(narrow.min())), job.units)
    return [
        (
            "wider-than-cell",
            f"The tape is {width} wide; {len(narrow)} strips lie where there is room for less, the tightest {least}. "
            f"Slit them lengthwise, or use tape of {least} or less.",
        )
    ]
