"""Components of graphs against networkx."""

import networkx
import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from dividers.core.geometry.graph import components


@given(st.integers(1, 30), st.data())
def test_what_hangs_together_is_named_by_its_lowest_number(count, data):
    number = st.integers(0, count - 1)
    pairs = data.draw(st.lists(st.tuples(number, number), max_size=40))
    graph = networkx.Graph(pairs)
    graph.add_nodes_from(range(count))
    expected = [0] * count
    for part in networkx.connected_components(graph):
        for each in part:
            expected[each] = min(part)
    assert components(count, np.array(pairs, np.int64)).tolist() == expected
