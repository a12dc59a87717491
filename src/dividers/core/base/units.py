"""The one table of units. Exact: an inch is 25.4 mm (NIST SP 811, from memory), a foot 12 in, a US gallon 231 in³."""

from fractions import Fraction

INCH_MM = Fraction(254, 10)
FOOT_MM = 12 * INCH_MM
YARD_MM = 36 * INCH_MM

# Every way people write a unit of length -> millimetres.
LENGTH_MM: dict[str, Fraction] = {
    "mm": Fraction(1),
    "millimetre": Fraction(1),
    "millimetres": Fraction(1),
    "millimeter": Fraction(1),
    "millimeters": Fraction(1),
    "cm": Fraction(10),
    "centimetre": Fraction(10),
    "centimetres": Fraction(10),
    "centimeter": Fraction(10),
    "centimeters": Fraction(10),
    "m": Fraction(1000),
    "metre": Fraction(1000),
    "metres": Fraction(1000),
    "meter": Fraction(1000),
    "meters": Fraction(1000),
    "in": INCH_MM,
    "inch": INCH_MM,
    "inches": INCH_MM,
    '"': INCH_MM,
    "ft": FOOT_MM,
    "foot": FOOT_MM,
    "feet": FOOT_MM,
    "'": FOOT_MM,
    "yd": YARD_MM,
    "yard": YARD_MM,
    "yards": YARD_MM,
}

JOB_UNITS = ("in", "cm", "mm")

US_GALLON_L = INCH_MM**3 * 231 / 1_000_000
SQUARE_FOOT_M2 = (FOOT_MM / 1000) ** 2

DAY_MIN = 1440

# Lengths that are easy to cut and to set, to round others to, by the units of a job.
EASY_STEP_MM = {"in": INCH_MM / 4, "cm": Fraction(5), "mm": Fraction(5)}
