"""Layers in a job file: name, zone, pattern, how they are done, and what was measured of them once they were painted."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any

from dividers.core.job.kinds import Flag, Kind, LengthText, PaletteKey, Text
from dividers.core.job.layers import ALL, CELLS, POINTS, RECT, WHOLE, AsPainted, HandLayer, Layer, Zone
from dividers.core.job.places import MOST_PLACES, PlacesKind
from dividers.core.job.reader import Reader
from dividers.core.job.schema import Key, Object, Objects, Values
from dividers.core.job.surface import Rectangle
from dividers.core.job_file.hand_reader import HAND_LAYER

MOST_LAYERS = 12
LEAST_POINTS = 3
MERGED = ("paint", "coats", "rates")  # a layer's own entries of these come on top of the piece's
LENGTH = LengthText()


def _rect(entry: Reader, values: Values) -> Rectangle:
    left, top = values["left"], values["top"]
    return Rectangle(left, top, left + values["width"], top + values["height"])


RECT_OF = Object(
    (
        Key("left", LENGTH, "Left edge", "from the panel's left", Fraction(0)),
        Key("top", LENGTH, "Top edge", "from the panel's top", Fraction(0)),
        Key("width", LengthText(Fraction(1)), "Width", needed="Give its width.", default=Fraction(100)),
        Key("height", LengthText(Fraction(1)), "Height", needed="Give its height.", default=Fraction(100)),
    ),
    _rect,
)
ZONE = Object(
    (
        Key("rect", RECT_OF, "A rectangle"),
        Key("points", PlacesKind(), "A ring of points", "three or more, in turn", default=()),
        Key("cells", Text(), "Parts of the layer", "the name of a layer below"),
        Key("color", PaletteKey(base=True), "In the colour", "with cells: those of a colour; null for those left unpainted"),
        Key("at", PlacesKind(), "Parts at", "with cells: a place in each part", default=()),
        Key("each", Flag(), "Each by itself", "measured from each part's own edges or centre", default=False),
        Key("panel", Text(), "On the panel", "for a rectangle and places; else the first", default=""),
    )
)


class ZoneKind(Kind):
    """Where a layer is laid: all of the field, or an object that says which part."""

    @property
    def allowed(self) -> str:
        return "all, or object with rect, points, or cells with color or at"

    def read(self, reader: Reader, key: str, default: Any) -> Zone:
        if reader.get(key) in (None, ALL):
            return WHOLE
        child = reader.child(key)
        if not isinstance(reader.get(key), Mapping):
            return WHOLE
        given = [name for name in (RECT, POINTS, CELLS) if child.has(name)]
        if len(given) != 1:
            child.fault(given[1] if given else "", "must say one of rect, points or cells, or be “all”.")
            return WHOLE
        keys = [each for each in ZONE.keys if each.key != RECT or given[0] == RECT]
        values = {each.key: each.read(child) for each in keys}
        child.get(RECT)
        child.close()
        if given[0] == POINTS and len(values["points"]) < LEAST_POINTS:
            child.fault("points", f"needs at least {LEAST_POINTS} points.")
        if given[0] == CELLS and "color" not in child.raw and not values["at"]:
            child.fault("at", "choose parts: give a color of that layer, or places with at.")
        return Zone(
            given[0],
            values.get("rect"),
            values["points"],
            values["cells"] or "",
            values["color"],
            values["at"],
            values["each"],
            values["panel"],
        )

    def in_units(self, written: Any, old: str, new: str) -> Any:
        return ZONE.in_units(written, old, new)

    def inner(self, name: str) -> Kind | None:
        return ZONE.inner(name)


def _measured(entry: Reader, values: Values) -> AsPainted:
    return AsPainted(values["line"], values["at"], values["along"])


AS_PAINTED = Object(
    (
        Key("line", Text(), "Line", "like band 3, top", needed="Say which line.", default="band 1, top"),
        Key("at", LENGTH, "Reads", "from the panel's top, or its left for upright lines", needed="Give what was read.", default=Fraction(0)),
        Key("along", LENGTH, "At", "how far along the line it was read"),
    ),
    _measured,
)  # fmt: skip


@dataclass(frozen=True)
class LayersKind(Kind):
    """Layers in painting order. `pattern` reads a layer's pattern and `method` a method, both as a piece's."""

    pattern: Kind
    method: Object
    most: int = MOST_LAYERS

    @property
    def allowed(self) -> str:
        return f"list of at most {self.most} objects"

    @property
    def of(self) -> Object:
        """The keys of one layer."""
        return Object(
            (
                Key("name", Text(), "Name", "else numbered", since="0.2.0"),
                Key("zone", ZoneKind(), "Where", "all of the field, or a part of it", since="0.2.0"),
                Key("pattern", self.pattern, needed="Give a kind.", since="0.2.0"),
                Key("method", self.method, help="what is done otherwise than on the rest of the piece", since="0.2.0"),
                Key("as_painted", Objects(AS_PAINTED, MOST_PLACES), "As painted", "lines measured once they are painted", since="0.2.0"),
            )
        )  # fmt: skip

    def read(self, reader: Reader, key: str, default: Any) -> tuple[Layer | HandLayer, ...]:
        found: list[Layer] = []
        by_hand: list[HandLayer] = []
        whole = reader.raw.get("method")
        for number, child in enumerate(reader.children(key, self.most), 1):
            if child.has("kind"):
                by_hand.append(self._by_hand(child, f"layer {number}", found, by_hand))
                continue
            values = {each.key: each.read(child) for each in self.of.keys if each.key != "method"}
            child.get("method")
            child.close()
            method = self.method.read_in(Reader(merged(whole, child.raw.get("method")), child.at("method"), child.findings))
            name = values["name"] or f"layer {number}"
            self._check(child, name, values["zone"], [layer.name for layer in found])
            found.append(Layer(name, values["pattern"], method, values["zone"], values["as_painted"]))
        return (*found, *by_hand)

    def _by_hand(self, child: Reader, name: str, below: list[Layer], others: list[HandLayer]) -> HandLayer:
        made: HandLayer = replace(HAND_LAYER.read_in(child), name=str(child.raw.get("name") or name))
        known = [layer.name for layer in below]
        if made.of not in known:
            child.fault("of", f"“{made.of}” isn't a taped layer of this piece. Those there are: {', '.join(known) or 'none'}.")
        if made.name in [*known, *(each.name for each in others)]:
            child.fault("name", f"“{made.name}” is the name of another layer already. Give this one another.")
        return made

    def _check(self, child: Reader, name: str, zone: Zone, below: list[str]) -> None:
        if name in below:
            child.fault("name", f"“{name}” is the name of another layer already. Give this one another.")
        if zone.layer and zone.layer not in below:
            known = ", ".join(below) or "none, as this is the first"
            child.fault("zone.cells", f"“{zone.layer}” isn't a layer below this one. Those below: {known}.")

    def in_units(self, written: Any, old: str, new: str) -> Any:
        if not isinstance(written, list):
            return written
        return [(HAND_LAYER if by_hand(each) else self.of).in_units(each, old, new) for each in written]

    def inner(self, name: str) -> Kind:
        return self.of


def by_hand(written: Any) -> bool:
    """Whether a layer as written is done by hand."""
    return isinstance(written, Mapping) and "kind" in written


def merged(whole: Any, own: Any) -> Any:
    """A layer's method as written over that of its piece."""
    if not isinstance(whole, Mapping) or not isinstance(own, Mapping):
        return own if own is not None else whole
    found = {**whole, **own}
    for name in MERGED:
        if isinstance(whole.get(name), Mapping) and isinstance(own.get(name), Mapping):
            found[name] = {**whole[name], **own[name]}
    return found
