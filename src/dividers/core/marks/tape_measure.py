"""The drawn piece of tape measure: what the painter sees on the tape around one reading."""

from dataclasses import dataclass
from fractions import Fraction

from dividers.core.base.lengths import Graduation, write_inches
from dividers.core.base.units import FOOT_MM, INCH_MM


@dataclass(frozen=True)
class ScaleLine:
    """A line of the tape measure: where, seen from the mark (mm, left is negative), how long (0-1), its label or ""."""

    at_mm: float
    height: float
    label: str


@dataclass(frozen=True)
class DrawnTape:
    """A piece of tape measure reaching `reach_mm` either side of the mark; it may start at the tape's own zero."""

    reach_mm: float
    starts_at_mm: float
    ticks: tuple[ScaleLine, ...]


def draw_tape(reading_mm: Fraction, graduation: Graduation) -> DrawnTape:
    """The piece of tape measure around a reading that lies on its graduation."""
    inches = graduation.unit == "in"
    reach = INCH_MM * 3 / 2 if inches else Fraction(30)
    step = graduation.step_mm
    first = max(Fraction(0), reading_mm - reach)
    number = -(-first // step)
    ticks = []
    while number * step <= reading_mm + reach:
        at = number * step
        ticks.append(
            ScaleLine(float(at - reading_mm), *(_inch_tick(at, graduation) if inches else _metric_tick(at, graduation)))
        )
        number += 1
    return DrawnTape(float(reach), float(max(-reading_mm, -reach)), tuple(ticks))


def _inch_tick(at: Fraction, graduation: Graduation) -> tuple[float, str]:
    parts = (at / INCH_MM).denominator
    height = {1: 1.0, 2: 0.72, 4: 0.54, 8: 0.4, 16: 0.28, 32: 0.2}.get(parts, 0.14)
    if parts > 1:
        return height, ""
    feet, rest = divmod(at, FOOT_MM)
    if graduation.feet and feet:
        return height, f"{feet}' {write_inches(rest)}" if rest else f"{feet}'"
    return height, write_inches(at)


def _metric_tick(at: Fraction, graduation: Graduation) -> tuple[float, str]:
    for every, height in ((10, 1.0), (5, 0.6), (1, 0.35)):
        if at % every == 0:
            label = f"{at / 10}" if every == 10 and graduation.unit == "cm" else f"{at}" if every == 10 else ""
            return height, label
    return 0.2, ""
