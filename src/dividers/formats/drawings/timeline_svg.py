"""Writes timelines as SVG: work, drying and windows differ in shape and hatching, not in colour alone."""

from markupsafe import Markup

from dividers.core.order.timeline import HEAD_PX, LANE_PX, Bar, Timeline, WaitBar
from dividers.formats.drawings.svg_writer import box, drawing, element, line, number, numbers, path, text

LEAST_PX = 2.5  # a bar is drawn at least so wide
LETTER_PX = 11.0  # and has a letter from this on


def _hatching(key: str, size: int, angle: int, *parts: Markup) -> Markup:
    sides = {"width": str(size), "height": str(size)}
    turned = {"patternUnits": "userSpaceOnUse", "patternTransform": f"rotate({angle})"}
    return element("pattern", {"id": key, **sides, **turned}, *parts)


HATCHES = element(
    "defs",
    {},
    _hatching("hatch-night", 6, 45, element("rect", {"class": "hatch", "width": "1.5", "height": "6"})),
    _hatching(
        "hatch-tape",
        7,
        -45,
        element("rect", {"class": "hatch-kraft", "width": "7", "height": "7"}),
        element("rect", {"class": "hatch", "width": "1.2", "height": "7"}),
    ),
)


def timeline_svg(timeline: Timeline) -> Markup:
    """A timeline as one SVG element in its own pixels."""
    wide, high = timeline.width, timeline.height
    parts: list[Markup] = []
    for x0, x1, kind in timeline.gaps:
        places = {"x": number(x0), "y": number(HEAD_PX - 14), "width": number(x1 - x0), "height": number(high - HEAD_PX + 14)}
        parts.append(element("rect", {"class": f"gap-{kind}", **places}, element("title", {}, kind)))
    for lane in range(len(timeline.lanes) + 1):
        y = HEAD_PX + lane * LANE_PX
        first = lane == len(timeline.lanes) or lane == 0 or timeline.lanes[lane].piece != timeline.lanes[lane - 1].piece
        parts.append(line("lane-piece" if first else "lane-line", (0, y), (wide, y)))
    parts += [text("day", (x, 13), words) for x, words in timeline.days]
    for x, words in timeline.hours:
        parts += [line("hour", (x, HEAD_PX - 9), (x, high)), text("hour-figure", (x + 2, HEAD_PX - 4), words)]
    parts += [_wait(wait) for wait in timeline.waits]
    parts += [_bar(bar) for bar in timeline.bars]
    return drawing(
        "timeline",
        numbers(0, 0, round(wide), round(high)),
        {"width": number(wide, 0), "height": number(high, 0)},
        HATCHES,
        *parts,
        label="The schedule over the days; the list below says the same",
    )


def _top(lane: int) -> float:
    return HEAD_PX + lane * LANE_PX


def _wait(wait: WaitBar) -> Markup:
    y = _top(wait.lane)
    if wait.kind == "window":
        return path("pull-window", f"M{numbers(wait.x0, y + 40)}v6H{number(wait.x1)}v-6", wait.title)
    return path("drying", f"M{numbers(wait.x0, y + 36)}H{number(wait.x1)}", wait.title)


def _bar(bar: Bar) -> Markup:
    y, width = _top(bar.lane) + 6, max(bar.x1 - bar.x0, LEAST_PX)
    return element(
        "g",
        {"class": f"work {bar.kind}", "data-link": bar.key},
        box(None, bar.x0, y, width, 24, fill=bar.hex or None),
        text("bar-letter", (bar.x0 + width / 2, y + 17), bar.letter, "middle") if width >= LETTER_PX else "",
        element("title", {}, bar.title),
    )
