"""Jobs for tests: one plain wall to vary by hand, and hypothesis strategies for stripes of all sorts."""

import copy
import math

from hypothesis import strategies as st

from dividers.core.patterns import PATTERNS

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


# How large a length may be, in sixteenths of an inch, where it isn't a repeat of the pattern.
SMALL = {"reserve": 16, "joint": 16, "overlay": 12, "pinstripe": 12, "unevenness": 8, "border": 48, "hub": 48, "inset": 48}


def values_of(parameter, width, height):
    """Values of a pattern's parameter that may fit a panel of that size in inches; None leaves it out."""
    least = min(width, height)
    small = sixteenths(2, min(SMALL.get(parameter.key, 0), 4 * least))
    low = max(24, 16 * max(width, height) // 10)
    size = small if parameter.key in SMALL else sixteenths(low, max(low, 12 * least) + 24)
    match parameter.kind:
        case "length":
            found = size
        case "lengths":
            found = st.lists(sixteenths(24, 16 * least - 20), min_size=1, max_size=3, unique=True)
        case "count":
            found = st.integers(int(parameter.least), min(int(parameter.most), 7))
        case "choice":
            found = st.sampled_from(parameter.choices)
        case "flag":
            found = st.just(True)
        case "share":
            found = st.sampled_from([0, 0.25, 0.5, 0.3])
        case "direction":
            found = st.sampled_from(["vertical", "horizontal", 45, 30, 135, 7.5, 163]) | st.integers(-180, 180)
        case "origin":
            found = st.sampled_from(parameter.choices) | sixteenths(0, 16 * least)
        case "color":
            found = st.sampled_from(["ink", "madder", "cream"])
        case "colors":
            return st.lists(st.sampled_from(["ink", "madder", "cream", None]), min_size=1, max_size=4)
        case "points":
            return points(width, height)
        case "line":
            place = st.tuples(sixteenths(0, 16 * width), sixteenths(0, 16 * height)).map(list)
            return st.none() | st.lists(place, min_size=2, max_size=2)
        case "paths":
            return st.lists(st.lists(st.sampled_from("ABCDEF"), min_size=2, max_size=4, unique=True), min_size=1, max_size=5)
        case "fills":
            fill = {"at": st.tuples(sixteenths(1, 16 * width), sixteenths(1, 16 * height)).map(list)}
            return st.lists(st.fixed_dictionaries(fill | {"color": st.sampled_from(["ink", "madder", None])}), max_size=4)
    return found if parameter.needed else st.none() | found


def points(width, height):
    """Six named points of a panel, in order round it."""
    low = st.just("0") | sixteenths(12, 5 * width)  # on the edge or clear of it: no splinters
    high = st.just(f"{width}") | sixteenths(11 * width, 16 * width - 12)
    top, middle = st.just("0") | sixteenths(12, 4 * height), sixteenths(6 * height, 10 * height)
    below = st.just(f"{height}") | sixteenths(12 * height, 16 * height - 12)
    places = {"A": (low, top), "B": (high, top), "C": (high, middle), "D": (high, below), "E": (low, below), "F": (low, middle)}
    return st.fixed_dictionaries({name: st.tuples(*place).map(list) for name, place in places.items()})


@st.composite
def patterns(draw, width, height, pattern=None):
    """A pattern of any kind, with values drawn from its own parameters."""
    pattern = pattern or draw(st.sampled_from(PATTERNS))
    values = {p.key: draw(values_of(p, width, height)) for p in pattern.parameters if not p.group}
    for members in pattern.groups().values():
        one = draw(st.sampled_from(members))
        values[one.key] = draw(values_of(one, width, height).filter(bool))
    return {"kind": pattern.key} | {key: value for key, value in values.items() if value is not None}


@st.composite
def any_jobs(draw, pattern=None):
    """Jobs of every kind of pattern on one panel or two folded ones, with margins and openings, with narrow and wide tape."""
    job = draw(stripe_jobs())
    piece = job["pieces"][0]
    panel = piece["surface"]["panels"][0]
    piece["pattern"] = draw(patterns(int(panel["width"]), int(panel["height"]), pattern))
    piece["method"]["taping"] = draw(st.sampled_from(["auto", "strips", "pieces", "reserve"]))
    if draw(st.integers(0, 5)) == 0:
        piece["method"]["third_mark"] = "24"
    if draw(st.integers(0, 3)) == 0:
        other = {"name": "other", "width": str(draw(st.integers(12, 90))), "height": str(draw(st.integers(12, 90)))}
        sides = st.sampled_from(["top", "right", "bottom", "left"])
        piece["surface"]["panels"].append(other)
        piece["surface"]["folds"] = [["front", draw(sides), "other", draw(sides)]]
    return job


def readings_of(corners, unit="mm"):
    """What a survey of an outline reads, without any error: three widths and heights, both diagonals, the top against a level line."""
    a, b, c, d = corners

    def between(one, other, share):
        return one[0] + (other[0] - one[0]) * share, one[1] + (other[1] - one[1]) * share

    def said(one, other):
        return f"{math.dist(one, other):.4f} {unit}"

    shares = (0, 0.5, 1)
    return {
        "widths": [said(between(a, d, share), between(b, c, share)) for share in shares],
        "heights": [said(between(a, b, share), between(d, c, share)) for share in shares],
        "diagonals": [said(a, c), said(b, d)],
        "level": [
            {"at": f"{share * math.dist(a, b):.4f} {unit}", "up": f"{(d[1] - a[1]) / 2 - between(a, b, share)[1]:.4f} {unit}"}
            for share in shares
        ],
    }


@st.composite
def surveyed_jobs(draw, pattern=None):
    """Jobs of panels that are no true rectangles, alone or joined at a fold, with each way out."""
    job = draw(any_jobs(pattern))
    piece = job["pieces"][0]
    for number, panel in enumerate(piece["surface"]["panels"]):
        if number and draw(st.booleans()):
            continue
        wide, high = (int(panel[side]) * 25.4 for side in ("width", "height"))
        most = min(wide, high) / 60
        off = [draw(st.floats(-most, most)) for _ in range(6)]
        corners = [(0.0, 0.0), (wide + off[0], off[1]), (wide + off[2], high + off[3]), (off[4], high + off[5])]
        panel["survey"] = readings_of(corners)
    piece["method"]["fit"] = draw(st.sampled_from(["square", "follow", "hide"]))
    return job
