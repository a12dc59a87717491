"""Writes timelines as SVG: work, drying and windows differ in shape and hatching, not in colour alone."""

from html import escape

from dividers.core.order.timeline import HEAD_PX, LANE_PX, Bar, Timeline, WaitBar

HATCHES = (
    '<defs><pattern id="hatch-night" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">'
    '<rect class="hatch" width="1.5" height="6"/></pattern>'
    '<pattern id="hatch-tape" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">'
    '<rect class="hatch-kraft" width="7" height="7"/><rect class="hatch" width="1.2" height="7"/></pattern></defs>'
)
LEAST_PX = 2.5  # a bar is drawn at least so wide
LETTER_PX = 11.0  # and has a letter from this on


def timeline_svg(timeline: Timeline) -> str:
    """A timeline as one SVG element in its own pixels."""
    wide, high = timeline.width, timeline.height
    parts = [
        f'<svg class="timeline" xmlns="http://www.w3.org/2000/svg" role="img" aria-label="The schedule over the days; the list below says the same" '
        f'width="{wide:.0f}" height="{high:.0f}" viewBox="0 0 {wide:.0f} {high:.0f}">',
        HATCHES,
    ]
    for x0, x1, kind in timeline.gaps:
        parts.append(
            f'<rect class="gap-{kind}" x="{x0:.1f}" y="{HEAD_PX - 14:.0f}" width="{x1 - x0:.1f}" height="{high - HEAD_PX + 14:.0f}"><title>{kind}</title></rect>'
        )
    for lane in range(len(timeline.lanes) + 1):
        y = HEAD_PX + lane * LANE_PX
        first = lane == len(timeline.lanes) or lane == 0 or timeline.lanes[lane].piece != timeline.lanes[lane - 1].piece
        parts.append(
            f'<line class="{"lane-piece" if first else "lane-line"}" x1="0" y1="{y:.0f}" x2="{wide:.0f}" y2="{y:.0f}"/>'
        )
    parts += [f'<text class="day" x="{x:.1f}" y="13">{escape(words)}</text>' for x, words in timeline.days]
    for x, words in timeline.hours:
        parts.append(
            f'<line class="hour" x1="{x:.1f}" y1="{HEAD_PX - 9:.0f}" x2="{x:.1f}" y2="{high:.0f}"/><text class="hour-figure" x="{x + 2:.1f}" y="{HEAD_PX - 4:.0f}">{words}</text>'
        )
    parts += [_wait(wait) for wait in timeline.waits]
    parts += [_bar(bar) for bar in timeline.bars]
    return "".join(parts) + "</svg>"


def _top(lane: int) -> float:
    return HEAD_PX + lane * LANE_PX


def _wait(wait: WaitBar) -> str:
    y = _top(wait.lane)
    title = f"<title>{escape(wait.title)}</title>"
    if wait.kind == "window":
        return f'<path class="pull-window" d="M{wait.x0:.1f} {y + 40:.1f}v6H{wait.x1:.1f}v-6">{title}</path>'
    return f'<path class="drying" d="M{wait.x0:.1f} {y + 36:.1f}H{wait.x1:.1f}">{title}</path>'


def _bar(bar: Bar) -> str:
    y, width = _top(bar.lane) + 6, max(bar.x1 - bar.x0, LEAST_PX)
    fill = f' fill="{bar.hex}"' if bar.hex else ""
    letter = ""
    if width >= LETTER_PX:
        letter = (
            f'<text class="bar-letter" x="{bar.x0 + width / 2:.1f}" y="{y + 17:.1f}" text-anchor="middle">{bar.letter}</text>'
        )
    return (
        f'<g class="work {bar.kind}" data-link="{bar.key}"><rect{fill} x="{bar.x0:.1f}" y="{y:.1f}" width="{width:.1f}" height="24"/>{letter}'
        f"<title>{escape(bar.title)}</title></g>"
    )
