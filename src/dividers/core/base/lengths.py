"""Exact lengths: read what people write, round once to a graduation, write what a tape measure shows.

Inside, a length is a `Fraction` of millimetres. Nothing here ever passes through a float.
"""

import math
import re
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from dividers.core.base.errors import BadInput, quoted
from dividers.core.base.tolerances import MARKS_A_MM
from dividers.core.base.units import FOOT_MM, INCH_MM, LENGTH_MM

ACCEPTED = "Write a length like 29 3/4, 29-3/4 in, 9' 11 3/4\", 11⅞, 75,5 cm, 755 mm or 2.4 m."
LONGEST_TEXT = 60
MOST_MM = Fraction(100_000)  # 100 m: longer than any wall a tape measure is taken to

_VULGAR = {
    "½": "1/2", "⅓": "1/3", "⅔": "2/3", "¼": "1/4", "¾": "3/4", "⅕": "1/5", "⅖": "2/5", "⅗": "3/5",
    "⅘": "4/5", "⅙": "1/6", "⅚": "5/6", "⅐": "1/7", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8",
    "⅑": "1/9", "⅒": "1/10",
}  # fmt: skip
_SAME = {"′": "'", "’": "'", "‘": "'", "″": '"', "“": '"', "”": '"', "⁄": "/", "∕": "/", "–": "-", "‑": "-"}
_SAME |= {"\u00a0": " ", "\u202f": " ", "\u2009": " ", "\u2212": "-"}

_FRACTION = r"[0-9]+\s*/\s*[0-9]+"
_NUMBER = rf"(?:[0-9]+(?:\s+|\s*-\s*){_FRACTION}|{_FRACTION}|[0-9]+(?:[.,][0-9]+)?|[.,][0-9]+)"
_FEET = r"(?:'|ft\.?|foot|feet)"
_WORDS = "|".join(sorted((re.escape(u) for u in LENGTH_MM if u.isalpha()), key=len, reverse=True))
_UNIT = rf"(?:''|\"|'|(?:{_WORDS})\.?)"
_FEET_INCHES = re.compile(rf"({_NUMBER})\s*{_FEET}\s*-?\s*({_NUMBER})\s*(?:''|\"|(?:inches|inch|in)\.?)?")
_PLAIN = re.compile(rf"({_NUMBER})\s*({_UNIT})?")


@dataclass(frozen=True)
class Length:
    """A length as written and as it is: `mm` exactly, `text` as typed, `bare` when it carried no unit."""

    mm: Fraction
    text: str
    bare: bool = False


def read_length(written: object, unit: str) -> Length:
    """Read a length as people write it; a bare number is in `unit` ("in", "cm" or "mm").

    Raises BadInput when it can't be read, is negative or absurdly long.

    >>> read_length("29 3/4", "in").mm
    Fraction(15113, 20)
    >>> read_length("2.4 m", "in").mm
    Fraction(2400, 1)
    """
    text = _as_text(written)
    tidy = _tidy(text)
    if not tidy:
        raise BadInput(f"A length is missing. {ACCEPTED}", value=written)
    if re.fullmatch(r"[-+]\s*[0-9.,].*", tidy):
        raise BadInput(f"“{text}” has a sign; a length is 0 or more, without one.", value=written)
    mm, bare = _in_mm(tidy, text, unit)
    if mm > MOST_MM:
        raise BadInput(f"“{text}” is more than {MOST_MM / 1000} m; that is too long. Check the unit.", value=written)
    return Length(mm, text, bare)


def _as_text(written: object) -> str:
    if isinstance(written, bool) or not isinstance(written, int | float | str):
        raise BadInput(f"A length must be text or a number. {ACCEPTED}", value=written)
    if isinstance(written, float) and not math.isfinite(written):
        raise BadInput(f"A length can't be {written}. {ACCEPTED}", value=written)
    if isinstance(written, int) and abs(written) > 10**12:
        raise BadInput(f"That is more than {MOST_MM / 1000} m; nothing here is that long.", value=written)
    text = written if isinstance(written, str) else _number_text(written)
    if len(text) > LONGEST_TEXT:
        raise BadInput(f"{len(text)} characters are too many for a length (at most {LONGEST_TEXT}). {ACCEPTED}")
    return text


def _number_text(number: int | float) -> str:
    """The shortest decimal text of a JSON number, without an exponent: what was written in the file."""
    if isinstance(number, int) or number.is_integer():
        return str(int(number))
    exact = repr(number)
    return exact if "e" not in exact else f"{number:.15f}".rstrip("0")


def _tidy(text: str) -> str:
    for sign, plain in _VULGAR.items():
        text = text.replace(sign, f" {plain}")
    for sign, plain in _SAME.items():
        text = text.replace(sign, plain)
    return text.strip().lower()


def _in_mm(tidy: str, text: str, unit: str) -> tuple[Fraction, bool]:
    if match := _FEET_INCHES.fullmatch(tidy):
        feet, inches = (_number(part, text) for part in match.groups())
        if inches >= 12:
            raise BadInput(f"“{text}” has 12 or more inches behind its feet. Write it in feet and inches under 12.", value=text)
        return feet * FOOT_MM + inches * INCH_MM, False
    match = _PLAIN.fullmatch(tidy)
    if not match:
        raise BadInput(f"“{text}” is not a length. {ACCEPTED}", value=text)
    number, written_unit = match.groups()
    name = (written_unit or unit).rstrip(".").replace("''", '"')
    return _number(number, text) * LENGTH_MM[name], written_unit is None


def _number(part: str, text: str) -> Fraction:
    if "/" not in part:
        return Fraction(part.replace(",", "."))
    *whole, above, below = (int(digits) for digits in re.findall(r"[0-9]+", part))
    if below == 0:
        raise BadInput(f"“{text}” divides by zero. {ACCEPTED}", value=text)
    if whole and above >= below:
        raise BadInput(
            f"“{text}” has a fraction of 1 or more behind a whole number. Write it with a fraction below 1.", value=text
        )
    return Fraction(sum(whole)) + Fraction(above, below)


@dataclass(frozen=True)
class Graduation:
    """The finest marks of the tape measure in use: `step_mm` apart, read in `unit` ("in", "cm" or "mm")."""

    step_mm: Fraction
    unit: str
    feet: bool = False

    def in_unit(self, unit: str, feet: bool = False) -> "Graduation":
        """The same marks, read in another unit of the same system (mm as cm; inches as feet and inches)."""
        metric = self.unit != "in"
        return Graduation(self.step_mm, unit if metric and unit in ("cm", "mm") else self.unit, feet and not metric)


GRADUATIONS: dict[str, Graduation] = {f"1/{parts} in": Graduation(INCH_MM / parts, "in") for parts in (2, 4, 8, 16, 32, 64)} | {
    "1 mm": Graduation(Fraction(1), "mm"),
    "0.5 mm": Graduation(Fraction(1, 2), "mm"),
}


def usual_graduation(unit: str) -> str:
    """The graduation of the tape measure most people carry, for a job's unit."""
    return "1/16 in" if unit == "in" else "1 mm"


def read_graduation(written: object) -> Graduation:
    """Read a graduation such as ``1/16 in`` or ``0.5 mm``. Raises BadInput when it isn't one of GRADUATIONS."""
    tidy = " ".join(str(written).replace(",", ".").split())
    if tidy not in GRADUATIONS:
        raise BadInput(f"{quoted(written)} is not a graduation. Choose one of: {', '.join(GRADUATIONS)}.", value=written)
    return GRADUATIONS[tidy]


def exact(coordinate: float) -> Fraction:
    """A coordinate in mm freed of float noise, so that what lies on a half graduation is rounded as one."""
    return Fraction(round(coordinate * MARKS_A_MM), MARKS_A_MM)


@dataclass(frozen=True)
class Reading:
    """What the tape measure shows for a length: the text, the rounded length, and what rounding moved (rounded - exact)."""

    text: str
    rounded_mm: Fraction
    error_mm: Fraction


def read_off(mm: Fraction, graduation: Graduation) -> Reading:
    """Round a length once to the graduation (halves go up) and write it as the tape measure shows it.

    >>> read_off(Fraction(119) * INCH_MM / 4, GRADUATIONS["1/16 in"]).text
    '29 3/4 in'
    """
    above, below = graduation.step_mm.numerator * mm.denominator, graduation.step_mm.denominator * mm.numerator
    rounded, text = _graduated((2 * below + above) // (2 * above), graduation)
    return Reading(text, rounded, rounded - mm)


@lru_cache(maxsize=20_000)
def _graduated(steps: int, graduation: Graduation) -> tuple[Fraction, str]:
    """So many steps of a graduation: in mm, and as the tape measure shows them."""
    rounded = steps * graduation.step_mm
    return rounded, write_length(rounded, graduation)


def write_length(mm: Fraction, graduation: Graduation) -> str:
    """Write a length that lies on the graduation: reduced fraction, feet and inches, or decimals."""
    if graduation.unit == "in":
        return _feet_and_inches(mm) if graduation.feet else f"{write_inches(mm)} in"
    per_unit = LENGTH_MM[graduation.unit]
    places = {1: 0, 2: 1, 10: 1, 20: 2}[int(per_unit / graduation.step_mm)]
    return f"{float(mm / per_unit):.{places}f} {graduation.unit}"


def write_inches(mm: Fraction) -> str:
    """Inches as a whole number and a reduced fraction, without the unit."""
    whole, part = divmod(mm / INCH_MM, 1)
    fraction = f"{part.numerator}/{part.denominator}" if part else ""
    return " ".join(bit for bit in (str(whole) if whole or not part else "", fraction) if bit)


def _feet_and_inches(mm: Fraction) -> str:
    feet, rest = divmod(mm, FOOT_MM)
    return f"{feet}' {write_inches(rest)}\"" if feet else f'{write_inches(rest)}"'


def write_exact(mm: Fraction, unit: str) -> str:
    """A length in `unit`: inches to 1/64, metric to three decimals, with “≈” where that isn't all of it."""
    value = mm / LENGTH_MM[unit]
    if unit == "in":
        rounded = Fraction(round(value * 64), 64)
        return f"{'' if rounded == value else '≈ '}{write_inches(rounded * INCH_MM)} in"
    text = f"{float(value):.3f}".rstrip("0").rstrip(".")
    return f"{text} {unit}" if Fraction(text) == value else f"≈ {text} {unit}"


LARGEST_DENOMINATOR = 1000


def write_kept(mm: Fraction, unit: str) -> str:
    """A length as a job keeps it: exactly in the job's unit without saying so, else in millimetres, as people write them.

    A fraction that nobody would write is rounded to a ten-thousandth of a millimetre.

    >>> [write_kept(Fraction(n, d), "in") for n, d in ((127, 2), (416, 5), (100, 3), (123457, 12346))]
    ['2 1/2', '83.2 mm', '33 1/3 mm', '9.9998 mm']
    """
    text = write_exact(mm, unit)
    if not text.startswith("≈"):
        return text.removesuffix(f" {unit}")
    whole, part = divmod(mm, 1)
    if (mm * 10_000).denominator == 1 or part.denominator > LARGEST_DENOMINATOR:
        return f"{float(mm):.4f}".rstrip("0").rstrip(".") + " mm"
    return f"{whole} {part} mm" if whole else f"{part} mm"


def write_small(mm: Fraction, unit: str) -> str:
    """A small error without its sign, as people who measure in that unit picture it: to 1/64 in or 0.1 mm.

    >>> [write_small(Fraction(n, 100), "in") for n in (3, -40, 159)], write_small(Fraction(37, 100), "cm")
    (['less than 1/64 in', '1/64 in', '1/16 in'], '0.4 mm')
    """
    finest, name = (INCH_MM / 64, "1/64 in") if unit == "in" else (Fraction(1, 10), "0.1 mm")
    steps = round(abs(mm) / finest)
    if not steps:
        return f"less than {name}"
    return f"{write_inches(steps * finest)} in" if unit == "in" else f"{steps / 10:g} mm"


def rewrite(length: Length, old_unit: str, new_unit: str) -> str:
    """What to keep in a job when its unit changes: the same exact length, written so that it still reads as itself."""
    if not length.bare or old_unit == new_unit:
        return length.text
    value = length.mm / LENGTH_MM[new_unit]
    for digits in range(4):
        if (value * 10**digits).denominator == 1:
            return f"{float(value):.{digits}f}"
    return f"{length.text.strip()} {old_unit}"
