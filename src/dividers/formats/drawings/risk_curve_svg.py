"""Writes the risk of pulling against time since the last coat as SVG."""

from markupsafe import Markup

from dividers.core.base.quantities import spoken
from dividers.core.risk.forecast import pull_risk
from dividers.formats.drawings.svg_writer import box, drawing, line, numbers, path, text

WIDE, HIGH = 320.0, 90.0


def risk_curve_svg(wet: float, touch: float, full: float, least: int, most: int | None) -> Markup:
    """Risk against minutes since the last coat, on a scale that stretches the first hours; the planned pull window is shaded."""

    def x(minutes: float) -> float:
        share: float = (min(minutes, full) / full) ** 0.4
        return WIDE * share

    points = [full * (n / 60) ** 2.5 for n in range(61)]
    low, high = x(least), x(float(most) if most is not None else full)
    parts: list[Markup] = []
    for minutes, words in (
        (0.0, "0"),
        (wet, f"wet {spoken(wet)}"),
        (touch, f"touch-dry {spoken(touch)}"),
        (full, f"dry {spoken(full)}"),
    ):
        parts.append(line("hour", (x(minutes), 0), (x(minutes), HIGH)))
        below = HIGH + (24 if minutes == touch else 12)
        parts.append(text("hour-figure", (x(minutes), below), words, "end" if minutes == full else "start"))
    return drawing(
        "risk-curve",
        numbers(0, -4, WIDE, HIGH + 32),
        {},
        *parts,
        box("curve-window", low, 0, max(high - low, 2), HIGH),
        path("curve-line", "M" + "L".join(numbers(x(m), HIGH - HIGH * pull_risk(m, wet, touch, full)) for m in points)),
        label="Risk of tearing and lifting against time since the last coat",
    )
