"""Writes sketches as SVG: a piece of tape measure, a line between paint and what is kept, a cut across a strip."""

from markupsafe import Markup

from dividers.core.marks.tape_measure import DrawnTape
from dividers.core.output.section import Section
from dividers.core.practice.exercises import Split
from dividers.formats.drawings.svg_writer import box, drawing, element, number, numbers, path, text


def tape_svg(tape: DrawnTape, reading: str) -> Markup:
    """A drawn piece of tape measure, the mark in its middle. 1 unit is 1 mm; as high as 14 mm."""
    reach, start = tape.reach_mm, tape.starts_at_mm
    lines = "".join(f"M{number(tick.at_mm)} 0v{number(tick.height * 9)}" for tick in tape.ticks)
    figures = [tick for tick in tape.ticks if tick.label and abs(tick.at_mm) < reach - 3]
    return drawing(
        "tape-measure",
        numbers(-reach, -5, 2 * reach, 21),
        {},
        box("blade", start, 0, reach - start, 15),
        box("hook", start - 1.2, -1, 1.2, 17) if start > -reach else "",
        path("graduation", lines),
        *(text("figure", (tick.at_mm, 13.6), tick.label, "middle") for tick in figures),
        path("pointer", "M0 0L-1.8 -4L1.8 -4Z"),
        element("line", {"class": "pointer", "x1": "0", "y1": "0", "x2": "0", "y2": "15"}),
        label=f"Tape measure at {reading}",
    )


def split_svg(split: Split) -> Markup:
    """A line between what is painted and what is kept, with both signs."""
    paint, keep = ("0 0h100v120h-100z", "100 0h100v120h-100z") if split.vertical else ("0 0h200v60h-200z", "0 60h200v60h-200z")
    if not split.first:
        paint, keep = keep, paint
    if split.vertical:
        wave, cross = ((42, 60), (150, 60)) if split.first else ((142, 60), (50, 60))
    else:
        wave, cross = ((92, 30), (100, 90)) if split.first else ((92, 90), (100, 30))
    return drawing(
        "split",
        "0 0 200 120",
        {},
        path(None, f"M{paint}", fill=split.paint),
        path(None, f"M{keep}", fill=split.keep),
        path("line-mark", "M100 0V120" if split.vertical else "M0 60H200"),
        path("paint-sign", f"M{numbers(*wave)}q4 -8 8 0t8 0"),
        path("keep-sign", f"M{numbers(cross[0] - 6, cross[1] - 6)}l12 12m0 -12l-12 12"),
        label="A line; one side is painted, marked with a wave, the other kept, marked with a cross",
    )


def section_svg(section: Section, width: str) -> Markup:
    """A cut across a strip: surface, what lies on it, tape and wet paint. Not to scale in height."""
    left, right = section.paints[0], section.paints[-1]
    both = section.both_sides
    tape_left, tape_right = (100, 220) if both else (40, 160)
    line = (tape_left + tape_right) / 2 if both else tape_right
    middle = (tape_left + tape_right) / 2
    return drawing(
        "section",
        "0 0 320 92",
        {},
        box("surface", 0, 56, 320, 22),
        box(None, 0, 50, 320, 6, fill=section.below.hex),
        box(None, 0 if both else 160, 43, 100 if both else 160, 7, fill=left.hex),
        box(None, 220, 43, 100, 7, fill=right.hex) if both else "",
        path("tape-cut", f"M{tape_left} 50v-10h{tape_right - tape_left}v10z"),
        path("wet", f"M{tape_right - 26} 38h26v5h34", stroke=right.hex),
        path("line-mark", f"M{number(line)} 14V84"),
        text("note", (line if both else line + 4, 11), "line", "middle" if both else "start"),
        text("note", (middle - 24 if both else middle, 33), f"tape {width}", "middle"),
        text("note", (316, 33), right.name, "end"),
        text("note", (4, 33), left.name) if both and left != right else "",
        text("note", (4, 90), "beyond the field" if section.perimeter else f"on {section.below.name}"),
        label=f"Cross-section: tape {width} wide, {left.name} {'on both sides' if both else 'on one side'}",
    )
