"""What the tasks of a piece go by."""

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, replace

from dividers.core.base.lengths import exact, write_exact
from dividers.core.base.quantities import run
from dividers.core.geometry.ledger import NOTHING
from dividers.core.job.crew import Climate
from dividers.core.job.drying import label_min, tape_min, tape_wait_said
from dividers.core.job.model import Piece
from dividers.core.job.products import Paint
from dividers.core.job.surface import WRAP
from dividers.core.order.round_choices import RoundChoice
from dividers.core.order.task_key import TaskKey
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.tape.outer_edges import hand_edges

Place = tuple[int, int]  # a cell: its sheet, its number there


@dataclass(frozen=True)
class BaseCoat:
    """How old the base is at the start, where it is there already, and the wall minute from which tape may go on it."""

    age_min: int | None
    tape_from: int


@dataclass(frozen=True)
class WorkSite:
    """A piece with its plan, the choice for each round, the air, and how its base stands."""

    plan: PiecePlan
    air: Climate
    choices: tuple[RoundChoice, ...]
    base: BaseCoat
    layer: int | None = None

    @property
    def piece(self) -> Piece:
        """The piece as the layer at hand has it done."""
        return self.plan.piece if self.layer is None else self.plan.piece_in(self.layer)

    def in_layer(self, layer: int) -> "WorkSite":
        return replace(self, layer=layer)

    def title(self, number: int) -> str:
        """What a round is called: by its layer too, where there are several."""
        return self.plan.piece.round_title(number, self.layer or 0)

    @property
    def area_m2(self) -> float:
        return self.plan.base_m2 * self.piece.copies

    def edges_painted_round(self, number: int, color: str, places: Iterable[Place]) -> str:
        """What a coat's words say of the edges that it goes round too; "" where there are none. A cell counts as often as it is named."""
        each, own = self.plan.taping.chosen.rounds[number - 1], Counter(places)
        edges = [
            (edge, own[sheet, edge.cell])
            for sheet, (layout, painted) in enumerate(zip(each.layouts, each.painted, strict=True))
            for edge in hand_edges(layout, painted)
            if edge.kind == WRAP and (sheet, edge.cell) in own and self.has_color((sheet, edge.cell), color)
        ]
        if not edges:
            return ""
        units, metres = self.plan.job.units, sum(edge.length_mm * many for edge, many in edges) / 1000
        depth = edges[0][0].depth_mm
        deep = f", {write_exact(exact(depth), units)} deep" if depth else ""
        return f", and round {run(metres, units)} of edges{deep}"

    def key(
        self,
        kind: str,
        number: int | None = None,
        coat: int | None = None,
        batch: int | None = None,
        color: str | None = None,
        area: int | None = None,
    ) -> TaskKey:
        """The name of a task of this piece."""
        return TaskKey(self.piece.key, kind, number, batch, color, coat, area=area)

    def paint(self, color: str | None) -> Paint | None:
        return self.piece.method.paint.get(str(color))

    def dries_in(self, color: str | None, name: str) -> int:
        """A figure of the paint of a colour in this air, minutes; None is for a paint that nothing is said of."""
        return label_min(self.paint(color), name, self.air)

    def tape_min(self, color: str | None) -> int:
        """When tape goes on the paint of a colour, minutes after its coat."""
        return tape_min(self.paint(color), self.air)

    def tape_wait_said(self, what: str, color: str | None, tape: str = "tape") -> str:
        """That wait in words: what was painted with the colour, and which tape waits for it."""
        return tape_wait_said(what, self.paint(color), self.air, tape)

    def color_name(self, color: str) -> str:
        return self.plan.job.palette[color].name.lower()

    def cell_keys(self, places: Iterable[Place]) -> tuple[str, ...]:
        return tuple(self.plan.cell_keys[sheet][cell] for sheet, cell in places)

    def has_color(self, place: Place, color: str) -> bool:
        """Whether a cell gets a colour, as its own or as the glaze below."""
        layout, cell = self.plan.layouts[place[0]], place[1]
        under = int(layout.under[cell])
        return layout.color(cell) == color or (under != NOTHING and layout.colors[under] == color)
