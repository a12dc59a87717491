"""Runs at the wall: the document they use, the entries, the plans made on the way, what falls due."""

import sqlite3
import zlib
from dataclasses import dataclass


@dataclass(frozen=True)
class WallRun:
    """A job being painted, by the document of a revision; `start` is what its first hours are counted from, on the site's clock."""

    id: int
    job_id: int
    revision: int
    document: str
    start: str
    begun_at: str
    ended_at: str | None


@dataclass(frozen=True)
class EventRow:
    number: int
    uid: str
    kind: str
    task: str
    painter: int
    at: str
    received_at: str
    body: str


@dataclass(frozen=True)
class PlanRow:
    """A plan made on the way: after so many events, with what it changed."""

    number: int
    made_at: str
    events: int
    said: str
    plan: str


@dataclass(frozen=True)
class TimerRow:
    run_id: int
    job_id: int
    kind: str
    task: str
    at: str
    words: str
    why: str


@dataclass(frozen=True)
class StepsRow:
    """The steps that a run was begun with: the version that made them, their tasks and waits, and their pages, both as JSON."""

    made_with: str
    work: str
    pages: str


def find_steps(connection: sqlite3.Connection, run_id: int) -> StepsRow | None:
    row = connection.execute("select made_with, work, pages from run_steps where run_id = ?", (run_id,)).fetchone()
    return StepsRow(row["made_with"], row["work"], zlib.decompress(row["pages"]).decode()) if row else None


def find_kept_work(connection: sqlite3.Connection, run_id: int) -> str | None:
    """The tasks and waits alone: they are read at every look, the pages are not."""
    row = connection.execute("select work from run_steps where run_id = ?", (run_id,)).fetchone()
    return str(row["work"]) if row else None


def put_steps(connection: sqlite3.Connection, run_id: int, steps: StepsRow) -> None:
    connection.execute(
        "insert or replace into run_steps (run_id, made_with, work, pages) values (?, ?, ?, ?)",
        (run_id, steps.made_with, steps.work, zlib.compress(steps.pages.encode())),
    )


def drop_steps(connection: sqlite3.Connection, run_id: int) -> None:
    connection.execute("delete from run_steps where run_id = ?", (run_id,))


def documents_without(connection: sqlite3.Connection, key: str) -> list[tuple[int, str]]:
    """The id and the job document of every run whose document doesn't have a key."""
    query = "select id, document from runs where json_valid(document) and json_type(document, '$.' || ?) is null"
    return [(row["id"], row["document"]) for row in connection.execute(query, (key,))]


def keep_document(connection: sqlite3.Connection, run_id: int, document: str) -> None:
    connection.execute("update runs set document = ? where id = ?", (document, run_id))


def insert_run(connection: sqlite3.Connection, job_id: int, revision: int, document: str, start: str, now: str) -> int:
    found = connection.execute(
        "insert into runs (job_id, revision, document, start, begun_at) values (:job, :revision, :document, :start, :now)",
        {"job": job_id, "revision": revision, "document": document, "start": start, "now": now},
    )
    return int(found.lastrowid or 0)


def find_open(connection: sqlite3.Connection, job_id: int) -> WallRun | None:
    """The run of a job that is going on."""
    row = connection.execute("select * from runs where job_id = :job and ended_at is null", {"job": job_id}).fetchone()
    return WallRun(**row) if row else None


def find_run(connection: sqlite3.Connection, run_id: int) -> WallRun | None:
    row = connection.execute("select * from runs where id = :run", {"run": run_id}).fetchone()
    return WallRun(**row) if row else None


def list_runs(connection: sqlite3.Connection, job_id: int) -> list[WallRun]:
    """All runs of a job, the newest first."""
    rows = connection.execute("select * from runs where job_id = :job order by id desc", {"job": job_id})
    return [WallRun(**row) for row in rows]


def end_run(connection: sqlite3.Connection, run_id: int, now: str) -> None:
    connection.execute("update runs set ended_at = :now where id = :run", {"run": run_id, "now": now})
    connection.execute("delete from run_timers where run_id = :run", {"run": run_id})


def rebase_run(connection: sqlite3.Connection, run_id: int, revision: int, document: str) -> None:
    """Let a run go by another revision from now on."""
    connection.execute(
        "update runs set revision = :revision, document = :document where id = :run",
        {"run": run_id, "revision": revision, "document": document},
    )


def insert_event(connection: sqlite3.Connection, run_id: int, event: EventRow) -> bool:
    """Add an event behind the others; False where it is there already. Its number is given here."""
    found = connection.execute(
        """
        insert into run_events (run_id, number, uid, kind, task, painter, at, received_at, body)
        values (:run, (select coalesce(max(number), 0) + 1 from run_events where run_id = :run),
                :uid, :kind, :task, :painter, :at, :received_at, :body)
        on conflict (run_id, uid) do nothing
        """,
        {
            "run": run_id,
            "uid": event.uid,
            "kind": event.kind,
            "task": event.task,
            "painter": event.painter,
            "at": event.at,
            "received_at": event.received_at,
            "body": event.body,
        },
    )
    return found.rowcount > 0


def list_events(connection: sqlite3.Connection, run_id: int) -> list[EventRow]:
    rows = connection.execute(
        "select number, uid, kind, task, painter, at, received_at, body from run_events where run_id = :run order by number",
        {"run": run_id},
    )
    return [EventRow(**row) for row in rows]


def insert_plan(connection: sqlite3.Connection, run_id: int, events: int, said: str, plan: str, now: str) -> None:
    connection.execute(
        """
        insert into run_plans (run_id, number, made_at, events, said, plan)
        values (:run, (select coalesce(max(number), 0) + 1 from run_plans where run_id = :run), :now, :events, :said, :plan)
        """,
        {"run": run_id, "now": now, "events": events, "said": said, "plan": plan},
    )


def list_plans(connection: sqlite3.Connection, run_id: int) -> list[PlanRow]:
    """Every plan of a run, the first one first."""
    rows = connection.execute(
        "select number, made_at, events, said, plan from run_plans where run_id = :run order by number", {"run": run_id}
    )
    return [PlanRow(**row) for row in rows]


def last_plan(connection: sqlite3.Connection, run_id: int) -> PlanRow | None:
    row = connection.execute(
        "select number, made_at, events, said, plan from run_plans where run_id = :run order by number desc limit 1",
        {"run": run_id},
    ).fetchone()
    return PlanRow(**row) if row else None


def first_plan(connection: sqlite3.Connection, run_id: int) -> PlanRow | None:
    row = connection.execute(
        "select number, made_at, events, said, plan from run_plans where run_id = :run order by number limit 1",
        {"run": run_id},
    ).fetchone()
    return PlanRow(**row) if row else None


def put_timers(connection: sqlite3.Connection, run_id: int, timers: list[tuple[str, str, str, str, str]]) -> None:
    """What falls due now: (kind, task, at, words, why); what was there before goes."""
    connection.execute("delete from run_timers where run_id = :run", {"run": run_id})
    connection.executemany(
        "insert into run_timers (run_id, kind, task, at, words, why) values (?, ?, ?, ?, ?, ?)",
        [(run_id, *timer) for timer in timers],
    )


def due(connection: sqlite3.Connection, most: int) -> list[TimerRow]:
    """What falls due in any run, the nearest first; plain next steps behind paint and windows."""
    rows = connection.execute(
        """
        select run_timers.run_id, runs.job_id, kind, task, at, words, why
        from run_timers join runs on runs.id = run_timers.run_id join jobs on jobs.id = runs.job_id
        where jobs.deleted_at is null
        order by kind = 'planned', at limit :most
        """,
        {"most": most},
    )
    return [TimerRow(**row) for row in rows]
