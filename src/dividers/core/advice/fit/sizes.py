"""Keeping a size, a count or the tape's own width along a run, and what becomes of what is left: choices, each with what it costs."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any

from dividers.core.advice.fit.counts import PART_SHARE, sides_along
from dividers.core.base.lengths import GRADUATIONS, Graduation, read_off, write_kept
from dividers.core.job.model import Job, Piece
from dividers.core.patterns.base.origin import WORDS, Run, centred_part
from dividers.core.survey.sheet import Sheet

# How coarse a mark is, best first: sizes on whole and half inches, or whole and half centimetres, are easiest to find on a tape.
COARSE = {
    "in": tuple(GRADUATIONS["1/2 in"].step_mm * Fraction(n) for n in (2, 1, Fraction(1, 2), Fraction(1, 4), Fraction(1, 8)))
}
COARSE["mm"] = COARSE["cm"] = (Fraction(50), Fraction(10), Fraction(5), Fraction(1))


@dataclass(frozen=True)
class Choice:
    """One way to make a run come out: what it is, why it is good or bad, and what it changes in the piece, by path."""

    title: str
    why: str
    demerit: Fraction
    changes: Mapping[str, Any] = field(default_factory=dict)


class Chooser:
    """Finds choices for one run of a piece's pattern on a sheet."""

    def __init__(self, job: Job, piece: Piece, sheet: Sheet, run: Run, others: Mapping[str, Run]) -> None:
        self.job, self.piece, self.sheet, self.run, self.others = job, piece, sheet, run, others
        self.graduation: Graduation = job.graduation

    def say(self, mm: Fraction) -> str:
        return read_off(mm, self.graduation).text

    def keep(self, what: str) -> list[Choice]:
        """Choices that keep the size, the count, or a multiple of the tape; best first."""
        found = {"size": self._keep_size, "count": self._keep_count, "tape": self._keep_tape}[what]()
        return sorted(found, key=lambda choice: choice.demerit)

    def sized(self, size: Fraction, begins: str | Fraction | None) -> dict[str, Any] | None:
        """What makes repeats of that size begin there; None where the pattern takes no size along this run."""
        run, unit = self.run, self.job.units
        if run.sized is None or (run.count and run.sized.repeats == "both" and run.axis == "down"):
            return None  # one size for both ways is chosen across
        origin = write_kept(begins, unit) if isinstance(begins, Fraction) else begins
        changes: dict[str, Any] = {f"pattern.{run.origin_key}": origin}
        if run.count or size != run.size_mm:
            kept = write_kept(size, unit)
            changes[f"pattern.{run.sized.key}"] = self._widths(size) if run.sized.kind == "lengths" else kept
        if run.count and run.counted:
            changes[f"pattern.{run.counted.key}"] = None
            if run.sized.repeats == "both":
                changes |= {f"pattern.{other.counted.key}": None for other in self.others.values() if other.counted}
            for other in self.others.values():  # counts and sizes don't mix: the other run keeps its size as a size
                if other.count and other.counted and other.sized and other.sized is not run.sized:
                    changes |= {
                        f"pattern.{other.counted.key}": None,
                        f"pattern.{other.sized.key}": write_kept(other.size_mm, unit),
                    }
        return changes

    def _widths(self, size: Fraction) -> list[str]:
        """Widths, repeating, scaled to come to a size."""
        assert self.run.sized is not None
        widths = self.piece.pattern.values[self.run.sized.key] or (self.run.size_mm,)
        scale = size / sum(widths, Fraction(0))
        return [write_kept(width * scale, self.job.units) for width in widths]

    @property
    def _counts(self) -> bool:
        """Whether the run can be divided by a count; rows count only beside columns."""
        counted = self.run.counted
        return counted is not None and (counted.key != "rows" or bool(self.piece.pattern.values.get("columns")))

    def counted(self, count: int) -> dict[str, Any]:
        """What divides the run into so many: by its count where it has one, else by the exact size."""
        run = self.run
        if not self._counts or run.counted is None:
            return self.sized(run.length / count, None) or {}
        changes: dict[str, Any] = {f"pattern.{run.counted.key}": count, f"pattern.{run.origin_key}": None}
        if run.sized and run.counted.group and run.sized.group == run.counted.group:
            changes[f"pattern.{run.sized.key}"] = None
            for other in self.others.values():
                if not other.count and other.counted:
                    changes[f"pattern.{other.counted.key}"] = max(round(other.length / other.size_mm), 1)
        return changes

    def _keep_size(self) -> Iterator[Choice]:
        yield from self._left_over(self.run.size_mm, stretch=True)

    def _keep_tape(self) -> Iterator[Choice]:
        tape = self.piece.method.tape.width_mm
        near = max(round(self.run.size_mm / tape), 1)
        for many in sorted({max(near - 1, 1), near, near + 1}):
            strips = "one strip of tape" if many == 1 else f"{many} strips of tape"
            for choice in self._left_over(tape * many, stretch=False):
                far = abs(tape * many - self.run.size_mm) / self.run.size_mm
                title = f"{strips} wide, {self.say(tape * many)}: {choice.title[0].lower()}{choice.title[1:]}"
                yield Choice(title, choice.why, choice.demerit + far, choice.changes)

    def _left_over(self, size: Fraction, stretch: bool) -> Iterator[Choice]:
        """What can become of the remainder when repeats of a size are laid along the run."""
        run, rest = self.run, self.run.length % size
        whole = int(run.length // size)
        first, middle, last = WORDS[run.axis]
        if not rest:
            if (changes := self.sized(size, None)) is not None:
                yield Choice("Comes out even", f"{whole} of {self.say(size)}, nothing left over.", Fraction(0), changes)
            return
        if whole == 0:
            return
        if stretch:
            yield from self._stretched(size, rest, whole)
        part = centred_part(run.length, size)
        if (changes := self.sized(size, middle)) is not None:
            why = f"A part of {self.say(part)} at each end.{self._cuts(size, part)}"
            yield Choice("Centre it", why, self._part_demerit(size, part, part) + Fraction(1, 20), changes)
            for begins, end in ((None, last), (last, first)):
                start = rest if begins else Fraction(0)
                changes = self.sized(size, begins) or {}
                why = f"{whole} whole, and a part of {self.say(rest)} at the {end}: choose the corner that is seen least.{self._cuts(size, start)}"
                yield Choice(f"Into the {end} corner", why, self._part_demerit(size, rest, start) + Fraction(3, 20), changes)
        border = self._border(rest)
        changes = self.sized(size, None) if border else None
        if border and changes is not None:
            why = f"{whole} whole repeats of {self.say(size)}, with margins {self.say(rest / 2)} wider on both sides."
            yield Choice("Into a border", why, Fraction(1, 8), {**changes, **border})

    def _stretched(self, size: Fraction, rest: Fraction, whole: int) -> Iterator[Choice]:
        """The size made a little larger or smaller, so that nothing is left."""
        limit = self.piece.method.limits.stretch_mm
        for count, off in ((whole, rest), (whole + 1, rest - size)):
            new = self.run.length / count
            each = abs(new - size)
            unseen = abs(off) <= limit
            way = "wider" if off > 0 else "narrower"
            why = f"{count} of {self.say(new)}, each {self.small(each)} {way}; "
            why += (
                f"{self.say(abs(off))} in all, which nobody sees (up to {self.say(limit)}, common practice)."
                if unseen
                else f"{self.say(abs(off))} in all, more than the {self.say(limit)} that goes unseen."
            )
            title = "Stretch it" if off > 0 else "Squeeze it"
            yield Choice(title, why, each / size + (0 if unseen else Fraction(1, 10)), self.counted(count))

    def small(self, mm: Fraction) -> str:
        return self.say(mm) if mm >= self.graduation.step_mm else f"less than {self.say(self.graduation.step_mm)}"

    def _cuts(self, size: Fraction, begins: Fraction) -> str:
        """What the smallest part at an opening or a corner is, when the first whole repeat begins there."""
        part = self._smallest(size, begins)
        return f" Smallest part at an opening or corner: {self.say(part)}." if part is not None else ""

    def _smallest(self, size: Fraction, begins: Fraction) -> Fraction | None:
        run = self.run
        sides = [side for side in sides_along(self.sheet, run.axis) if run.low < side < run.high]
        parts = [
            part for side in sides for part in ((side - run.low - begins) % size, -(side - run.low - begins) % size) if part
        ]
        return min(parts, default=None)

    def _part_demerit(self, size: Fraction, end: Fraction, begins: Fraction) -> Fraction:
        thin = [part for part in (end, self._smallest(size, begins)) if part is not None and part < size * PART_SHARE]
        return Fraction(len(thin), 5)

    def _border(self, extra: Fraction) -> dict[str, Any] | None:
        """Margins that take up so much in all, half on each side; None where the piece isn't one panel by itself."""
        if len(self.piece.surface.panels) != 1 or self.piece.surface.panels[0].shape:
            return None
        panel = self.piece.surface.panels[0]
        own = panel.field
        sides = (
            {"left": own.left, "right": panel.width_mm - own.right}
            if self.run.axis == "across"
            else {"top": own.top, "bottom": panel.height_mm - own.bottom}
        )
        return {
            f"surface.panels.0.margin.{side}": write_kept(margin + extra / 2, self.job.units) for side, margin in sides.items()
        }

    def _keep_count(self) -> Iterator[Choice]:
        """Sizes on the tape's marks at which as many repeats fit, the rest going into a border."""
        run = self.run
        count = run.count or max(round(run.length / run.size_mm), 1)
        exact = run.length / count
        yield Choice(
            "As it divides",
            f"{count} of {'' if exact % self.graduation.step_mm == 0 else 'about '}{self.say(exact)}{'' if exact % self.graduation.step_mm == 0 else ', not on a mark: measure each from the datum'}.",
            Fraction(0) if exact % self.graduation.step_mm == 0 else Fraction(3, 20),
            self.counted(count),
        )
        seen: set[Fraction] = set()
        for rank, step in enumerate(COARSE[self.graduation.unit]):
            size = exact // step * step
            if step < self.graduation.step_mm or size <= 0 or size == exact or size in seen:
                continue
            seen.add(size)
            extra = run.length - size * count
            border = self._border(extra)
            if border is None:
                return
            why = f"{count} of {self.say(size)}, which is on a mark; the margins get {self.say(extra / 2)} wider on both sides."
            yield Choice(
                f"{self.say(size)} each, with a border",
                why,
                extra / run.length + Fraction(rank, 40),
                {**((self.counted(count) if self._counts else self.sized(size, None)) or {}), **border},
            )


def choosers(job: Job, piece: Piece, sheet: Sheet, runs: list[Run]) -> list[Chooser]:
    """One for each run."""
    return [Chooser(job, piece, sheet, run, {other.axis: other for other in runs if other is not run}) for run in runs]
