"""What the page shows of a run's steps: as its job is planned, or as it was begun with where a later version plans it otherwise."""

import json
from collections.abc import Iterator, Mapping
from dataclasses import asdict, dataclass
from functools import lru_cache
from typing import Any

from markupsafe import Markup

from dividers.services.wall import kept_steps
from dividers.services.wall.progress import Progress, WallRun
from dividers.web.database import connection
from dividers.web.wall.run_state import run_state
from dividers.web.wall.wall_board import StepBoard, TickRow, boards, document_name, tapes, views


@dataclass(frozen=True)
class StepsShown:
    """Which steps are shown: those of a run's document as it is planned now, or its own `pages` where it keeps others."""

    document: str
    pages: str = ""

    @property
    def boards(self) -> Mapping[str, StepBoard]:
        """Every step by key of its task."""
        return _boards(self.pages) if self.pages else boards(self.document)

    @property
    def views(self) -> Mapping[str, Markup]:
        """The drawings that the steps show, by name."""
        return _drawn(self.pages, "views") if self.pages else views(self.document)

    @property
    def tapes(self) -> Mapping[str, Markup]:
        """The drawn pieces of tape measure, by reading."""
        return _drawn(self.pages, "tapes") if self.pages else tapes(self.document)

    @property
    def name(self) -> str:
        """A short name that changes with what is shown."""
        return document_name(self.document + self.pages)


def shown_of(progress: Progress) -> StepsShown:
    """Which steps a run shows."""
    return StepsShown(progress.run.document, kept_steps.pages_of(connection(), progress.run) if progress.kept else "")


def state_of(progress: Progress) -> dict[str, Any]:
    """How a run is getting on, as the page's script reads it, with the name of what it shows."""
    return run_state(progress) | {"document": shown_of(progress).name}


def keep_steps(run: WallRun, anew: bool = False) -> None:
    """Keep what is shown of a run's steps with it."""
    kept_steps.keep(connection(), run, _written, anew)


def moved(before: Mapping[str, StepBoard], now: Mapping[str, StepBoard]) -> Iterator[tuple[str, str, str]]:
    """Where items of a step have another number now: (task, item, its item now), "" for what is not among them any more."""
    for key, board in before.items():
        present = {_what(row): row.item for row in now[key].rows} if key in now else {}
        for row in board.rows:
            item = present.get(_what(row), "")
            if item != row.item:
                yield key, row.item, item


def _what(row: TickRow) -> tuple[str, str]:
    """What an item is, whatever its number."""
    return row.words, row.detail


def _written(document: str) -> dict[str, Any]:
    return {
        "boards": {key: asdict(board) for key, board in boards(document).items()},
        "views": dict(views(document)),
        "tapes": dict(tapes(document)),
    }


@lru_cache(maxsize=4)
def _read(pages: str) -> dict[str, Any]:
    found: dict[str, Any] = json.loads(pages)
    return found


@lru_cache(maxsize=4)
def _boards(pages: str) -> Mapping[str, StepBoard]:
    found = {}
    for key, each in _read(pages)["boards"].items():
        lists = {name: tuple(each[name]) for name in ("ways", "cautions", "acts")}
        takes = tuple((hex, words) for hex, words in each["takes"])
        rows = tuple(TickRow(**row) for row in each["rows"])
        found[key] = StepBoard(**each | lists | {"takes": takes, "rows": rows})
    return found


def _drawn(pages: str, which: str) -> Mapping[str, Markup]:
    return {name: Markup(drawing) for name, drawing in _read(pages)[which].items()}
