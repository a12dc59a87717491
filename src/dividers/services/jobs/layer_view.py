"""One layer of a piece as a form sees it: as if its pattern were that of a piece without layers."""

import copy
from collections.abc import Callable
from dataclasses import replace

from dividers.core.base.errors import BadInput, Fault
from dividers.core.job.document import Document
from dividers.core.job.model import Piece
from dividers.core.job_file.layer_reader import by_hand


def lifted(document: Document, number: int, layer: int) -> Document:
    """A copy of a document in which a layer's pattern stands where that of a piece without layers does."""
    return with_piece(
        document, number, lambda piece: piece | ({"pattern": _of(piece, layer)["pattern"]} if piece.get("layers") else {})
    )


def lowered(document: Document, number: int, layer: int) -> Document:
    """The other way round."""

    def back(piece: Document) -> Document:
        if not piece.get("layers") or "pattern" not in piece:
            return piece
        layers = copy.deepcopy(piece["layers"])
        taped_layers(layers)[layer]["pattern"] = piece["pattern"]
        return {key: value for key, value in piece.items() if key != "pattern"} | {"layers": layers}

    return with_piece(document, number, back)


def taped_layers(layers: list[Document]) -> list[Document]:
    """Those with a pattern; what is done by hand comes after them, wherever it stands."""
    return [each for each in layers if not by_hand(each)]


def _of(piece: Document, layer: int) -> Document:
    layers = taped_layers(piece["layers"])
    if not 0 <= layer < len(layers):
        raise BadInput("This layer isn't there any more. It may have been removed in another window.", "layers")
    return layers[layer]


def with_piece(document: Document, number: int, act: Callable[[Document], Document]) -> Document:
    return document | {"pieces": [act(piece) if at == number else piece for at, piece in enumerate(document["pieces"])]}


def seen_in(piece: Piece, layer: int) -> Piece:
    """A piece as the form of one of its layers sees it: with that layer's pattern."""
    return replace(piece, pattern=piece.stack[layer].pattern) if piece.layers else piece


def as_lifted(faults: tuple[Fault, ...], number: int, layer: int) -> tuple[Fault, ...]:
    """Faults of a layer at the place where its form has them."""
    at = f"pieces.{number}.layers.{layer}.pattern"
    here = f"pieces.{number}.pattern"
    return tuple(
        replace(fault, path=fault.path.replace(at, here, 1)) if f"{fault.path}.".startswith(f"{at}.") else fault
        for fault in faults
    )
