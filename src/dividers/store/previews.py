"""Photos of places with the corners of a panel on them."""

import sqlite3
from dataclasses import dataclass


@dataclass(frozen=True)
class Preview:
    photo_id: int
    corners: str


def put_preview(connection: sqlite3.Connection, job_id: int, piece: str, photo_id: int, corners: str) -> None:
    connection.execute(
        """
        insert into previews (job_id, piece, photo_id, corners) values (:job, :piece, :photo, :corners)
        on conflict (job_id, piece) do update set photo_id = :photo, corners = :corners
        """,
        {"job": job_id, "piece": piece, "photo": photo_id, "corners": corners},
    )


def find_preview(connection: sqlite3.Connection, job_id: int, piece: str) -> Preview | None:
    row = connection.execute(
        "select photo_id, corners from previews where job_id = :job and piece = :piece", {"job": job_id, "piece": piece}
    ).fetchone()
    return Preview(**row) if row else None
