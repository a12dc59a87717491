"""The fewest colours for things of which some pairs must differ: two at once where two are enough, else searched for."""

import numpy as np

from dividers.core.geometry.graph import components, least_colouring
from dividers.core.geometry.shapes import Bools, Ints

MOST_SEARCHED = 1_500  # things in one cluster; of more the first colouring found is taken
MOST_EFFORT = 2.0  # of the search, for each number of colours and cluster; a measure of work that is the same on every machine


def fewest_colours(members: Bools, pairs: Ints) -> Ints:
    """A colour (0, 1, ...) for each member so that no pair (n, 2) shares one, as few as are found; NOTHING for the others.

    >>> ring = np.array([[0, 1], [1, 2], [2, 3], [3, 4], [4, 0]])
    >>> int(fewest_colours(np.ones(5, bool), ring).max())
    2
    """
    drafts = least_colouring(members, pairs)
    if drafts.max(initial=-1) < 2:
        return drafts
    cluster = components(len(members), pairs)
    for each in np.unique(cluster[drafts > 1]).tolist():
        own = np.flatnonzero((cluster == each) & members)
        if len(own) > MOST_SEARCHED:
            continue
        inside = pairs[cluster[pairs[:, 0]] == each]
        place = np.zeros(len(members), np.int64)
        place[own] = np.arange(len(own))
        for many in range(_clique(len(own), place[inside]), int(drafts[own].max()) + 1):
            found = _coloured(len(own), place[inside], many)
            if found is not None:
                drafts[own] = found
                break
    return drafts


def _clique(count: int, pairs: Ints) -> int:
    """The least number of colours that is seen at once: 3 in a ring of odd length, more where so many all differ from each other."""
    return max(3, len(_all_apart(count, pairs)))


def _all_apart(count: int, pairs: Ints) -> list[int]:
    """Things that all differ from each other, taken one after the other from the one with the most pairs."""
    beside: list[set[int]] = [set() for _ in range(count)]
    for one, other in pairs.tolist():
        beside[one].add(other)
        beside[other].add(one)
    first = max(range(count), key=lambda each: (len(beside[each]), -each))
    found, left = [first], set(beside[first])
    while left:
        best = max(left, key=lambda each: (len(beside[each] & left), -each))
        found.append(best)
        left &= beside[best]
    return found


def _coloured(count: int, pairs: Ints, many: int) -> Ints | None:
    """Colours for `count` things, of `many` at most; None where there are none, or none were found with MOST_EFFORT."""
    from ortools.sat.python import cp_model  # large, and seldom needed

    model = cp_model.CpModel()
    has = [[model.new_bool_var("") for _ in range(many)] for _ in range(count)]
    for own in has:
        model.add_exactly_one(own)
    for one, other in np.unique(np.sort(pairs, axis=1), axis=0).tolist():
        for color in range(many):
            model.add_bool_or(~has[one][color], ~has[other][color])
    for color, each in enumerate(_all_apart(count, pairs)[:many]):
        model.add(has[each][color] == 1)
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.max_deterministic_time = MOST_EFFORT
    if solver.solve(model) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None
    return np.array([next(color for color, var in enumerate(own) if solver.boolean_value(var)) for own in has], np.int64)
