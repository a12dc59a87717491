"""Marks that were ticked off."""

import sqlite3


def list_ticks(connection: sqlite3.Connection, job_id: int, piece: str) -> set[str]:
    """The marks of a piece that are ticked."""
    rows = connection.execute(
        "select mark from mark_ticks where job_id = :job and piece = :piece", {"job": job_id, "piece": piece}
    )
    return {row["mark"] for row in rows}


def put_tick(connection: sqlite3.Connection, job_id: int, piece: str, mark: str, now: str) -> None:
    connection.execute(
        """insert into mark_ticks (job_id, piece, mark, ticked_at) values (:job, :piece, :mark, :now)
           on conflict (job_id, piece, mark) do nothing""",
        {"job": job_id, "piece": piece, "mark": mark, "now": now},
    )


def drop_tick(connection: sqlite3.Connection, job_id: int, piece: str, mark: str) -> None:
    connection.execute(
        "delete from mark_ticks where job_id = :job and piece = :piece and mark = :mark",
        {"job": job_id, "piece": piece, "mark": mark},
    )


def drop_ticks(connection: sqlite3.Connection, job_id: int, piece: str) -> None:
    connection.execute("delete from mark_ticks where job_id = :job and piece = :piece", {"job": job_id, "piece": piece})
