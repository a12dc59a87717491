"""The record of a job: what was done when against what was planned, what was found, used and paid; for the client and the next repaint."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import datetime
from decimal import Decimal

from dividers.core.base.dates import minutes_between
from dividers.core.base.quantities import spoken
from dividers.core.order.network import Task
from dividers.core.wall.facts import BEGUN, DONE, RUNNING
from dividers.formats.tables.record_csv import write_record
from dividers.services import clock
from dividers.services.jobs import editing
from dividers.services.wall import at_the_wall
from dividers.services.wall.progress import PlanInForce, Progress, progress_of
from dividers.store import logbook, photos, previews, wall_runs

TIMED = (RUNNING, BEGUN, DONE)  # what was skipped has no minutes


@dataclass(frozen=True)
class RecordLine:
    """One step as planned at first and as done. Moments on the site's clock; minutes of hands-on work.

    `worked_min` is None where it wasn't done, or where nobody said how long it took (`guessed`).
    """

    run: int
    piece: str
    what: str
    kind: str
    state: str
    planned_start: datetime | None
    planned_min: int
    started: datetime | None
    ended: datetime | None
    worked_min: float | None
    guessed: bool
    painter: int
    reason: str
    by: str = ""

    @property
    def off_min(self) -> int | None:
        """How many minutes later than planned it began; below 0: sooner."""
        if self.started is None or self.planned_start is None:
            return None
        return round(minutes_between(self.planned_start, self.started))

    @property
    def off_said(self) -> str:
        """The same in words; "" where nobody said when it began."""
        if self.off_min is None or self.guessed:
            return ""
        return f"{spoken(abs(self.off_min))} {'late' if self.off_min > 0 else 'early'}" if self.off_min else "on time"

    @property
    def took_said(self) -> str:
        """How long it took of what was planned, in words."""
        if self.guessed:
            return "not said"
        return f"{self.worked_min:.0f} of {self.planned_min} min" if self.worked_min is not None else ""


@dataclass(frozen=True)
class Record:
    """Everything there is of a job."""

    job_id: int
    title: str
    made_at: str
    begun_at: str
    ended_at: str
    lines: tuple[RecordLine, ...]
    plans: tuple[PlanInForce, ...]
    airs: tuple[tuple[datetime, float, float], ...]
    touches: tuple[tuple[datetime, str, str], ...]
    findings: tuple[logbook.Finding, ...]
    touch_ups: tuple[logbook.TouchUp, ...]
    sign_offs: tuple[logbook.SignOff, ...]
    used: tuple[logbook.Used, ...]
    photos: tuple[photos.Photo, ...]

    @property
    def worked_min(self) -> float:
        return sum(line.worked_min or 0.0 for line in self.lines)

    @property
    def planned_min(self) -> int:
        return sum(line.planned_min for line in self.lines)

    @property
    def costs(self) -> dict[str, Decimal]:
        """What was paid, by currency."""
        found: dict[str, Decimal] = {}
        for used in self.used:
            if used.price:
                found[used.currency] = found.get(used.currency, Decimal(0)) + Decimal(used.price)
        return found


def record_of(connection: sqlite3.Connection, job_id: int) -> Record:
    """The record of a job with all its runs, the first one first."""
    opened = editing.open_job(connection, job_id)
    held = wall_runs.list_runs(connection, job_id)[::-1]
    progress = [progress_of(connection, run) for run in held]
    made = [at_the_wall.plans(connection, run) for run in held]
    lines = [line for run, here, plans in zip(held, progress, made, strict=True) for line in _lines(run, here, plans[0])]
    touches = [
        (touch.at, here.by_key[touch.task].piece, touch.result)
        for here in progress
        for touch in here.facts.touches
        if touch.task in here.by_key
    ]
    return Record(
        job_id=job_id,
        title=opened.job.title,
        made_at=clock.now(),
        begun_at=held[0].begun_at if held else "",
        ended_at=(held[-1].ended_at or "") if held else "",
        lines=tuple(lines),
        plans=tuple(plan for plans in made for plan in plans),
        airs=tuple(air for here in progress for air in here.facts.airs),
        touches=tuple(touches),
        findings=tuple(logbook.list_findings(connection, job_id)),
        touch_ups=tuple(logbook.list_touch_ups(connection, job_id)),
        sign_offs=tuple(logbook.list_sign_offs(connection, job_id)),
        used=tuple(logbook.list_used(connection, job_id)),
        photos=tuple(photos.list_photos(connection, job_id)),
    )


def place_photo(connection: sqlite3.Connection, job_id: int, piece: str) -> int | None:
    """The photo of the place before it was painted, if one was taken for a piece."""
    preview = previews.find_preview(connection, job_id, piece)
    return preview.photo_id if preview and photos.find_photo(connection, preview.photo_id) else None


def _lines(run: wall_runs.WallRun, progress: Progress, first: PlanInForce) -> Sequence[RecordLine]:
    return [_line(run, progress, first, task) for task in progress.in_turn]


def _line(run: wall_runs.WallRun, progress: Progress, first: PlanInForce, task: Task) -> RecordLine:
    fact = progress.facts.of(task.key)
    planned = first.starts.get(task.key)
    return RecordLine(
        run.id, task.piece, task.words, task.kind, fact.state, progress.live.moment(planned) if planned is not None else None,
        task.minutes, fact.started, fact.ended, round(fact.worked_min, 1) if fact.state in TIMED and not fact.guessed else None,
        fact.guessed, fact.painter,
        fact.reason, fact.by,
    )  # fmt: skip


def record_json(record: Record) -> str:
    """A record as JSON."""
    document = {
        "format": "dividers-record/1",
        "title": record.title,
        "made_at": record.made_at,
        "begun_at": record.begun_at or None,
        "ended_at": record.ended_at or None,
        "worked_min": round(record.worked_min, 1),
        "planned_min": record.planned_min,
        "costs": {currency: str(sum_) for currency, sum_ in record.costs.items()},
        "steps": [_plain(asdict(line)) | {"off_min": line.off_min} for line in record.lines],
        "plans": [{"number": p.number, "made_at": p.made_at, "said": p.said} for p in record.plans],
        "air": [{"at": at.isoformat(), "temperature": t, "humidity": h} for at, t, h in record.airs],
        "touches": [{"at": at.isoformat(), "piece": piece, "result": result} for at, piece, result in record.touches],
        "findings": [asdict(finding) for finding in record.findings],
        "touch_ups": [asdict(each) for each in record.touch_ups],
        "sign_offs": [asdict(each) for each in record.sign_offs],
        "used": [asdict(each) for each in record.used],
        "photos": [
            {
                "id": p.id,
                "width": p.width,
                "height": p.height,
                "caption": p.caption,
                "edge": json.loads(p.edge) if p.edge else None,
            }
            for p in record.photos
        ],
    }
    return json.dumps(document, ensure_ascii=False, indent=2) + "\n"


def _plain(values: dict[str, object]) -> dict[str, object]:
    return {key: value.isoformat(timespec="seconds") if isinstance(value, datetime) else value for key, value in values.items()}


def record_csv(record: Record) -> str:
    """A record's steps as CSV."""
    return write_record(
        [
            (
                line.piece, line.what, line.state, _moment(line.planned_start), line.planned_min, _moment(line.started),
                _moment(line.ended), line.worked_min, line.off_min, line.painter or "", line.reason,
            )
            for line in record.lines
        ]
    )  # fmt: skip


def _moment(moment: datetime | None) -> str:
    return moment.replace(tzinfo=None).isoformat(timespec="minutes", sep=" ") if moment else ""
