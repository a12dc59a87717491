"""Ways of taping: the fewest rounds, a day against minutes, and what is said of them."""

import networkx
import numpy as np
import pytest
from budget import examples
from hypothesis import given
from jobs import any_jobs, wall

from dividers.core.base.errors import BadJob
from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job
from dividers.core.rounds.alternate import alternated


def taping(job):
    return plan_job(read_job(job)).pieces[0].taping


def stripes(colors, count=9, **method):
    job = wall(pattern={"count": count, "colors": colors}, method=method)
    job["palette"]["brass"] = {"name": "Brass", "hex": "#c39b45"}
    return job


def test_three_colours_side_by_side_take_two_rounds():
    """Every second stripe first, with tape on both sides, then the rest between them."""
    found = taping(stripes(["ink", "madder", "brass"]))
    assert (found.chosen.taping, len(found.chosen.rounds)) == ("alternate", 2)
    assert found.proved
    assert {option.taping: len(option.rounds) for option in found.options}["strips"] == 3
    first, second = (each.painted[0] for each in found.chosen.rounds)
    assert np.flatnonzero(first | second).tolist() == list(range(9))
    assert {tuple(np.diff(np.flatnonzero(each))) for each in (first, second)} == {(2, 2, 2, 2), (2, 2, 2)}


def test_where_a_day_is_worth_nothing_the_least_taping_is_chosen():
    assert taping(stripes(["ink", "madder", "brass"], day_worth=0)).chosen.labour_min == min(
        option.labour_min for option in taping(stripes(["ink", "madder", "brass"])).options
    )


def test_strips_that_save_minutes_and_cost_a_day_are_not_chosen():
    """48 checks: pieces take a little more taping than strips, and spare a round and the day that it waits for."""
    job = wall(
        pattern={"kind": "checker", "columns": 8, "rows": 6, "count": None, "direction": None, "colors": ["ink", None]},
    )
    found = taping(job)
    strips, pieces = (next(o for o in found.options if o.taping == way) for way in ("strips", "pieces"))
    assert 0 < pieces.labour_min - strips.labour_min < 60 and strips.elapsed_min - pieces.elapsed_min > 1000
    assert found.chosen.taping == "pieces"
    assert "a day less" in found.reason and "A day counts as 4 h of taping here" in found.reason


def test_what_is_asked_for_is_done():
    for way in ("strips", "alternate", "pieces"):
        assert taping(stripes(["ink", "madder", "brass"], taping=way)).chosen.taping == way


@examples(30)
@given(any_jobs())
def test_neighbours_of_other_colours_never_share_a_round_and_two_are_enough_where_they_can_be(job):
    """Against networkx: who meets whom from the layout's borders; two rounds wherever the graph of them has no odd ring."""
    try:
        plan = plan_job(read_job(job)).pieces[0]
    except BadJob:
        return
    layouts = plan.layouts
    order = sorted({color for layout in layouts for color in layout.colors if color})
    found = alternated(layouts, order, plan.job.palette)
    if not found:
        return
    odd = False
    for index, layout in enumerate(layouts):
        painted = np.append(layout.painted, False)
        turn = np.full(len(layout.cells), -1)
        for number, each in enumerate(found):
            turn[each.painted[index]] = number
        assert ((turn >= 0) == layout.painted).all()
        graph, joined = networkx.Graph(), networkx.Graph()
        for one, other in zip(layout.borders.plus.tolist(), layout.borders.minus.tolist(), strict=True):
            if painted[one] and painted[other]:
                (joined if layout.slots[one] == layout.slots[other] else graph).add_edge(one, other)
        for one, other in graph.edges:
            assert (
                turn[one] != turn[other] or networkx.has_path(joined, one, other)
                if one in joined and other in joined
                else turn[one] != turn[other]
            )
        whole = {cell: min(part) for part in networkx.connected_components(joined) for cell in part}
        merged = networkx.Graph([(whole.get(a, a), whole.get(b, b)) for a, b in graph.edges])
        merged.remove_edges_from(networkx.selfloop_edges(merged))
        odd |= not networkx.is_bipartite(merged)
    assert odd or len(found) <= 2


@pytest.mark.parametrize(("colors", "rounds"), [(["ink", None], 1), (["ink", "madder"], 2)])
def test_the_number_of_rounds_is_proved_where_it_can_be(colors, rounds):
    found = taping(stripes(colors, 8))
    assert (len(found.chosen.rounds), found.proved) == (rounds, True)


def test_where_every_second_part_saves_no_round_that_is_said():
    found = taping(stripes(["ink", None], taping="alternate"))
    assert found.chosen.taping != "alternate"
    assert found.reason.startswith("Every second part first would take no fewer rounds here.")
