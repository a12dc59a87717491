"""The marks of a piece as pages list them: by mark line, each line in its working order."""

from typing import NamedTuple

from markupsafe import Markup

from dividers.core.base.lengths import Graduation
from dividers.core.marks.found_lines import BESIDE, EDGE, ENDS, EYE, LEVEL, PLUMB, STRUCK
from dividers.core.marks.level_line import NAME as LEVEL_LINE
from dividers.core.marks.marks import Mark
from dividers.core.marks.snaps import snaps_of
from dividers.core.marks.tape_measure import draw_tape
from dividers.core.plan.lines_found import lines_found
from dividers.core.plan.piece_plan import PiecePlan
from dividers.formats.drawings.sketch_svg import tape_svg


class MarkGroup(NamedTuple):
    """The marks of one line; rows are (order, key, mark). `panel` and `layer` are empty where there is only one."""

    panel: str
    line: str
    datum: str
    rows: list[tuple[int, str, Mark]]
    layer: str = ""


def grouped(plan: PiecePlan) -> list[MarkGroup]:
    """Every mark, under its line, layer by layer."""
    groups: dict[tuple[int, str, str], MarkGroup] = {}
    several_layers = plan.piece.layered or plan.piece.by_hand
    names = [name if several_layers else "" for name in plan.piece.layer_names]
    several = len(plan.piece.surface.panels) > 1
    for number, mark in enumerate(plan.marks, 1):
        group = groups.setdefault(
            (mark.layer, mark.panel, mark.line),
            MarkGroup(mark.panel if several else "", mark.line, _group_from(mark), [], names[mark.layer]),
        )
        group.rows.append((mark.order, f"m{number}", mark))
    return [group._replace(rows=sorted(group.rows, key=lambda row: row[0])) for group in groups.values()]


def tape_picture(mark: Mark, graduation: Graduation) -> Markup:
    """The piece of tape measure around a mark's reading."""
    return tape_svg(draw_tape(mark.reading.rounded_mm, graduation), mark.reading.text)


MOST_MARKS = 300  # so many are listed on the page; the sheet to print has all


class MarkLines(NamedTuple):
    """The groups of marks that the page lists, how many marks more there are, and where each mark's line is snapped to, by key."""

    groups: list[MarkGroup]
    left_out: int
    snaps: dict[str, str]


def _group_from(mark: Mark) -> str:
    """Where the marks of a line are read from: one by one says which way from a level line."""
    return "the level line, up and down" if mark.datum.startswith(LEVEL_LINE) else mark.from_where


def listed(plan: PiecePlan) -> MarkLines:
    """The first marks, line by line, with what they are snapped to."""
    groups, room = [], MOST_MARKS
    for group in grouped(plan):
        if room > 0:
            groups.append(group._replace(rows=group.rows[:room]))
        room -= len(group.rows)
    return MarkLines(groups, max(-room, 0), _snaps(plan))


class FoundBy(NamedTuple):
    """One way by which lines are found, how many are, and the marks of the first of them; `corner` where a line ends in one."""

    words: str
    many: int
    lines: list[tuple[tuple[int, ...], bool]]


CHALKED = "chalked"
FOUND_WORDS = {
    STRUCK: "struck or snapped through their marks",
    CHALKED: "snapped through their marks in chalk, to wipe off: they cross what isn't painted",
    LEVEL: "level from one mark, by laser or level",
    PLUMB: "plumb from one mark, by laser or level",
    EDGE: "along an edge of the surface",
    BESIDE: "along the strip before, by the tape's own width",
    EYE: "by eye",
    ENDS: "seams that end on other lines",
}
MOST_OF_A_LINE = 3  # marks of one line that are all named; of more the outer two
MOST_LINES = 120  # so many are listed of each way


def found_by(plan: PiecePlan) -> list[FoundBy]:
    """How the lines of a piece are found, way by way."""
    ways: dict[str, list[tuple[tuple[int, ...], bool]]] = {}
    for each in lines_found(plan):
        shown = each.marks if len(each.marks) <= MOST_OF_A_LINE else (each.marks[0], each.marks[-1])
        ways.setdefault(CHALKED if each.line.chalk else each.line.how, []).append((shown, bool(each.line.corners)))
    return [FoundBy(words, len(ways[how]), ways[how][:MOST_LINES]) for how, words in FOUND_WORDS.items() if how in ways]


def _snaps(plan: PiecePlan) -> dict[str, str]:
    numbers: dict[tuple[int, str], list[int]] = {}
    for number, mark in enumerate(plan.marks, 1):
        numbers.setdefault((mark.layer, mark.panel), []).append(number)
    found = {}
    for layer, layout in ((n, layout) for n, part in enumerate(plan.layers) for layout in part.panel_layouts):
        own = numbers.get((layer, layout.panel.name), [])
        for one, other in snaps_of(layout, [plan.marks[number - 1] for number in own]).items():
            found[f"m{own[one]}"] = str(own[other])
    return found
