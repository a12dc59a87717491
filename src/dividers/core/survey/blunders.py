"""What a reading that doesn't fit probably should have been: the mistakes people make with a tape measure, tried one by one."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction

from dividers.core.base.lengths import write_exact
from dividers.core.base.units import FOOT_MM, INCH_MM, LENGTH_MM
from dividers.core.job.surface import SurveyReading
from dividers.core.survey.adjustment import CRITICAL, LEAN, Adjusted

# Walls are rarely further out of square than this (common practice, no source). Used only to choose between readings that
# would explain a misfit equally well.
USUAL_LEAN_PER_M = 4.0

# A misfit that a usual mistake explains is so many times (as a logarithm) likelier to be one.
EXPLAINED = 3.0


@dataclass(frozen=True)
class Mistake:
    """A mistake that would explain a reading: in words, and what it should have been."""

    words: str
    mm: Fraction


def likely_mistake(read_mm: Fraction, expected_mm: float, sure_mm: float, unit: str) -> Mistake | None:
    """The usual mistake that brings a reading nearest to what the others say it should be; None where none comes near enough.

    >>> likely_mistake(Fraction(119) * INCH_MM, 191.02 * 25.4, 2.0, "in").words
    'two digits transposed'
    """
    near = [m for m in _mistakes(read_mm, unit) if abs(float(m.mm) - expected_mm) <= CRITICAL * sure_mm]
    return min(near, key=lambda mistake: abs(float(mistake.mm) - expected_mm), default=None)


def _mistakes(read_mm: Fraction, unit: str) -> Iterator[Mistake]:
    per = LENGTH_MM[unit]
    yield from (Mistake("two digits transposed", mm) for mm in _transposed(read_mm, unit))
    name = {"in": "inch", "cm": "centimetre", "mm": "millimetre"}[unit]
    steps: list[tuple[str, Fraction]] = [("one inch off", INCH_MM), ("10 inches off", 10 * INCH_MM), ("one foot off", FOOT_MM)]
    if unit == "in":
        steps += [("half an inch off", INCH_MM / 2), ("a quarter inch off", INCH_MM / 4), ("100 inches off", 100 * INCH_MM)]
    else:
        steps = [(f"{n} {name}{'s' if n > 1 else ''} off", n * per) for n in (1, 10, 100, 1000) if n * per >= 10]
        steps += [("10 cm off", Fraction(100)), ("one metre off", Fraction(1000))]
    for words, mm in steps:
        yield Mistake(words, read_mm + mm)
        if read_mm > mm:
            yield Mistake(words, read_mm - mm)
    for other, size in (("in", INCH_MM), ("cm", Fraction(10)), ("mm", Fraction(1))):
        if size != per:
            yield Mistake(f"read in {other}", read_mm / per * size)


def _transposed(read_mm: Fraction, unit: str) -> Iterator[Fraction]:
    """Readings with two neighbouring digits of the whole number swapped, and with the numerator's."""
    whole, rest = divmod(read_mm / LENGTH_MM[unit], 1)
    digits = str(whole)
    for at in range(len(digits) - 1):
        if digits[at] != digits[at + 1]:
            swapped = digits[:at] + digits[at + 1] + digits[at] + digits[at + 2 :]
            yield (Fraction(int(swapped)) + rest) * LENGTH_MM[unit]


class Judge:
    """How likely each of some readings is the wrong one, for `survey.find_blunders`."""

    def __init__(self, readings: Sequence[SurveyReading], unit: str) -> None:
        self.readings, self.unit = readings, unit

    def __call__(self, number: int, expected_mm: float, sure_mm: float, rest: Adjusted) -> float:
        height = abs(float(rest.parameters[2])) / 1000
        lean = float(rest.parameters[LEAN]) / (USUAL_LEAN_PER_M * max(height, 0.1))
        read_mm = self.readings[number].mm
        expected = expected_mm if read_mm >= 0 else -expected_mm  # what lies to the left of a plumb line is below nothing
        mistake = likely_mistake(abs(read_mm), expected, sure_mm, self.unit)
        return (EXPLAINED if mistake else 0.0) - lean**2 / 2


def absurd(reading: SurveyReading, width_mm: Fraction, height_mm: Fraction, unit: str) -> str | None:
    """Why a reading can't be one of that panel, with what it may have been; None where it can.

    A width or height may differ from the stated one by a quarter. A diagonal must be longer than either side and shorter than
    both together.
    """
    said = write_exact(reading.mm, unit)
    if reading.kind == "diagonal":
        longest, both = max(width_mm, height_mm), width_mm + height_mm
        if reading.mm <= longest * Fraction(9, 10) or reading.mm >= both * Fraction(11, 10):
            square = write_exact(Fraction(round(math.hypot(width_mm, height_mm))), unit).removeprefix("≈ ")
            return (
                f"{said} is not a possible diagonal of {write_exact(width_mm, unit)} x {write_exact(height_mm, unit)}: it must be longer than "
                f"the longer side and shorter than both together; with square corners it is about {square}."
            )
        return None
    if reading.kind not in ("width", "height"):
        most = width_mm if reading.kind == "plumb" else max(width_mm, height_mm) * 2
        return f"{said} is more than the panel measures." if abs(reading.mm) > most else None
    size = width_mm if reading.kind == "width" else height_mm
    if size * Fraction(3, 4) <= reading.mm <= size * Fraction(5, 4):
        return None
    per = LENGTH_MM[unit]
    guesses = [(other, reading.mm / per * mm) for other, mm in (("in", INCH_MM), ("cm", Fraction(10)), ("mm", Fraction(1)))]
    fits = [(other, mm) for other, mm in guesses if mm != reading.mm and abs(mm - size) < size / 10]
    number = write_exact(reading.mm, unit).removesuffix(f" {unit}")
    hint = f" If it was read in {fits[0][0]}, write {number} {fits[0][0]}." if fits else ""
    return f"{said} is far from the {reading.kind} of {write_exact(size, unit)}, by more than a quarter of it.{hint}"


NOTHING_MM = 1.0  # less than a pencil line and its reading
