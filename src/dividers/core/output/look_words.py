"""What a drawing shows, in a sentence for those who can't see it."""

from collections import Counter

from dividers.core.base.lengths import exact, read_off
from dividers.core.job.surface import Panel
from dividers.core.patterns import BY_KEY
from dividers.core.plan.piece_plan import PiecePlan, write_rounded

COLORS_NAMED, OPENINGS_NAMED = 4, 3


def look_in_words(plan: PiecePlan) -> str:
    """The pattern, its parts by colour, the sizes of stripes, and where openings are."""
    said = [f"{plan.piece.name}: {_parts(plan)}"]
    if width := _stripe(plan):
        said.append(f"about {width} each")
    for panel in plan.piece.surface.panels:
        said += [_opening(plan, panel, number) for number in range(min(len(panel.openings), OPENINGS_NAMED))]
    return ", ".join(said)


def _parts(plan: PiecePlan) -> str:
    kind = BY_KEY[plan.piece.pattern.kind].title.lower()
    over = [layer.name for layer in plan.piece.stack[1:]]
    kind += f", with {' and '.join(over)} painted over it" if over else ""
    colors: Counter[str] = Counter()
    for number, layout in enumerate(plan.layouts):
        for cell in range(len(layout.cells)):
            if not layout.reserved[cell] and (number < plan.sheet_count or layout.painted[cell]):
                colors[layout.color(cell) or plan.piece.base] += 1
    palette = plan.job.palette
    named = [f"{many} {palette[key].name.lower()}" for key, many in colors.most_common(COLORS_NAMED)]
    return f"{kind}, {sum(colors.values())} parts: {', '.join(named)}"


def _stripe(plan: PiecePlan) -> str:
    """How wide equal stripes are."""
    values, panel = plan.piece.pattern.values, plan.piece.surface.panels[0]
    if plan.piece.pattern.kind != "stripes" or not values.get("count"):
        return ""
    direction, field = str(values.get("direction")), panel.field
    run = {"vertical": field.width, "horizontal": field.height}.get(direction)
    return read_off(exact(float(run) / int(values["count"])), plan.job.graduation).text if run else ""


def _opening(plan: PiecePlan, panel: Panel, number: int) -> str:
    opening = panel.openings[number]
    return f"{opening.name or 'an opening'} at {write_rounded(opening.box.left, plan.job)} from the left"
