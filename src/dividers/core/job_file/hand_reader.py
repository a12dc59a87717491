"""Hand layers in a job file: motifs and shading, done without tape over another layer."""

from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from dividers.core.job.kinds import Kind, LengthText, OneOf, PaletteKey, Rate, Text, WholeNumber
from dividers.core.job.layers import AUTO, CROSSINGS, DOT, HAND_KINDS, LIGHTS, MARKED_BY, MOTIF_PLACES, MOTIFS, TOOLS, HandLayer
from dividers.core.job.places import PlacesKind
from dividers.core.job.reader import Reader
from dividers.core.job.schema import Key, Object, Values
from dividers.core.job.usual import MOTIF_MIN, SHADING_MIN_M

NEEDED = {"width": "the motif's width", "color": "its colour", "line": "the line's width"}
MARKED_WORDS = {
    "auto": "Automatic",
    "each": "Each one",
    "strip": "The ends of each row, with a registration strip between",
    "paint": "Not at all: what is painted shows where",
}
SIZE = LengthText(Fraction(1, 2))


@dataclass(frozen=True)
class MotifPlaces(Kind):
    """Where motifs lie: in words, or at places on a panel."""

    @property
    def allowed(self) -> str:
        return f"{', '.join(MOTIF_PLACES)}, or list of places: [from the left, from the top]"

    def read(self, reader: Reader, key: str, default: Any) -> Any:
        written = reader.get(key)
        if isinstance(written, list):
            return PlacesKind().read(reader, key, ())
        return OneOf(MOTIF_PLACES).read(reader, key, default)

    def in_units(self, written: Any, old: str, new: str) -> Any:
        return PlacesKind().in_units(written, old, new)


def _made(entry: Reader, values: Values) -> HandLayer:
    kind = values["kind"]
    for key in ("width", "color") if kind == MOTIFS else ("line",):
        if values[key] is None:
            entry.fault(key, f"Give {NEEDED[key]}.")
    if kind != MOTIFS and not (values["dark"] or values["bright"]):
        entry.fault("dark", "Give dark or bright, or both: the colours of the lines.")
    width = values["width"] or Fraction(1)
    each = values["minutes_each"]
    return HandLayer(
        values["name"] or "",
        kind,
        values["of"],
        values["at"],
        values["panel"],
        values["tool"],
        width,
        values["height"] or width,
        values["color"] or "",
        values["inside"] or "",
        values["every"],
        values["spacing"],
        MOTIF_MIN[values["tool"]] if each is None else each,
        values["light"],
        values["dark"],
        values["bright"],
        values["line"] or Fraction(1),
        values["minutes_per_m"],
        values["marked_by"],
    )  # fmt: skip


HAND_LAYER = Object(
    (
        Key("kind", OneOf(HAND_KINDS), "By hand", needed="Give motifs or shading.", default=MOTIFS, since="0.2.0"),
        Key("name", Text(), "Name", "else numbered"),
        Key("of", Text(), "Over the layer", "the name of a layer that is taped", needed="Name the layer that it is done over.", default=""),
        Key("at", MotifPlaces(), "Motifs at", "its crossings, the centres of what it paints, between what it paints, or places", CROSSINGS),
        Key("panel", Text(), "On the panel", "for places; else the first", ""),
        Key("tool", OneOf(TOOLS), "Motif", default=DOT),
        Key("width", SIZE, "Motif's width"),
        Key("height", SIZE, "Motif's height", "else as its width"),
        Key("color", PaletteKey(), "Motif's colour"),
        Key("inside", PaletteKey(), "Centres of parts in", "else of all that it paints"),
        Key("every", WholeNumber(1, 50), "One of every", "1: each of them; 2: every second one, row by row like checks", 1),
        Key("spacing", LengthText(Fraction(1)), "Apart, between stripes", "centre to centre; else three times the width"),
        Key("minutes_each", Rate(0, 600), "Minutes for each", "else by the tool"),
        Key("marked_by", OneOf(MARKED_BY, MARKED_WORDS), "Marked", "automatic: where lines cross, by what is painted; else rows of three or more by a registration strip", AUTO, since="0.2.0"),
        Key("light", OneOf(LIGHTS), "Light from", default=LIGHTS[0]),
        Key("dark", PaletteKey(), "Sides in shadow"),
        Key("bright", PaletteKey(), "Sides in the light"),
        Key("line", SIZE, "Line's width", "a wider line looks deeper"),
        Key("minutes_per_m", Rate(0, 600), "Minutes per metre of line", default=SHADING_MIN_M),
    ),
    _made,
)  # fmt: skip
