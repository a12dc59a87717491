"""The marks of a piece as pages list them: by mark line, each line in its working order."""

from typing import NamedTuple

from markupsafe import Markup

from dividers.core.base.lengths import Graduation
from dividers.core.marks.marks import Mark
from dividers.core.marks.tape_measure import draw_tape
from dividers.core.plan.plan import PiecePlan
from dividers.formats.drawings.sketch_svg import tape_svg


class MarkGroup(NamedTuple):
    """The marks of one line; rows are (order, key, mark). `panel` is empty where there is only one."""

    panel: str
    line: str
    datum: str
    rows: list[tuple[int, str, Mark]]


def grouped(plan: PiecePlan) -> list[MarkGroup]:
    """Every mark, under its line."""
    groups: dict[tuple[str, str], MarkGroup] = {}
    several = len(plan.piece.surface.panels) > 1
    for number, mark in enumerate(plan.marks, 1):
        group = groups.setdefault(
            (mark.panel, mark.line), MarkGroup(mark.panel if several else "", mark.line, mark.from_where, [])
        )
        group.rows.append((mark.order, f"m{number}", mark))
    return [group._replace(rows=sorted(group.rows, key=lambda row: row[0])) for group in groups.values()]


def tape_picture(mark: Mark, graduation: Graduation) -> Markup:
    """The piece of tape measure around a mark's reading."""
    return tape_svg(draw_tape(mark.reading.rounded_mm, graduation), mark.reading.text)
