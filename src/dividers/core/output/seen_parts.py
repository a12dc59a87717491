"""The parts of a piece's plan document that are drawn over one another, the layer below first: what a later layer doesn't paint is left out."""

from collections.abc import Iterator, Mapping
from typing import Any


def seen_parts(piece: Mapping[str, Any]) -> Iterator[tuple[Mapping[str, Any], str | None, bool]]:
    """Each cell or reserve with its colour (None for the base), and whether it is a reserve."""
    parts = [(cell, cell["color"], False) for cell in piece["cells"]]
    parts += [(reserve, None, True) for reserve in piece["reserves"]]
    layers = layers_in(piece)
    for name in layers:
        for part, color, reserved in parts:
            if part["layer"] == name and (color or name == layers[0]):
                yield part, color, reserved


def layers_in(piece: Mapping[str, Any]) -> list[str]:
    """The names of a piece's layers, in painting order."""
    return list(dict.fromkeys(part["layer"] for part in (*piece["cells"], *piece["reserves"])))
