"""The air: dew point, the margin above it, and what it means for some paints."""

import math
from dataclasses import dataclass

from dividers.core.base.quantities import temperature, warmer
from dividers.core.job.crew import Climate
from dividers.core.job.drying import E0_HPA, SLOPE, ZERO_C, drying_factor, vapour_hpa
from dividers.core.job.products import Paint

# A surface to be painted is at least so much above the dew point (ISO 8502-4, from memory).
DEW_MARGIN_C = 3.0

# Where a label states no limits (common practice, no source).
USUAL_LEAST_C, USUAL_MOST_C, USUAL_MOST_PERCENT = 10.0, 35.0, 85.0


def dew_point_c(celsius: float, percent: float) -> float:
    """The temperature at which that air's vapour begins to settle, °C; the Magnus form turned round. `percent` above 0."""
    exponent = math.log(max(vapour_hpa(celsius, percent), 1e-6) / E0_HPA)
    return ZERO_C * exponent / (SLOPE - exponent)


@dataclass(frozen=True)
class Air:
    """What the air is like and what that means: figures, a sentence each, and warnings."""

    celsius: float
    percent: float
    vapour_hpa: float
    dew_point_c: float
    margin_c: float
    factors: tuple[tuple[str, float], ...]
    said: tuple[str, ...]
    warnings: tuple[str, ...]


def air_of(climate: Climate, paints: tuple[Paint, ...], unit: str = "mm") -> Air:
    """Judge a climate for some paints, in the words of a job in that unit. The surface counts as warm as the air where no temperature of its own is given."""
    celsius, percent = float(climate.temperature_c), float(climate.humidity_percent)
    surface = celsius if climate.surface_c is None else float(climate.surface_c)
    dew = dew_point_c(celsius, max(percent, 1.0))
    margin = surface - dew
    binders = tuple(dict.fromkeys(paint.binder for paint in paints)) or ("water",)
    factors = tuple((binder, drying_factor(binder, celsius, percent)) for binder in binders)
    said = [
        f"At {temperature(celsius, unit)} and {percent:g} % humidity the dew point is {temperature(dew, unit)}.",
        *(_factor_said(binder, factor) for binder, factor in factors),
    ]
    warnings = []
    if margin < DEW_MARGIN_C:
        how = f"only {warmer(margin, unit)} above" if margin >= 0 else f"{warmer(-margin, unit)} below"
        warnings.append(
            f"The surface is {how} the dew point; at least {warmer(DEW_MARGIN_C, unit)} is the rule (ISO 8502-4). "
            "Warm the room or wait for drier air, or paint will fail."
        )
    for paint in paints:
        warnings += label_warnings(paint, celsius, percent, unit)
    return Air(
        celsius, percent, vapour_hpa(celsius, percent), dew, margin, factors, tuple(said), tuple(dict.fromkeys(warnings))
    )


def _factor_said(binder: str, factor: float) -> str:
    name = {"water": "Water-borne paint", "oil": "Oil paint", "shellac": "Shellac"}[binder]
    if abs(factor - 1) < 0.05:
        return f"{name} dries as its label says."
    return f"{name} takes {factor:.1f} times as long to dry as its label says."


def label_warnings(paint: Paint, celsius: float, percent: float, unit: str) -> list[str]:
    """What of the air lies outside of what a paint's label allows, in sentences."""
    least = USUAL_LEAST_C if paint.least_c is None else float(paint.least_c)
    most = USUAL_MOST_C if paint.most_c is None else float(paint.most_c)
    damp = USUAL_MOST_PERCENT if paint.most_percent is None else float(paint.most_percent)
    found = []
    if not least <= celsius <= most:
        found.append(
            f"{paint.key.capitalize()} is for {temperature(least, unit)} to {temperature(most, unit)}; it is {temperature(celsius, unit)}."
        )
    if percent > damp:
        found.append(f"{paint.key.capitalize()} is for at most {damp:g} % humidity; it is {percent:g} %.")
    return found
