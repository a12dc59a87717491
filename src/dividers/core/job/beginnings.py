"""What a painter may begin with: surfaces as people call them, and what is usual on each. Usual values are common practice, no source."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

Product = Mapping[str, Any]
PALETTE = {"base": {"name": "Off-white", "hex": "#f3efe4"}, "first": {"name": "Slate blue", "hex": "#3f5a7a"}}
WALL_PAINT: Product = {"kind": "paint", "binder": "water", "sheen": "matte", "spread": "10 m2/L"}
ENAMEL: Product = {
    "kind": "paint", "binder": "water", "sheen": "satin", "spread": "11 m2/L", "touch_dry": "1 h", "recoat": "4 h", "tape_safe": "24 h",
    "wet_edge": "8 min",
}  # fmt: skip
QUICK_PAINT: Product = {
    "kind": "paint", "binder": "water", "sheen": "matte", "spread": "12 m2/L", "touch_dry": "30 min", "recoat": "2 h", "tape_safe": "6 h",
    "wet_edge": "5 min",
}  # fmt: skip
FLOOR_ENAMEL: Product = {
    "kind": "paint", "binder": "oil", "sheen": "gloss", "spread": "12 m2/L", "touch_dry": "4 h", "recoat": "16 h", "tape_safe": "3 d",
    "wet_edge": "20 min",
}  # fmt: skip
ACRYLIC: Product = {
    "kind": "paint", "binder": "water", "sheen": "satin", "spread": "7 m2/L", "touch_dry": "20 min", "recoat": "30 min", "tape_safe": "2 h",
    "wet_edge": "5 min",
}  # fmt: skip
WATERCOLOUR: Product = {
    "kind": "paint", "binder": "water", "sheen": "flat", "spread": "20 m2/L", "touch_dry": "10 min", "recoat": "20 min", "tape_safe": "1 h",
    "wet_edge": "3 min",
}  # fmt: skip
MASKING: Product = {"kind": "tape", "width": "24 mm", "adhesion": "medium", "roll": "55 m"}
DELICATE: Product = {"kind": "tape", "width": "36 mm", "adhesion": "delicate", "roll": "55 m"}
NARROW: Product = {"kind": "tape", "width": "12 mm", "adhesion": "delicate", "roll": "50 m"}


@dataclass(frozen=True)
class Beginning:
    """A surface to begin with: the words it is chosen by, the name its piece gets, and what is usual on it.

    `paints` and `tapes` are offered, the first of each is used. `more` is a third size it asks for, in words; `copies` whether it asks how many.
    """

    key: str
    title: str
    name: str
    kind: str
    texture: str
    paints: Mapping[str, Product]
    tapes: Mapping[str, Product]
    method: Mapping[str, Any] = field(default_factory=dict)
    border: bool = False  # a taped border is left all round
    edges: Mapping[str, str] = field(default_factory=dict)  # by side, where they aren't taped
    width: str = "Width"
    height: str = "Height"
    more: str = ""
    copies: bool = False
    help: str = ""

    def said(self, units: str) -> str:
        """What is good to know of it, in a job's units.

        >>> BY_SURFACE["paper"].said("in")
        'a taped border of 3/4 in is left all round'
        """
        return f"a taped border of {BORDERS[units]} is left all round" if self.border else self.help


BORDERS = {"in": "3/4 in", "cm": "2 cm", "mm": "20 mm"}
ALL_FREE = dict.fromkeys(("top", "right", "bottom", "left"), "free")  # nothing lies beyond that paint could spoil
FURNITURE_PAINTS = {"enamel": ENAMEL, "quick furniture paint": QUICK_PAINT}
WALL_TAPES = {"delicate tape": DELICATE, "masking tape": MASKING}
BEGINNINGS = (
    Beginning("wall", "Wall", "Wall", "wall", "smooth", {"wall paint": WALL_PAINT}, WALL_TAPES, help="corner to corner, floor to ceiling"),
    Beginning(
        "below-rail", "Wall below a rail", "Wall below the rail", "wall", "smooth", {"wall paint": WALL_PAINT}, WALL_TAPES,
        height="Height, floor to rail", help="only what is painted: up to the rail",
    ),
    Beginning("ceiling", "Ceiling", "Ceiling", "ceiling", "smooth", {"wall paint": WALL_PAINT}, WALL_TAPES, height="Length"),
    Beginning(
        "wall-ceiling", "Wall and ceiling", "Wall and ceiling", "wall", "smooth", {"wall paint": WALL_PAINT}, WALL_TAPES,
        more="How far over the ceiling", help="the pattern runs over the corner without a break",
    ),
    Beginning("panel", "Door or cabinet panel", "Panel", "furniture", "smooth", FURNITURE_PAINTS, WALL_TAPES, help="the flat part that is painted"),
    Beginning(
        "drawers", "Drawer fronts", "Drawer front", "furniture", "smooth", FURNITURE_PAINTS, WALL_TAPES, edges=ALL_FREE, copies=True,
        help="one front; how many are alike",
    ),
    Beginning("floor", "Floor", "Floor", "floor", "grain", {"floor enamel": FLOOR_ENAMEL}, {"masking tape": MASKING, "delicate tape": DELICATE}, height="Length"),
    Beginning(
        "stairs", "Stairs", "Riser", "stairs", "smooth", {"floor enamel": FLOOR_ENAMEL}, WALL_TAPES, copies=True,
        height="Height of a riser", help="one riser; how many there are",
    ),
    Beginning(
        "canvas", "Canvas", "Canvas", "canvas", "canvas", {"acrylic": ACRYLIC}, {"narrow tape": NARROW, "masking tape": MASKING},
        method={"seal": "matte-medium"}, edges=ALL_FREE,
    ),
    Beginning(
        "paper", "Paper", "Sheet", "paper", "cold-pressed", {"watercolour": WATERCOLOUR, "acrylic": ACRYLIC}, {"narrow tape": NARROW},
        method={"pull": "dry"}, border=True,
    ),
)  # fmt: skip
BY_SURFACE = {each.key: each for each in BEGINNINGS}
FIRST_PATTERN: Mapping[str, Any] = {"kind": "stripes", "direction": "vertical", "count": 5, "start": "edge"}


def begun_piece(
    of: Beginning, width: str, height: str, more: str, base_on: bool, copies: int, colors: tuple[str, str], units: str
) -> dict[str, Any]:
    """A piece of a surface as it was measured, in equal stripes to be changed. Lengths are texts as typed, in `units`; `colors` are base and first."""
    base, first = colors
    panel: dict[str, Any] = {"name": of.name.lower(), "width": width, "height": height}
    if of.border:
        panel["margin"] = dict.fromkeys(("top", "right", "bottom", "left"), BORDERS[units])
    if of.edges:
        panel["edges"] = dict(of.edges)
    surface: dict[str, Any] = {"kind": of.kind, "texture": of.texture, "panels": [panel]}
    if of.more:
        panel["name"] = "wall"
        surface["panels"].append({"name": "ceiling", "width": width, "height": more})
        surface["folds"] = [["wall", "top", "ceiling", "bottom"]]
    if of.kind != "paper":
        surface["finish"] = {"state": "painted", "base": "on" if base_on else "to paint"}
    paint, tape = next(iter(of.paints)), next(iter(of.tapes))
    method = {"taping": "auto", "tape": tape, "paint": {base: paint, first: paint}, **of.method}
    if of.kind != "paper" and base_on:
        method["coats"] = {base: 0}
    piece = {
        "name": of.name,
        "base": base,
        "surface": surface,
        "pattern": {**FIRST_PATTERN, "colors": [first, None]},
        "method": method,
    }
    return piece | ({"copies": copies} if copies > 1 else {})


def products_of(of: Beginning) -> dict[str, dict[str, Any]]:
    """The paints and tapes that a surface brings along."""
    return {key: dict(product) for key, product in {**of.tapes, **of.paints}.items()}
