"""What is done by hand over the taped layers of a piece: motifs and shading, with their places, lengths, paint and time."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

from dividers.core.base.lengths import Graduation
from dividers.core.cells.layout import Layout
from dividers.core.cells.lit_sides import lit_sides
from dividers.core.cells.motifs import air_of, places_of
from dividers.core.geometry.shapes import Point
from dividers.core.job.layers import DOT, MOTIFS, NAIL_HEAD, STRIP, HandLayer
from dividers.core.job.model import Piece
from dividers.core.marks.registration import RegistrationStrip, strips_for

ROUND_TOOLS = (DOT, NAIL_HEAD)
MOST_MOTIFS = 5000


@dataclass(frozen=True)
class HandWork:
    """One colour of a hand layer, on one copy. `number` counts the layer among all of the piece, taped ones first.

    `places` are motifs' middles and `lines` shaded sides, each with its panel's name, in working order; `minutes` are for one coat.
    """

    number: int
    layer: HandLayer
    color: str
    places: tuple[tuple[str, Point], ...] = ()
    lines: tuple[tuple[str, Point, Point], ...] = field(default=(), repr=False)
    air_mm: float | None = None

    def places_on(self, panel: str) -> list[Point]:
        """The middles of its motifs on a panel."""
        return [point for name, point in self.places if name == panel]

    def registration(self, graduation: Graduation) -> tuple[RegistrationStrip, ...]:
        """The registration strips that its motifs are marked by, if any."""
        if self.layer.marking != STRIP:
            return ()
        names = dict.fromkeys(name for name, _ in self.places)
        return strips_for([self.places_on(name) for name in names], graduation)

    @property
    def length_mm(self) -> float:
        return sum(math.dist(start, end) for _, start, end in self.lines)

    @property
    def area_m2(self) -> float:
        """What is painted in one coat: a round motif as an ellipse, another one as if it filled its box; a line by its width."""
        wide, high = float(self.layer.width_mm), float(self.layer.height_mm)
        one = wide * high * (math.pi / 4 if self.layer.tool in ROUND_TOOLS else 1)
        return (one * len(self.places) + self.length_mm * float(self.layer.line_mm)) / 1e6

    def coats(self, piece: Piece) -> int:
        """One, where the job says nothing else of its colour."""
        return piece.method.coats.get(self.color, 1) if self.color != piece.base else 1

    @property
    def minutes(self) -> float:
        return len(self.places) * self.layer.minutes_each + self.length_mm / 1000 * self.layer.minutes_per_m


def hand_work(by_hand: Sequence[HandLayer], names: Sequence[str], layers: Sequence[Sequence[Layout]]) -> tuple[HandWork, ...]:
    """All that is done by hand over layers, which have names and, each, layouts by panel; in working order."""
    found: list[HandWork] = []
    for number, hand in enumerate(by_hand, len(names)):
        panels = layers[names.index(hand.of)]
        found += [_motifs(number, hand, panels)] if hand.kind == MOTIFS else _shading(number, hand, panels)
    return tuple(found)


def _motifs(number: int, hand: HandLayer, panels: Sequence[Layout]) -> HandWork:
    places: list[tuple[str, Point]] = []
    airs: list[float] = []
    for turn, layout in enumerate(panels):
        if not isinstance(hand.at, str) and (layout.panel.name != hand.panel if hand.panel else turn):
            continue
        here = places_of(layout, hand)
        air = air_of(layout, hand, here)
        airs += [air] if air is not None else []
        places += [(layout.panel.name, point) for point in here]
    return HandWork(number, hand, hand.color, tuple(places[:MOST_MOTIFS]), air_mm=min(airs) if airs else None)


def _shading(number: int, hand: HandLayer, panels: Sequence[Layout]) -> list[HandWork]:
    """The dark lines, then the bright ones; all at once where both are of one colour."""
    towards = light_towards(hand.light)
    lines: dict[str, tuple[tuple[str, Point, Point], ...]] = {}
    for color, kind in ((hand.dark, "shade"), (hand.bright, "bright")):
        if color:
            lines[color] = lines.get(color, ()) + tuple(
                (layout.panel.name, side.start, side.end)
                for layout in panels
                for side in lit_sides(layout, towards)
                if side.kind == kind and layout.painted[side.cell] and not layout.reserved[side.cell]
            )
    return [HandWork(number, hand, color, lines=own) for color, own in lines.items()]


def light_towards(words: str) -> Point:
    """The unit vector towards the light (y runs down)."""
    x = ("right" in words) - ("left" in words)
    y = ("bottom" in words) - ("top" in words)
    return x / math.hypot(x, y), y / math.hypot(x, y)


def odd_hand_work(works: Sequence[HandWork]) -> list[tuple[str, str]]:
    """What is hardly meant: motifs that have no place, or reach over the edge of what they lie in. Codes and sentences."""
    found = []
    for work in works:
        name = work.layer.name
        if work.layer.kind == MOTIFS and not work.places:
            where = {"crossings": "has no crossings", "centres": "paints nothing there", "between": "leaves nothing free"}
            why = where[work.layer.at] if isinstance(work.layer.at, str) else "isn't there"
            found.append(("no-place", f"“{name}” has no place: {work.layer.of} {why}. Choose other places for it."))
        if work.layer.kind != MOTIFS and not work.lines:
            found.append(("no-place", f"“{name}” has no line: no side of {work.layer.of} faces that way."))
        if work.air_mm is not None and work.air_mm < 0:
            found.append(
                (
                    "motif-too-wide",
                    f"“{name}” reaches over the edge of what it lies in. Make it smaller, or choose other places.",
                )
            )
    return found
