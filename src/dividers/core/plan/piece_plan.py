"""The plan of one piece: everything computed for it, when it is first asked for; and what there is to warn of."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction
from functools import cached_property

import numpy as np

from dividers.core.base.lengths import exact, read_off, write_exact
from dividers.core.base.tolerances import SHORTEST_STRIP_MM, SLIVER_MM
from dividers.core.cells.layout import Layout, lay_out, widths_of
from dividers.core.cells.sponge_loads import loads_of
from dividers.core.geometry.shapes import Floats
from dividers.core.job.layers import PAINT, STRIP, Layer
from dividers.core.job.method import LASER
from dividers.core.job.model import Job, Piece
from dividers.core.marks.marks import Check, Mark, plan_checks, plan_dots, plan_marks
from dividers.core.marks.registration import RegistrationStrip, ends_of_rows
from dividers.core.plan.amounts import PaintNeed, TapeNeed, paint_need, paint_needs, tape_need
from dividers.core.plan.folds_said import folds_said
from dividers.core.plan.hand_work import HandWork, hand_work, odd_hand_work
from dividers.core.plan.infill import infill_said, infills
from dividers.core.plan.ring_said import ring_said
from dividers.core.rounds.conflicts import colour_order
from dividers.core.rounds.options import Option, Taping, plan_taping
from dividers.core.rounds.rounds import Round
from dividers.core.survey.readings import distance_warnings, reading_rows, reading_warning
from dividers.core.survey.sheet import Sheet

UNEVEN = "unevenness"
SLIVERS_NAMED = 4  # of many parts too thin, so many are named


@dataclass(frozen=True)
class Caution:
    """Something the painter should know: a code that stays, the piece, and a sentence."""

    code: str
    piece: str
    message: str


@dataclass(frozen=True)
class PiecePlan:
    """Everything computed for one piece, when it is first asked for; layouts, and strips of each pass, go by sheet."""

    job: Job
    piece: Piece
    layouts: tuple[Layout, ...]
    like: "PiecePlan | None" = field(default=None, compare=False, repr=False)  # one with the same strips of tape

    @cached_property
    def taping(self) -> Taping:
        return self.like.taping if self.like else plan_taping(self.piece, self.layouts, self.job.palette, self.job.climate)

    @cached_property
    def marks(self) -> tuple[Mark, ...]:
        job, method = self.job, self.piece.method
        if self.like and (job.units, job.graduation) == (self.like.job.units, self.like.job.graduation):
            return self.like.marks
        reserve_tape = self.taping.chosen.taping == "reserve"
        taped = tuple(
            mark
            for layout in self.marked_layouts()
            for panel in layout.by_panel
            for mark in plan_marks(panel, method, job.graduation, job.palette, reserve_tape)
        )
        return taped + self.hand_marks

    def marked_layouts(self) -> Sequence[Layout]:
        """What is marked: where lines are uneven on purpose, the even grid that they are laid about by eye."""
        if not even_is_marked(self.piece) or any(layout.parts for layout in self.layouts):
            return self.layouts
        pattern = self.piece.pattern
        even = replace(pattern, values={**pattern.values, UNEVEN: None})
        tape = float(self.piece.method.tape.width_mm)
        return [lay_out(layout.sheet, even, self.piece.base, tape) for layout in self.layouts]

    @cached_property
    def hand(self) -> tuple[HandWork, ...]:
        """What is done by hand over its taped layers, in working order."""
        layers = [part.panel_layouts for part in self.layers]
        return hand_work(self.piece.by_hand, [layer.name for layer in self.piece.stack], layers)

    @cached_property
    def hand_marks(self) -> tuple[Mark, ...]:
        """The marks of motifs; their layers are counted on after the taped ones."""
        found: list[Mark] = []
        for work in (each for each in self.hand if each.layer.marking != PAINT):
            for panel in self.layers[0].panel_layouts:
                points = work.places_on(panel.panel.name)
                points = ends_of_rows(points) if work.layer.marking == STRIP else points
                made = plan_dots(panel, points, self.piece.method, self.job.graduation)
                found += [replace(mark, layer=work.number) for mark in made]
        return tuple(found)

    @cached_property
    def registration(self) -> tuple[tuple[HandWork, RegistrationStrip], ...]:
        """The strips of paper that rows of motifs are marked by, each with what it is for."""
        return tuple((work, strip) for work in self.hand for strip in work.registration(self.job.graduation))

    @cached_property
    def checks(self) -> tuple[Check, ...]:
        return tuple(check for panel in self.panel_layouts for check in plan_checks(panel, self.job.graduation))

    @cached_property
    def paints(self) -> tuple[PaintNeed, ...]:
        order = colour_order(self.layouts, self.job.palette, self.piece.method.order)
        return paint_needs(self.piece, self.layouts, order) + self.hand_paints

    @property
    def hand_paints(self) -> tuple[PaintNeed, ...]:
        return tuple(paint_need(self.piece, work.color, work.area_m2 * 1e6, coats=work.coats(self.piece)) for work in self.hand)

    @cached_property
    def tapes(self) -> tuple[TapeNeed, ...]:
        return (tape_need(self.piece, self.taping.chosen),)

    @cached_property
    def warnings(self) -> tuple[Caution, ...]:
        return _warnings(self)

    @cached_property
    def loads(self) -> tuple[tuple[str, tuple[str, ...]], ...]:
        """The working order of a toned pattern: (colour, keys of cells) load by load."""
        order = colour_order(self.layouts, self.job.palette, self.piece.method.order)
        return tuple(
            (load.color, tuple(keys[cell] for cell in load.cells))
            for layout, keys in zip(self.layouts, self.cell_keys, strict=True)
            for load in loads_of(layout, order)
        )

    @cached_property
    def facts(self) -> tuple[Caution, ...]:
        """What is good to know and no warning."""
        return (
            _notes(self.job, self.piece, self.layouts, fact=True)
            + _reserve_facts(self)
            + _fold_facts(self)
            + _even_facts(self)
            + _ring_facts(self)
            + _infill_facts(self)
        )

    @cached_property
    def cell_keys(self) -> tuple[list[str], ...]:
        """What the cells and reserves of each layout are called: c1, c2, ... and r1, r2, ..."""
        return keys_of(self.layouts)

    def in_job(self, job: Job, piece: Piece) -> "PiecePlan":
        """The plan of this piece in another job that gives it the same cells, with all that still holds there.

        The caller vouches for surface, base and pattern being the same. Strips of tape and marks stay where palette, air and method are
        the same but for `pull` and `seal`, which say nothing of where anything goes; the marks, where units and graduation are too.
        """
        same = replace(piece.method, pull=self.piece.method.pull, seal=self.piece.method.seal)
        alike = (job.palette, job.climate, same) == (self.job.palette, self.job.climate, self.piece.method)
        return PiecePlan(job, piece, self.layouts, self if alike else None)

    def anew(self, job: Job, piece: Piece) -> "PiecePlan":
        """The plan of these cells with another method, or in another job: all that follows from them is worked out anew."""
        return PiecePlan(job, piece, self.layouts)

    @property
    def cell_count(self) -> int:
        return sum(len(layout.cells) for layout in self.layouts)

    @property
    def layers(self) -> tuple["PiecePlan", ...]:
        """The plan of each layer as if it were all of the piece."""
        return (self,)

    @property
    def sheet_count(self) -> int:
        """How many layouts each layer has: one for each sheet."""
        return len(self.layouts)

    @property
    def sheets(self) -> tuple[Sheet, ...]:
        return tuple(layout.sheet for layout in self.layouts[: self.sheet_count])

    def layer_of(self, number: int) -> Layer:
        """The layer that a layout belongs to."""
        return self.piece.stack[number // self.sheet_count]

    def piece_in(self, layer: int) -> Piece:
        """The piece as if a layer were all of it: with that layer's pattern and method."""
        return self.piece

    def paint_over(self, upper: int, on: int, lower: int, below: int) -> list[tuple[int, int]]:
        """Pairs (cell, cell) of layouts `on` and `below`: what round `upper` paints over the paint of round `lower` of another layer."""
        return []

    def colors_under(self, each: Round, sheet: int) -> list[tuple[int, str]]:
        """Pairs (strip, colour) of what the strips of a round of a later layer lie on: each colour that would be seen there."""
        return []

    @cached_property
    def base_m2(self) -> float:
        """The field less its openings, of one copy, m²."""
        return sum(float(layout.cells.areas().sum()) for layout in self.layouts) / 1e6

    @property
    def panel_layouts(self) -> tuple[Layout, ...]:
        """Every panel by itself, sheet by sheet."""
        return tuple(panel for layout in self.layouts for panel in layout.by_panel)

    def strips_before(self, round_number: int, sheet: int) -> int:
        """How many strips are numbered before those of a sheet in a pass: strip i there is called s{that + i + 1}."""
        rounds = self.taping.chosen.rounds
        return sum(len(s) for p in rounds for n, s in enumerate(p.strips) if (p.number, n) < (round_number, sheet))


def even_is_marked(piece: Piece) -> bool:
    """Whether the marks are those of an even grid though the lines are not."""
    return piece.method.mark_way in ("auto", LASER) and bool(piece.pattern.values.get(UNEVEN))


def keys_of(layouts: Sequence[Layout]) -> tuple[list[str], ...]:
    """What the cells and reserves of layouts are called: c1, c2, ... and r1, r2, ..."""
    keys: list[list[str]] = []
    cells = reserves = 0
    for layout in layouts:
        own = int((~layout.reserved).sum())
        rest = len(layout.cells) - own
        keys.append([*(f"c{cells + n}" for n in range(1, own + 1)), *(f"r{reserves + n}" for n in range(1, rest + 1))])
        cells, reserves = cells + own, reserves + rest
    return tuple(keys)


def _warnings(plan: PiecePlan) -> tuple[Caution, ...]:
    job, piece = plan.job, plan.piece
    found = [pair for layout, keys in zip(plan.layouts, plan.cell_keys, strict=True) for pair in _slivers(job, layout, keys)]
    found += _tape_warnings(job, piece, plan.taping) + _survey_warnings(job, piece) + _base_warnings(piece) + _odd(plan)
    found += odd_hand_work(plan.hand) + _short_edges(plan)
    computed = tuple(Caution(code, piece.name, message) for code, message in found)
    return _notes(job, piece, plan.layouts, fact=False) + computed


def _short_edges(plan: PiecePlan) -> list[tuple[str, str]]:
    """Edges that no strip is laid along, as nobody would lay one so short."""
    many = sum(strips.by_brush for each in plan.taping.chosen.rounds for strips in each.strips)
    if not many:
        return []
    least = write_rounded(exact(SHORTEST_STRIP_MM), plan.job)
    one = many == 1
    return [
        (
            "short-edge",
            f"{'One edge is' if one else f'{many} edges are'} shorter than {least} with no room for a longer strip: "
            f"no tape there, cut {'it' if one else 'them'} in by brush.",
        )
    ]


def _odd(plan: PiecePlan) -> list[tuple[str, str]]:
    """What is allowed and hardly meant: a pattern that paints nothing, two pieces of one name."""
    found = []
    if not any(layout.painted.any() for layout in plan.layouts):
        found.append(
            (
                "paints-nothing",
                "Everything stays in the base colour: nothing is taped and nothing is painted over it. Give a part a colour.",
            )
        )
    if sum(other.name == plan.piece.name for other in plan.job.pieces) > 1:
        found.append(
            (
                "same-name",
                f"Another piece is called “{plan.piece.name}” too. Give them different names, to tell them apart at the wall.",
            )
        )
    return found


def _base_warnings(piece: Piece) -> list[tuple[str, str]]:
    """A primer over a base that is on already, and stays."""
    if "prime" not in piece.method.prep or piece.base_coats or piece.surface.kind == "paper":
        return []
    return [
        (
            "prime-over-base",
            "The base colour is on already and gets no coat, but the surface is to be primed: the primer would hide the base, and tape would go "
            "on the fresh primer. Leave the priming out, or say that the base is still to be painted.",
        )
    ]


def _survey_warnings(job: Job, piece: Piece) -> list[tuple[str, str]]:
    """Readings that don't fit the others."""
    between = [words for panel in piece.surface.panels for words in distance_warnings(panel, job.graduation, job.units)]
    return [("survey-reading", words) for words in between] + [
        ("survey-reading", reading_warning(row, panel.name))
        for panel in piece.surface.panels
        for row in reading_rows(panel, job.graduation, job.units, piece.surface.kind)
        if row.doubt
    ]


def _notes(job: Job, piece: Piece, layouts: tuple[Layout, ...], fact: bool) -> tuple[Caution, ...]:
    """What the pattern has to say: facts, or else warnings."""
    notes = [note for layout in layouts for note in layout.notes if note.fact == fact]
    said = [(note.code, note.message.format(*(write_rounded(mm, job) for mm in note.lengths))) for note in notes]
    return tuple(Caution(code, piece.name, message) for code, message in dict.fromkeys(said))


def write_rounded(mm: Fraction, job: Job) -> str:
    """A length for a sentence: exact where it can be, else to the job's graduation, with “about”."""
    exactly = write_exact(mm, job.units)
    return f"about {read_off(mm, job.graduation).text}" if exactly.startswith("≈") else exactly


def _slivers(job: Job, layout: Layout, keys: list[str]) -> list[tuple[str, str]]:
    """Parts too thin to tape or paint, by name, and how wide they would have to be."""
    widths = np.where(layout.reserved, np.inf, widths_of(layout.cells))
    thin = np.flatnonzero(widths < SLIVER_MM)
    if not len(thin):
        return []
    names = ", ".join(keys[cell][1:] for cell in thin[:SLIVERS_NAMED].tolist())
    more = f" and {len(thin) - SLIVERS_NAMED} more" if len(thin) > SLIVERS_NAMED else ""
    parts = f"Part {names} is" if len(thin) == 1 else f"Parts {names}{more} are"
    panel = layout.sheet.placed[int(layout.panels[thin[0]])].panel.name
    least, enough = (write_rounded(exact(mm), job) for mm in (float(widths.min()), SLIVER_MM))
    least = f"less than {enough.removeprefix('about ')}" if least == enough else least
    return [
        (
            "sliver",
            f"{parts} too thin to tape or paint (on {panel}), the thinnest {least} wide. "
            f"Move a line to make them at least {enough} wide, or move it away so that they vanish.",
        )
    ]


def _reserve_facts(plan: PiecePlan) -> tuple[Caution, ...]:
    """What tape the reserved lines take, where it isn't the one chosen."""
    job, own = plan.job, plan.piece.method.tape.width_mm
    widths = {layout.tape_lines.width_mm for layout in plan.layouts if len(layout.tape_lines)}
    if plan.taping.chosen.taping != "reserve" or widths <= {float(own)}:
        return ()
    width = write_rounded(exact(max(widths)), job)
    message = f"The lines need tape {width} wide: slit wider tape lengthwise, or buy that width. The outer edges use the tape you chose."
    return (Caution("reserve-width", plan.piece.name, message),)


def _fold_facts(plan: PiecePlan) -> tuple[Caution, ...]:
    first = plan.layouts[: plan.sheet_count]
    said = folds_said(plan.piece, first, plan.job.graduation, plan.job.units, lambda mm: write_rounded(mm, plan.job))
    return tuple(Caution(code, plan.piece.name, words) for code, words in said)


def _tape_warnings(job: Job, piece: Piece, taping: Taping) -> list[tuple[str, str]]:
    """What to say of tape that is wider than the ground beside its line."""
    chosen = taping.chosen
    if chosen.tight is None:
        return []
    width = write_exact(piece.method.tape.width_mm, job.units)
    gap = write_exact(exact(chosen.tight.gap_mm), job.units)
    if chosen.taping == "strips":
        message = (
            f"The tape is {width} wide, but two parts of one colour lie {gap} apart, so they are painted in separate rounds. "
            f"Tape of {gap} or less would let one round do both."
        )
    else:
        slits = _slits(chosen)
        many = len(slits) or chosen.tight.runs
        strips = "a strip lies" if many == 1 else f"{many} strips lie"
        gap = write_exact(exact(float(slits.min())), job.units) if len(slits) else gap
        message = (
            f"The tape is {width} wide; {strips} where there is less room, the tightest {gap}. "
            f"Slit them lengthwise, or use tape of {gap} or less."
        )
    return [("wider-than-cell", message)]


def _slits(option: Option) -> Floats:
    """The widths in mm that strips along lines have to be cut down to, of those that have to be."""
    found = [strips.slit_mm[~strips.reserve] for each in option.rounds for strips in each.strips]
    widths: Floats = np.concatenate([np.zeros(0), *found])
    return np.round(widths[~np.isnan(widths)], 3)


def _even_facts(plan: PiecePlan) -> tuple[Caution, ...]:
    if not even_is_marked(plan.piece):
        return ()
    off = write_exact(plan.piece.pattern.values[UNEVEN], plan.job.units)
    words = f"The marks are those of the even grid. Lay each line up to {off} off it, as you like: no one measures that."
    return (Caution("even-marks", plan.piece.name, words),)


def _ring_facts(plan: PiecePlan) -> tuple[Caution, ...]:
    said = ring_said(plan.piece, plan.sheets, lambda mm: write_rounded(mm, plan.job))
    return tuple(Caution(code, plan.piece.name, words) for code, words in said)


def _infill_facts(plan: PiecePlan) -> tuple[Caution, ...]:
    tape = float(plan.piece.method.tape.width_mm)
    found = infills(plan.layouts, plan.cell_keys, plan.piece.pattern.kind, tape)
    if not found:
        return ()
    return (Caution("infill", plan.piece.name, infill_said(found, lambda mm: write_rounded(mm, plan.job))),)
