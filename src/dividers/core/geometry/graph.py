"""Graphs of numbered things: what hangs together, and colourings in which no two neighbours are alike."""

import heapq
import random
from collections.abc import Sequence
from typing import Any

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from dividers.core.geometry.ledger import NOTHING
from dividers.core.geometry.shapes import Bools, Ints

TRIES = 30  # of a drawn colouring, where some neighbours come out alike


def components(count: int, pairs: Ints) -> Ints:
    """For each of `count` things, the lowest number among all that hang together with it by pairs (n, 2), at any remove.

    >>> components(5, np.array([[1, 4], [4, 2]])).tolist()
    [0, 1, 1, 3, 1]
    """
    pairs = np.asarray(pairs, np.int64).reshape(-1, 2)
    joined = coo_matrix((np.ones(len(pairs), bool), (pairs[:, 0], pairs[:, 1])), (count, count))
    label = connected_components(joined, directed=False)[1]
    lowest: Ints = np.unique(label, return_index=True)[1].astype(np.int64)[label]
    return lowest


def rings(count: int, pairs: Ints) -> Ints:
    """For each of `count` things, the lowest number among all that lie on a ring with it of steps from first to second of pairs (n, 2).

    >>> rings(4, np.array([[1, 2], [2, 1], [2, 3]])).tolist()
    [0, 1, 1, 3]
    """
    pairs = np.asarray(pairs, np.int64).reshape(-1, 2)
    steps = coo_matrix((np.ones(len(pairs), bool), (pairs[:, 0], pairs[:, 1])), (count, count))
    label = connected_components(steps, directed=True, connection="strong")[1]
    lowest: Ints = np.unique(label, return_index=True)[1].astype(np.int64)[label]
    return lowest


def in_order(keys: Sequence[Any], before: Sequence[tuple[int, int]]) -> list[int]:
    """Things by number in the order of their keys, as far as every first of a pair comes before its second. No rings.

    >>> in_order(["b", "a", "c"], [(2, 1)])
    [0, 2, 1]
    """
    waits = [0] * len(keys)
    then: list[list[int]] = [[] for _ in keys]
    for first, second in before:
        then[first].append(second)
        waits[second] += 1
    free = [(key, number) for number, key in enumerate(keys) if not waits[number]]
    heapq.heapify(free)
    found = []
    while free:
        number = heapq.heappop(free)[1]
        found.append(number)
        for other in then[number]:
            waits[other] -= 1
            if not waits[other]:
                heapq.heappush(free, (keys[other], other))
    return found


def counted(many: Ints) -> Ints:
    """0, 1, ... up to each of some counts, one after the other."""
    total = int(many.sum())
    return np.arange(total) - np.repeat(np.cumsum(many) - many, many)


def least_colouring(members: Bools, pairs: Ints) -> Ints:
    """A colour (0, 1, ...) for each member so that no pair (n, 2) shares one; NOTHING for the others. Two where two are enough.

    Members are taken in waves outward from a first one; each takes the lowest colour that none of its neighbours before it has.
    """
    drafts = np.where(members, 0, NOTHING)
    if not len(pairs):
        return drafts
    ends = np.concatenate([pairs, pairs[:, ::-1]])
    ends = ends[np.lexsort([ends[:, 1], ends[:, 0]])]
    starts = np.searchsorted(ends[:, 0], np.arange(len(members) + 1))
    beside = ends[:, 1]
    done = np.ones(len(members), bool)
    done[beside] = False
    for first in np.unique(beside).tolist():
        if done[first]:
            continue
        wave = np.array([first])
        turn = 0
        while len(wave):
            done[wave] = True
            drafts[wave] = turn % 2
            many = starts[wave + 1] - starts[wave]
            near = beside[np.repeat(starts[wave], many) + counted(many)]
            alike = np.isin(near, wave) & (drafts[near] == np.repeat(drafts[wave], many))
            if alike.any():  # a ring of odd length: two colours aren't enough here
                _settle(wave, starts, beside, drafts, done)
            wave = np.unique(near[~done[near]])
            turn += 1
    clashing = drafts[pairs[:, 0]] == drafts[pairs[:, 1]]
    _settle(np.unique(pairs[clashing]), starts, beside, drafts, done)
    return drafts


def _settle(cells: Ints, starts: Ints, beside: Ints, drafts: Ints, done: Bools) -> None:
    """Give those that share a colour with a neighbour the lowest one that is free, one after the other, in place."""
    for cell in cells.tolist():
        near = beside[starts[cell] : starts[cell + 1]]
        taken = set(drafts[near[done[near]]].tolist())
        if int(drafts[cell]) in taken:
            drafts[cell] = next(turn for turn in range(len(taken) + 1) if turn not in taken)


def drawn_colouring(count: int, pairs: Ints, tones: int, seed: int) -> tuple[Ints, int]:
    """One of `tones` colours for each of `count` things, as by chance, and how many neighbouring pairs (n, 2) came out alike.

    Colours are drawn with the seed among those that are free, the rarer the likelier; the best of some tries is taken.
    """
    beside: list[list[int]] = [[] for _ in range(count)]
    for one, other in pairs.tolist():
        beside[one].append(other)
        beside[other].append(one)
    best: tuple[int, list[int]] | None = None
    for attempt in range(TRIES):
        drawn = _draw(beside, tones, random.Random(seed * TRIES + attempt))
        alike = sum(drawn[one] == drawn[other] for one, other in pairs.tolist())
        if best is None or alike < best[0]:
            best = (alike, drawn)
        if not alike:
            break
    assert best is not None
    return np.array(best[1], np.int64), best[0]


def _draw(beside: list[list[int]], tones: int, dice: random.Random) -> list[int]:
    """Tones one after the other, always where most neighbours have one already; then those alike are drawn again for a while."""
    tone = [-1] * len(beside)
    used = [0] * tones
    open_shapes = {0: None} if beside else {}
    waiting = dict.fromkeys(range(len(beside)))
    count = [0] * len(beside)
    while waiting:
        shape = max(open_shapes, key=lambda s: (count[s], -s)) if open_shapes else next(iter(waiting))
        open_shapes.pop(shape, None)
        waiting.pop(shape, None)
        taken = {tone[other] for other in beside[shape]}
        free = [t for t in range(tones) if t not in taken] or list(range(tones))
        rarest = sorted(free, key=lambda t: (used[t] + dice.random() * 3, t))
        tone[shape] = rarest[0]
        used[tone[shape]] += 1
        for other in beside[shape]:
            if tone[other] < 0:
                count[other] += 1
                open_shapes[other] = None
    return tone
