"""What a survey means, in words with figures: how far out a panel is, what to measure from, and the three ways to live with it."""

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from math import cos, degrees, dist, radians

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import Graduation, exact, read_off
from dividers.core.cells.layout import Layout
from dividers.core.geometry.quads import BOTTOM, CORNERS, LEFT, RIGHT, TOP, Quad
from dividers.core.job.method import Limits
from dividers.core.job.surface import FLAT_KINDS, SIDES, Panel
from dividers.core.survey.adjustment import FALL, LEAN, Adjusted, stated
from dividers.core.survey.blunders import NOTHING_MM
from dividers.core.survey.outline import LEAST_FIELD_MM, adjusted_outline, margins_of, shaped, unshaped

# A border hides a taper that is no more than this share of its width (common practice, no source).
HIDES_SHARE = Fraction(1, 8)

# People notice lengths that differ by two or three parts in a hundred (from memory: Weber's fraction for length); half of that
# passes, whatever the limit in millimetres.
UNSEEN_SHARE = 0.01

# A parameter of the outline is unknown when the readings leave it more than this share as uncertain as a guess.
UNDETERMINED = 0.5
WIDTHS, TAPER, HEIGHTS, RISE = range(4)


@dataclass(frozen=True)
class Repeats:
    """How often a pattern repeats across and down a panel, and whether it has slanting lines."""

    across: int
    down: int
    slanting: bool


@dataclass(frozen=True)
class Way:
    """One way out: the method's `fit`, what it is, the border it takes (None where it takes none), and what one would see."""

    fit: str
    title: str
    sees: tuple[str, ...]
    border_mm: Fraction | None = None


@dataclass(frozen=True)
class Verdict:
    """What the readings of one panel say, and what to do.

    `more` are readings that would show more; `side` is the side to measure across from, None where either does; `level` how far down the left
    side to strike a level line to measure from, as it is read, empty where measuring down from the top does.
    """

    panel: str
    outline: Quad
    findings: tuple[str, ...]
    more: tuple[str, ...]
    datum: tuple[str, ...]
    side: str | None
    level: str
    ways: tuple[Way, ...]
    recommended: str
    why: str


def repeats_of(layout: Layout, panel: int) -> Repeats:
    """How often a layout's pattern repeats across and down one of its panels: by the middle size of its cells."""
    here = np.flatnonzero(layout.panels == panel)
    cells = layout.cells
    owner = cells.ring_shape[cells.point_ring]
    low, high = np.full((len(cells), 2), np.inf), np.full((len(cells), 2), -np.inf)
    np.minimum.at(low, owner, cells.points)
    np.maximum.at(high, owner, cells.points)
    placed = layout.sheet.placed[panel]
    box = placed.box(placed.panel.field)
    if not len(here):
        return Repeats(1, 1, False)
    wide, high_mm = np.median(high[here] - low[here], axis=0).tolist()
    way = layout.borders.lines.directions
    slanting = bool((np.abs(way).min(axis=1) > 0.05).any()) if len(way) else False
    return Repeats(max(round(float(box.width) / wide), 1), max(round(float(box.height) / high_mm), 1), slanting)


def verdict_of(
    panel: Panel, repeats: Repeats, limits: Limits, graduation: Graduation, unit: str, surface: str
) -> Verdict | None:
    """Judge a panel by its readings; None where there are none. `surface` is its kind, which gives its sides and lines their words."""
    if not any(not reading.aside for reading in panel.readings):
        return None
    adjusted, _ = adjusted_outline(panel, graduation.step_mm, unit)
    return _VerdictWriter(unshaped(panel), adjusted, repeats, limits, graduation, unit, surface).verdict()


class _VerdictWriter:
    def __init__(
        self,
        panel: Panel,
        adjusted: Adjusted,
        repeats: Repeats,
        limits: Limits,
        graduation: Graduation,
        unit: str,
        surface: str,
    ) -> None:
        self.panel, self.adjusted, self.repeats, self.limits = panel, adjusted, repeats, limits
        self.graduation, self.unit = graduation, unit
        self.quad = adjusted.quad
        self.field = self.quad.inset(*margins_of(panel))
        self.top, self.bottom = ("ceiling", "floor") if surface == "wall" else ("top edge", "bottom edge")
        self.flat = surface in FLAT_KINDS

    def say(self, mm: float | Fraction) -> str:
        return read_off(abs(exact(float(mm))), self.graduation).text

    def knows(self, *parameters: int) -> bool:
        return bool((self.adjusted.undetermined[list(parameters)] < UNDETERMINED).all())

    def verdict(self) -> Verdict:
        true = np.abs(self.quad.points - stated(self.panel).points).max() < NOTHING_MM
        recommended, why = self._recommended()
        side, across = self._side()
        return Verdict(
            panel=self.panel.name,
            outline=self.quad,
            findings=tuple(self._findings()) or ("Square and the size you gave, as far as these readings show.",),
            more=tuple(self._more()),
            datum=(self._level(), across),
            side=side,
            level=self._middle() if self._wants_level() else "",
            ways=() if true else tuple(self._ways()),
            recommended=recommended,
            why=why,
        )

    def _off_square(self, corner: int) -> tuple[float, float]:
        """How far the shorter side at a corner runs off square, and its length, mm; below 0 where the corner is open."""
        reach = min(self.quad.length(corner), self.quad.length(corner - 1 if corner else 3))
        return reach * cos(radians(self.quad.angle_deg(corner))), reach

    def _findings(self) -> Iterator[str]:
        quad, say = self.quad, self.say
        one, other = dist(quad.corners[0], quad.corners[2]), dist(quad.corners[1], quad.corners[3])
        angles = [quad.angle_deg(corner) for corner in range(4)]
        sharp = min(range(4), key=lambda corner: angles[corner])
        off, reach = self._off_square(sharp)
        if self.knows(LEAN) and off > NOTHING_MM:
            yield (
                f"Out of square by {say(off)} over {say(reach)}: the {CORNERS[sharp]} is the tight corner, {angles[sharp]:.1f}°. "
                f"The diagonals are {say(abs(one - other))} apart."
            )
        for side, name in ((TOP, self.top), (BOTTOM, self.bottom)):
            (ax, ay), (bx, by) = quad.side(side)
            fall = by - ay if side == TOP else ay - by
            if self.knows(FALL) and (side == TOP or self.knows(RISE)) and abs(fall) > NOTHING_MM:
                yield f"The {name} runs off by {say(fall)} over {say(abs(bx - ax))}, falling to the {'right' if fall > 0 else 'left'}."
        wider = quad.length(BOTTOM) - quad.length(TOP)
        if self.knows(TAPER) and abs(wider) > NOTHING_MM:
            yield f"It is {say(wider)} wider at the {'bottom' if wider > 0 else 'top'} than at the {'top' if wider > 0 else 'bottom'}."
        higher = quad.length(RIGHT) - quad.length(LEFT)
        if self.knows(RISE) and abs(higher) > NOTHING_MM:
            yield f"It is {say(higher)} higher at the {'right' if higher > 0 else 'left'} than at the {'left' if higher > 0 else 'right'}."
        for mm, stated_mm, name in (
            (self.adjusted.parameters[WIDTHS], self.panel.width_mm, "width"),
            (self.adjusted.parameters[HEIGHTS], self.panel.height_mm, "height"),
        ):
            if abs(mm - float(stated_mm)) > max(NOTHING_MM, float(self.limits.unnoticed_mm)):
                yield f"The {name} is {say(mm)} in the middle; you gave {say(stated_mm)}."

    def _more(self) -> Iterator[str]:
        undetermined = self.adjusted.undetermined > UNDETERMINED
        if undetermined[WIDTHS] or undetermined[TAPER]:
            yield "Measure a width at the top and one at the bottom to see whether the sides are parallel."
        if undetermined[HEIGHTS] or undetermined[RISE]:
            yield f"A height at the left and one at the right would show whether {self.top} and {self.bottom} are parallel."
        if undetermined[LEAN]:
            yield "Measure a diagonal to see whether the corners are square; measure both and they check each other."
        if undetermined[FALL] and not self.flat:
            yield (
                f"No reading shows whether the {self.top} is level. Strike a level line and measure from it to the {self.top} at both ends."
            )
        if self.adjusted.spare == 0:
            yield "Nothing checks these readings, so a mistake would go unseen. One more reading, such as the other diagonal, checks them."

    def _level(self) -> str:
        if self.flat:
            return self._struck_across()
        fall = self.quad.corners[1][1] - self.quad.corners[0][1]
        line = (
            f"Mark one point at the left, about {self._middle()} down, strike a level line across through it, "
            "and measure up and down from that line"
        )
        if not self.knows(FALL):
            return f"{line}: whether the {self.top} is level isn't known."
        if not self._wants_level():
            return f"The {self.top} is level to {self.say(max(abs(fall), NOTHING_MM))}: measuring down from it is safe."
        return f"{line}. If you measured down from the {self.top}, its {self.say(fall)} would show in every horizontal line."

    def _middle(self) -> str:
        return self.say(self.quad.length(LEFT) / 2)

    def _wants_level(self) -> bool:
        """Whether what is measured down from the top would show that it isn't level, or may."""
        fall = self.quad.corners[1][1] - self.quad.corners[0][1]
        return not self.flat and not (self.knows(FALL) and abs(fall) <= float(self.limits.unnoticed_mm))

    def _struck_across(self) -> str:
        """Where nothing is level or plumb the line that is measured from is the surface's own."""
        worst = max(abs(self._off_square(corner)[0]) for corner in range(4))
        if self.knows(RISE, TAPER, LEAN) and worst <= float(self.limits.unnoticed_mm):
            return f"It is square to {self.say(max(worst, NOTHING_MM))}: measuring down from the {self.top} is safe."
        middle = self.say(self.quad.length(LEFT) / 2)
        return f"Strike a line across at {middle} down on both sides, square another to it at its middle, and measure from those two: the {self.top} isn't known to be square."

    def _side(self) -> tuple[str | None, str]:
        """The side to measure across from, and why."""
        (ax, _), (bx, _), (cx, _), (dx, _) = self.quad.corners
        left, right = abs(dx - ax), abs(cx - bx)
        if not self.knows(LEAN):
            return None, f"Measure across from either side: no reading shows which one is {'square' if self.flat else 'plumb'}."
        if abs(left - right) <= NOTHING_MM:
            return None, f"Measure across from either side: both {'run off' if self.flat else 'lean'} by {self.say(left)}."
        off = "runs off" if self.flat else "leans"
        near, far = ("left", "right") if left < right else ("right", "left")
        lean, more = self.say(min(left, right)), self.say(max(left, right))
        true = ("is square" if self.flat else "is plumb") if min(left, right) < NOTHING_MM else f"{off} by {lean}"
        return (
            near,
            f"Measure across from the {near}: it {true}, the {far} {off} by {more}, so the remainder ends up at the {far}.",
        )

    def _ways(self) -> Iterator[Way]:
        yield Way("follow", "Follow the outline", tuple(self._following()))
        yield Way("square", "Stay square", tuple(self._square()))
        border = self._border()
        try:
            hidden = tuple(self._hidden(border))
        except BadInput:
            return
        yield Way("hide", "Hide it in a border or the trim", hidden, border)

    def _shares(self) -> tuple[float, float]:
        """How much a column differs from its top to its bottom, and a row from its left to its right, mm."""
        wider = (
            abs(self.field.length(TOP) - self.field.length(BOTTOM)) / self.repeats.across if self.repeats.across > 1 else 0.0
        )
        higher = abs(self.field.length(LEFT) - self.field.length(RIGHT)) / self.repeats.down if self.repeats.down > 1 else 0.0
        return wider, higher

    def _worst_share(self) -> tuple[float, float]:
        """The difference of a repeat that shows most, and how much of it goes unseen: the limit, or a small share of a large repeat."""
        sizes = (self.field.length(TOP) / self.repeats.across, self.field.length(LEFT) / self.repeats.down)
        least = float(self.limits.per_repeat_mm)
        pairs = [(share, max(least, size * UNSEEN_SHARE)) for share, size in zip(self._shares(), sizes, strict=True)]
        return max(pairs, key=lambda pair: pair[0] / max(pair[1], 1e-9))

    def _slope_deg(self) -> float:
        """How much the steepest line that should be level or plumb slopes, where the pattern has such lines."""
        slopes = [0.0]
        for side, many in (
            (TOP, self.repeats.down),
            (BOTTOM, self.repeats.down),
            (LEFT, self.repeats.across),
            (RIGHT, self.repeats.across),
        ):
            (ax, ay), (bx, by) = self.field.side(side)
            off = by - ay if side in (TOP, BOTTOM) else bx - ax
            if many > 1:
                slopes.append(degrees(abs(off) / self.field.length(side)))
        half = dist(self.field.corners[0], self.field.corners[2]) / 2
        return max(*slopes, degrees(2 * self._kink() / half))

    def _kink(self) -> float:
        """How far slanting lines bend from straight, mm."""
        a, b, c, d = self.field.points
        return float(np.hypot(*(a - b + c - d))) / 4 if self.repeats.slanting else 0.0

    def _following(self) -> Iterator[str]:
        field, repeats, say = self.field, self.repeats, self.say
        if repeats.across > 1:
            top, bottom = (field.length(side) / repeats.across for side in (TOP, BOTTOM))
            yield f"Columns {say(top)} wide at the top and {say(bottom)} at the bottom."
        if repeats.down > 1:
            left, right = (field.length(side) / repeats.down for side in (LEFT, RIGHT))
            yield f"Rows {say(left)} high at the left and {say(right)} at the right."
        slope = self._slope_deg()
        yield (
            f"Lines slope by up to {slope:.2f}°."
            if slope > 0.005
            else f"All lines stay {'square' if self.flat else 'level and plumb'}."
        )
        if self._kink() > NOTHING_MM / 4:
            yield f"Slanting lines bend by up to {say(self._kink())}."
        yield "Nothing is cut at the edges; each side has its own marks."

    def _tapers(self) -> Iterator[tuple[str, float, float, float]]:
        """At which sides cells laid true end on a slant: the side, the size of the others, and theirs at both ends, mm."""
        laid = shaped(self.panel, self.quad, "square", Fraction(0), self.graduation.step_mm, self.unit).field
        box = (float(laid.left), float(laid.top), float(laid.right), float(laid.bottom))
        for side, axis, edge, size in (
            (TOP, 1, box[1], (box[3] - box[1]) / self.repeats.down),
            (RIGHT, 0, box[2], (box[2] - box[0]) / self.repeats.across),
            (BOTTOM, 1, box[3], (box[3] - box[1]) / self.repeats.down),
            (LEFT, 0, box[0], (box[2] - box[0]) / self.repeats.across),
        ):
            many = self.repeats.down if axis else self.repeats.across
            one, other = (abs(point[axis] - edge) for point in self.field.side(side))
            if many > 1 and abs(one - other) > NOTHING_MM / 2:
                yield SIDES[side], size, size + one, size + other

    def _square(self) -> Iterator[str]:
        ends = {"top": ("left", "right"), "right": ("top", "bottom"), "bottom": ("right", "left"), "left": ("bottom", "top")}
        names = {"top": "top row", "right": "last column", "bottom": "bottom row", "left": "first column"}
        for side, _, one, other in self._tapers():
            first, last = ends[side]
            yield f"The {names[side]} tapers from {self.say(max(one, 0))} at its {first} to {self.say(max(other, 0))} at its {last}."
        yield ("Every other part is true." if list(self._tapers()) else "Nothing tapers: no row or column is cut on a slant.")

    def _worst(self) -> float:
        return max((abs(one - other) for _, _, one, other in self._tapers()), default=0.0)

    def _border(self) -> Fraction:
        """A border so wide that the worst taper is a small share of it, on a round figure."""
        least = exact(self._worst()) / HIDES_SHARE
        step = self.graduation.step_mm
        coarse = step * (8 if self.graduation.unit == "in" else 10)
        return max(-(-least // coarse), 1) * coarse

    def _hidden(self, border: Fraction) -> Iterator[str]:
        inside = shaped(self.panel, self.quad, "hide", border, self.graduation.step_mm, self.unit).field
        box = (float(inside.left), float(inside.top), float(inside.right), float(inside.bottom))
        yield f"A border at least {self.say(border)} wide; inside it everything is true."
        widest = 0.0
        for side, axis, edge in ((TOP, 1, box[1]), (RIGHT, 0, box[2]), (BOTTOM, 1, box[3]), (LEFT, 0, box[0])):
            one, other = (abs(edge - point[axis]) for point in self.field.side(side))
            if abs(one - other) > NOTHING_MM / 2:
                widest = max(widest, abs(one - other))
                name = (f"along the {self.top}", "at the right", f"along the {self.bottom}", "at the left")[side]
                yield f"It is {self.say(min(one, other))} to {self.say(max(one, other))} wide {name}."
        if widest:
            yield f"Or set this to 0 and let trim at least {self.say(widest + float(self.graduation.step_mm))} wide cover the slant."

    def _recommended(self) -> tuple[str, str]:
        limits, say = self.limits, self.say
        worst = self._worst()
        if worst <= float(limits.unnoticed_mm):
            return "square", f"Nothing would taper by more than {say(worst)}; up to {say(limits.unnoticed_mm)} goes unnoticed."
        (share, allowed), slope = self._worst_share(), self._slope_deg()
        figures = (
            f"Spread over the repeats, each differs by {say(share)} ({say(allowed)} goes unseen"
            f"{', a hundredth of it' if allowed > float(limits.per_repeat_mm) else ''}) "
            f"and lines slope by {slope:.2f}° ({float(limits.slope_deg):g}° goes unseen)"
        )
        if share <= allowed and slope <= float(limits.slope_deg):
            return "follow", f"{figures}; square, a row would taper by {say(worst)}, which shows."
        border = self._border()
        room = min(self.field.length(side) for side in range(4))
        if border * 4 < room and room - float(border) * 2 > LEAST_FIELD_MM:
            return "hide", f"{figures}: too much. In a border of {say(border)} the taper of {say(worst)} is lost."
        return "follow", f"{figures}. That shows, but there is no room for a border of {say(border)} that would hide it."
