"""What to draw of a piece, apart from who draws it: shapes with a role, in millimetres, panels side by side.

The SVG and PDF writers give the roles their looks. Keys ("c3", "s1", "m2") are the plan's ids, so that lists and drawing
can light each other up.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from fractions import Fraction

import numpy as np

from dividers.core.geometry import polygons
from dividers.core.geometry.shapes import Point
from dividers.core.job import Colour
from dividers.core.layout import Layout, corners
from dividers.core.lengths import write_inches
from dividers.core.marks import lines_to_mark
from dividers.core.passes import Pass
from dividers.core.plan import PiecePlan
from dividers.core.plan_document import cell_passes
from dividers.core.units import INCH_MM

# Ruler divisions to choose from, mm: the smallest whose labels have room.
INCH_STEPS = tuple(INCH_MM * n for n in (Fraction(1, 2), 1, 2, 3, 6, 12, 24, 48, 96, 240, 480, 1200))
METRIC_STEPS = tuple(Fraction(n) for n in (5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10000, 20000))
LABELS_A_SIDE = 12

# A text is as high as this share of a page's drawing, whichever way the drawing is the longer.
EMS_ACROSS, EMS_DOWN = 52, 32


# The way out of the field at each of its sides.
OUTWARD = {"top edge": (0, -1), "right edge": (1, 0), "bottom edge": (0, 1), "left edge": (-1, 0)}


@dataclass(frozen=True)
class Area:
    """A filled shape. `state` is paint (this round), done, later, keep or "" where rounds don't matter."""

    key: str
    rings: tuple[tuple[Point, ...], ...]
    fill: str
    state: str = ""
    sign: Point | None = None
    title: str = ""


@dataclass(frozen=True)
class Stroke:
    """A straight line with a role: snap, check, tick or edge."""

    role: str
    start: Point
    end: Point
    key: str = ""


@dataclass(frozen=True)
class Label:
    """A short text at a point; `anchor` says where on the text the point is: start, middle or end."""

    role: str
    at: Point
    text: str
    anchor: str = "middle"
    key: str = ""


@dataclass(frozen=True)
class Scene:
    """A drawing of `width` x `height` mm from (left, top). `em` is the height in mm of a text that reads well at page size."""

    left: float
    top: float
    width: float
    height: float
    em: float
    cells: tuple[Area, ...]
    openings: tuple[Area, ...]
    strips: tuple[Area, ...] = ()
    strokes: tuple[Stroke, ...] = ()
    labels: tuple[Label, ...] = ()
    outlines: tuple[tuple[Point, ...], ...] = field(default=())


@dataclass(frozen=True)
class View:
    """Which layers a station wants: pencil marks, the strips of one pass (or None), only the cells' finished look."""

    marks: bool = False
    strips_of: int | None = None


def draw(plan: PiecePlan, palette: Mapping[str, Colour], unit: str, view: View) -> Scene:
    """The scene of a piece: all its panels from left to right, rulers along the first one's left and everyone's top."""
    tape = float(plan.piece.method.tape.width_mm)
    sizes = [(float(layout.panel.width_mm), float(layout.panel.height_mm)) for layout in plan.layouts]
    em = max(sum(w for w, _ in sizes) / EMS_ACROSS, max(h for _, h in sizes) / EMS_DOWN)
    rim = max(tape if view.strips_of else 0.0, em * (3.2 if view.marks else 0.8)) + em * 0.4
    gap = 2 * rim + em * 3
    builder = _Builder(plan, palette, unit, view, em, rim)
    at = 0.0
    for number, (width, _) in enumerate(sizes):
        builder.add_panel(number, at)
        at += width + gap
    band = rim + em * 2.6
    tallest = max(h for _, h in sizes)
    return Scene(
        left=-band,
        top=-band,
        width=at - gap + band + rim,
        height=tallest + band + rim,
        em=em,
        cells=tuple(builder.cells),
        openings=tuple(builder.openings),
        strips=tuple(builder.strips),
        strokes=tuple(builder.strokes),
        labels=tuple(builder.labels),
        outlines=tuple(builder.outlines),
    )


class _Builder:
    """Gathers the shapes of one panel after the other."""

    def __init__(self, plan: PiecePlan, palette: Mapping[str, Colour], unit: str, view: View, em: float, rim: float) -> None:
        self.plan, self.palette, self.unit, self.view, self.em, self.rim = plan, palette, unit, view, em, rim
        self.cells: list[Area] = []
        self.openings: list[Area] = []
        self.strips: list[Area] = []
        self.strokes: list[Stroke] = []
        self.labels: list[Label] = []
        self.outlines: list[tuple[Point, ...]] = []

    def add_panel(self, number: int, at: float) -> None:
        layout = self.plan.layouts[number]
        self.outlines.append(tuple((x + at, y) for x, y in corners(layout.panel.outline)))
        self._add_cells(number, layout, at)
        self._add_openings(layout, at)
        self._add_rulers(layout, at, first=number == 0)
        if len(self.plan.layouts) > 1:
            self.labels.append(Label("panel", (at, float(layout.panel.height_mm) + self.em * 1.6), layout.panel.name, "start"))
        if self.view.strips_of:
            self._add_strips(number, at, self.view.strips_of)
        if self.view.marks:
            self._add_marks(layout, at)

    def _add_cells(self, number: int, layout: Layout, at: float) -> None:
        passes = cell_passes(self.plan, number)
        base = self.palette[self.plan.piece.base]
        signs = polygons.inner_points(layout.polygons) if self.view.strips_of else None
        for index, rings in enumerate(layout.cells):
            colour = self.palette[layout.color(index) or base.key]
            state = _state(int(passes[index]), self.view.strips_of)
            self.cells.append(
                Area(
                    key=f"c{self.plan.first_cell[number] + index + 1}",
                    rings=_moved(rings, at),
                    fill=base.hex if state in ("later", "keep") and self.view.strips_of else colour.hex,
                    state=state,
                    sign=(float(signs[index][0]) + at, float(signs[index][1])) if signs is not None else None,
                    title=colour.name,
                )
            )

    def _add_openings(self, layout: Layout, at: float) -> None:
        for opening in layout.panel.openings:
            ring = corners(opening.box)
            self.openings.append(Area("", _moved([list(ring)], at), "", title=opening.name))
            middle = (float(opening.box.left + opening.box.right) / 2 + at, float(opening.box.top + opening.box.bottom) / 2)
            if float(opening.box.width) > self.em * 0.55 * len(opening.name):
                self.labels.append(Label("opening", middle, opening.name))

    def _add_rulers(self, layout: Layout, at: float, first: bool) -> None:
        panel = layout.panel
        step = ruler_step(self.unit, max(panel.width_mm, panel.height_mm))
        self._add_ruler(panel.width_mm, step, lambda run, out: (run + at, -out), "middle")
        if first:
            self._add_ruler(panel.height_mm, step, lambda run, out: (-out, run), "end")

    def _add_ruler(self, length: Fraction, step: Fraction, place: Callable[[float, float], Point], anchor: str) -> None:
        near, em = self.rim, self.em
        self.strokes.append(Stroke("ruler", place(0.0, near), place(float(length), near)))
        small = step / 4
        for number in range(int(length / small) + 1):
            whole = number % 4 == 0
            run = float(small * number)
            self.strokes.append(Stroke("ruler", place(run, near), place(run, near + em * (0.7 if whole else 0.35))))
            if whole:
                x, y = place(run, near + em * 1.0)
                self.labels.append(
                    Label("ruler", (x, y if anchor == "middle" else y + em * 0.35), self._figure(small * number), anchor)
                )

    def _figure(self, mm: Fraction) -> str:
        if self.unit == "in":
            return write_inches(mm)
        return f"{float(mm / 10):g}" if self.unit == "cm" else f"{float(mm):g}"

    def _add_strips(self, number: int, at: float, pass_number: int) -> None:
        laid = sum(len(each.strips[n]) for each, n in self._strips_before(number, pass_number))
        each = self.plan.taping.chosen.passes[pass_number - 1]
        strips = each.strips[number]
        for index, rings in enumerate(strips.shapes):
            start, end = strips.segment(index)
            self.strips.append(
                Area(
                    key=f"s{laid + index + 1}",
                    rings=_moved(rings, at),
                    fill="",
                    state="perimeter" if strips.perimeter[index] else "edge",
                    title=strips.side_in_words(index),
                )
            )
            self.strokes.append(Stroke("edge", (start[0] + at, start[1]), (end[0] + at, end[1]), f"s{laid + index + 1}"))

    def _strips_before(self, panel: int, pass_number: int) -> list[tuple[Pass, int]]:
        """(pass, panel) of all strips that are numbered before those of one panel in one pass."""
        passes = self.plan.taping.chosen.passes
        panels = range(len(self.plan.layouts))
        return [(p, n) for p in passes for n in panels if (p.number, n) < (pass_number, panel)]

    def _add_marks(self, layout: Layout, at: float) -> None:
        panel = layout.panel
        for line in lines_to_mark(layout):
            on = layout.borders.line == line
            if on.any():
                low, high = float(layout.borders.t0[on].min()), float(layout.borders.t1[on].max())
                (ax, ay), (bx, by) = (layout.borders.lines.point(line, t) for t in (low, high))
                self.strokes.append(Stroke("snap", (ax + at, ay), (bx + at, by)))
        for check in self.plan.checks:
            if check.panel == panel.name:
                self.strokes.append(Stroke("check", (check.start[0] + at, check.start[1]), (check.end[0] + at, check.end[1])))
        sides: dict[str, list[tuple[float, str, Point]]] = {}
        for number, mark in enumerate(self.plan.marks, 1):
            if mark.panel == panel.name:
                run = mark.x if mark.line in ("top edge", "bottom edge") else mark.y
                sides.setdefault(mark.line, []).append((run, f"m{number}", (mark.x + at, mark.y)))
        for side, marks in sides.items():
            if side in OUTWARD:
                self._add_side(OUTWARD[side], sorted(marks))
            else:
                self._add_inner(marks)

    def _add_inner(self, marks: list[tuple[float, str, Point]]) -> None:
        """Marks inside the field: a small cross each; their numbers are in the list."""
        arm = self.em * 0.5
        for _, key, (x, y) in marks:
            self.strokes.append(Stroke("tick", (x - arm, y), (x + arm, y), key))
            self.strokes.append(Stroke("tick", (x, y - arm), (x, y + arm), key))

    def _add_side(self, out: tuple[int, int], marks: list[tuple[float, str, Point]]) -> None:
        """The marks of one side, their numbers as far as there is room for them."""
        em, free = self.em, -np.inf
        for run, key, (x, y) in marks:
            reach = em * 0.9
            self.strokes.append(
                Stroke("tick", (x - out[0] * reach, y - out[1] * reach), (x + out[0] * reach, y + out[1] * reach), key)
            )
            if run >= free:
                room = em * (0.8 + 0.55 * len(key)) if out[0] == 0 else em * 1.1
                free = run + room
                where = (x + out[0] * em * 1.9, y + out[1] * em * 1.9 + em * 0.35)
                self.labels.append(Label("mark", where, key[1:], "middle", key))


def _state(cell_pass: int, shown: int | None) -> str:
    if not shown:
        return ""
    if cell_pass == 0:
        return "keep"
    return "paint" if cell_pass == shown else "done" if cell_pass < shown else "later"


def _moved(rings: list[list[Point]], at: float) -> tuple[tuple[Point, ...], ...]:
    return tuple(tuple((x + at, y) for x, y in ring) for ring in rings)


def ruler_step(unit: str, longest: Fraction) -> Fraction:
    """The distance between figures on a ruler beside something that long, in mm."""
    steps = INCH_STEPS if unit == "in" else METRIC_STEPS
    return next((step for step in steps if longest / step <= LABELS_A_SIDE), steps[-1])
