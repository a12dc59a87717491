"""Places to stand: no fewer would reach, by brute force."""

import itertools

from hypothesis import given
from hypothesis import strategies as st

from dividers.core.marks.stances import Spot, how_reached, moves_by_line, stances

REACH, STANDING = 1200.0, 1900.0
SPOTS = st.lists(st.tuples(st.integers(0, 6000), st.integers(0, 2600)), min_size=1, max_size=8, unique=True)


def partitions(items):
    if not items:
        yield []
        return
    first, *rest = items
    for part in partitions(rest):
        yield [[first], *part]
        for at in range(len(part)):
            yield [*part[:at], [first, *part[at]], *part[at + 1 :]]


def fits(group):
    across = [spot.across_mm for spot in group]
    return max(across) - min(across) <= REACH and len({how_reached(spot.height_mm, STANDING) for spot in group}) == 1


@given(SPOTS)
def test_no_fewer_places_reach_every_mark_and_each_is_made_once(places):
    spots = [Spot(n, float(x), float(y), "top edge") for n, (x, y) in enumerate(places, 1)]
    found = stances(spots, REACH, STANDING)
    by_number = {spot.number: spot for spot in spots}
    assert sorted(itertools.chain.from_iterable(each.marks for each in found)) == sorted(by_number)
    assert all(fits([by_number[number] for number in each.marks]) for each in found)
    assert len(found) == min(len(part) for part in partitions(spots) if all(map(fits, part)))
    assert moves_by_line(spots, REACH, STANDING) >= len(found)
