"""Half a strip sealed otherwise than the rest, to see which seal gives the cleaner edge on this surface."""

from collections.abc import Sequence
from dataclasses import replace

from dividers.core.job.crew import Climate
from dividers.core.job.model import Piece
from dividers.core.order.round_choices import RoundChoice, Trial, seal_upon
from dividers.core.order.round_tasks import strips_by_area
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.risk.windows import seal_of

ASKED = "none"  # what `trial_seal` says where nothing is tried
UNSEALED = {"unsealed": "none"}  # what a half that is left as it is counts as


def trial_left_out(piece: Piece, choices: Sequence[RoundChoice]) -> list[str]:
    """What to say where a piece asks for a trial that no round can have."""
    asked = next((m.trial_seal for m in (layer.method for layer in piece.stack) if m.trial_seal != ASKED), ASKED)
    if asked == ASKED or not choices or any(choice.trial for choice in choices):
        return []
    caulked = any(choice.seal.skin_min is not None for choice in choices)
    if asked == "caulk" and not caulked:
        why = "caulk sets its own time for the pull, so it can't be tried on half a strip. Try it on a board first"
    elif caulked and asked != "caulk":
        why = (
            "caulk sets its own time for the pull, so nothing is tried beside it. Choose another seal at Schedule, or no trial"
        )
    else:
        why = "the rounds are sealed that way as it is. Choose another seal at Schedule, or no trial"
    return [f"{piece.name}: no trial of another seal ({asked.replace('-', ' ')}): {why}."]


def with_trial(plan: PiecePlan, choices: Sequence[RoundChoice], air: Climate) -> tuple[RoundChoice, ...]:
    """The choices of a piece with the trial that its method asks for, in the first round that is sealed in another way.

    The strip is the longest one taped at first. Caulk sets its own time for the pull, so nothing is tried beside it.
    """
    for number, choice in enumerate(choices):
        method = plan.piece_in(choice.layer).method
        tried = UNSEALED.get(method.trial_seal, method.trial_seal)
        if method.trial_seal in (ASKED, "caulk") or tried == choice.seal.method or choice.seal.skin_min is not None:
            continue
        own = strips_by_area(plan, choice)[0]
        if not own:
            continue
        strips = plan.taping.chosen.rounds[choice.number - 1].strips
        sheet, strip = max(own, key=lambda place: (round(float(strips[place[0]].lengths[place[1]]), 3), -place[0], -place[1]))
        upon = method.paint.get(choice.grounds[0][0] if choice.grounds else plan.piece.base)
        seal = seal_upon(seal_of(method, tried, upon, air), choice.grounds, plan.job.palette)
        trial = Trial(plan.strips_before(choice.number, sheet) + strip + 1, seal, float(strips[sheet].lengths[strip]) / 1000)
        return (*choices[:number], replace(choice, trial=trial), *choices[number + 1 :])
    return tuple(choices)
