"""Checks layers of a piece from the job file and the plan's JSON: each tiles its zone, and what is painted last is what is seen."""

import pyclipper
from plan_checker import EDGE_TOLERANCE_MM2, Shape, area_mm2, clip, shows, to_paths

INCH = 25.4
SHORTEST_MM = 10  # shorter strips are laid by eye, between what lies beside them


def of_layers(piece, names):
    """A piece as if it had no cells and reserves but those of some layers."""
    own = {key: [each for each in piece[key] if each["layer"] in names] for key in ("cells", "reserves")}
    return {**piece, **own}


def rounds_of(piece, name):
    return {**piece, "rounds": [each for each in piece["rounds"] if each["layer"] == name]}


def zone_paths(zone, piece, panel):
    """The zone on a panel by its words in the job file (in inches), less the openings."""
    field = to_paths([panel["field"]])
    for opening in panel["openings"]:
        field = clip(pyclipper.CT_DIFFERENCE, field, to_paths([opening]))
    if zone == "all":
        return field
    first = panel is piece["panels"][0]
    if "rect" in zone:
        left, top, width, height = (float(zone["rect"][key]) * INCH for key in ("left", "top", "width", "height"))
        ring = [(left, top), (left + width, top), (left + width, top + height), (left, top + height)]
        return clip(pyclipper.CT_INTERSECTION, field, to_paths([ring])) if first else []
    if "points" in zone:
        ring = [(float(x) * INCH, float(y) * INCH) for x, y in zone["points"]]
        return clip(pyclipper.CT_INTERSECTION, field, to_paths([ring])) if first else []
    cells = [c for c in piece["cells"] if c["layer"] == zone["cells"] and c["panel"] == panel["name"]]
    if "at" in zone:
        places = [(float(x) * INCH, float(y) * INCH) for x, y in zone["at"]]
        chosen = [cell for cell in cells if first and any(Shape(cell).holds(*place) for place in places)]
    else:
        painted = [[color for color in (cell["color"], cell.get("under")) if color] or [None] for cell in cells]
        chosen = [cell for cell, colors in zip(cells, painted, strict=True) if zone["color"] in colors]
    return [path for cell in chosen for path in to_paths(cell["rings"])]


def check_zones(layers, piece):
    """Cells and reserves of each layer lie in its zone and together are as large."""
    for layer in layers:
        own = of_layers(piece, {layer["name"]})
        for panel in piece["panels"]:
            zone = zone_paths(layer.get("zone", "all"), piece, panel)
            shapes = [Shape(each) for each in [*own["cells"], *own["reserves"]] if each["panel"] == panel["name"]]
            allowed = EDGE_TOLERANCE_MM2 * sum(len(path) for shape in shapes for path in shape.paths)
            areas = sum(area_mm2(clip(pyclipper.CT_UNION, shape.paths)) for shape in shapes)
            wanted = area_mm2(clip(pyclipper.CT_UNION, zone))
            assert abs(areas - wanted) <= allowed + EDGE_TOLERANCE_MM2, f"{layer['name']} is {areas} of {wanted} mm2"
            for shape in shapes:
                outside = area_mm2(clip(pyclipper.CT_DIFFERENCE, shape.paths, zone)) if zone else areas
                assert outside <= EDGE_TOLERANCE_MM2 * sum(map(len, shape.paths)), f"{shape.document['id']} leaves its zone"


def seen_at(piece, names, panel, x, y):
    """The colour at a point, painting the layers one over the other; None for the base, "" on a line or where nothing is."""
    shapes = [Shape(cell) for cell in piece["cells"] if cell["panel"] == panel]
    if any(shape.on_edge(x, y) for shape in shapes):
        return ""
    for name in reversed(names):
        for shape in shapes:
            if shape.document["layer"] == name and shape.document["color"] and shape.holds(x, y):
                return shape.document["color"]
    return None


def coated_m2(piece):
    """Square metres painted in each colour, hidden or not."""
    found = {}
    for cell in piece["cells"]:
        area = area_mm2(clip(pyclipper.CT_UNION, to_paths(cell["rings"]))) / 1e6
        for color in filter(None, (cell["color"], cell.get("under"))):
            found[color] = found.get(color, 0.0) + area
    return found


def check_lines(piece, names):
    """Rule 4: each strip's line can be laid: two marks lie on it, or one of a line that is level or upright, or it runs along an edge that is
    there: of the field, an opening, another strip, or what an earlier layer painted."""
    panels = {panel["name"]: panel for panel in piece["panels"]}
    gone_on = {strip.get("goes_on") for each in piece["rounds"] for strip in each["strips"]}
    for each in piece["rounds"]:
        own = [Shape(c) for c in piece["cells"] if c["layer"] == each["layer"]]
        below = names[: names.index(each["layer"])]
        for strip in each["strips"]:
            if strip["kind"] == "perimeter" or strip["length"] < SHORTEST_MM:
                continue
            line = strip["line"]
            places = [(m["x"], m["y"]) for m in piece["marks"] if m["panel"] == strip["panel"]]
            places += panels[strip["panel"]]["outline"]  # the panel's own corners need no mark
            on = {(round(x), round(y)) for x, y in places if off(line, (x, y)) < 0.2}
            plain = min(abs(line[0][0] - line[1][0]), abs(line[0][1] - line[1][1])) < 0.2
            if len(on) >= 2 or (on and plain) or strip["id"] in gone_on or "goes_on" in strip:
                continue  # one that runs on over a fold is laid from where it comes
            if not shows(line, [shape for shape in own if shape.document["panel"] == strip["panel"]]):
                continue  # a seam between parts of one colour
            panel = panels[strip["panel"]]
            rings = [panel["field"], *panel["openings"]]
            rings += [
                ring for c in piece["cells"] if c["layer"] in below and c["panel"] == strip["panel"] for ring in c["rings"]
            ]
            others = [
                other["rings"][0]
                for r in piece["rounds"]
                for other in r["strips"]
                if other is not strip and other["panel"] == strip["panel"]
            ]
            assert any(runs_along(line, ring) for ring in rings + others), (
                f"nothing says where {strip['id']} of {each['layer']} lies"
            )


def off(line, point):
    """How far a point lies off the line through two others."""
    (ax, ay), (bx, by) = line
    length = ((bx - ax) ** 2 + (by - ay) ** 2) ** 0.5 or 1.0
    return abs((bx - ax) * (point[1] - ay) - (by - ay) * (point[0] - ax)) / length


def runs_along(line, ring):
    """Whether a side of a ring lies on the same line."""
    return any(
        off(line, a) < 0.2 and off(line, b) < 0.2 and abs(a[0] - b[0]) + abs(a[1] - b[1]) > 1
        for a, b in zip(ring, ring[1:] + ring[:1], strict=True)
    )
