"""Lines that must hit a place: an edge of a band on a door frame, a band's middle on a fireplace; the nearest ways, with their cost."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction

FAR = Fraction(3, 20)  # sizes are changed by no more than this
NEAR_COUNTS = 4
MOST_HITS = 6
MOST_SPANS = 200


@dataclass(frozen=True)
class MustHit:
    """A place along a run, mm from its low end, where a line is to fall, or the middle of a repeat."""

    name: str
    at_mm: Fraction
    middle: bool = False


@dataclass(frozen=True)
class Hit:
    """A size, where its first whole repeat begins, by how much it misses each place, and the parts left at both ends; mm."""

    size_mm: Fraction
    begins_mm: Fraction
    misses: tuple[Fraction, ...]
    parts: tuple[Fraction, Fraction]
    demerit: Fraction


def find_hits(run: Fraction, size: Fraction, wishes: Sequence[MustHit], step: Fraction) -> list[Hit]:
    """Ways to lay repeats near a size so that the places are hit, best first: exact before near, little change before much."""
    found: dict[tuple[Fraction, Fraction], Hit] = {}
    for each in _sizes(run, size, wishes, step):
        begins = {Fraction(0)} | {_phase(wish, each) for wish in wishes}
        for start in begins:
            found[(each, start)] = _hit(run, size, each, start, wishes, step)
    return sorted(found.values(), key=lambda hit: (hit.demerit, hit.size_mm, hit.begins_mm))[:MOST_HITS]


def _phase(wish: MustHit, size: Fraction) -> Fraction:
    """Where a repeat begins so that a place is hit."""
    return (wish.at_mm - (size / 2 if wish.middle else 0)) % size


def _sizes(run: Fraction, size: Fraction, wishes: Sequence[MustHit], step: Fraction) -> Iterator[Fraction]:
    """The size as it is, those on marks around it, those that divide the run, and those that fit between two places."""
    least, most = size * (1 - FAR), size * (1 + FAR)
    yield size
    on_mark = size // step * step
    yield from (mark for mark in (on_mark, on_mark + step) if least <= mark <= most and mark > 0)
    count = max(round(run / size), 1)
    yield from (run / n for n in range(max(count - NEAR_COUNTS, 1), count + NEAR_COUNTS + 1) if least <= run / n <= most)
    for number, one in enumerate(wishes):
        for other in wishes[:number]:
            span = abs(one.at_mm - other.at_mm)
            half = Fraction(1, 2) if one.middle != other.middle else Fraction(0)
            first = max(int(span / most - half), 0)
            for many in range(first, min(int(span / least) + 2, first + MOST_SPANS)):
                if many + half and least <= span / (many + half) <= most:
                    yield span / (many + half)


def _hit(run: Fraction, wish: Fraction, size: Fraction, begins: Fraction, wishes: Sequence[MustHit], step: Fraction) -> Hit:
    misses = []
    for each in wishes:
        off = (begins - _phase(each, size)) % size
        misses.append(off if off <= size / 2 else off - size)
    behind = (run - begins) % size
    thin = sum(0 < part < size / 4 for part in (begins, behind))
    demerit = 4 * sum(abs(miss) for miss in misses) / size + 2 * abs(size - wish) / wish
    demerit += (0 if size % step == 0 else Fraction(1, 20)) + Fraction(thin, 10) + (Fraction(1, 50) if begins or behind else 0)
    return Hit(size, begins, tuple(misses), (begins, behind), Fraction(demerit))
