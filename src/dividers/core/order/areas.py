"""Areas of a round: parts that are taped and painted by themselves, so that each waits only for what its own tape lies on.

Bands that other rounds touch in the same way are one area. A round of a plain pattern is one area.
"""

from collections.abc import Sequence

import numpy as np

from dividers.core.geometry.graph import rings
from dividers.core.geometry.overlaps import ShapeIndex, overlapping
from dividers.core.geometry.shapes import Ints
from dividers.core.order.bands import Band
from dividers.core.rounds.rounds import Round

MOST_AREAS = 8  # a round in more parts than these is taped as one: nobody keeps more in mind
MOST_STRIPS = 1500  # of a round that is tried

Bands = Sequence[Band]


def areas_of(rounds: Sequence[Round], bands: Sequence[Bands]) -> list[list[int]]:
    """For each round the area (0, 1, ...) of each of its bands, by the band's number."""
    touching: list[list[set[tuple[int, int]]]] = [[set() for _ in own] for own in bands]
    if max((sum(map(len, each.strips)) for each in rounds), default=0) <= MOST_STRIPS:
        for later, two in enumerate(rounds):
            for earlier, one in enumerate(rounds[:later]):
                for a, b in _touching(one, bands[earlier], two, bands[later]):
                    touching[earlier][a].add((later, b))
                    touching[later][b].add((earlier, a))
    return [_areas(own, near) for own, near in zip(bands, touching, strict=True)]


def _areas(bands: Bands, touching: Sequence[set[tuple[int, int]]]) -> list[int]:
    """Bands that touch the same in one area; all in one where that makes too many, or where areas lie over each other in a ring."""
    alike = [frozenset(each) for each in touching]
    names = {each: number for number, each in enumerate(dict.fromkeys(alike))}
    areas = [names[each] for each in alike]
    over = np.array([(areas[band.number], areas[other]) for band in bands for other in band.over]).reshape(-1, 2)
    ring = len(over) and len(np.unique(rings(len(names), over))) < len(names)
    return [0] * len(bands) if len(names) > MOST_AREAS or ring else areas


def _touching(one: Round, ones: Bands, two: Round, twos: Bands) -> set[tuple[int, int]]:
    """Pairs of bands of an earlier and a later round: tape of one lies on the other's paint, or over its tape."""
    found: set[tuple[int, int]] = set()
    first, second = (_owners(bands) for bands in (ones, twos))
    homes = [{place: band.number for band in bands for place in band.cells} for bands in (ones, twos)]
    for sheet, late in enumerate(two.strips):
        for other in two.same_sheet(sheet) if len(late) else ():
            for strip, cell in _pairs(two.lies_on(sheet, other)):
                if (other, cell) in homes[0]:
                    found |= {(homes[0][other, cell], band) for band in second.get((sheet, strip), ())}
    for sheet, early in enumerate(one.strips):
        for other in one.same_sheet(sheet) if len(early) else ():
            for strip, cell in _pairs(one.lies_on(sheet, other)):
                if (other, cell) in homes[1]:
                    found |= {(band, homes[1][other, cell]) for band in first.get((sheet, strip), ())}
            late = two.strips[other]
            lower, upper = overlapping(ShapeIndex(early.shapes), ShapeIndex(late.shapes)) if len(late) else ((), ())
            for a, b in _pairs((np.array(lower, np.int64), np.array(upper, np.int64))):
                found |= {(p, q) for p in first.get((sheet, a), ()) for q in second.get((other, b), ())}
    return found


def _owners(bands: Bands) -> dict[tuple[int, int], list[int]]:
    """The bands that each strip faces."""
    found: dict[tuple[int, int], list[int]] = {}
    for band in bands:
        for strip in band.strips:
            found.setdefault(strip, []).append(band.number)
    return found


def _pairs(columns: tuple[Ints, Ints]) -> list[tuple[int, int]]:
    return list(zip(*(column.tolist() for column in columns), strict=True))
