"""What hangs together: the components of a graph of numbered things."""

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from dividers.core.geometry.shapes import Ints


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
