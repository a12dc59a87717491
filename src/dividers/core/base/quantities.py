"""Times, spread rates and temperatures as people write them. Minutes, m² per litre and °C inside."""

import re
from collections.abc import Sequence
from fractions import Fraction

from dividers.core.base.errors import BadInput, quoted
from dividers.core.base.units import DAY_MIN, FOOT_MM, SQUARE_FOOT_M2, US_GALLON_L, YARD_MM

_MINUTES = {
    "min": 1,
    "minute": 1,
    "minutes": 1,
    "h": 60,
    "hour": 60,
    "hours": 60,
    "d": DAY_MIN,
    "day": DAY_MIN,
    "days": DAY_MIN,
}
_NUMBER = r"([0-9]+(?:[.,][0-9]+)?)"
_TEMPERATURE = re.compile(r"(-?[0-9]+(?:[.,][0-9]+)?)\s*°?\s*([cf])?")
_SPREAD = re.compile(rf"{_NUMBER}\s*(m2/l|m²/l|ft2/gal|ft²/gal)")


def _fraction(digits: str) -> Fraction:
    return Fraction(digits.replace(",", "."))


def _text(written: object) -> str:
    return str(written).strip().lower()[:60]


def read_minutes(written: object) -> Fraction:
    """Read a time such as ``30 min``, ``2 h`` or ``14 d`` in minutes. Raises BadInput when it can't be read."""
    match = re.fullmatch(rf"{_NUMBER}\s*([a-z]+)", _text(written))
    if not match or match.group(2) not in _MINUTES:
        raise BadInput(
            f"{quoted(written)} isn't a time. Write a number with min, h or d, like 30 min, 2 h or 14 d.", value=written
        )
    minutes = _fraction(match.group(1)) * _MINUTES[match.group(2)]
    if minutes > DAY_MIN * 3650:
        raise BadInput(f"{quoted(written)} is more than ten years.", value=written)
    return minutes


def read_spread(written: object) -> Fraction:
    """Read a spread rate such as ``9 m2/L`` or ``375 ft2/gal`` in m² per litre. Raises BadInput when it can't be read."""
    match = _SPREAD.fullmatch(_text(written))
    rate = (
        _fraction(match.group(1)) * (SQUARE_FOOT_M2 / US_GALLON_L if "gal" in match.group(2) else 1) if match else Fraction(0)
    )
    if not Fraction(1, 10) <= rate <= 100:
        raise BadInput(
            f"{quoted(written)} isn't a spread rate. Write it as on the label, like 9 m2/L or 375 ft2/gal (0.1 to 100 m2/L).",
            value=written,
        )
    return rate


def read_celsius(written: object, unit: str = "mm") -> Fraction:
    """Read a temperature such as ``21 C`` or ``70 F`` in °C; a bare number is °F in a job in inches. Raises BadInput when it can't be read
    or no one paints at it.
    """
    match = _TEMPERATURE.fullmatch(_text(written))
    if not match:
        raise BadInput(f"{quoted(written)} isn't a temperature. Write it like 21 C or 70 F.", value=written)
    degrees = _fraction(match.group(1))
    fahrenheit = (match.group(2) or ("f" if unit == "in" else "c")) == "f"
    celsius = (degrees - 32) * Fraction(5, 9) if fahrenheit else degrees
    if not -30 <= celsius <= 60:
        raise BadInput(f"{quoted(written)} is outside -30 to 60 C. Check the unit (C or F).", value=written)
    return celsius


def temperature_in(written: object, old: str, new: str) -> object:
    """A temperature written in a job of unit `old`, for one of unit `new`: in °F where inches are read, where that is exact to a tenth.

    >>> temperature_in("19 C", "mm", "in"), temperature_in("66.2 F", "in", "mm"), temperature_in("70 F", "in", "mm")
    ('66.2 F', '19 C', '70 F')
    """
    celsius = read_celsius(written, old)
    value, letter = (celsius * Fraction(9, 5) + 32, "F") if new == "in" else (celsius, "C")
    if (value * 10).denominator == 1:
        return f"{float(value):g} {letter}"
    return written if str(written).strip()[-1:].isalpha() else f"{written} {'F' if old == 'in' else 'C'}"


_AMOUNTS = {
    "l": Fraction(1),
    "ml": Fraction(1, 1000),
    "gal": US_GALLON_L,
    "qt": US_GALLON_L / 4,
    "fl oz": US_GALLON_L / 128,
    "m": Fraction(1),
    "ft": FOOT_MM / 1000,
    "yd": YARD_MM / 1000,
}


def read_amount(written: object) -> Fraction:
    """Read an amount of paint in litres (``750 mL``, ``1 gal``) or of tape in metres (``55 m``, ``60 yd``). Raises BadInput."""
    match = re.fullmatch(rf"{_NUMBER}\s*([a-z ]+)", _text(written))
    if not match or match.group(2) not in _AMOUNTS:
        raise BadInput(
            f"{quoted(written)} isn't an amount. Write paint like 0.75 L, 500 mL, 1 qt or 1 gal, tape like 55 m or 60 yd.",
            value=written,
        )
    amount = _fraction(match.group(1)) * _AMOUNTS[match.group(2)]
    if amount > 100_000:
        raise BadInput(f"{quoted(written)} is too much.", value=written)
    return amount


def read_price(written: object) -> Fraction:
    """Read a price without its currency, such as ``12.50``. Raises BadInput."""
    match = re.fullmatch(_NUMBER, _text(written))
    if not match or _fraction(match.group(1)) > 1_000_000:
        raise BadInput(f"{quoted(written)} isn't a price. Write a number, like 12.50.", value=written)
    return _fraction(match.group(1))


def mixed(litres: float, parts: Sequence[tuple[str, float]], unit: str) -> str:
    """A mix as it is measured out: to a millilitre, or to a tenth of a fluid ounce where inches are read.

    >>> mixed(0.033, (("glaze", 0.0264), ("paint", 0.0066)), "mm")
    '33 mL: 26 mL of glaze and 7 mL of paint'
    """
    said = [f"{poured(share, unit)} of {name}" for name, share in parts]
    return f"{poured(litres, unit)}: {', '.join(said[:-1])} and {said[-1]}" if len(said) > 1 else f"{poured(litres, unit)}"


def poured(litres: float, unit: str) -> str:
    """A small amount as a measuring cup shows it."""
    if unit == "in":
        return f"{litres / float(US_GALLON_L) * 128:.1f} fl oz"
    return f"{litres * 1000:.0f} mL" if litres < 1 else f"{litres:.2f} L"


LEAST_ML_L, LEAST_FL_OZ_L = 0.0005, 0.0015  # half a millilitre, a twentieth of a fluid ounce: below, the figure would be 0


def volume(litres: float, unit: str) -> str:
    """Paint as it is bought: fluid ounces, quarts and gallons where inches are read, else millilitres and litres.

    >>> volume(0.0004, "mm"), volume(0.0004, "in"), volume(0.25, "in")
    ('less than 1 mL', 'less than 0.1 fl oz', '0.26 qt')
    """
    if 0 < litres < (LEAST_FL_OZ_L if unit == "in" else LEAST_ML_L):
        return "less than 0.1 fl oz" if unit == "in" else "less than 1 mL"
    if unit != "in":
        return f"{litres:.2f} L" if litres >= 0.1 else f"{litres * 1000:.0f} mL"
    quarts = litres / float(US_GALLON_L) * 4
    if quarts >= 4:
        return f"{quarts / 4:.2f} gal"
    return f"{quarts:.2f} qt" if quarts >= 0.25 else f"{quarts * 32:.1f} fl oz"


def amount(value: float, kind: str, unit: str) -> str:
    """An amount of an item whose unit is L or m, as it is read here."""
    return volume(value, unit) if kind == "L" else run(value, unit)


def area(m2: float, unit: str) -> str:
    """An area as a job in that unit says it."""
    return f"{m2 / float(SQUARE_FOOT_M2):.1f} ft²" if unit == "in" else f"{m2:.2f} m²"


def spread(m2_l: float, unit: str) -> str:
    """A spread rate as labels say it where inches are read, or elsewhere.

    >>> spread(9, "in"), spread(9.5, "cm")
    ('367 ft²/gal', '9.5 m²/L')
    """
    return f"{m2_l / float(SQUARE_FOOT_M2) * float(US_GALLON_L):.0f} ft²/gal" if unit == "in" else f"{m2_l:g} m²/L"


def temperature(celsius: float, unit: str) -> str:
    """A temperature in °F where inches are read, else in °C.

    >>> temperature(21.5, "in"), temperature(21.5, "mm")
    ('71 °F', '21.5 °C')
    """
    return f"{celsius * 9 / 5 + 32:.0f} °F" if unit == "in" else f"{round(celsius, 1):g} °C"


def warmer(celsius: float, unit: str) -> str:
    """A difference of temperatures."""
    return f"{celsius * 9 / 5:.0f} °F" if unit == "in" else f"{round(celsius, 1):g} °C"


def run(metres: float, unit: str) -> str:
    """A length of tape or of a line."""
    return f"{metres / 0.3048:.0f} ft" if unit == "in" else f"{metres:.1f} m"


def spoken(minutes: float | Fraction) -> str:
    """Minutes as people say them: 25 min, 2 h, 1 h 20 min, 3 days. Longer ones are rounded up, to a quarter hour or an hour.

    >>> [spoken(m) for m in (80, 2192, 2880, 6575)]
    ['1 h 20 min', '36 h 45 min', '2 days', '4 days 14 h']
    """
    whole = round(minutes)
    coarse = 60 if whole > 2880 else 15 if whole > 600 else 1
    whole = -(-whole // coarse) * coarse
    if whole < 60:
        return f"{whole} min"
    if whole >= 2880:
        days, rest = divmod(whole, DAY_MIN)
        return f"{days} days {rest // 60} h" if rest else f"{days} days"
    hours, rest = divmod(whole, 60)
    return f"{hours} h {rest} min" if rest else f"{hours} h"
