"""Writes the days of a schedule as SVG: pictures of the pieces along a clock; a window to pull in is a wedge that closes."""

from collections.abc import Mapping

from markupsafe import Markup

from dividers.core.order.day_bands import BAND, HEAD, PICTURE, WIDTH, Closing, DayBands, GoShown
from dividers.formats.drawings.svg_writer import box, drawing, element, line, number, numbers, path, text

WORK_Y, WORK_HIGH = 42.0, 9.0  # within a band
WEDGE_Y, WEDGE_HIGH = 55.0, 12.0


def day_bands_svg(bands: DayBands, pictures: Mapping[tuple[str, int | None], Markup]) -> Markup:
    """The days as one SVG element; `pictures` are SVGs of pieces by key and round (None for the piece as a whole)."""
    parts: list[Markup] = []
    for band, x0, x1 in bands.rests:
        parts.append(box("rest", x0, _top(band), x1 - x0, BAND))
    for x, words in bands.hours:
        parts += [line("hour", (x, HEAD - 4), (x, bands.height)), text("hour-figure", (x, HEAD - 8), words, "middle")]
    for number_, words in enumerate(bands.bands):
        parts += [line("band", (0, _top(number_)), (WIDTH, _top(number_))), text("day", (4, _top(number_) + 26), words)]
    parts += [_closing(each) for each in bands.closings]
    parts += [_go(each, pictures) for each in bands.goes]
    return drawing(
        "day-bands",
        numbers(0, 0, WIDTH, bands.height),
        {"preserveAspectRatio": "xMidYMin meet"},
        *parts,
        label="The days along the clock; the list says the same",
    )


def _top(band: int) -> float:
    return HEAD + band * BAND


def _closing(each: Closing) -> Markup:
    y = _top(each.band) + WEDGE_Y
    return path("wedge", f"M{numbers(each.x0, y)}V{number(y + WEDGE_HIGH)}L{numbers(each.x1, y + WEDGE_HIGH / 2)}Z", each.title)


def _go(each: GoShown, pictures: Mapping[tuple[str, int | None], Markup]) -> Markup:
    y = _top(each.band)
    work = [box(f"stretch {s.kind}", s.x0, y + WORK_Y, s.x1 - s.x0, WORK_HIGH, fill=s.hex or None) for s in each.stretches]
    shown: list[Markup] = []
    if each.picture_x is not None:
        picture = pictures.get((each.go.piece, each.go.round)) or pictures.get((each.go.piece, None))
        if picture:
            places = {
                "x": number(each.picture_x),
                "y": number(y + 4),
                "width": number(PICTURE[0]),
                "height": number(PICTURE[1]),
            }
            shown.append(element("svg", places | {"class": "go-picture"}, picture))
        shown.append(text("go-number", (each.picture_x + PICTURE[0] + 1, y + 37), str(each.go.number), "start"))
    return element("g", {"class": "go", "data-link": f"g{each.go.number}"}, *shown, *work, element("title", {}, each.title))
