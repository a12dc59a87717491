"""What a job takes, item by item, over all its pieces: amounts, and how each comes about.

Rates and losses marked as usual are common practice with no source; a product's own figures come first.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from dividers.core.base.quantities import area, run, spread, volume
from dividers.core.job.model import Job
from dividers.core.job.products import Paint
from dividers.core.order.round_choices import RoundChoice
from dividers.core.plan.amounts import PaintNeed
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.plan.plan import Plan
from dividers.core.plan.spacers import spacers_m

# Shares that stay on the tool, in the tray and the tin (common practice, no source).
TOOL_LOSS_PERCENT = {"brush": 5, "roller": 10, "spray": 30}
# Millilitres of seal for a metre of edge and coat (common practice, no source).
SEAL_ML_M = {"base": 3.0, "clear": 3.0, "matte-medium": 2.0, "caulk": 2.5}
SEAL_ITEMS = {"clear": "clear coat for edges", "matte-medium": "matte medium", "caulk": "clear caulk"}
PRIMER_M2_L = CLEAR_M2_L = 10.0
LITRES, METRES = "L", "m"


@dataclass(frozen=True)
class Need:
    """So much of an item, in litres or metres, `loss` in percent of it on top; `steps` say how it comes about."""

    item: str
    kind: str
    unit: str
    net: float
    loss_percent: float
    steps: tuple[str, ...]
    color: str = ""
    product: str = ""

    @property
    def amount(self) -> float:
        return self.net * (1 + self.loss_percent / 100)


def plain(item: str) -> str:
    """An item's name as a key of the job file, where dots part keys."""
    return item.replace(".", "·")


def needs_of(plan: Plan, choices: Mapping[str, tuple[RoundChoice, ...]]) -> list[Need]:
    """Paint by colour and product, primer, clear coats, glaze, seals, tape by roll: each once for the whole job."""
    gathered: dict[tuple[str, str], Need] = {}
    for piece in plan.pieces:
        for need in _of_piece(plan.job, piece, choices.get(piece.piece.key, ())):
            key = (need.kind, need.item)
            known = gathered.get(key)
            if known is None:
                gathered[key] = need
            else:
                net = known.net + need.net
                loss = (known.amount + need.amount - net) / net * 100 if net else known.loss_percent
                gathered[key] = Need(
                    need.item, need.kind, need.unit, net, loss, (*known.steps, *need.steps), need.color, need.product
                )
    order = {kind: turn for turn, kind in enumerate(("primer", "paint", "glaze", "seal", "clear", "tape"))}
    return sorted((need for need in gathered.values() if need.net > 0), key=lambda need: (order[need.kind], need.item))


def _of_piece(job: Job, piece: PiecePlan, choices: tuple[RoundChoice, ...]) -> Iterator[Need]:
    own = piece.piece
    method = own.method
    loss = TOOL_LOSS_PERCENT[method.tool]
    whole_m2 = piece.base_m2 * own.copies
    copies = f" for {own.copies} copies" if own.copies > 1 else ""
    if "prime" in method.prep:
        yield Need(
            "primer",
            "primer",
            LITRES,
            whole_m2 / PRIMER_M2_L,
            loss,
            (f"{own.name}: {area(whole_m2, job.units)} × 1 coat ÷ {spread(PRIMER_M2_L, job.units)}{copies}",),
        )
    for paint in piece.paints:
        yield from _paint(job, piece, paint, loss, copies)
    if method.clear_coats:
        yield Need(
            "clear coat", "clear", LITRES, whole_m2 * method.clear_coats / CLEAR_M2_L, loss,
            (f"{own.name}: {area(whole_m2, job.units)} × {method.clear_coats} coats ÷ {spread(CLEAR_M2_L, job.units)}{copies}",),
        )  # fmt: skip
    yield from _seals(job, piece, choices)
    for layer in piece.layers:
        yield from _tapes(job, layer, copies)


def _paint(job: Job, piece: PiecePlan, need: PaintNeed, loss: float, copies: str) -> Iterator[Need]:
    """A colour of a piece; a glaze is split into glaze and paint."""
    if need.litres <= 0:
        return
    colour = job.palette[need.color].name
    product, units = need.product or "usual paint", job.units
    step = f"{piece.piece.name}: {area(need.area_m2, units)} × {need.coats} coat{'s' if need.coats != 1 else ''} ÷ {spread(need.spread_m2_l, units)} = {volume(need.litres, units)}{copies}"
    found = job.products.get(need.product)
    paint = found if isinstance(found, Paint) else None
    parts = float(paint.glaze_parts) if paint and paint.glaze_parts is not None else 0.0
    litres = need.litres / (parts + 1)
    if parts:
        yield Need(
            "glaze",
            "glaze",
            LITRES,
            need.litres * parts / (parts + 1),
            loss,
            (f"{step}, of which {parts:g} parts in {parts + 1:g} are glaze",),
        )
        step += f", of which 1 part in {parts + 1:g} is paint"
    yield Need(plain(f"{colour}, {product}"), "paint", LITRES, litres, loss, (step,), need.color, need.product)


def _seals(job: Job, piece: PiecePlan, choices: tuple[RoundChoice, ...]) -> Iterator[Need]:
    """What seals the tape's edges, round by round."""
    own = piece.piece
    for choice in choices:
        rate = SEAL_ML_M.get(choice.seal.method)
        if rate is None or choice.number > len(piece.taping.chosen.rounds):
            continue
        metres = sum(float(s.lengths.sum()) for s in piece.taping.chosen.rounds[choice.number - 1].strips) / 1000 * own.copies
        litres = metres * choice.seal.coats * rate / 1000
        step = f"{own.name}, round {choice.number}: {run(metres, job.units)} × {choice.seal.coats} × {_per_length(rate, job.units)}"
        if choice.seal.method == "base" and choice.grounds:
            yield from _ground_seals(job, piece, choice, rate, step)
        elif choice.seal.method == "base":
            base = next((need for need in piece.paints if need.is_base), None)
            product = base.product if base and base.product else "usual paint"
            yield Need(
                plain(f"{job.palette[own.base].name}, {product}"),
                "paint",
                LITRES,
                litres,
                0,
                (f"{step}, to seal edges",),
                own.base,
                base.product if base else "",
            )
        else:
            yield Need(SEAL_ITEMS[choice.seal.method], "seal", LITRES, litres, 0, (step,))


def _ground_seals(job: Job, piece: PiecePlan, choice: RoundChoice, rate: float, step: str) -> Iterator[Need]:
    """The seal of a layer above others, in the colours that its tape lies on."""
    paints = piece.piece_in(choice.layer).method.paint
    for color, metres in choice.grounds:
        product = paints[color].key if color in paints else ""
        litres = metres * piece.piece.copies * choice.seal.coats * rate / 1000
        name = plain(f"{job.palette[color].name}, {product or 'usual paint'}")
        yield Need(name, "paint", LITRES, litres, 0, (f"{step}, to seal edges on it",), color, product)


def _per_length(ml_m: float, unit: str) -> str:
    return f"{ml_m * 30.48 / 29.5735:.1f} fl oz/100 ft" if unit == "in" else f"{ml_m:g} mL/m"


def _tapes(job: Job, piece: PiecePlan, copies: str) -> Iterator[Need]:
    """Tape of the chosen width, reserve tape of the lines' own, and spacers that are lifted again."""
    own = piece.piece
    chosen, tape = piece.taping.chosen, own.method.tape
    lines = chosen.lines_m * own.copies
    edges = sum(need.net_m for need in piece.tapes) - lines
    waste = float(own.method.tape_waste_percent)
    if edges > 0:
        yield Need(
            tape.key,
            "tape",
            METRES,
            edges,
            waste,
            (f"{own.name}: {run(edges, job.units)} on the surface{copies}",),
            product=tape.key,
        )
    if lines > 0:
        widths = {layout.tape_lines.width_mm for layout in piece.layouts if len(layout.tape_lines)}
        width = max(widths, default=float(tape.width_mm))
        same = abs(width - float(tape.width_mm)) < 0.05
        item = tape.key if same else plain(f"reserve tape, {width:.3g} mm")
        yield Need(
            item,
            "tape",
            METRES,
            lines,
            waste,
            (f"{own.name}: {run(lines, job.units)} of lines left in the base colour{copies}",),
            product=tape.key if same else "",
        )
    lifted = spacers_m(piece)
    if lifted > 0:
        step = f"{own.name}: {run(lifted, job.units)} of spacer strips, lifted again{copies}; none of it where one piece is moved on from strip to strip"
        yield Need(tape.key, "tape", METRES, lifted, waste, (step,), product=tape.key)
