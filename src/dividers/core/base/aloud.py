"""Readings as people say them: 46 9/16 in as “forty-six and nine sixteenths”. Lengths as this program writes them."""

import re

ONES = (
    "zero", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve", "thirteen", "fourteen", "fifteen", "sixteen",
    "seventeen", "eighteen", "nineteen",
)  # fmt: skip
TENS = ("", "", "twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety")
PARTS = {2: "half", 4: "quarter", 8: "eighth", 16: "sixteenth", 32: "thirty-second", 64: "sixty-fourth"}
UNITS = {"mm": "millimetre", "cm": "centimetre", "m": "metre"}
FEET = re.compile(r"(?:(\d+)'\s*)?(?:(\d+))?(?:\s*(?:(\d+)/(\d+)))?\s*(?:\"|in)")
METRIC = re.compile(r"(\d+)(?:[.,](\d+))?\s*(mm|cm|m)")


def number_said(number: int) -> str:
    """A whole number up to 999,999 in words."""
    if number >= 1000:
        rest = number % 1000
        return f"{number_said(number // 1000)} thousand{f' {number_said(rest)}' if rest else ''}"
    if number >= 100:
        rest = number % 100
        return f"{ONES[number // 100]} hundred{f' {number_said(rest)}' if rest else ''}"
    if number >= 20:
        return TENS[number // 10] + (f"-{ONES[number % 10]}" if number % 10 else "")
    return ONES[number]


def reading_said(text: str) -> str:
    """A reading as it is said; a text that is none as it is."""
    if found := METRIC.fullmatch(text.strip()):
        whole, digits, unit = found.groups()
        point = f" point {' '.join(ONES[int(digit)] for digit in digits)}" if digits else ""
        return f"{number_said(int(whole))}{point} {UNITS[unit]}{'' if whole == '1' and not digits else 's'}"
    found = FEET.fullmatch(text.strip())
    if not found or not any(found.groups()):
        return text
    feet, inches, over, under = found.groups()
    said = [f"{number_said(int(feet))} {'foot' if feet == '1' else 'feet'}"] if feet else []
    inch = [number_said(int(inches))] if inches and (inches != "0" or not over) else []
    if over and int(under) in PARTS:
        inch.append(_part(int(over), int(under)))
    elif over:
        return text
    return " ".join([*said, " and ".join(inch)]).strip()


def _part(over: int, under: int) -> str:
    word = PARTS[under]
    if over == 1:
        return f"a {word}" if under != 8 else "an eighth"
    return f"{number_said(over)} {word}s"
