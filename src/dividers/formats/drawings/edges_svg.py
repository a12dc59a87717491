"""Writes how many edges came out clean, slight and bled as SVG: a bar a tape and ground, light, grey and dark, so that it reads in print."""

from collections.abc import Sequence

from markupsafe import Markup

from dividers.formats.drawings.svg_writer import box, drawing, element

WIDE, ROW = 420, 22
CLASSES = ("clean", "slight", "bled")


def edge_bar(parts: Sequence[int], most: int, label: str) -> Markup:
    """A bar of so many clean, slight and bled strips, as long as their number against the most of any bar."""
    shapes, at = [], 0.0
    for name, many in zip(CLASSES, parts, strict=True):
        wide = WIDE * many / max(most, 1)
        if many:
            shapes.append(box(f"edge-part edge-part-{name}", at, 3, wide, ROW - 6))
        at += wide
    return drawing("edge-bar", f"-1 0 {WIDE + 2} {ROW}", {"preserveAspectRatio": "xMinYMid meet"}, *shapes, label=label)


def month_bars(counts: Sequence[int]) -> Markup:
    """Strips looked at, month by month."""
    most = max([*counts, 1])
    step = WIDE / 12
    shapes = [
        box("month-bar", step * month + 4, 60 - 50 * many / most, step - 8, 50 * many / most)
        for month, many in enumerate(counts)
        if many
    ]
    names = [
        element("text", {"class": "month-name", "x": f"{step * (month + 0.5):.1f}", "y": "74", "text-anchor": "middle"}, name)
        for month, name in enumerate("JFMAMJJASOND")
    ]
    said = ", ".join(str(many) for many in counts)
    return drawing(
        "month-bars",
        f"-1 0 {WIDE + 2} 80",
        {"preserveAspectRatio": "xMinYMid meet"},
        *shapes,
        *names,
        label=f"Strips looked at, January to December: {said}",
    )
