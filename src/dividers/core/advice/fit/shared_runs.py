"""One repeat for several runs: the walls of a room, a set of drawers, the risers of a stair."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

FAR = Fraction(1, 5)  # sizes further from the wish than this are no longer what was wished
MOST_SHARED = 6


@dataclass(frozen=True)
class RunPart:
    """What a size leaves of one run: so many whole repeats and the rest, mm."""

    name: str
    whole: int
    rest_mm: Fraction


@dataclass(frozen=True)
class SharedSize:
    """A size for all runs; `miss_mm` is the most that any run is from a whole number of repeats."""

    size_mm: Fraction
    parts: tuple[RunPart, ...]
    miss_mm: Fraction
    on_marks: bool
    demerit: Fraction


def shared_sizes(
    runs: Sequence[tuple[str, Fraction]], wish: Fraction, steps: Sequence[Fraction], step: Fraction
) -> list[SharedSize]:
    """Sizes near the wish, best first: those that leave no thin rest on any run, that lie on marks, that are near the wish.

    Tried are those that divide one of the runs exactly, and those on the marks of `steps`, coarsest first; `step` is the tape's
    graduation.
    """
    sizes: set[Fraction] = set()
    for _, length in runs:
        near = max(round(length / wish), 1)
        sizes |= {length / count for count in range(max(near - 3, 1), near + 4)}
    for mark in steps:
        first = round(wish / mark)
        sizes |= {mark * number for number in range(first - 8, first + 9) if number > 0}
    found = [_shared(size, runs, wish, step) for size in sizes if abs(size - wish) <= wish * FAR]
    return sorted(found, key=lambda shared: (shared.demerit, shared.size_mm))[:MOST_SHARED]


def _shared(size: Fraction, runs: Sequence[tuple[str, Fraction]], wish: Fraction, step: Fraction) -> SharedSize:
    parts = tuple(RunPart(name, int(length // size), length % size) for name, length in runs)
    misses = [min(part.rest_mm, size - part.rest_mm) for part in parts]
    on_marks = size % step == 0
    uneven = sum(misses, Fraction(0)) / size / len(misses) + max(misses) / size
    demerit = uneven + abs(size - wish) / wish + (0 if on_marks else Fraction(1, 20))
    return SharedSize(size, parts, max(misses), on_marks, demerit)


def corner_parts(creases: Sequence[Fraction], low: Fraction, size: Fraction, begins: Fraction) -> list[Fraction]:
    """How far into a repeat each fold of a joined run falls, mm; 0 where a repeat begins right at it."""
    return [(at - low - begins) % size for at in creases]
