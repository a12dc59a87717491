"""The job: what is to be painted, as valid typed data. `job_reader.read_job` makes one from a job file.

Lengths are exact fractions of millimetres; x to the right, y down from a panel's top-left corner.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from dividers.core.base.errors import Fault
from dividers.core.base.lengths import Graduation
from dividers.core.job.crew import Climate, Crew
from dividers.core.job.edge_counts import Counts
from dividers.core.job.free_steps import FreeStep
from dividers.core.job.layers import ALL, HandLayer, Layer
from dividers.core.job.method import Method, PatternChoice
from dividers.core.job.products import Colour, Paint, Seal, Supply, Tape
from dividers.core.job.surface import TO_PAINT, Surface
from dividers.core.job.usual import COATS

JOB_FORMAT = "dividers-job/1"


@dataclass(frozen=True)
class Piece:
    """One thing to paint: a surface with a pattern and a method. `key` names it in addresses.

    `layers` are there where the job file has them, in painting order: then `pattern` is that of the first. What is done `by_hand` comes after them; `steps` are the
    painter's own.
    """

    key: str
    name: str
    base: str
    surface: Surface
    pattern: PatternChoice
    method: Method
    copies: int = 1
    layers: tuple[Layer, ...] = ()
    by_hand: tuple[HandLayer, ...] = ()
    steps: tuple[FreeStep, ...] = ()

    @property
    def stack(self) -> tuple[Layer, ...]:
        """Its layers in painting order: one where it has only a pattern."""
        return self.layers or (Layer(self.pattern.kind, self.pattern, self.method),)

    @property
    def layer_names(self) -> tuple[str, ...]:
        """What its layers are called, taped ones and then those done by hand; marks count them so."""
        return (*(each.name for each in self.stack), *(each.name for each in self.by_hand))

    @property
    def layered(self) -> bool:
        """Whether it is more than one pattern over the whole field."""
        return len(self.layers) > 1 or any(layer.zone.kind != ALL for layer in self.layers)

    def round_title(self, number: int, layer: int) -> str:
        """What a round is called: by its number, and by its layer where there are several."""
        return f"Round {number} ({self.stack[layer].name})" if self.layered else f"Round {number}"

    def of_layer(self, layer: Layer) -> "Piece":
        """This piece as if that layer were all of it."""
        return replace(self, pattern=layer.pattern, method=layer.method, layers=(), by_hand=(), steps=())

    def with_method(self, change: Callable[[Method], Method]) -> "Piece":
        """This piece with another method, in each of its layers too."""
        layers = tuple(replace(layer, method=change(layer.method)) for layer in self.layers)
        return replace(self, method=change(self.method), layers=layers)

    @property
    def base_coats(self) -> int:
        """Coats of the base colour to paint: none where it is on already, nor on paper unless they are asked for."""
        if self.surface.base_on:
            return 0
        bare = self.surface.kind == "paper" and self.surface.base != TO_PAINT
        return self.method.coats.get(self.base, 0 if bare else COATS.value)


@dataclass(frozen=True)
class Job:
    """A whole job. `document` is the job file as read, unknown keys and all; `warnings` what was odd in it.

    `evidence` is what the logbook found on surfaces like these, where the job file has it.
    """

    title: str
    units: str
    graduation: Graduation
    palette: Mapping[str, Colour]
    products: Mapping[str, "Paint | Tape | Seal"]
    pieces: tuple[Piece, ...]
    crew: Crew
    climate: Climate
    document: Mapping[str, Any] = field(repr=False)
    warnings: tuple[Fault, ...] = ()
    evidence: Counts = field(default_factory=dict)
    supplies: Mapping[str, Supply] = field(default_factory=dict)
    currency: str = ""

    def piece(self, key: str) -> Piece | None:
        return next((piece for piece in self.pieces if piece.key == key), None)
