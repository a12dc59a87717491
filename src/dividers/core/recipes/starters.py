"""A dozen looks of our own to begin with; sizes on a field of 120 x 96 in."""

from collections.abc import Mapping
from dataclasses import replace
from fractions import Fraction
from typing import Any

from dividers.core.recipes.recipe import Recipe

CREAM, COAL, BRICK, POND, MUSTARD, SKY, ROSE, MOSS = (
    {"name": name, "hex": hex_code}
    for name, hex_code in (
        ("Cream", "#f3ead6"), ("Coal", "#2b2d30"), ("Brick red", "#9c4a38"), ("Pond green", "#3f6b68"), ("Mustard", "#c9a04a"),
        ("Morning sky", "#b7cad6"), ("Old rose", "#c98f83"), ("Moss", "#7b8456"),
    )
)  # fmt: skip
INCH = Fraction("25.4")


def _recipe(name: str, pattern: Mapping[str, Any], **colors: Mapping[str, Any]) -> Recipe:
    base = next(iter(colors))
    return Recipe(name, "in", 120 * INCH, 96 * INCH, pattern, colors, base, {})


def _by_hand(name: str, pattern: Mapping[str, Any], *hand: Mapping[str, Any], **colors: Mapping[str, Any]) -> Recipe:
    """A look with motifs or shading over its pattern."""
    return replace(
        _recipe(name, pattern, **colors),
        layers=({"name": "pattern", "pattern": pattern}, *({"of": "pattern", **each} for each in hand)),
    )


STARTERS = (
    _recipe("Awning", {"kind": "stripes", "direction": "vertical", "count": 15, "start": "edge", "colors": ["red", None]}, cream=CREAM, red=BRICK),
    _recipe("Deckchair", {"kind": "stripes", "direction": "vertical", "widths": ["9", "1 1/2", "3", "1 1/2"], "start": "edge", "colors": [None, "coal", "sky", "coal"]}, cream=CREAM, coal=COAL, sky=SKY),
    _recipe("Level bands", {"kind": "stripes", "direction": "horizontal", "count": 6, "start": "edge", "colors": ["pond", None]}, cream=CREAM, pond=POND),
    _recipe("Slanting rain", {"kind": "stripes", "direction": 60, "widths": ["6", "3"], "start": "edge", "colors": [None, "sky"]}, coal=COAL, sky=SKY),
    _recipe("Lantern zigzag", {"kind": "chevron", "columns": 8, "rise": "9", "band": "9", "start": "low", "colors": ["coal", None, "mustard", None]}, cream=CREAM, coal=COAL, mustard=MUSTARD),
    _recipe("Players' diamonds", {"kind": "diamonds", "columns": 8, "rows": 4, "colors": ["rose", None]}, cream=CREAM, rose=ROSE),
    _recipe("Kitchen floor", {"kind": "checker", "columns": 10, "rows": 8, "colors": ["coal", None]}, cream=CREAM, coal=COAL),
    _recipe("Yard wall", {"kind": "brick", "course": "6", "length": "15", "joint": "1/2", "bond": 0.5, "colors": ["red", "rose"]}, cream=CREAM, red=BRICK, rose=ROSE),
    _recipe("Picnic cloth", {"kind": "plaid", "upright": ["6", "6"], "level": ["6", "6"], "colors": ["red", None], "level_colors": ["red", None]}, cream=CREAM, red=BRICK),
    _recipe("Basket", {"kind": "basket", "columns": 8, "slats": 3, "colors": ["moss", "cream"]}, mustard=MUSTARD, moss=MOSS, cream=CREAM),
    _recipe("Morning rays", {"kind": "rays", "rays": 24, "middle": "bottom", "colors": ["mustard", None]}, sky=SKY, mustard=MUSTARD),
    _recipe("Nested diamonds", {"kind": "concentric", "shape": "diamonds", "band": "8", "colors": ["pond", None]}, cream=CREAM, pond=POND),
    _by_hand("Padded panel", {"kind": "diamonds", "columns": 10, "rows": 6, "colors": ["rose", None]},
             {"kind": "shading", "name": "hollows", "light": "top left", "dark": "red", "bright": "cream", "line": "3/8"},
             {"kind": "motifs", "name": "buttons", "at": "crossings", "tool": "dot", "width": "1 1/4", "color": "red"}, rose_light={"name": "Pale rose", "hex": "#d6aca2"}, rose=ROSE, red=BRICK, cream=CREAM),
)  # fmt: skip
