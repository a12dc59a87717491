"""Colours compared: lightness, how different two look, steps lighter and darker, which ones stand in front of which.

The one module that imports coloraide.
"""

from dataclasses import dataclass

from dividers.core.base.colour import luminance

# Contrast that reads as a pattern: two to four steps of a fan deck apart (common practice, no source); a step is about so much L*.
FAN_STEP_L = 7.0
STEPS_LOW, STEPS_HIGH = 2, 4


@dataclass(frozen=True)
class Contrast:
    """Two colours beside each other: their light reflectance (LRV, percent), ΔE2000, and steps of a fan deck between them."""

    lrv: tuple[float, float]
    delta_e: float
    steps: float
    said: str


def delta_e2000(one: tuple[float, float, float], other: tuple[float, float, float]) -> float:
    """How different two colours look, by CIE ΔE2000; L*, a*, b* in D65.

    >>> round(delta_e2000((50.0, 2.6772, -79.7751), (50.0, 0.0, -82.7485)), 4)
    2.0425
    """
    from coloraide import Color

    found: float = Color("lab-d65", list(one)).delta_e(Color("lab-d65", list(other)), method="2000")
    return found


def lab_of(hex_code: str) -> tuple[float, float, float]:
    """L*, a*, b* in D65 of a colour on the screen."""
    from coloraide import Color

    light, a, b = Color(hex_code).convert("lab-d65").coords()
    return float(light), float(a), float(b)


def contrast(one: str, other: str) -> Contrast:
    """Compare two colours given as #rrggbb."""
    first, second = lab_of(one), lab_of(other)
    steps = abs(first[0] - second[0]) / FAN_STEP_L
    delta = delta_e2000(first, second)
    if delta < 2:
        said = "Almost the same: only a difference of sheen would show."
    elif steps < STEPS_LOW and delta < 20:
        said = "Soft: closer than the two fan-deck steps that usually read as a pattern."
    elif steps <= STEPS_HIGH:
        said = "Two to four steps apart: reads as a pattern without shouting."
    else:
        said = "Bold: more than four steps apart."
    return Contrast((luminance(one) * 100, luminance(other) * 100), delta, steps, said)


def step(hex_code: str, steps: float) -> str:
    """The same colour family so many fan-deck steps lighter (or darker, below 0), as #rrggbb."""
    from coloraide import Color

    light, a, b = lab_of(hex_code)
    moved = Color("lab-d65", [min(max(light + steps * FAN_STEP_L, 3.0), 98.0), a, b])
    return str(moved.convert("srgb").fit().to_string(hex=True))


def shades(hex_code: str) -> tuple[str, str, str]:
    """Three shades of one family for the sides of a solid: lit, as it is, in shadow."""
    return step(hex_code, 2), hex_code, step(hex_code, -2)
