"""What was found after marking, against what the marks must read: which mark is off, in what way all are, and how to share it.

A mark may be off by a graduation: half for its own rounding, half for the reading that checks it.
"""

import statistics
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from dividers.core.base.lengths import Graduation, read_off
from dividers.core.job.surface import Marked, Panel
from dividers.core.marks.level_line import NAME as LEVEL_LINE
from dividers.core.marks.marks import Mark
from dividers.core.survey.blunders import likely_mistake

# Found readings that distinguish a drift from a single mark off: with fewer, either would explain them.
LEAST_FOR_DRIFT = 3


@dataclass(frozen=True)
class FoundMark:
    """One mark of a line: what it must read and what was found, mm from its datum; what it is off by; what to do with it."""

    key: str
    mark: Mark
    run_mm: Fraction
    found_mm: Fraction | None
    off_mm: Fraction | None
    bad: bool
    said: str
    shared: str = ""


@dataclass(frozen=True)
class LineCheck:
    """A mark line as found, in the order along it, with what is said of it as a whole."""

    panel: str
    line: str
    rows: tuple[FoundMark, ...]
    said: tuple[str, ...]


def check_line(
    marks: Sequence[tuple[str, Mark]],
    found: Sequence[Fraction | None],
    graduation: Graduation,
    unit: str,
    pinstripe_mm: Fraction,
) -> LineCheck:
    """Compare a line's marks, in the order along it, with what was found at each (None where nothing was)."""
    runs = [mark.run_mm for _, mark in marks]
    offs = [None if at is None else at - run for run, at in zip(runs, _padded(found, len(runs)), strict=True)]
    mixed = len({mark.datum.rpartition(" ")[2] for _, mark in marks if not mark.datum.startswith(("centre", LEVEL_LINE))}) > 1
    drift, general = _general(runs, offs, graduation, mixed)
    bad = [off is not None and abs(off - common) > graduation.step_mm for off, common in zip(offs, drift, strict=True)]
    ends = [number for number, off in enumerate(offs) if off is not None]
    shared = (
        share_out(runs, _padded(found, len(runs)), pinstripe_mm)
        if any(offs) and not mixed and not any(bad[n] for n in ends[1:-1])
        else None
    )
    rows = []
    for number, ((key, mark), run, at, off) in enumerate(zip(marks, runs, _padded(found, len(runs)), offs, strict=True)):
        said = ""
        if bad[number] and at is not None and off is not None:
            said = _said(run, at, off, drift[number], graduation, unit)
        text = read_off(abs(shared[number]), graduation).text if shared and ends[0] <= number <= ends[-1] else ""
        rows.append(FoundMark(key, mark, run, at, off, bad[number], said, text))
    first = marks[0][1]
    return LineCheck(first.panel, first.line, tuple(rows), tuple(general))


def _padded(found: Sequence[Fraction | None], count: int) -> list[Fraction | None]:
    return [*found, *([None] * count)][:count]


def _general(
    runs: Sequence[Fraction], offs: Sequence[Fraction | None], graduation: Graduation, mixed: bool
) -> tuple[list[Fraction], list[str]]:
    """What all marks of a line are off by together: (the common part at each mark, what is said of it). Those read from both ends (`mixed`) have
    nothing in common.
    """
    none = [Fraction(0)] * len(runs)
    known = [(run, off) for run, off in zip(runs, offs, strict=True) if off is not None]
    step = graduation.step_mm
    if len(known) < LEAST_FOR_DRIFT or mixed:
        return none, []
    middle = statistics.median(off for _, off in known)
    near = sum(abs(off - middle) <= step for _, off in known)
    if abs(middle) > step and near * 3 >= len(known) * 2:
        text = read_off(abs(middle), graduation).text
        far = "too far from" if middle > 0 else "too near to"
        return [middle] * len(runs), [
            f"All marks sit {text} {far} where they are measured from: the hook was off the edge, or the tape measure started at another mark. "
            "Their spacing is right: move them together, or leave them if the ends may differ by that."
        ]
    slopes = [off / run for run, off in known if run]
    slope = statistics.median(slopes) if slopes else Fraction(0)
    last = max(known, key=lambda pair: abs(pair[0]))[0]
    fits = sum(abs(off - slope * run) <= step for run, off in known)
    flat = sum(abs(off) <= step for _, off in known)
    if abs(slope * last) > step and fits * 3 >= len(known) * 2 and fits > flat:
        lost = read_off(abs(slope * last), graduation).text
        way = "grows" if slope > 0 else "shrinks"
        return [slope * run for run in runs], [
            f"The error {way} along the line, to {lost} at its end: the marks were stepped off, each adding the rounding of the one before. "
            "Measure every mark from the one datum again, or spread the error as listed."
        ]
    return none, []


def _said(run: Fraction, at: Fraction, off: Fraction, drift: Fraction, graduation: Graduation, unit: str) -> str:
    """What is wrong with one mark."""
    alone = off - drift
    text = read_off(abs(alone), graduation).text
    mistake = likely_mistake(abs(at), float(abs(run + drift)), float(graduation.step_mm) / 2, unit)
    why = f" ({mistake.words})" if mistake else ""
    return f"{text} too far{why}" if alone > 0 else f"{text} too near{why}"


def share_out(runs: Sequence[Fraction], found: Sequence[Fraction | None], pinstripe_mm: Fraction) -> list[Fraction] | None:
    """Where all marks of a line go when the first and the last found stay and the rest share the difference.

    Each keeps its share of the way. A pinstripe keeps its width exactly and its middle its share, so that what is left of the band is
    shared from the band's own centre.

    >>> [float(mm) for mm in share_out([Fraction(n, 4) for n in (0, 19, 29, 48)], [Fraction(0), None, None, Fraction(95, 8)], Fraction(5, 2))]
    [0.0, 4.6875, 7.1875, 11.875]
    """
    ends = [number for number, at in enumerate(found) if at is not None]
    if len(ends) < 2 or runs[ends[0]] == runs[ends[-1]]:
        return None
    low, high = ends[0], ends[-1]
    start, end = found[low], found[high]
    assert start is not None and end is not None
    scale = (end - start) / (runs[high] - runs[low])
    shared = [start + (run - runs[low]) * scale for run in runs]
    if pinstripe_mm:
        for number in range(len(runs) - 1):
            if abs(runs[number + 1] - runs[number] - pinstripe_mm) < pinstripe_mm / 100:
                middle = (shared[number] + shared[number + 1]) / 2
                shared[number], shared[number + 1] = middle - pinstripe_mm / 2, middle + pinstripe_mm / 2
    return shared


def check_diagonals(panel: Panel, marked: Marked, graduation: Graduation) -> tuple[str, ...]:
    """What both diagonals of the field say, as found: d1² - d2² of a leaning field is four times its width times its lean."""
    found = [None if mm is None else float(mm) for mm in marked.diagonals]
    if len(found) < 2 or found[0] is None or found[1] is None:
        return ()
    a, b, c, d = panel.field_quad.points
    must = [float(((c - a) ** 2).sum()), float(((d - b) ** 2).sum())]
    wide = (panel.field_quad.length(0) + panel.field_quad.length(2)) / 2
    lean = (found[0] ** 2 - found[1] ** 2 - must[0] + must[1]) / (4 * wide)
    text = read_off(Fraction(abs(lean)).limit_denominator(10_000), graduation).text
    # a diagonal rounded by half a step moves the lean by that times diagonal over twice the width
    least = float(graduation.step_mm) * (must[0] ** 0.5 + must[1] ** 0.5) / (4 * wide)
    longer = (found[0] ** 2 + found[1] ** 2 - must[0] - must[1]) / (4 * (must[0] + must[1]) / 2) * (must[0] ** 0.5)
    said = []
    if abs(lean) > least:
        way = "right" if lean > 0 else "left"
        back = "left" if lean > 0 else "right"
        said.append(
            f"The marks lean: the bottom ones sit {text} too far to the {way}, against the top ones. "
            f"Move the bottom marks {text} to the {back}, or half of it at the bottom and half at the top the other way."
        )
    if abs(longer) > 2 * least:
        off = read_off(Fraction(abs(longer)).limit_denominator(10_000), graduation).text
        said.append(
            f"Both diagonals are about {off} too {'long' if longer > 0 else 'short'}: one side is marked too {'long' if longer > 0 else 'short'}; check the corner marks first."
        )
    return tuple(said) or ("Both diagonals are right: the field is marked as planned.",)
