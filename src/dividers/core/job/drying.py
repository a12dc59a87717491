"""How long paint takes to dry in the air there is: what its label says, or what labels commonly say, times one factor."""

import math
from collections.abc import Sequence

from dividers.core.base.quantities import spoken
from dividers.core.job.crew import Climate
from dividers.core.job.products import Paint
from dividers.core.job.usual import usual_label_min

# Magnus form over water (WMO-No. 8, from memory): hPa, °C.
E0_HPA, SLOPE, ZERO_C = 6.112, 17.62, 243.12

# Label times hold at about this (common practice, no source).
LABEL_C, LABEL_PERCENT = 23.0, 50.0

# Oil dries by reaction: twice as long for every 10 °C less (common practice, no source).
DOUBLES_EVERY_C = 10.0
LEAST_FACTOR, MOST_FACTOR = 0.4, 6.0


def saturation_hpa(celsius: float) -> float:
    """The pressure of water vapour over water at a temperature, hPa.

    >>> round(saturation_hpa(20.0), 2)
    23.33
    """
    return E0_HPA * math.exp(SLOPE * celsius / (ZERO_C + celsius))


def vapour_hpa(celsius: float, percent: float) -> float:
    """The pressure of the vapour in air of a relative humidity, hPa."""
    return saturation_hpa(celsius) * percent / 100


def deficit_hpa(celsius: float, percent: float) -> float:
    """How much vapour the air could still take up, hPa."""
    return saturation_hpa(celsius) - vapour_hpa(celsius, percent)


def drying_factor(binder: str, celsius: float, percent: float) -> float:
    """How many times its label's time a paint takes: water-borne by vapour pressure deficit, oil and shellac by temperature."""
    if binder == "water":
        factor = deficit_hpa(LABEL_C, LABEL_PERCENT) / max(deficit_hpa(celsius, percent), 1e-3)
    else:
        factor = 2 ** ((LABEL_C - celsius) / DOUBLES_EVERY_C)
    return min(max(factor, LEAST_FACTOR), MOST_FACTOR)


def wet_edge_min(paints: Sequence[Paint | None], climate: Climate) -> int:
    """How long a stroke of each of these paints surely stays wet in this air: whole minutes, down."""
    return int(min(_label(paint, "wet_edge_min", climate) for paint in paints))


def label_min(paint: Paint | None, name: str, climate: Climate) -> int:
    """A paint's time by its label, or what is usual, at this climate; whole minutes, up."""
    return -int(-_label(paint, name, climate) // 1)


def tape_min(paint: Paint | None, climate: Climate) -> int:
    """When tape goes on a paint, minutes after it was laid: by the painter's own word for this job as it stands, else when its label calls it tape-safe."""
    own = paint.takes_tape_min if paint else None
    return label_min(paint, "tape_safe_min", climate) if own is None else -int(-own // 1)


def tape_wait_said(what: str, paint: Paint | None, climate: Climate, tape: str = "tape") -> str:
    """The wait before some tape goes on `what` was painted, in words.

    >>> from fractions import Fraction
    >>> from dividers.core.job.crew import Climate
    >>> tape_wait_said("warm cream", Paint("satin", takes_tape_min=Fraction(60)), Climate())
    'warm cream takes tape after 1 h by your own word, sooner than its label says'
    """
    wait = spoken(tape_min(paint, climate))
    if paint is None or paint.takes_tape_min is None:
        return f"{what} must be tape-safe, {wait}, before {tape} goes on it"
    label = label_min(paint, "tape_safe_min", climate)
    than = ", sooner than its label says" if tape_min(paint, climate) < label else ""
    return f"{what} takes tape after {wait} by your own word{than}"


def water_min(minutes: float, climate: Climate) -> int:
    """How long something water-borne that takes so long by its label takes at this climate; whole minutes, up."""
    return -int(-minutes * water_factor(climate) // 1)


def water_factor(climate: Climate) -> float:
    """How many times its label's time something water-borne takes in this air."""
    return drying_factor("water", float(climate.temperature_c), float(climate.humidity_percent))


def _label(paint: Paint | None, name: str, climate: Climate) -> float:
    stated = getattr(paint, name) if paint else None
    binder = paint.binder if paint else "water"
    minutes = float(stated if stated is not None else usual_label_min(name, binder))
    return minutes * drying_factor(binder, float(climate.temperature_c), float(climate.humidity_percent))
