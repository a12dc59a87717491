"""What the page asks before it takes an entry: once, all together, with one press to answer it. `static/wall-ask.js` asks the same."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from dividers.core.wall.facts import OPEN, Event
from dividers.core.wall.questions import how_long_asked, same_press
from dividers.services.wall.progress import Progress
from dividers.web.wall.run_state import early_said
from dividers.web.wall.steps_shown import shown_of
from dividers.web.wall.wall_board import StepBoard

SHOWN_ITEMS = 12
SECOND_PRESS_S = 1


@dataclass(frozen=True)
class Questions:
    """Everything that is asked about one entry.

    `said` in sentences; `noted` is what is recorded where one goes on in spite of it; `unticked` are the items that nobody ticked, of `board`;
    `how_long` where minutes are asked for; `early` where something is waited for.
    """

    board: StepBoard | None = None
    kind: str = ""
    said: tuple[str, ...] = ()
    noted: str = ""
    unticked: tuple[str, ...] = ()
    how_long: bool = False
    early: bool = False
    typed: Mapping[str, str] | None = None

    @property
    def tick_words(self) -> str:
        return "They are made: tick them" if self.board and self.board.kind == "mark" else "They are on: tick them"

    @property
    def go_words(self) -> str:
        """What the button says that goes on without ticking."""
        if self.unticked:
            return "Done anyway" if self.board and self.board.kind == "mark" else "Paint anyway"
        return "Go on now" if self.early or not self.how_long else "It is done"

    @property
    def stay_words(self) -> str:
        return "Wait" if self.early else "Not yet"


def questions_of(progress: Progress, kind: str, task: str, at: datetime, with_minutes: bool) -> Questions:
    """What is asked about an entry of a kind for a task at a moment; `with_minutes` where it says already how long it took."""
    board = shown_of(progress).boards.get(task)
    if board is None or kind not in ("start", "done"):
        return Questions(board, kind)
    fact = progress.facts.of(task)
    begins = fact.state == OPEN
    unticked = unticked_of(progress, board) if (kind == "done" if board.kind == "mark" else begins) else ()
    early = early_said(progress, task, at, board.cover if unticked else "") if begins else None
    how_long = "" if kind != "done" or with_minutes else how_long_asked(progress.task(task), fact, at)
    said = (unticked_said(board, unticked), early[0] if early else "", how_long)
    return Questions(
        board, kind, tuple(filter(None, said)), early[1] if early else "", unticked, bool(how_long), early is not None
    )


def unticked_of(progress: Progress, board: StepBoard) -> tuple[str, ...]:
    """The strips that a first coat needs, or the marks of a step, that nobody has ticked off."""
    ticked = {item for task, item in progress.facts.ticks if task == board.cover}
    return tuple(item for item in board.needs.split() if item not in ticked)


def unticked_said(board: StepBoard, unticked: tuple[str, ...]) -> str:
    """What is said of strips or marks that nobody ticked, by their numbers."""
    if not unticked:
        return ""
    one = "mark" if board.kind == "mark" else "strip"
    numbers = ", ".join(item[1:] for item in unticked[:SHOWN_ITEMS]) + (" …" if len(unticked) > SHOWN_ITEMS else "")
    which = f"{len(unticked)} {one}{'s' if len(unticked) > 1 else ''} of this {'step' if one == 'mark' else 'round'} not ticked: {numbers}."
    return f"{which} {'Are they all made?' if one == 'mark' else 'Check what is painted and what stays: are all strips on?'}"


def same_press_said(progress: Progress, event: Event) -> str:
    """What is said of an entry that came so soon after another one that both were likely one press; "" where it stands by itself."""
    last = same_press(reversed(progress.events), event)
    if last is None or last.task not in progress.by_key or event.task not in progress.by_key:
        return ""
    return (
        f"“{progress.task(event.task).words}” was pressed within a second of “{progress.task(last.task).words}”, which is recorded. "
        "Was it meant?"
    )


def second_press_said(progress: Progress, kind: str, task: str, item: str, by: str) -> str:
    """What is said of one more tick, of one taken back, or of one more undo, within a second of the press before, which it may be the second of:
    what comes next stands where the last one stood."""
    latest = progress.events[-1] if progress.events else None
    if latest is None or latest.body.get("by", "") != by or (progress.now - latest.at).total_seconds() >= SECOND_PRESS_S:
        return ""
    if kind == latest.kind == "undo":
        return "That was pressed twice within a second, so one entry is undone. Press again for the one before."
    if kind == "untick" and (latest.kind, latest.task, latest.body.get("item")) == ("tick", task, item):
        return "That was pressed twice within a second, so it stays ticked. Press again to take the tick back."
    if item and kind == "tick" and latest.kind in ("done", "skip"):
        return "That was pressed within a second of the step before, so it isn't ticked. Press again to tick it."
    if item and kind == latest.kind == "tick":
        return "That was pressed within a second of the tick before, so it isn't ticked. Press again to tick this one too."
    return ""
