"""Hypothesis strategies for pieces of two and three layers, in zones of every kind."""

from hypothesis import strategies as st
from jobs import any_jobs, patterns, surveyed_jobs

COLORS = st.sampled_from(["ink", "madder", None])


@st.composite
def zones(draw, number, width, height):
    """A zone of layer `number` of a panel of that size in inches: none for the whole field."""
    kinds = ["all", "rect", "points", "together", "each", "at"]
    match draw(st.sampled_from(kinds)):
        case "rect":
            left, top = draw(st.integers(0, width // 2)), draw(st.integers(0, height // 2))
            wide, high = draw(st.integers(width // 4, width - left)), draw(st.integers(height // 4, height - top))
            return {"rect": {"left": str(left), "top": str(top), "width": str(wide), "height": str(high)}}
        case "points":
            far, low = draw(st.integers(width // 2, width)), draw(st.integers(height // 2, height))
            return {
                "points": [
                    ["0", "0"],
                    [str(far), str(draw(st.integers(0, height // 3)))],
                    [str(far), str(low)],
                    ["0", str(height)],
                ]
            }
        case "together" | "each" as kind:
            below = draw(st.integers(0, number - 1))
            return {"cells": f"layer {below}", "color": draw(COLORS), "each": kind == "each"}
        case "at":
            at = [[str(draw(st.integers(1, width - 1))), str(draw(st.integers(1, height - 1)))]]
            return {"cells": f"layer {draw(st.integers(0, number - 1))}", "at": at, "each": draw(st.booleans())}
    return "all"


@st.composite
def few(draw, width, height):
    """A pattern of few parts, that fits in small places too."""
    stripes = {
        "kind": "stripes",
        "direction": draw(st.sampled_from(["vertical", "horizontal", 30, 135])),
        "count": draw(st.integers(1, 4)),
        "colors": draw(st.lists(st.sampled_from(["ink", "madder", "cream", None]), min_size=1, max_size=3)),
    }
    checks = {
        "kind": "checker",
        "columns": draw(st.integers(1, 3)),
        "rows": draw(st.integers(1, 3)),
        "colors": ["madder", draw(COLORS)],
    }
    return draw(st.sampled_from([stripes, checks]) | patterns(width, height))


@st.composite
def layered_jobs(draw):
    """Jobs of one piece of two or three layers: flat, folded or out of square, with openings and margins."""
    job = draw(any_jobs() | surveyed_jobs())
    piece = job["pieces"][0]
    panel = piece["surface"]["panels"][0]
    width, height = int(panel["width"]), int(panel["height"])
    below = draw(few(width, height)) if draw(st.booleans()) else piece["pattern"]
    layers = [{"name": "layer 0", "pattern": below}]
    for number in range(1, draw(st.integers(2, 3))):
        zone = draw(zones(number, width, height))
        layers.append({"name": f"layer {number}", "zone": zone, "pattern": draw(few(width, height))})
    del piece["pattern"]
    return job | {"pieces": [piece | {"layers": layers}]}
