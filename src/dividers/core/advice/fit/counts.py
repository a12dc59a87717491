"""Dividing a run by a whole number: the counts near the one there is, compared, each with its reason in words.

Lengths are exact; what a tape measure reads is rounded once.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from dividers.core.base.lengths import Graduation, Reading, read_off, write_exact, write_small
from dividers.core.job.model import Job, Piece
from dividers.core.job.surface import Rectangle
from dividers.core.patterns import BY_KEY
from dividers.core.patterns.base.origin import AXES, Run, run_along
from dividers.core.patterns.base.parameters import Parameter
from dividers.core.patterns.base.ring import meeting_of
from dividers.core.survey.sheet import Sheet

MOST_SIZED = 2000
NEXT_FEW = 4  # counts away that are still a step bolder or finer, where none lies on the marks
LEAST_STEPS = 8  # graduations that a part is at least wide, to be offered
NEAR = 4  # counts on either side of the present one
FAR_SHARE = Fraction(3, 10)  # a size so much off the present one is far from it (a judgement)

# A smaller part of a repeat than this, left at an opening, looks like a mistake (common practice, no source).
PART_SHARE = Fraction(1, 4)


@dataclass(frozen=True)
class CountChoice:
    """One count: what it gives exactly and on the tape measure.

    `running_mm` is the most that rounding moves any mark read from the datum, `stepping_mm` what stepping off the rounded size has
    gained or lost at the far end; `part_mm` the smallest part of a repeat that an opening's side or a corner leaves, None where none does.
    """

    count: int
    size_mm: Fraction
    reading: Reading
    running_mm: Fraction
    stepping_mm: Fraction
    ends_match: bool | None  # None where a pattern has no two ends to match
    part_mm: Fraction | None
    demerit: Fraction
    meets: bool | None = None  # itself, round a ring

    @property
    def on_marks(self) -> bool:
        return self.reading.error_mm == 0


Colors = tuple[str | None, ...]  # of bands in turn; empty where a pattern is no bands


@dataclass(frozen=True)
class Division:
    """A parameter that divides a run, the present count, and the candidates from the best on.

    `parameter` is a count, or the size of what repeats: then `count` is the nearest one, and `size_mm` what it is now.
    """

    parameter: Parameter
    count: int
    run_mm: Fraction
    candidates: tuple[CountChoice, ...]
    size_mm: Fraction | None = None

    def is_present(self, candidate: CountChoice) -> bool:
        """Whether a candidate is what the pattern has now."""
        return candidate.count == self.count and self.size_mm in (None, candidate.size_mm)


def candidates(
    low: Fraction,
    high: Fraction,
    count: int,
    colors: Colors,
    sides: Sequence[Fraction],
    graduation: Graduation,
    most: int,
    ring: int = 0,
) -> tuple[CountChoice, ...]:
    """Counts near `count` for the run from low to high, best first. `sides` are openings' sides along it; `colors` cycle. In a ring they
    come round after `ring` repeats.
    """
    wish = (high - low) / count
    counts = range(max(1, count - NEAR), min(most, count + NEAR) + 1)
    found = [_candidate(low, high, number, wish, colors, sides, graduation, ring) for number in counts]
    return tuple(sorted(found, key=lambda c: (c.demerit, abs(c.count - count), c.count)))


def _candidate(
    low: Fraction,
    high: Fraction,
    count: int,
    wish: Fraction,
    colors: Colors,
    sides: Sequence[Fraction],
    graduation: Graduation,
    ring: int = 0,
) -> CountChoice:
    size = (high - low) / count
    reading = read_off(size, graduation)
    running = max((abs(read_off(low + size * n, graduation).error_mm) for n in range(1, count)), default=Fraction(0))
    stepping = reading.error_mm * (count - 1)
    parts = [part for side in sides if low < side < high for part in ((side - low) % size, -(side - low) % size) if part]
    part = min(parts, default=None)
    ends_match = colors[0] == colors[(count - 1) % len(colors)] if colors else None
    meets = count % ring == 0 if ring else None
    demerit = abs(size - wish) / wish
    demerit += 0 if reading.error_mm == 0 else Fraction(1, 10) + min(abs(stepping) / size, Fraction(1, 5))
    demerit += Fraction(1, 20) if (ends_match if meets is None else meets) is False else 0
    if part is not None and part < size * PART_SHARE:
        demerit += Fraction(1, 10)
    return CountChoice(count, size, reading, running, stepping, None if ring else ends_match, part, demerit, meets)


def reason(candidate: CountChoice, graduation: Graduation) -> str:
    """Why a count is as good as it is, in a sentence or two."""
    size = candidate.reading.text
    if candidate.on_marks:
        said = [f"{size} lies on the tape's marks."]
    else:
        lost = read_off(abs(candidate.stepping_mm), graduation).text
        within = write_exact(candidate.running_mm, graduation.unit).removeprefix("≈ ")
        said = [f"About {size}: read from the datum, every mark is within {within}; stepping off would end up {lost} out."]
    if candidate.meets is not None:
        said.append("Comes out round the ring." if candidate.meets else "Where the ring closes, like meets like.")
    if candidate.ends_match is not None:
        said.append("Both ends match." if candidate.ends_match else "The ends differ.")
    if candidate.part_mm is not None and candidate.part_mm < candidate.size_mm * PART_SHARE:
        said.append(f"A part of only {read_off(candidate.part_mm, graduation).text} is left at an opening or corner.")
    return " ".join(said)


def divisions_of(job: Job, piece: Piece, sheet: Sheet) -> list[Division]:
    """Every count and every size of a piece's pattern that divides a run of its first sheet."""
    found = []
    for run in runs_of(piece, sheet):
        meeting = meeting_of(piece, sheet, run)
        ring = meeting.cycle if meeting else 0
        if run.count and run.counted:
            # only bands side by side have two ends to match
            colors = tuple(piece.pattern.values["colors"]) if run.counted.divides == "run" else ()
            most = int(run.counted.most or run.count + NEAR)
            ranked = candidates(run.low, run.high, run.count, colors, sides_along(sheet, run.axis), job.graduation, most, ring)
            found.append(Division(run.counted, run.count, run.length, ranked))
        elif run.sized and isinstance(piece.pattern.values[run.sized.key], Fraction) and run.length >= run.size_mm / 2:
            count = max(round(run.length / run.size_mm), 1)
            ranked = candidates(run.low, run.high, count, (), sides_along(sheet, run.axis), job.graduation, MOST_SIZED, ring)
            found.append(Division(run.sized, count, run.length, ranked, run.size_mm))
    return found


def runs_of(piece: Piece, sheet: Sheet) -> list[Run]:
    """The ways along a sheet that a piece's pattern repeats, inside the pattern's own border."""
    pattern, values = BY_KEY[piece.pattern.kind], piece.pattern.values
    area, border = sheet.area, values.get("border") or Fraction(0)
    inner = Rectangle(area.left + border, area.top + border, area.right - border, area.bottom - border)
    if min(inner.width, inner.height) <= 0:
        return []
    return [run for axis in AXES if (run := run_along(axis, inner, pattern, values))]


def sides_along(sheet: Sheet, axis: str) -> list[Fraction]:
    """Where something ends along a run: openings' sides, and corners where the sheet is folded."""
    sides = [side for box in sheet.openings for side in ((box.left, box.right) if axis == "across" else (box.top, box.bottom))]
    return sides + [crease.at for crease in sheet.creases if (crease.axis == 0) == (axis == "across")]


def steps_on_marks(division: Division, graduation: Graduation) -> tuple[CountChoice | None, CountChoice | None]:
    """The next count below and the next one above the present whose sizes lie on the tape's marks, as far as half and twice as many.

    Where none lies on them, the one of the next few that lies nearest beside them; None where there is no count that way.
    """
    run, low = division.run_mm, Fraction(0)
    wish = run / division.count

    def off(count: int) -> Fraction:
        return abs(read_off(run / count, graduation).error_mm)

    def first_of(counts: Sequence[int]) -> CountChoice | None:
        found = next((n for n in counts if not off(n)), None) or min(counts[:NEXT_FEW], key=off, default=None)
        return _candidate(low, run, found, wish, (), (), graduation) if found else None

    most = int(min(division.parameter.most or MOST_SIZED, run / (LEAST_STEPS * graduation.step_mm), 2 * division.count))
    return first_of(range(division.count - 1, (division.count - 1) // 2, -1)), first_of(range(division.count + 1, most + 1))


def rating(candidate: CountChoice, division: Division, graduation: Graduation) -> str:
    """What a count is worth, in a few words: whether its size lies on the tape measure's marks, and is near the present one."""
    wish = division.run_mm / division.count
    if abs(candidate.size_mm - wish) > FAR_SHARE * wish:
        return "far from your size"
    if candidate.on_marks:
        return "on the marks"
    return f"off the marks by {write_small(candidate.reading.error_mm, graduation.unit)}"
