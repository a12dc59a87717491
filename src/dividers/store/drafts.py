"""What was typed at a station and is not valid yet."""

import sqlite3


def put_draft(connection: sqlite3.Connection, job_id: int, piece: str, station: str, typed: str) -> None:
    """Keep the typed fields (JSON text) in place of what was kept before."""
    connection.execute(
        """insert into drafts (job_id, piece, station, typed) values (:job, :piece, :station, :typed)
           on conflict (job_id, piece, station) do update set typed = :typed""",
        {"job": job_id, "piece": piece, "station": station, "typed": typed},
    )


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
