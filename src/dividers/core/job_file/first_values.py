"""What a pattern starts from on a ground, as the job file has it: lengths to a quarter inch or 5 mm, colours that are there."""

from collections.abc import Sequence
from fractions import Fraction
from typing import Any

from dividers.core.base.lengths import write_inches
from dividers.core.base.units import EASY_STEP_MM, LENGTH_MM
from dividers.core.patterns import BY_KEY
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import Parameter


def first_document(kind: str, ground: Ground, units: str, colors: Sequence[str | None]) -> dict[str, Any]:
    """A pattern of that kind to start from. Where it names colours by number, those of `colors` are meant."""
    pattern = BY_KEY[kind]
    found = {"kind": kind, **{key: _text(value, units, colors) for key, value in pattern.first(ground).items()}}
    if any(parameter.key == "colors" for parameter in pattern.parameters):
        found["colors"] = list(colors) or [None]
    return found


def first_value(parameter: Parameter, ground: Ground, units: str) -> Any:
    """What one parameter starts from when it is chosen instead of another."""
    size = min(ground.area.width, ground.area.height) / 5
    match parameter.kind:
        case "count":
            return parameter.default or 5
        case "flag":
            return True
        case "points":
            wide, high = ground.area.width, ground.area.height
            corners = {"A": (wide / 4, high / 4), "B": (wide * 3 / 4, high / 3), "C": (wide / 2, high * 3 / 4)}
            return {name: [_text(x, units, ()), _text(y, units, ())] for name, (x, y) in corners.items()}
        case "lengths":
            return [_text(size, units, ())]
    return _text(size, units, ())


def _text(value: Any, units: str, colors: Sequence[str | None]) -> Any:
    """A first value as people would write it."""
    if isinstance(value, list):
        return [_text(each, units, colors) for each in value]
    if isinstance(value, dict):
        return {key: _color(each, colors) if key == "color" else _text(each, units, colors) for key, each in value.items()}
    if not isinstance(value, Fraction):
        return value
    step = EASY_STEP_MM[units]
    rounded = round(value / step) * step or (step if value else Fraction(0))
    return write_inches(rounded) if units == "in" else f"{float(rounded / LENGTH_MM[units]):g}"


def _color(number: int, colors: Sequence[str | None]) -> str | None:
    real = [color for color in colors if color]
    return real[number % len(real)] if real else None
