"""What a pattern does where walls close in a ring, in words."""

from collections.abc import Callable, Sequence
from fractions import Fraction

from dividers.core.job.model import Piece
from dividers.core.patterns import BY_KEY
from dividers.core.patterns.base.origin import run_along
from dividers.core.patterns.base.ring import RingMeeting, meeting_of
from dividers.core.survey.sheet import Sheet


def ring_said(piece: Piece, sheets: Sequence[Sheet], say: Callable[[Fraction], str]) -> list[tuple[str, str]]:
    """Whether a pattern comes out round a room, or what the last corner is left with: codes and sentences. `say` writes a length."""
    found = []
    for sheet in sheets:
        run = run_along("across", sheet.area, BY_KEY[piece.pattern.kind], piece.pattern.values)
        meeting = meeting_of(piece, sheet, run) if run else None
        if run and meeting:
            found.append(_meets(meeting, say) if meeting.meets else _rest(meeting, run.size_mm, say))
    return found


def _meets(meeting: RingMeeting, say: Callable[[Fraction], str]) -> tuple[str, str]:
    return "ring", f"The walls close in a ring, {say(meeting.ring.round_mm)} round: {meeting.whole} repeats come out."


def _rest(meeting: RingMeeting, size: Fraction, say: Callable[[Fraction], str]) -> tuple[str, str]:
    ring = meeting.ring
    corner = f"the corner of {ring.last} and {ring.first}"
    if meeting.rest_mm:
        what = f"At {corner} {say(meeting.rest_mm)} of a repeat is left over."
    else:
        what = f"At {corner} a colour meets itself: they take turns by {meeting.cycle}."
    turns = f" (a whole number of {meeting.cycle}s)" if meeting.cycle > 1 else ""
    cure = f"With {meeting.count} repeats{turns} of {say(meeting.size_mm)} it comes out."
    return "ring-open", f"The walls close in a ring, {say(ring.round_mm)} round, with repeats of {say(size)}. {what} {cure}"
