"""A task as a step at the wall: what to look at, what to tick off one by one, which way to brush and to pull, what to mind."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from dividers.core.base.safety import SAFETY
from dividers.core.geometry.shapes import Floats
from dividers.core.job.layers import SHADING
from dividers.core.order.batch_strips import strips_of_area, strips_of_batch
from dividers.core.order.network import Task
from dividers.core.order.piece_tasks import measured_first
from dividers.core.order.round_choices import RoundChoice
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.plan.spacers import spacers_said
from dividers.core.risk.forecast import pull_angle
from dividers.core.tape.strips import Strips

MOST_TICKS = 600  # more are ticked off in groups
SLANT = 0.4  # of a direction's parts the smaller to the larger: below it goes along one axis


@dataclass(frozen=True)
class Tick:
    """Something to tick off: its `item` among the task's, what it lights up in the drawing, and which mark or strip it is.

    `place` is a mark's index, or (sheet, index) of a strip; of a group the first one's. `copy` counts from 1.
    """

    item: str
    keys: tuple[str, ...]
    place: tuple[int, int]
    copy: int = 1


@dataclass(frozen=True)
class Step:
    """One step. `view` says which drawing: paint, marks (of a layer: marks-0), seen-0 (up to that layer) or a round's number; `cells` are lit in it, `needs` are
    its round's strips. `measured` is the layer that is measured, from 0."""

    task: Task
    view: str
    cells: tuple[str, ...]
    ticks: tuple[Tick, ...]
    ways: tuple[str, ...]
    needs: tuple[str, ...] = ()
    measured: int | None = None


def step_of(plan: PiecePlan, task: Task, choices: Sequence[RoundChoice]) -> Step:
    """The step of a task of a piece."""
    layer = (task.name.turn or 1) - 1
    if task.kind == "mark" and layer >= len(plan.piece.stack):
        return Step(
            task, "paint", (), _grouped(_marks(plan, layer)), ("Use a soft pencil, lightly: these marks lie on paint.",)
        )
    if task.kind == "hand" and layer >= len(plan.piece.layer_names):
        return Step(task, "paint", (), (), ())
    if task.kind == "hand" and task.number is None:
        return Step(task, "paint", (), (), _hand_ways(plan, task))
    if task.kind == "mark":
        return Step(
            task,
            f"marks-{layer}" if plan.piece.layered else "marks",
            (),
            _grouped(_marks(plan, layer)),
            ("Use a soft pencil, lightly. Read every mark from its datum; never step off.",),
        )
    if task.kind == "measure":
        below = measured_first(plan.piece, layer) - 1
        return Step(task, f"seen-{max(below, 0)}", (), (), (MEASURE_WAY,), measured=max(below, 0))
    if task.number is None:
        return Step(task, "paint", (), (), _ways_of_base(task))
    choice = choices[task.number - 1]
    batch = strips_of_batch(plan, choice, task.batch)
    view = str(task.number)
    if task.kind == "tape":
        return Step(
            task,
            view,
            (),
            _grouped(_strips(plan, task.number, strips_of_area(plan, choice, task.name.area))),
            (
                *_lay_and_lift(plan, task.number),
                *_round_edges(plan, task.number),
                "Don't stretch the tape. Press down the edge that faces the paint.",
            ),
        )
    if task.kind == "seal":
        words = choice.trial.words if choice.trial and (task.coat or 0) > choice.seal.coats else choice.seal_words
        return Step(task, view, (), (), (f"{words[0].upper()}{words[1:]}.",))
    if task.kind == "hand":
        return Step(task, view, (), (), (HAND_WAY,))
    if task.kind == "pull":
        angle, why = pull_angle(choice.situation)
        ways = (f"Pull at {angle}°: {why}.", choice.window.why[0].upper() + choice.window.why[1:] + ".")
        ticks = tuple(reversed(_strips(plan, task.number, batch)))
        return Step(task, view, task.cells, _grouped(ticks), ways)
    needs = tuple(tick.item for tick in _strips(plan, task.number, batch)) if task.coat == 1 else ()
    return Step(task, view, task.cells, (), _ways_of_coat(plan, task, batch), needs)


def _round_edges(plan: PiecePlan, number: int) -> tuple[str, ...]:
    """What is done with the ends of tape at edges that the paint goes round."""
    each = plan.taping.chosen.rounds[number - 1]
    if not any((strips.round_mm > 0).any() for strips in each.strips if len(strips)):
        return ()
    return (
        "Where an edge is painted round, let the tape go on round it: its length includes that. The paint goes round with each coat.",
    )


def _lay_and_lift(plan: PiecePlan, number: int) -> tuple[str, ...]:
    """How strips are spaced by the tape's own width, without measuring: strips in between are laid and lifted again."""
    each = plan.taping.chosen.rounds[number - 1]
    layouts = plan.layers[each.layer].layouts
    strips = sum(len(on) for on in each.strips)
    if not any(layout.tiles.start_lines for layout in layouts) or strips < 2:
        return ()
    return (
        "Lay tape edge to edge from the start line. Then lift every other one: those of the drawing stay, spaced by the tape's own width.",
        *filter(None, [spacers_said(plan)]),
    )


def _ways_of_base(task: Task) -> tuple[str, ...]:
    return {
        "base": ("Lay it smooth: brush marks in the base act as channels under the tape.",),
        "erase": ("Soft eraser, lightly; only once the paint is dry.",),
        "touch-up": ("Small flat brush, nearly dry; both colours at hand. Look from about 1 m, in the room's own light.",),
    }.get(task.kind, ())


def _hand_ways(plan: PiecePlan, task: Task) -> tuple[str, ...]:
    """How motifs or shading are done."""
    layer = plan.piece.by_hand[task.name.turn - 1 - len(plan.piece.stack)]
    if layer.kind == SHADING:
        return ("A liner or a small flat brush against a straightedge that is held off the wall; a wider line looks deeper.",)
    return (
        "Try it on paper first. Row by row from the top, from the left; left-handed, from the right: then the hand never rests on a wet one.",
        "A slip comes off a sealed ground with a damp cloth while it is wet.",
    )


HAND_WAY = "A flat brush, well loaded, drawn in one go along the edge; then off it, never back into it."
MEASURE_WAY = "Read each band's edges with the tape hooked where the marks are read from; at both ends where a band leans."


def _marks(plan: PiecePlan, layer: int) -> list[Tick]:
    """The marks of a layer line by line, each line in its working order."""
    lines: dict[tuple[str, str], list[int]] = {}
    for number, mark in enumerate(plan.marks):
        if mark.layer == layer:
            lines.setdefault((mark.panel, mark.line), []).append(number)
    found = []
    for copy in range(1, plan.piece.copies + 1):
        for numbers in lines.values():
            for number in sorted(numbers, key=lambda n: plan.marks[n].order):
                found.append(Tick(_item(f"m{number + 1}", copy), (f"m{number + 1}",), (number, 0), copy))
    return found


def _strips(plan: PiecePlan, number: int, only: set[tuple[int, int]] | None) -> list[Tick]:
    """The strips of a round in laying order."""
    found = []
    for copy in range(1, plan.piece.copies + 1):
        for sheet, strips in enumerate(plan.taping.chosen.rounds[number - 1].strips):
            first = plan.strips_before(number, sheet) + 1
            for index in range(len(strips)):
                if only is None or (sheet, index) in only:
                    found.append(Tick(_item(f"s{first + index}", copy), (f"s{first + index}",), (sheet, index), copy))
    return found


def _item(key: str, copy: int) -> str:
    return key if copy == 1 else f"{key}.{copy}"


def _grouped(ticks: Sequence[Tick]) -> tuple[Tick, ...]:
    """Ticks as they are, or many of them a few at a time."""
    if len(ticks) <= MOST_TICKS:
        return tuple(ticks)
    size = -(-len(ticks) // 100)
    groups = [ticks[at : at + size] for at in range(0, len(ticks), size)]
    return tuple(
        Tick(f"{group[0].item}-{group[-1].item}", tuple(k for t in group for k in t.keys), group[0].place, group[0].copy)
        for group in groups
    )


def _ways_of_coat(plan: PiecePlan, task: Task, batch: set[tuple[int, int]] | None) -> tuple[str, ...]:
    way = brush_way(plan, task.number or 1, batch)
    rolled = plan.piece.method.tool == "roller" and plan.piece.surface.kind not in ("paper", "canvas")
    little = f"Little paint on the {'roller' if rolled else 'brush'}"
    return (
        f"{'Roll' if rolled else 'Brush'} away from the tape into the area, never toward the tape's edge{f', then {way}' if way else ''}.",
        f"{little}; apply this first coat almost dry."
        if task.coat == 1
        else f"{little}: two thin coats hide more than a thick one.",
    )


def brush_way(plan: PiecePlan, number: int, only: set[tuple[int, int]] | None) -> str:
    """The way that most of a round's tape runs, which is the way to lay the paint off; "" where it runs every way."""
    across = vertical = slanting = 0.0
    for sheet, strips in enumerate(plan.taping.chosen.rounds[number - 1].strips):
        ways = _on_panels(plan, sheet, strips)
        for index, (dx, dy) in enumerate(np.abs(ways).tolist()):
            if only is not None and (sheet, index) not in only:
                continue
            length = float(np.hypot(dx, dy))
            if min(dx, dy) > SLANT * max(dx, dy):
                slanting += length
            elif dx > dy:
                across += length
            else:
                vertical += length
    whole = across + vertical + slanting
    for share, words in ((across, "from side to side"), (vertical, "up and down"), (slanting, "along the slant")):
        if whole and share / whole > 0.6:
            return words
    return ""


def _on_panels(plan: PiecePlan, sheet: int, strips: Strips) -> Floats:
    """The direction of every strip as its panel hangs."""
    placed = plan.layouts[sheet].sheet.placed
    ways = strips.end - strips.start
    return np.array([placed[int(strips.panel[n])].to_panel_direction(ways[n]) for n in range(len(strips))]).reshape(-1, 2)


def cautions_of(plan: PiecePlan, task: Task) -> tuple[str, ...]:
    """Safety advice for a step; whoever shows it says each once per piece."""
    kind, method = plan.piece.surface.kind, plan.piece.method
    wet = task.kind in ("base", "coat", "clear-coat")
    paint = method.paint.get(str(task.color))
    wanted = {
        "high": kind in ("wall", "ceiling", "stairs"),
        "eyes": kind == "ceiling",
        "floor": kind in ("floor", "stairs") and wet,
        "knife": task.kind == "tape",
        "cover": task.kind in ("tape", "prep") and kind == "wall",
        "sand": task.kind == "prep" and "sand" in task.words.lower(),
        "solvent": wet and paint is not None and paint.binder != "water",
        "label": wet,
    }
    return tuple(SAFETY[name] for name, holds in wanted.items() if holds)
