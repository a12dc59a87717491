"""Writes the chance of a clean edge as SVG: a bar from 0 to 100 %, the range of four times in five, and what the rules alone say."""

from markupsafe import Markup

from dividers.core.risk.evidence import Chance
from dividers.formats.drawings.svg_writer import box, drawing, element, number, path

WIDE, HIGH = 240, 30


def chance_svg(chance: Chance) -> Markup:
    low, high = chance.interval
    return drawing(
        "chance",
        f"-4 0 {WIDE + 8} {HIGH}",
        {},
        path("chance-line", f"M0 20H{WIDE}"),
        *(path("chance-tick", f"M{number(WIDE * share)} 20v4") for share in (0, 0.25, 0.5, 0.75, 1)),
        box("chance-range", WIDE * low, 8, max(WIDE * (high - low), 2), 8),
        path("chance-prior", f"M{number(WIDE * chance.prior)} 4v16"),
        element("circle", {"class": "chance-mean", "cx": number(WIDE * chance.mean), "cy": "12", "r": "5"}),
        label=f"{chance.mean:.0%} likely clean, between {low:.0%} and {high:.0%} four times in five; "
        f"by the rules alone {chance.prior:.0%}",
    )
