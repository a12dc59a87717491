"""How every line of a piece is found, by the numbers of its marks."""

from dataclasses import dataclass, replace

from dividers.core.marks.found_lines import FoundLine, found_lines
from dividers.core.plan.piece_plan import PiecePlan


@dataclass(frozen=True)
class PieceLine:
    """A line of a layer, by number, and how it is found: its `marks` are numbers of the piece's marks, from 1."""

    layer: int
    line: FoundLine

    @property
    def marks(self) -> tuple[int, ...]:
        return self.line.marks


def lines_found(plan: PiecePlan) -> list[PieceLine]:
    """Every line that is struck, carried or laid, layer by layer and panel by panel."""
    numbers: dict[tuple[int, str], list[int]] = {}
    for number, mark in enumerate(plan.marks, 1):
        numbers.setdefault((mark.layer, mark.panel), []).append(number)
    found = []
    for layer, part in enumerate(plan.layers):
        reserve_tape = part.taping.chosen.taping == "reserve"
        for layout in (panel for sheet in part.marked_layouts() for panel in sheet.by_panel):
            layout = layout.plain if layout.plain and reserve_tape else layout
            own = numbers.get((layer, layout.panel.name), [])
            places = [(plan.marks[number - 1].x, plan.marks[number - 1].y) for number in own]
            for line in found_lines(layout, places, part.piece.method):
                found.append(PieceLine(layer, replace(line, marks=tuple(own[n] for n in line.marks))))
    return found
