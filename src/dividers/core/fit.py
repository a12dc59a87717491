"""Dividing a run by a whole number: the counts near the one there is, compared, each with its reason in words.

Lengths are exact; what a tape measure reads is rounded once.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from dividers.core.job import Job, Piece, Rectangle
from dividers.core.lengths import Graduation, Reading, read_off
from dividers.core.patterns import BY_KEY
from dividers.core.patterns.parameters import Parameter, Values
from dividers.core.sheet import Sheet

NEAR = 4  # counts on either side of the present one

# A smaller part of a repeat than this, left at an opening, looks like a mistake (common practice, no source).
PART_SHARE = Fraction(1, 4)


@dataclass(frozen=True)
class Candidate:
    """One count: what it gives exactly and on the tape measure.

    `running_mm` is the most that rounding moves any mark read from the datum, `stepping_mm` what stepping off the rounded size has
    gained or lost at the far end; `part_mm` the smallest part of a repeat that an opening's side leaves, None where none does.
    """

    count: int
    size_mm: Fraction
    reading: Reading
    running_mm: Fraction
    stepping_mm: Fraction
    ends_match: bool
    part_mm: Fraction | None
    demerit: Fraction

    @property
    def on_marks(self) -> bool:
        return self.reading.error_mm == 0


@dataclass(frozen=True)
class Division:
    """A parameter that divides a run, the present count, and the candidates from the best on."""

    parameter: Parameter
    count: int
    run_mm: Fraction
    candidates: tuple[Candidate, ...]


def candidates(
    low: Fraction, high: Fraction, count: int, colors: int, sides: Sequence[Fraction], graduation: Graduation, most: int
) -> tuple[Candidate, ...]:
    """Counts near `count` for the run from low to high, best first. `sides` are openings' sides along it; `colors` cycle."""
    wish = (high - low) / count
    counts = range(max(1, count - NEAR), min(most, count + NEAR) + 1)
    found = [_candidate(low, high, number, wish, colors, sides, graduation) for number in counts]
    return tuple(sorted(found, key=lambda c: (c.demerit, abs(c.count - count), c.count)))


def _candidate(
    low: Fraction, high: Fraction, count: int, wish: Fraction, colors: int, sides: Sequence[Fraction], graduation: Graduation
) -> Candidate:
    size = (high - low) / count
    reading = read_off(size, graduation)
    running = max((abs(read_off(low + size * n, graduation).error_mm) for n in range(1, count)), default=Fraction(0))
    stepping = reading.error_mm * (count - 1)
    parts = [part for side in sides if low < side < high for part in ((side - low) % size, -(side - low) % size) if part]
    part = min(parts, default=None)
    ends_match = colors < 2 or (count - 1) % colors == 0
    demerit = abs(size - wish) / wish
    demerit += 0 if reading.error_mm == 0 else Fraction(1, 10) + min(abs(stepping) / size, Fraction(1, 5))
    demerit += 0 if ends_match else Fraction(1, 20)
    if part is not None and part < size * PART_SHARE:
        demerit += Fraction(1, 10)
    return Candidate(count, size, reading, running, stepping, ends_match, part, demerit)


def reason(candidate: Candidate, graduation: Graduation) -> str:
    """Why a count is as good as it is, in a sentence or two."""
    size = candidate.reading.text
    if candidate.on_marks:
        said = [f"{size} lies on the tape's marks."]
    else:
        lost = read_off(abs(candidate.stepping_mm), graduation).text
        said = [f"About {size}: read every mark from the datum; stepping off would be {lost} out at the end."]
    said.append("Both ends match." if candidate.ends_match else "The ends differ.")
    if candidate.part_mm is not None and candidate.part_mm < candidate.size_mm * PART_SHARE:
        said.append(f"A part of only {read_off(candidate.part_mm, graduation).text} is left at an opening.")
    return " ".join(said)


def divisions_of(job: Job, piece: Piece, sheet: Sheet) -> list[Division]:
    """Every count of a piece's pattern that divides a run of its first sheet."""
    found = []
    values = piece.pattern.values
    for parameter in BY_KEY[piece.pattern.kind].parameters:
        count: int | None = values.get(parameter.key)
        axis = _axis(parameter, values)
        if axis and count:
            low, high = _ends(sheet.area, axis)
            sides = [side for box in sheet.openings for side in _ends(box, axis)]
            colors = (
                len(values["colors"]) if parameter.divides == "run" else 0
            )  # only bands side by side have two ends to match
            ranked = candidates(low, high, count, colors, sides, job.graduation, int(parameter.most or count + NEAR))
            found.append(Division(parameter, count, high - low, ranked))
    return found


def _axis(parameter: Parameter, values: Values) -> str:
    """Which way a parameter's run goes, across or down; empty for slanting stripes, and for what divides nothing."""
    if parameter.divides == "run":
        return {Fraction(90): "across", Fraction(0): "down"}.get(values["direction"], "")
    return parameter.divides


def _ends(box: Rectangle, axis: str) -> tuple[Fraction, Fraction]:
    return (box.left, box.right) if axis == "across" else (box.top, box.bottom)
