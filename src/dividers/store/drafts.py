"""What was typed at a station and is not valid yet."""

import sqlite3


def put_draft(connection: sqlite3.Connection, job_id: int, piece: str, station: str, typed: str, faults: str) -> None:
    """Keep the typed fields (JSON text) and what is wrong with them, in place of what was kept before."""
    connection.execute(
        """insert into drafts (job_id, piece, station, typed, faults) values (:job, :piece, :station, :typed, :faults)
           on conflict (job_id, piece, station) do update set typed = :typed, faults = :faults""",
        {"job": job_id, "piece": piece, "station": station, "typed": typed, "faults": faults},
    )


def list_drafts(connection: sqlite3.Connection, job_id: int) -> list[tuple[str, str, str]]:
    """The drafts of a job: piece, station, what is wrong."""
    rows = connection.execute(
        "select piece, station, faults from drafts where job_id = :job order by piece, station", {"job": job_id}
    )
    return [(row["piece"], row["station"], row["faults"]) for row in rows]


def find_draft(connection: sqlite3.Connection, job_id: int, piece: str, station: str) -> str | None:
    row = connection.execute(
        "select typed from drafts where job_id = :job and piece = :piece and station = :station",
        {"job": job_id, "piece": piece, "station": station},
    ).fetchone()
    return row["typed"] if row else None


def drop_draft(connection: sqlite3.Connection, job_id: int, piece: str, station: str) -> None:
    connection.execute(
        "delete from drafts where job_id = :job and piece = :piece and station = :station",
        {"job": job_id, "piece": piece, "station": station},
    )
