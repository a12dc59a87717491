"""A year of jobs in figures: hours planned and worked, metres of tape, clean edges by tape and ground."""

import sqlite3
from collections import Counter
from dataclasses import dataclass

from dividers.services import clock
from dividers.services.jobs import evidence, job_list
from dividers.services.logbook.record import Record, record_of
from dividers.services.stations.shopping import tape_metres
from dividers.store import logbook
from dividers.store.wall_runs import list_runs


@dataclass(frozen=True)
class JobYear:
    """One job of a year: its days from first to last, minutes worked and planned, and metres of tape in its plan."""

    job_id: int
    title: str
    begun: str
    ended: str
    worked_min: float
    planned_min: int
    tape_m: float


@dataclass(frozen=True)
class EdgeRow:
    """The edges of a tape on a ground: strips found clean, slight and bled."""

    tape: str
    ground: str
    clean: int
    slight: int
    bled: int

    @property
    def strips(self) -> int:
        return self.clean + self.slight + self.bled


@dataclass(frozen=True)
class Year:
    year: int
    jobs: tuple[JobYear, ...]
    edges: tuple[EdgeRow, ...]
    strips_in_month: tuple[int, ...]

    @property
    def worked_min(self) -> float:
        return sum(job.worked_min for job in self.jobs)

    @property
    def planned_min(self) -> int:
        return sum(job.planned_min for job in self.jobs)

    @property
    def tape_m(self) -> float:
        return sum(job.tape_m for job in self.jobs)


def years_of(connection: sqlite3.Connection) -> list[int]:
    """The years in which something was begun at the wall or found, the last one first; at least this one."""
    found = {clock.on_site(clock.moment()).year}
    found |= {
        clock.date_of(run.begun_at).year for row in job_list.list_jobs(connection) for run in list_runs(connection, row.id)
    }
    found |= {clock.date_of(each.found_at).year for each in logbook.list_findings(connection)}
    return sorted(found, reverse=True)


def year_of(connection: sqlite3.Connection, year: int) -> Year:
    """The figures of a year. A job counts in the year in which it was begun, a finding in that in which it was written down."""
    jobs = []
    for row in job_list.list_jobs(connection):
        runs = [run for run in list_runs(connection, row.id) if clock.date_of(run.begun_at).year == year]
        if runs:
            jobs.append(_job(record_of(connection, row.id), runs[0].document))
    findings = [each for each in logbook.list_findings(connection) if clock.date_of(each.found_at).year == year]
    unread = evidence.unread(connection)
    counted = _once([each for each in findings if each not in unread and each.edge])
    months = Counter(clock.date_of(each.found_at).month for each in counted for _ in range(each.strips))
    return Year(
        year, tuple(sorted(jobs, key=lambda job: job.begun)), _edges(counted), tuple(months[month] for month in range(1, 13))
    )


def _job(record: Record, document: str) -> JobYear:
    return JobYear(
        record.job_id,
        record.title,
        record.begun_at,
        record.ended_at,
        record.worked_min,
        record.planned_min,
        tape_metres(document),
    )


def _once(findings: list[logbook.Finding]) -> list[logbook.Finding]:
    """Without strips looked at by themselves where their whole round is counted."""
    whole = {(f.job_id, f.piece, f.round, f.seal) for f in findings if not f.strip}
    return [f for f in findings if not f.strip or (f.job_id, f.piece, f.round, f.seal) not in whole]


def _edges(findings: list[logbook.Finding]) -> tuple[EdgeRow, ...]:
    """By tape and ground, the most strips first."""
    counts: dict[tuple[str, str], list[int]] = {}
    for each in findings:
        own = counts.setdefault((each.tape or "tape", each.texture), [0, 0, 0])
        for at, many in enumerate((each.clean, each.slight, each.bleed)):
            own[at] += many
    rows = [EdgeRow(tape, ground, *own) for (tape, ground), own in counts.items()]
    return tuple(sorted(rows, key=lambda row: (-row.strips, row.tape, row.ground)))
