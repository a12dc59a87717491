"""A piece as it looks at a minute of its schedule: bare, painted coat by coat, wet or dry, with the tape that is on."""

from collections.abc import Mapping
from dataclasses import replace

from dividers.core.job.products import Colour
from dividers.core.order.state_at import DRY, WET, Coated, PieceState
from dividers.core.output.drawing import draw
from dividers.core.output.scene import Area, Scene, View
from dividers.core.plan.piece_plan import PiecePlan

BARE = "#fbfaf5"  # nothing is on yet


def frame(plan: PiecePlan, state: PieceState, palette: Mapping[str, Colour], unit: str) -> Scene:
    """The drawing of a state. Wet paint shines, and wet and drying paint have a state of their own, so that it shows without colour."""
    finished = draw(plan, palette, unit, View())
    cells = [_seen(cell, state, plan, palette) for cell in finished.cells]
    laid = set(state.strips)
    rounds = {each.number for each in plan.taping.chosen.rounds}
    strips = [
        strip for number in sorted(rounds) for strip in draw(plan, palette, unit, View(strips_of=number)).strips if strip.key in laid
    ] if laid else []  # fmt: skip
    done = {(task.name.turn - 1, task.name.color) for task in state.hand}
    names = {(work.number, palette[work.color].hex): work.color for work in plan.hand}
    by_hand = [area for area in finished.by_hand if (area.layer, names.get((area.layer, area.fill))) in done]
    return replace(
        finished,
        cells=tuple(cell for cell in cells if cell),
        strips=tuple(strips),
        by_hand=tuple(by_hand),
        strokes=tuple(stroke for stroke in finished.strokes if stroke.role not in ("bright", "shade")),
    )


def _seen(cell: Area, state: PieceState, plan: PiecePlan, palette: Mapping[str, Colour]) -> Area | None:
    """A cell as it is; of layers above others nothing where they have no paint yet."""
    coat = state.cells.get(cell.key)
    if coat:
        return _coated(cell, coat, palette)
    if cell.layer:
        return None
    if state.base:
        return _coated(cell, state.base, palette)
    return replace(cell, fill=BARE, title="nothing on it yet", sheen="", state="")


def _coated(cell: Area, coat: Coated, palette: Mapping[str, Colour]) -> Area:
    colour = palette[coat.color]
    many = f", coat {coat.coats}" if coat.coats > 1 else ""
    sheen = "gloss" if coat.state == WET else colour.sheen
    return replace(
        cell,
        fill=colour.hex,
        title=f"{colour.name}{many}, {coat.state}",
        sheen=sheen,
        state="" if coat.state == DRY else coat.state,
    )
