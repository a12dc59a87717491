"""Makes the scene of a piece: its sheets from left to right, each unrolled, with rulers on two sides."""

import math
from collections.abc import Callable, Mapping, Sequence
from fractions import Fraction

import numpy as np

from dividers.core.base.colour import glazed
from dividers.core.base.lengths import exact, write_inches
from dividers.core.base.units import INCH_MM
from dividers.core.cells.layout import Layout
from dividers.core.cells.lit_sides import lit_sides
from dividers.core.geometry import polygons
from dividers.core.geometry.contours import box_of
from dividers.core.geometry.ledger import NOTHING
from dividers.core.geometry.quads import RIGHT, crossing
from dividers.core.geometry.shapes import Floats, Point
from dividers.core.job.products import Colour
from dividers.core.job.surface import Panel, Rectangle
from dividers.core.marks.level_line import NAME as LEVEL_LINE
from dividers.core.marks.mark_places import lines_to_mark
from dividers.core.output.hand_shapes import shapes_on
from dividers.core.output.scene import Area, Dot, Label, Scene, Stroke, View
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.plan.plan_document import cell_rounds
from dividers.core.plan.strips_told import sides_in_words
from dividers.core.survey.sheet import Crease, Placed, Sheet

# Ruler divisions to choose from, mm: the smallest whose labels have room.
INCH_STEPS = tuple(INCH_MM * n for n in (Fraction(1, 2), 1, 2, 3, 6, 12, 24, 48, 96, 240, 480, 1200))
METRIC_STEPS = tuple(Fraction(n) for n in (5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10000, 20000))
LABELS_A_SIDE = 12

# A text is as high as this share of a page's drawing, whichever way the drawing is the longer.
EMS_ACROSS, EMS_DOWN = 52, 32

# With more cells and strips than this, parts of one look are drawn as one and can't be pointed at.
MOST_PARTS = 3_000
MOST_NUMBERED = 60  # corners of an outline
NUMBER_EMS = 2.5  # a strip so many text heights long has its number on it

# The way out of the field at each of its sides.
OUTWARD = {"top edge": (0, -1), "right edge": (1, 0), "bottom edge": (0, 1), "left edge": (-1, 0)}


def draw(plan: PiecePlan, palette: Mapping[str, Colour], unit: str, view: View) -> Scene:
    """The scene of a piece: all its sheets from left to right, rulers along the first one's left and everyone's top."""
    tape = float(plan.piece.method.tape.width_mm)
    boxes = [_box(sheet) for sheet in plan.sheets]
    em = max(sum(float(b.width) for b in boxes) / EMS_ACROSS, max(float(b.height) for b in boxes) / EMS_DOWN)
    rim = max(tape if view.strips_of else 0.0, em * (3.2 if view.marks else 0.8)) + em * 0.4
    gap = 2 * rim + em * 3
    builder = _SceneBuilder(plan, palette, unit, view, em, rim)
    at = 0.0
    for number, box in enumerate(boxes):
        builder.add_sheet(number, box, at - float(box.left))
        at += float(box.width) + gap
    band = rim + em * 2.6
    tallest = max(float(b.height) for b in boxes)
    beside = rim + em * max(2.6, 1.3 + 0.55 * len(f"{tallest:.0f}" if unit == "mm" else ""))  # figures of millimetres are long
    return Scene(
        left=-beside,
        top=-band,
        width=at - gap + beside + rim,
        height=tallest + band + rim,
        em=em,
        cells=tuple(builder.cells),
        openings=tuple(builder.openings),
        strips=tuple(builder.strips),
        strokes=tuple(builder.strokes),
        labels=tuple(builder.labels),
        dots=tuple(builder.dots),
        outlines=tuple(builder.outlines),
        by_hand=tuple(builder.by_hand),
        simplified=len(builder.cells) + len(builder.strips) > MOST_PARTS,
    )


def _box(sheet: Sheet) -> Rectangle:
    """The least rectangle around a sheet's panels."""
    boxes = [_panel_box(placed) for placed in sheet.placed]
    return Rectangle(
        min(b.left for b in boxes), min(b.top for b in boxes), max(b.right for b in boxes), max(b.bottom for b in boxes)
    )


def _panel_box(placed: Placed) -> Rectangle:
    if not placed.panel.shape:
        return placed.box(placed.panel.outline)
    return Rectangle(*(exact(side) for side in box_of(placed.ring(placed.panel.outline_ring))))


class _SceneBuilder:
    """Gathers the shapes of one sheet after the other. A sheet is moved by `shift` so that its box starts at the top."""

    def __init__(self, plan: PiecePlan, palette: Mapping[str, Colour], unit: str, view: View, em: float, rim: float) -> None:
        self.plan, self.palette, self.unit, self.view, self.em, self.rim = plan, palette, unit, view, em, rim
        self.cells: list[Area] = []
        self.openings: list[Area] = []
        self.strips: list[Area] = []
        self.strokes: list[Stroke] = []
        self.labels: list[Label] = []
        self.dots: list[Dot] = []
        self.outlines: list[tuple[Point, ...]] = []
        self.by_hand: list[Area] = []
        self.shift: Point = (0.0, 0.0)

    def at(self, point: Sequence[float] | Floats) -> Point:
        return float(point[0]) + self.shift[0], float(point[1]) + self.shift[1]

    def moved(self, rings: Sequence[Sequence[Point]]) -> tuple[tuple[Point, ...], ...]:
        return tuple(tuple(self.at(point) for point in ring) for ring in rings)

    def add_sheet(self, number: int, box: Rectangle, across: float) -> None:
        sheet = self.plan.sheets[number]
        self.shift = (across, -float(box.top))
        layers = self._layers_seen()
        for layer in layers:
            self._add_cells(number + layer * self.plan.sheet_count)
        for placed in sheet.placed:
            self.outlines.append(tuple(self.at(corner) for corner in placed.ring(placed.panel.outline_ring)))
            self._add_openings(placed)
            if not self.view.strips_of and self.view.layers is None:
                self._add_by_hand(placed)
            if len(self.plan.piece.surface.panels) > 1:
                self._add_name(placed)
            if self.view.corners:
                self._add_corners(placed)
        for crease in sheet.creases:
            self._add_crease(sheet, crease)
        self._add_rulers(box, first=number == 0)
        layouts = [number + layer * self.plan.sheet_count for layer in layers]
        if self.view.strips_of:
            for at in layouts:
                self._add_strips(at, self.plan.layouts[at], self.view.strips_of)
        if self.view.marks:
            for at in layouts:
                if self.view.marks_of in (None, at // self.plan.sheet_count):
                    for placed, panel in zip(sheet.placed, self.plan.layouts[at].by_panel, strict=True):
                        self._add_snaps(placed, panel)
            for placed in sheet.placed:
                self._add_marks(placed)
        else:
            self.dots += [Dot(self.at(dot.point)) for at in layouts for dot in self.plan.layouts[at].tiles.dots]

    def _layers_seen(self) -> list[int]:
        """The layers to draw, the lowest first: up to that of the round shown, and those asked for."""
        shown = self.view.strips_of
        last = self.plan.taping.chosen.rounds[shown - 1].layer if shown else len(self.plan.layers) - 1
        wanted = self.view.layers
        return [layer for layer in range(last + 1) if wanted is None or layer in wanted]

    def _add_name(self, placed: Placed) -> None:
        box = placed.box(placed.panel.outline)
        where = (float(box.left) + self.em * 0.4, float(box.bottom) - self.em * 0.5)
        self.labels.append(Label("panel", self.at(where), placed.panel.name, "start"))

    def _add_corners(self, placed: Placed) -> None:
        """The numbers of an outline's corners, inside it."""
        corners = placed.panel.contour.corners if placed.panel.contour else ()
        middle = np.mean(np.array(corners), axis=0) if corners else None
        for number, corner in enumerate(corners[:MOST_NUMBERED], 1):
            way = np.array(middle) - np.array(corner)
            x, y = np.array(corner) + way / max(float(np.hypot(*way)), 1e-9) * self.em * 1.6
            self.labels.append(Label("panel", self._on_sheet(placed, (x, y + self.em * 0.3)), str(number), "middle"))

    def _add_crease(self, sheet: Sheet, crease: Crease) -> None:
        """A fold, along the longer of both sides."""
        sides = [
            sheet.placed[crease.first].side_on_sheet(crease.side),
            sheet.placed[crease.second].side_on_sheet(crease.other_side),
        ]
        start, end = max(sides, key=lambda ends: math.dist(*ends))
        self.strokes.append(Stroke("fold", self.at(start), self.at(end)))

    def _add_cells(self, number: int) -> None:
        """The cells of one layer on one sheet. What a layer above others doesn't paint lets them be seen."""
        layout, upper = self.plan.layouts[number], number >= self.plan.sheet_count
        states = self._states(number, layout)
        base = self.palette[self.plan.piece.base]
        signs = polygons.inner_points(layout.polygons).tolist() if self.view.strips_of else []
        for index, rings in enumerate(layout.cells.shifted(self.shift)):
            reserved = bool(layout.reserved[index])
            colour = self.palette[layout.color(index) or base.key]
            state = states[index]
            if upper and (reserved or not layout.painted[index]):
                continue
            shown = base if state in ("later", "keep") and self.view.strips_of else colour
            under = int(layout.under[index])
            fill = shown.hex
            if under != NOTHING and shown is colour:
                fill = glazed(base.hex, self.palette[layout.colors[under] or base.key].hex, colour.hex)
            self.cells.append(
                Area(
                    key=self.plan.cell_keys[number][index],
                    rings=tuple(map(tuple, rings)),
                    fill="" if upper and state == "later" else fill,
                    state=state,
                    sign=self.at(signs[index]) if signs and not reserved else None,
                    title="reserved line"
                    if reserved
                    else colour.name
                    if layout.origins[index] >= 0
                    else f"{colour.name}, outside the pattern",
                    sheen="" if reserved else shown.sheen,
                    layer=number // self.plan.sheet_count,
                )
            )
        if layout.tiles.light and not self.view.strips_of:
            for side in lit_sides(layout):
                self.strokes.append(Stroke(side.kind, self.at(side.start), self.at(side.end)))

    def _states(self, number: int, layout: Layout) -> list[str]:
        """What the round shown does with each cell: paint or keep it, or it is done or comes later; "" where no round is shown."""
        shown = self.view.strips_of
        if not shown:
            return ["reserve" if reserved else "" for reserved in layout.reserved]
        if number // self.plan.sheet_count < self.plan.taping.chosen.rounds[shown - 1].layer:
            return ["done"] * len(layout.cells)
        last = cell_rounds(self.plan, number)
        now = self.plan.taping.chosen.rounds[shown - 1].painted[number]
        states = np.where(last == 0, "keep", np.where(last < shown, "done", "later"))
        return [str(state) for state in np.where(layout.reserved, "reserve", np.where(now, "paint", states))]

    def _add_by_hand(self, placed: Placed) -> None:
        for work in self.plan.hand:
            color = self.palette[work.color]
            for ring in shapes_on(work, placed.panel.name):
                found = tuple(self.at(point) for point in placed.to_sheet(np.array(ring)))
                self.by_hand.append(Area("", (found,), color.hex, title=f"{work.layer.name}: {color.name}", layer=work.number))

    def _add_openings(self, placed: Placed) -> None:
        for opening in placed.panel.openings:
            ring = placed.ring(opening.corners)
            self.openings.append(Area("", self.moved([ring]), "", title=opening.name))
            left, top, right, bottom = box_of(ring)
            middle = ((left + right) / 2, (top + bottom) / 2)
            if right - left > self.em * 0.55 * len(opening.name):
                self.labels.append(Label("opening", self.at(middle), opening.name))

    def _add_rulers(self, box: Rectangle, first: bool) -> None:
        step = ruler_step(self.unit, max(box.width, box.height))
        left = float(box.left) + self.shift[0]
        self._add_ruler(box.width, step, lambda run, out: (run + left, -out), "middle")
        if first:
            self._add_ruler(box.height, step, lambda run, out: (-out, run), "end")

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

    def _add_strips(self, number: int, layout: Layout, round_number: int) -> None:
        first = self.plan.strips_before(round_number, number) + 1
        strips = self.plan.taping.chosen.rounds[round_number - 1].strips[number]
        sides = sides_in_words(strips, layout.sheet)
        for index, rings in enumerate(strips.shapes.shifted(self.shift)):
            start, end = strips.segment(index)
            key = f"s{first + index}"
            self.strips.append(Area(key, tuple(map(tuple, rings)), "", strips.kind(index), title=sides[index]))
            if not strips.reserve[index]:
                self.strokes.append(Stroke("facing", self.at(start), self.at(end), key))
            self._add_number(key, rings, math.dist(start, end), index % 2)

    def _add_number(self, key: str, rings: Sequence[Sequence[Point]], length: float, turn: int) -> None:
        """A strip's number on it, where it is long enough to hold one; beside the middle, so that no two neighbours' meet."""
        if length < NUMBER_EMS * self.em:
            return
        xs, ys = [x for x, _ in rings[0]], [y for _, y in rings[0]]
        x, y = (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2
        off = self.em * (1.2 if turn else -1.2) if length > 3 * NUMBER_EMS * self.em else 0.0
        across = max(xs) - min(xs) > max(ys) - min(ys)
        at = (x + off, y + self.em * 0.3) if across else (x, y + off + self.em * 0.3)
        self.labels.append(Label("strip", at, key[1:], "middle", key))

    def _add_snaps(self, placed: Placed, layout: Layout) -> None:
        """The lines of a panel that are snapped or drawn."""
        layout = layout.plain if layout.plain and self.plan.taping.chosen.taping == "reserve" else layout
        borders = layout.borders
        if layout.tiles.start_lines is None and not layout.tiles.torn:
            shown = lines_to_mark(layout)
            starts, stops = (np.searchsorted(borders.line, shown, side) for side in ("left", "right"))
            for line, on in zip(shown.tolist(), map(slice, starts.tolist(), stops.tolist()), strict=True):
                ends = (borders.lines.point(line, t) for t in (float(borders.t0[on].min()), float(borders.t1[on].max())))
                low, high = (self._on_sheet(placed, end) for end in ends)
                self.strokes.append(Stroke("snap", low, high))

    def _add_marks(self, placed: Placed) -> None:
        panel = placed.panel
        for check in self.plan.checks:
            if check.panel == panel.name:
                self.strokes.append(Stroke("check", self._on_sheet(placed, check.start), self._on_sheet(placed, check.end)))
        sides: dict[str, list[tuple[float, str, Point]]] = {}
        for number, mark in enumerate(self.plan.marks, 1):
            if mark.panel == panel.name and self.view.marks_of in (None, mark.layer):
                run = mark.x if mark.line in ("top edge", "bottom edge") else mark.y
                sides.setdefault(mark.line, []).append((run, f"m{number}", (mark.x, mark.y)))
                if mark.what == LEVEL_LINE:
                    ends = crossing(((0.0, mark.y), (1.0, mark.y)), panel.outline_quad.side(RIGHT))
                    self.strokes.append(
                        Stroke("level", self._on_sheet(placed, (mark.x, mark.y)), self._on_sheet(placed, ends), f"m{number}")
                    )
                if mark.what == "dot":
                    self.dots.append(Dot(self._on_sheet(placed, (mark.x, mark.y)), f"m{number}"))
        for side, marks in sides.items():
            if side in OUTWARD:
                self._add_side(placed, OUTWARD[side], sorted(marks))
            else:
                self._add_inner(placed, marks)

    def _on_sheet(self, placed: Placed, point: Point) -> Point:
        return self.at(placed.to_sheet(np.array([point]))[0])

    def _add_inner(self, placed: Placed, marks: list[tuple[float, str, Point]]) -> None:
        """Marks inside the field: a small cross each; their numbers are in the list."""
        arm = self.em * 0.5
        for _, key, point in marks:
            x, y = self._on_sheet(placed, point)
            self.strokes.append(Stroke("tick", (x - arm, y), (x + arm, y), key))
            self.strokes.append(Stroke("tick", (x, y - arm), (x, y + arm), key))

    def _add_side(self, placed: Placed, out: tuple[int, int], marks: list[tuple[float, str, Point]]) -> None:
        """The marks of one side, their numbers as far as there is room for them."""
        em, free = self.em, -np.inf
        origin, tip = placed.to_sheet(np.array([(0.0, 0.0), out]))
        ox, oy = tip - origin
        away = self._label_reach(placed.panel, out)
        for run, key, point in marks:
            x, y = self._on_sheet(placed, point)
            reach = em * 0.9
            self.strokes.append(Stroke("tick", (x - ox * reach, y - oy * reach), (x + ox * reach, y + oy * reach), key))
            if run >= free:
                room = em * (0.8 + 0.55 * len(key)) if abs(ox) < 0.5 else em * 1.1
                free = run + room
                self.labels.append(Label("mark", (x + ox * away, y + oy * away + em * 0.35), key[1:], "middle", key))

    def _label_reach(self, panel: Panel, out: tuple[int, int]) -> float:
        """How far outside the field numbers stand: beyond the panel's outline where they would lie on it."""
        usual, clear = self.em * 1.9, self.em * 0.9
        field, outline = panel.field_quad.points, panel.outline_quad.points
        way = np.array(out, float)
        margin = float((outline @ way).max() - (field @ way).max())
        return margin + clear if abs(usual - margin) < clear else usual


def ruler_step(unit: str, longest: Fraction) -> Fraction:
    """The distance between figures on a ruler beside something that long, in mm."""
    steps = INCH_STEPS if unit == "in" else METRIC_STEPS
    return next((step for step in steps if longest / step <= LABELS_A_SIDE), steps[-1])
