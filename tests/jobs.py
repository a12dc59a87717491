"""Jobs for tests: one plain wall to vary by hand, and hypothesis strategies for stripes of all sorts."""

import copy

from hypothesis import strategies as st

PALETTE = {
    "cream": {"name": "Warm cream", "hex": "#f1e6cf"},
    "ink": {"name": "Ink", "hex": "#22345a"},
    "madder": {"name": "Madder", "hex": "#a8392f"},
}

WALL = {
    "format": "dividers-job/1",
    "title": "A wall",
    "units": "in",
    "palette": PALETTE,
    "products": {"delicate": {"kind": "tape", "width": "36 mm"}},
    "pieces": [
        {
            "name": "Wall",
            "base": "cream",
            "surface": {"kind": "wall", "panels": [{"name": "front", "width": "120", "height": "96"}]},
            "pattern": {"kind": "stripes", "direction": "vertical", "count": 6, "colors": ["ink", None]},
            "method": {"tape": "delicate"},
        }
    ],
}


def wall(**changes):
    """The plain wall with changes to its piece: wall(pattern={...}), wall(panel={...}), wall(method={...}); None drops a key."""
    job = copy.deepcopy(WALL)
    piece = job["pieces"][0]
    for place, values in changes.items():
        target = {"panel": piece["surface"]["panels"][0], "piece": piece, "job": job}.get(place)
        target = piece[place] if target is None else target
        target |= values
        for key in [key for key, value in values.items() if value is None]:
            del target[key]
    return job


def sixteenths(least, most):
    """Lengths in inches as people write them, between two whole numbers of sixteenths."""
    return st.integers(least, most).map(lambda n: f"{n // 16} {n % 16}/16" if n % 16 else f"{n // 16}")


@st.composite
def openings(draw, width, height):
    """Up to two openings (in inches) that keep inside a panel and off each other: one in each half."""
    found = []
    for number, half in enumerate(draw(st.sets(st.sampled_from([0, 1])))):
        left = draw(st.integers(half * width // 2, half * width // 2 + width // 4))
        top = draw(st.integers(0, height // 2))
        size = {"width": str(draw(st.integers(1, max(1, width // 4 - 1)))), "height": str(draw(st.integers(1, height // 2)))}
        found.append({"name": f"opening {number}", "left": str(left), "top": str(top), **size})
    return found


@st.composite
def stripe_jobs(draw):
    """Jobs of one striped panel: all directions, counts and lists, margins, openings, colours, narrow and wide tape."""
    width, height = draw(st.integers(12, 160)), draw(st.integers(12, 120))
    pattern = {
        "direction": draw(st.sampled_from(["vertical", "horizontal", 45, 30, 135, 7.5, 163]) | st.integers(-180, 180)),
        "start": draw(st.sampled_from(["edge", "centre"])),
        "colors": draw(st.lists(st.sampled_from(["ink", "madder", "cream", None]), min_size=1, max_size=4)),
    }
    if draw(st.booleans()):
        pattern["count"] = draw(st.integers(1, 24))
    else:
        pattern |= {"count": None, "widths": draw(st.lists(sixteenths(12, 400), min_size=1, max_size=4))}
    margins = {side: draw(sixteenths(0, 40)) for side in draw(st.sets(st.sampled_from(["top", "right", "bottom", "left"])))}
    panel = {"width": str(width), "height": str(height), "margin": margins, "openings": draw(openings(width, height))}
    job = wall(panel=panel, pattern=pattern)
    job["products"]["delicate"]["width"] = f"{draw(st.integers(12, 60))} mm"
    job["pieces"][0]["method"]["taping"] = draw(st.sampled_from(["auto", "strips", "pieces"]))
    return job


@st.composite
def patterns(draw, width, height):
    """A pattern of any kind but stripes, with sizes that fit a panel of that size in inches."""
    size = st.integers(max(2, width // 12), width).map(str)
    kind = draw(st.sampled_from(["chevron", "diamonds", "checker", "frame", "horizon"]))
    pattern = {"kind": kind, "direction": None, "count": None, "start": None}
    divided = draw(st.booleans())
    if kind == "chevron":
        pattern |= {"columns": draw(st.integers(1, 8))} if divided else {"column": draw(size)}
        pattern |= {"rise": draw(sixteenths(8, 16 * height)), "band": draw(sixteenths(16 * max(1, height // 12), 16 * height))}
        pattern["start"] = draw(st.sampled_from(["low", "high"]))
    elif kind == "diamonds":
        rows = draw(st.none() | st.integers(1, 6))
        pattern |= (
            {"columns": draw(st.integers(1, 6)), "rows": rows}
            if divided
            else {"width": draw(size), "height": draw(st.none() | size)}
        )
        pattern["shift"] = draw(st.sampled_from(["whole", "half"]))
    elif kind == "checker":
        pattern |= (
            {"columns": draw(st.integers(1, 9)), "rows": draw(st.none() | st.integers(1, 9))}
            if divided
            else {"size": draw(size)}
        )
    elif kind == "frame":
        most = 16 * min(width, height) // 10
        pattern["widths"] = draw(st.lists(sixteenths(2, most), min_size=1, max_size=3))
    else:
        pattern["drop"] = draw(sixteenths(60, 16 * height - 60))
    return pattern


@st.composite
def any_jobs(draw):
    """Jobs of every kind of pattern on one panel with margins and openings, with narrow and wide tape."""
    job = draw(stripe_jobs())
    piece = job["pieces"][0]
    panel = piece["surface"]["panels"][0]
    pattern = draw(patterns(int(panel["width"]), int(panel["height"])))
    piece["pattern"] = {
        key: value for key, value in (piece["pattern"] | {"widths": None} | pattern).items() if value is not None
    }
    return job
