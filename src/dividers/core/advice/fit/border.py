"""The border that makes a field divide: margins in a range for which so many columns and rows come out on the tape's marks."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction

MOST_FOUND = 12


@dataclass(frozen=True)
class BorderWish:
    """What to look for, in mm: margins from `least` to `most`, columns and rows each from and to. `even` wants all four margins alike."""

    least: Fraction
    most: Fraction
    columns: tuple[int, int]
    rows: tuple[int, int] | None
    square: bool = False
    even: bool = True


@dataclass(frozen=True)
class BorderFound:
    """A border that works: margins left and right, top and bottom; the count and the size each way. Without rows only across counts.

    `step_mm` is the coarsest mark that every size lies on.
    """

    across_mm: Fraction
    down_mm: Fraction
    columns: int
    rows: int | None
    wide_mm: Fraction
    high_mm: Fraction | None
    step_mm: Fraction
    demerit: Fraction


def find_borders(
    width: Fraction, height: Fraction, wish: BorderWish, steps: Sequence[Fraction], wide: Fraction
) -> list[BorderFound]:
    """Borders inside a field, best first: sizes on coarse marks, near the wished width, and margins on marks. `steps` are the marks
    that sizes may lie on, coarsest first; the last is the tape's graduation.
    """
    found = [_judged(each, steps, wide) for each in _all(width, height, wish, steps[-1])]
    best: dict[tuple[int, int | None], BorderFound] = {}
    for each in sorted(found, key=lambda b: (b.demerit, b.columns, b.rows or 0, b.across_mm)):
        best.setdefault((each.columns, each.rows), each)
    return list(best.values())[:MOST_FOUND]


def _all(width: Fraction, height: Fraction, wish: BorderWish, step: Fraction) -> Iterator[BorderFound]:
    for columns in range(wish.columns[0], wish.columns[1] + 1):
        for wide in _sizes(width, columns, wish, step):
            across = (width - columns * wide) / 2
            if wish.rows is None:
                yield _border(across, across if wish.even else wish.least, columns, None, wide, None)
                continue
            for rows in range(wish.rows[0], wish.rows[1] + 1):
                for high, down in _highs(height, rows, wide, across, wish, step):
                    yield _border(across, down, columns, rows, wide, high)


def _highs(
    height: Fraction, rows: int, wide: Fraction, across: Fraction, wish: BorderWish, step: Fraction
) -> Iterator[tuple[Fraction, Fraction]]:
    """The heights of a row, each with the margin it leaves, that go with columns of a width."""
    if wish.square:
        options = [wide]
    elif wish.even:
        options = [(height - 2 * across) / rows]
    else:
        options = list(_sizes(height, rows, wish, step))
    for high in options:
        down = (height - rows * high) / 2
        if high > 0 and high % step == 0 and wish.least <= down <= wish.most and (not wish.even or down == across):
            yield high, down


def _sizes(run: Fraction, count: int, wish: BorderWish, step: Fraction) -> Iterator[Fraction]:
    """Sizes on marks for which `count` of them leave margins in the range."""
    low = math.ceil(max((run - 2 * wish.most) / count, step) / step)
    high = math.floor((run - 2 * wish.least) / count / step)
    for number in range(low, high + 1):
        yield number * step


def _border(
    across: Fraction, down: Fraction, columns: int, rows: int | None, wide: Fraction, high: Fraction | None
) -> BorderFound:
    return BorderFound(across, down, columns, rows, wide, high, Fraction(0), Fraction(0))


def _judged(found: BorderFound, steps: Sequence[Fraction], wide: Fraction) -> BorderFound:
    sizes = [found.wide_mm] + ([found.high_mm] if found.high_mm else [])
    margins = (found.across_mm, found.down_mm)
    rank = next(n for n, step in enumerate(steps) if all(size % step == 0 for size in sizes))
    loose = sum(margin % steps[-1] != 0 for margin in margins)
    off = abs(found.wide_mm - wide) / wide
    demerit = Fraction(rank, 10) + Fraction(loose, 10) + off
    return BorderFound(*margins, found.columns, found.rows, found.wide_mm, found.high_mm, steps[rank], demerit)
