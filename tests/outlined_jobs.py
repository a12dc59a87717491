"""Hypothesis strategies for pieces on panels of any outline: gables, stair walls, L-shapes, rounds; with round, arched and odd openings."""

from hypothesis import strategies as st
from jobs import openings, patterns, wall


@st.composite
def outlines(draw, width, height):
    """Corners in inches, clockwise, of an outline in a box of that size."""
    share = st.sampled_from([0.2, 0.35, 0.5, 0.75])
    across, down = round(width * draw(share)), round(height * draw(share))
    w, h = str(width), str(height)
    return draw(
        st.sampled_from(
            [
                [["0", str(down)], [str(across), "0"], [w, str(down)], [w, h], ["0", h]],  # a gable
                [["0", "0"], [w, str(down)], [w, h], ["0", h]],  # below a sloped ceiling
                [["0", "0"], [str(across), "0"], [str(across), str(down)], [w, str(down)], [w, h], ["0", h]],  # an L
                [["0", "0"], [w, str(height - down)], [w, h], ["0", str(down)]],  # a stair wall
                [[str(across), "0"], [w, str(down)], [str(across), h], ["0", str(down)]],  # a kite
                [["0", str(down)], {"at": [str(across), "0"], "bulge": "-1"}, [w, str(down)], [w, h], ["0", h]],
            ]
        )
    )


@st.composite
def odd_openings(draw, width, height):
    """Openings of every shape, one in each half at most."""
    found = draw(openings(width, height))
    for each in found:
        kind = draw(st.sampled_from(["rect", "round", "arch"]))
        if kind != "rect":
            each["shape"] = kind
    return found


@st.composite
def outlined_jobs(draw, pattern=None):
    """Jobs of one panel of any outline."""
    width, height = draw(st.integers(24, 140)), draw(st.integers(24, 100))
    panel = {"name": "front", "outline": draw(outlines(width, height)), "openings": draw(odd_openings(width, height))}
    sides = draw(
        st.dictionaries(st.sampled_from(["top", "right", "bottom", "left"]), st.sampled_from(["1", "2 1/2"]), max_size=2)
    )
    edges = draw(
        st.dictionaries(st.sampled_from(["top", "right", "bottom", "left"]), st.sampled_from(["free", "cut-in"]), max_size=2)
    )
    panel |= {"margin": sides, "edges": edges}
    job = wall()
    piece = job["pieces"][0]
    piece["surface"]["panels"] = [panel]
    piece["pattern"] = draw(patterns(width, height, pattern))
    piece["method"]["taping"] = draw(st.sampled_from(["auto", "strips", "pieces", "reserve"]))
    return job
