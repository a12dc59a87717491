"""Writes the chance of a clean edge as SVG: a bar from 0 to 100 %, where it lies four times in five, and what the rules alone said."""

from dividers.core.risk.evidence import Chance

WIDE, HIGH = 240.0, 30.0


def chance_svg(chance: Chance) -> str:
    low, high = chance.interval
    label = f"{chance.mean:.0%} likely clean, between {low:.0%} and {high:.0%} four times in five; by the rules alone {chance.prior:.0%}"
    ticks = "".join(f'<path class="chance-tick" d="M{WIDE * share:.0f} 20v4"/>' for share in (0, 0.25, 0.5, 0.75, 1))
    return (
        f'<svg class="chance" role="img" aria-label="{label}" viewBox="-4 0 {WIDE + 8:.0f} {HIGH:.0f}">'
        f'<path class="chance-line" d="M0 20H{WIDE:.0f}"/>{ticks}'
        f'<rect class="chance-range" x="{WIDE * low:.1f}" y="8" width="{max(WIDE * (high - low), 2):.1f}" height="8"/>'
        f'<path class="chance-prior" d="M{WIDE * chance.prior:.1f} 4v16"/><circle class="chance-mean" cx="{WIDE * chance.mean:.1f}" cy="12" r="5"/></svg>'
    )
