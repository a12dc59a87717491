"""Lattices against closed forms, handbook tables and a graph library."""

import math

import networkx as nx
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall

from dividers.core.geometry.colouring import fewest_colours
from dividers.core.geometry.graph import least_colouring
from dividers.core.geometry.ledger import NOTHING, borders_of
from dividers.core.geometry.shapes import from_rings
from dividers.core.job_file.first_values import first_document
from dividers.core.job_file.job_reader import read_job
from dividers.core.patterns import PATTERNS
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.brick import toned
from dividers.core.plan.plan import plan_job
from dividers.core.survey.sheet import sheets_of

INCH = 25.4
# Half the angle that two sides of a regular polygon turn by, at which they are mitred: the handbook table, from memory.
MITRES = {3: 60.0, 4: 45.0, 5: 36.0, 6: 30.0, 8: 22.5, 10: 18.0, 12: 15.0}


def planned(panel=None, **pattern):
    changes = {"direction": None, "count": None, "colors": None, **pattern}
    return plan_job(read_job(wall(panel=panel or {}, pattern=changes))).pieces[0]


def whole_areas(layout):
    """The areas of cells that aren't cut, in square inches: all that are as large as the largest."""
    areas = layout.cells.areas()[~layout.reserved] / INCH**2
    return areas[areas > areas.max() * (1 - 1e-9)]


@pytest.mark.parametrize(("sides", "mitre"), MITRES.items())
def test_lines_of_regular_polygons_meet_at_the_handbooks_mitre(sides, mitre):
    """A line of width w along a polygon is w / cos(mitre) across its corners."""
    width, radius = 1.0, 30.0
    names = [f"P{n}" for n in range(sides)]
    turns = [2 * math.pi * (n + 0.13) / sides for n in range(sides)]
    points = {
        name: [f"{60 + radius * math.cos(turn):.9f}", f"{48 + radius * math.sin(turn):.9f}"]
        for name, turn in zip(names, turns, strict=True)
    }
    fill = {"at": ["60", "48"], "color": "ink"}
    plan = planned(kind="facets", points=points, lines=[[*names, names[0]]], fills=[fill], reserve=str(width))
    layout = plan.layouts[0]
    middle = np.array([60.0, 48.0])
    reach = [
        np.hypot(*(layout.cells.points[layout.cells.ring_shape[layout.cells.point_ring] == cell] / INCH - middle).T)
        for cell in range(len(layout.cells))
    ]
    inner = reach[int(np.flatnonzero(layout.painted)[0])].max()
    assert radius - inner == pytest.approx(width / 2 / math.cos(math.radians(mitre)), abs=1e-4)
    line = reach[int(np.flatnonzero(layout.reserved)[0])]
    assert line.max() == pytest.approx(radius + width / 2 / math.cos(math.radians(mitre)), abs=1e-4)


def test_hexagons_rhombs_and_triangles_have_their_areas():
    """Regular hexagon of width w: w² √3/2; a third of it for each face of a cube; equilateral triangle of side a: a² √3/4."""
    hexagon = 12**2 * math.sqrt(3) / 2
    assert whole_areas(planned(kind="hexagons", columns=10, colors=["ink"]).layouts[0]) == pytest.approx(hexagon)
    faces = whole_areas(planned(kind="tumbling", columns=10, colors=["ink", "madder", None]).layouts[0])
    assert faces == pytest.approx(hexagon / 3)
    triangles = whole_areas(planned(kind="triangles", width="10", colors=["ink"]).layouts[0])
    assert triangles == pytest.approx(100 * math.sqrt(3) / 4)


@pytest.mark.parametrize(("ratio", "turn"), [(2, "0"), (2, "45"), (3, "45"), (4, "0")])
def test_herringbone_blocks_are_whole_and_both_ways_share_the_wall(ratio, turn):
    layout = planned(kind="herringbone", width="3", ratio=ratio, turn=turn, colors=["ink", None]).layouts[0]
    assert whole_areas(layout) == pytest.approx(9 * ratio)
    assert len(whole_areas(layout)) > 120 * 96 / (9 * ratio) / 2
    share = layout.cells.areas()[layout.painted].sum() / layout.cells.areas().sum()
    assert share == pytest.approx(0.5, abs=0.05)


def test_basket_blocks_and_concentric_bands_have_their_areas():
    basket = planned(kind="basket", block="12", slats=3, colors=["ink", None]).layouts[0]
    assert len(whole_areas(basket)) == 10 * 8 * 3
    assert whole_areas(basket) == pytest.approx(12 * 4)
    rings = planned({"width": "96"}, kind="concentric", shape="squares", band="12", colors=["ink", None]).layouts[0]
    by_level = np.bincount(rings.tiles.regions, minlength=4)
    assert by_level[:4].tolist() == [4, 4, 4, 4]
    painted = rings.cells.areas()[rings.painted].sum() / INCH**2
    assert painted == pytest.approx(24**2 + 72**2 - 48**2)


def test_rays_share_the_half_circle():
    layout = planned(kind="rays", rays=9, middle="bottom", colors=["ink", None]).layouts[0]
    lines = layout.borders.lines
    slopes = {round(math.degrees(math.atan2(y, x)), 6) % 180 for x, y in lines.directions[np.unique(layout.borders.line)]}
    assert {round(20.0 * n, 6) for n in range(1, 9)} <= slopes


@pytest.mark.parametrize("pattern", PATTERNS, ids=lambda pattern: pattern.key)
def test_who_borders_on_whom_is_planar_and_euler_holds(pattern):
    """Planarity by networkx; V - E + F = 2 for every piece of the partition that hangs together, with the outside as a face."""
    job = read_job(wall())
    ground = Ground.of(sheets_of(job.pieces[0].surface)[0], 24.0)
    written = first_document(pattern.key, ground, "in", ["ink", "madder", None])
    layout = (
        plan_job(read_job(wall(pattern={"direction": None, "count": None, "colors": None, **written}))).pieces[0].layouts[0]
    )
    borders = layout.borders
    assert nx.check_planarity(nx.Graph(borders.neighbours().tolist()))[0]
    ends = [
        [borders.lines.point(int(borders.line[k]), float(t[k])) for t in (borders.t0, borders.t1)] for k in range(len(borders))
    ]
    drawn = nx.Graph([tuple((round(x / 0.002 + 0.137), round(y / 0.002 + 0.137)) for x, y in pair) for pair in ends])
    holes = int((np.diff(layout.cells.shape_starts) - 1).sum())
    parts = nx.number_connected_components(drawn)
    assert holes == parts - 1
    assert drawn.number_of_nodes() - drawn.number_of_edges() + len(layout.cells) + 1 == 1 + parts


@given(st.integers(3, 9), st.integers(3, 9), st.integers(0, 500))
def test_four_tones_are_always_enough_for_bricks(rows, columns, seed):
    offset = [0.0, 0.5, 0.3, 0.8]
    rings = [
        [(c + offset[r % 4], r), (c + 1 + offset[r % 4], r), (c + 1 + offset[r % 4], r + 1), (c + offset[r % 4], r + 1)]
        for r in range(rows)
        for c in range(columns)
    ]
    shapes = from_rings(np.array(rings) * 100)
    tones, alike = toned(shapes, 4, seed)
    assert alike == 0
    assert all(tones[a] != tones[b] for a, b in nx.Graph(borders_of(shapes).neighbours().tolist()).edges)
    assert (toned(shapes, 4, seed)[0] == tones).all()


@given(st.sets(st.tuples(st.integers(0, 14), st.integers(0, 14)).filter(lambda pair: pair[0] < pair[1]), max_size=40))
def test_rounds_keep_conflicts_apart_and_are_two_where_two_are_enough(pairs):
    """Against networkx: a proper colouring, with two colours exactly when the graph is bipartite."""
    graph = nx.Graph(sorted(pairs))
    rounds = least_colouring(np.ones(15, bool), np.array(sorted(pairs), np.int64).reshape(-1, 2))
    assert all(rounds[a] != rounds[b] for a, b in graph.edges)
    assert (rounds.max() <= 1) == nx.is_bipartite(graph)
    assert rounds.max() <= max((degree for _, degree in graph.degree), default=0)
    assert (least_colouring(np.zeros(15, bool), np.zeros((0, 2), np.int64)) == NOTHING).all()
    fewest = fewest_colours(np.ones(15, bool), np.array(sorted(pairs), np.int64).reshape(-1, 2))
    assert all(fewest[a] != fewest[b] for a, b in graph.edges)
    assert not graph or not can_be_coloured(graph, sorted(graph, key=graph.degree, reverse=True), int(fewest.max()))


def test_long_strips_on_triangles_take_as_few_rounds_as_the_conflicts_allow():
    """Six columns of triangles: the darker colour's conflicts need three rounds, by an independent search (one more for the lighter one)."""
    pattern = {"kind": "triangles", "direction": None, "count": None, "columns": 6, "colors": ["ink", "madder"]}
    document = wall(panel={"width": "376.9", "height": "207.4"}, pattern=pattern, method={"taping": "strips"}) | {"units": "cm"}
    assert len(plan_job(read_job(document)).pieces[0].taping.chosen.rounds) == 4


def can_be_coloured(graph, nodes, colours, so_far=()):
    """Whether the nodes that are left can take one of so many colours each; by trying all of them."""
    if len(so_far) == len(nodes):
        return True
    known = dict(zip(nodes, so_far, strict=False))
    taken = {known[other] for other in graph[nodes[len(so_far)]] if other in known}
    fresh = min(colours, max(so_far, default=-1) + 2)  # colours not used yet are all alike
    return any(can_be_coloured(graph, nodes, colours, (*so_far, each)) for each in range(fresh) if each not in taken)
