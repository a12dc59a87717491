"""What was found: rounds and strips, touching up, sign-offs, what was used, tapes measured; and finding it again."""

import sqlite3
from dataclasses import asdict, dataclass, fields


@dataclass(frozen=True)
class Finding:
    """A round, or one strip of it, as found; `clean`, `slight` and `bleed` count strips: none of one strip that its photo is still to judge."""

    job_id: int
    piece: str
    piece_name: str
    round: int
    strip: str
    clean: int
    slight: int
    bleed: int
    lift: str | None
    bridge: str
    x_mm: float | None
    y_mm: float | None
    repair: str
    minutes: float | None
    note: str
    texture: str
    adhesion: str
    swelling_edge: int
    seal: str
    pull: str
    tape: str
    paint: str
    photo_id: int | None
    found_at: str
    id: int = 0
    bridge_looked: int = 0

    @property
    def strips(self) -> int:
        return self.clean + self.slight + self.bleed

    @property
    def edge(self) -> str:
        """How it came out at worst; "" while its photo is still to be measured."""
        return "bleed" if self.bleed else "slight" if self.slight else "clean" if self.clean else ""


@dataclass(frozen=True)
class TouchUp:
    id: int
    piece: str
    piece_name: str
    what: str
    place: str
    x_mm: float | None
    y_mm: float | None
    colour: str
    tool: str
    added_at: str
    done_at: str | None
    minutes: float | None


@dataclass(frozen=True)
class SignOff:
    piece: str
    piece_name: str
    name: str
    words: str
    signed_at: str


@dataclass(frozen=True)
class Used:
    id: int
    item: str
    batch: str
    amount: str
    price: str
    currency: str
    added_at: str


@dataclass(frozen=True)
class MeasuredTape:
    id: int
    tape: str
    strips: int
    length: str
    mm: str
    added_at: str


@dataclass(frozen=True)
class SearchHit:
    """Something found in the logbook of a job."""

    job_id: int
    title: str
    what: str
    words: str
    at: str


COLUMNS = ", ".join(f"findings.{f.name}" for f in fields(Finding))


def insert_finding(connection: sqlite3.Connection, finding: Finding) -> int:
    found = connection.execute(
        """
        insert into findings (job_id, piece, piece_name, round, strip, clean, slight, bleed, lift, bridge, x_mm, y_mm, repair, minutes,
                              note, texture, adhesion, swelling_edge, seal, pull, tape, paint, photo_id, found_at,
                              bridge_looked)
        values (:job_id, :piece, :piece_name, :round, :strip, :clean, :slight, :bleed, :lift, :bridge, :x_mm, :y_mm, :repair, :minutes,
                :note, :texture, :adhesion, :swelling_edge, :seal, :pull, :tape, :paint, :photo_id, :found_at,
                :bridge_looked)
        """,
        asdict(finding),
    )
    return int(found.lastrowid or 0)


def list_findings(connection: sqlite3.Connection, job_id: int | None = None) -> list[Finding]:
    """What was found in a job, or in all jobs that are not deleted, the first one first."""
    rows = connection.execute(
        f"""
        select {COLUMNS} from findings join jobs on jobs.id = findings.job_id
        where findings.removed_at is null and (:job is null or job_id = :job) and (:job is not null or jobs.deleted_at is null)
        order by findings.id
        """,
        {"job": job_id},
    )
    return [Finding(**row) for row in rows]


def judge_strip(connection: sqlite3.Connection, job_id: int, finding_id: int, edge: str) -> None:
    """Count the one strip of a finding as clean, slight or bleed."""
    connection.execute(
        "update findings set clean = :edge = 'clean', slight = :edge = 'slight', bleed = :edge = 'bleed' where job_id = :job and id = :id",
        {"job": job_id, "id": finding_id, "edge": edge},
    )


def remove_finding(connection: sqlite3.Connection, job_id: int, finding_id: int, now: str | None) -> None:
    """Take a finding out, or with None put it back."""
    connection.execute(
        "update findings set removed_at = :now where job_id = :job and id = :id", {"job": job_id, "id": finding_id, "now": now}
    )


def insert_touch_up(connection: sqlite3.Connection, job_id: int, touch_up: TouchUp) -> int:
    found = connection.execute(
        """
        insert into touch_ups (job_id, piece, piece_name, what, place, x_mm, y_mm, colour, tool, added_at)
        values (:job, :piece, :piece_name, :what, :place, :x_mm, :y_mm, :colour, :tool, :added_at)
        """,
        asdict(touch_up) | {"job": job_id},
    )
    return int(found.lastrowid or 0)


def list_touch_ups(connection: sqlite3.Connection, job_id: int) -> list[TouchUp]:
    rows = connection.execute(
        """
        select id, piece, piece_name, what, place, x_mm, y_mm, colour, tool, added_at, done_at, minutes
        from touch_ups where job_id = :job order by id
        """,
        {"job": job_id},
    )
    return [TouchUp(**row) for row in rows]


def settle_touch_up(
    connection: sqlite3.Connection, job_id: int, touch_up_id: int, done_at: str | None, minutes: float | None
) -> None:
    connection.execute(
        "update touch_ups set done_at = :done, minutes = :minutes where job_id = :job and id = :id",
        {"job": job_id, "id": touch_up_id, "done": done_at, "minutes": minutes},
    )


def put_sign_off(connection: sqlite3.Connection, job_id: int, sign_off: SignOff) -> None:
    connection.execute(
        """
        insert into sign_offs (job_id, piece, piece_name, name, words, signed_at)
        values (:job, :piece, :piece_name, :name, :words, :signed_at)
        on conflict (job_id, piece) do update set name = :name, words = :words, signed_at = :signed_at
        """,
        asdict(sign_off) | {"job": job_id},
    )


def drop_sign_off(connection: sqlite3.Connection, job_id: int, piece: str) -> None:
    connection.execute("delete from sign_offs where job_id = :job and piece = :piece", {"job": job_id, "piece": piece})


def list_sign_offs(connection: sqlite3.Connection, job_id: int) -> list[SignOff]:
    rows = connection.execute(
        "select piece, piece_name, name, words, signed_at from sign_offs where job_id = :job", {"job": job_id}
    )
    return [SignOff(**row) for row in rows]


def insert_used(connection: sqlite3.Connection, job_id: int, used: Used) -> None:
    connection.execute(
        """
        insert into used (job_id, item, batch, amount, price, currency, added_at)
        values (:job, :item, :batch, :amount, :price, :currency, :added_at)
        """,
        asdict(used) | {"job": job_id},
    )


def list_used(connection: sqlite3.Connection, job_id: int) -> list[Used]:
    rows = connection.execute(
        "select id, item, batch, amount, price, currency, added_at from used where job_id = :job order by id", {"job": job_id}
    )
    return [Used(**row) for row in rows]


def drop_used(connection: sqlite3.Connection, job_id: int, used_id: int) -> None:
    connection.execute("delete from used where job_id = :job and id = :id", {"job": job_id, "id": used_id})


def insert_measured(connection: sqlite3.Connection, job_id: int, measured: MeasuredTape) -> None:
    connection.execute(
        "insert into measured_tapes (job_id, tape, strips, length, mm, added_at) values (:job, :tape, :strips, :length, :mm, :added_at)",
        asdict(measured) | {"job": job_id},
    )


def list_measured(connection: sqlite3.Connection, job_id: int) -> list[MeasuredTape]:
    rows = connection.execute(
        "select id, tape, strips, length, mm, added_at from measured_tapes where job_id = :job order by id", {"job": job_id}
    )
    return [MeasuredTape(**row) for row in rows]


def settle_proposal(connection: sqlite3.Connection, job_id: int, proposal: str, taken: bool, now: str) -> None:
    connection.execute(
        """
        insert into settled_proposals (job_id, proposal, taken, settled_at) values (:job, :proposal, :taken, :now)
        on conflict (job_id, proposal) do update set taken = :taken, settled_at = :now
        """,
        {"job": job_id, "proposal": proposal, "taken": int(taken), "now": now},
    )


def list_settled(connection: sqlite3.Connection, job_id: int) -> set[str]:
    rows = connection.execute("select proposal from settled_proposals where job_id = :job", {"job": job_id})
    return {str(row["proposal"]) for row in rows}


def search(connection: sqlite3.Connection, like: str, most: int) -> list[SearchHit]:
    """Everything in the logbooks of jobs that holds a text; `like` is a pattern with \\ as its escape."""
    rows = connection.execute(
        r"""
        select jobs.id as job_id, revisions.title, found.what, found.words, found.at
        from (
            select job_id, 'finding' as what, piece_name || ', round ' || round || ': '
                || iif(clean + slight + bleed, clean || ' clean, ' || slight || ' slight, ' || bleed || ' bled; ', 'strip ' || strip || ', not judged yet; ') || texture || ', ' || tape || ', ' || seal || ', ' || paint || ' ' || repair || ' ' || note as words,
                found_at as at from findings where removed_at is null
            union all
            select job_id, 'touch-up', piece_name || ': ' || what || ' ' || place || ' ' || colour || ' ' || tool, added_at from touch_ups
            union all
            select job_id, 'used', item || ' ' || batch || ' ' || amount, added_at from used
            union all
            select job_id, 'sign-off', piece_name || ': ' || name || ' ' || words, signed_at from sign_offs
            union all
            select id, 'job', title, changed_at from (
                select jobs.id, revisions.title, jobs.changed_at from jobs
                join revisions on revisions.job_id = jobs.id and revisions.number = jobs.head)
        ) as found
        join jobs on jobs.id = found.job_id and jobs.deleted_at is null
        join revisions on revisions.job_id = jobs.id and revisions.number = jobs.head
        where found.words like :like escape '\' or revisions.title like :like escape '\'
        order by found.at desc limit :most
        """,
        {"like": like, "most": most},
    )
    return [SearchHit(**row) for row in rows]
