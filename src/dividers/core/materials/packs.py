"""Which packs to buy: enough, at the least price where prices are known, else with the least left over, and of that the fewest."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cache, lru_cache

MOST_PACKS = 60  # of the smallest size are counted out; above that the largest size fills up first


@dataclass(frozen=True)
class Pack:
    """A size that something is sold in, and its price where that is known."""

    size: Fraction
    price: Fraction | None = None


def packs_for(need: Fraction, packs: Sequence[Pack]) -> tuple[tuple[Pack, int], ...]:
    """How many of each pack cover a need.

    >>> half, large = Pack(Fraction(1, 2)), Pack(Fraction(5, 2))
    >>> [(float(pack.size), many) for pack, many in packs_for(Fraction(29, 10), (half, large))]
    [(2.5, 1), (0.5, 1)]
    """
    if need <= 0 or not packs:
        return ()
    ordered = tuple(sorted(packs, key=lambda pack: -pack.size))
    whole = 0
    if need / ordered[-1].size > MOST_PACKS:  # far more than one would carry: all but the last of the largest are settled
        whole = int(need / ordered[0].size) - 1
        need -= whole * ordered[0].size
    counts = list(_best(need, ordered))
    counts[0] += whole
    return tuple((pack, many) for pack, many in zip(ordered, counts, strict=True) if many)


@lru_cache(maxsize=256)
def _best(need: Fraction, packs: tuple[Pack, ...]) -> tuple[int, ...]:
    """Counts for packs from the largest to the smallest, by cost or size, then number."""
    priced = all(pack.price is not None for pack in packs)

    @cache
    def search(left: Fraction, place: int) -> tuple[tuple[Fraction, Fraction, int], tuple[int, ...]]:
        pack = packs[place]
        most = max(-(-left // pack.size), 0)
        if place == len(packs) - 1:
            return _cost(most, pack, priced), (int(most),)
        best: tuple[tuple[Fraction, Fraction, int], tuple[int, ...]] | None = None
        for many in range(int(most) + 1):
            rest, counts = search(left - many * pack.size, place + 1)
            own = _cost(Fraction(many), pack, priced)
            total = (own[0] + rest[0], own[1] + rest[1], own[2] + rest[2])
            if best is None or total < best[0]:
                best = total, (many, *counts)
        assert best is not None
        return best

    return search(need, 0)[1]


def _cost(many: Fraction | int, pack: Pack, priced: bool) -> tuple[Fraction, Fraction, int]:
    amount = Fraction(many) * pack.size
    return (Fraction(many) * (pack.price or 0) if priced else amount, amount, int(many))
