"""Photos by their files; the pictures themselves lie in a folder beside the database."""

import sqlite3
from dataclasses import dataclass


@dataclass(frozen=True)
class Photo:
    id: int
    job_id: int | None
    file: str
    width: int
    height: int
    caption: str
    added_at: str
    edge: str | None = None  # what was measured of an edge on it, as JSON


def insert_photo(
    connection: sqlite3.Connection, job_id: int | None, file: str, size: tuple[int, int], caption: str, now: str
) -> int:
    found = connection.execute(
        "insert into photos (job_id, file, width, height, caption, added_at) values (:job, :file, :width, :height, :caption, :now)",
        {"job": job_id, "file": file, "width": size[0], "height": size[1], "caption": caption, "now": now},
    )
    return int(found.lastrowid or 0)


def find_photo(connection: sqlite3.Connection, photo_id: int) -> Photo | None:
    row = connection.execute(
        "select id, job_id, file, width, height, caption, added_at, edge from photos where id = :id and removed_at is null",
        {"id": photo_id},
    ).fetchone()
    return Photo(**row) if row else None


def list_photos(connection: sqlite3.Connection, job_id: int) -> list[Photo]:
    rows = connection.execute(
        """
        select id, job_id, file, width, height, caption, added_at, edge from photos
        where job_id = :job and removed_at is null order by id
        """,
        {"job": job_id},
    )
    return [Photo(**row) for row in rows]


def files_of(connection: sqlite3.Connection, job_id: int) -> list[str]:
    """The files of all photos of a job, also of those taken out of sight."""
    return [str(row["file"]) for row in connection.execute("select file from photos where job_id = :job", {"job": job_id})]


def remove_photo(connection: sqlite3.Connection, job_id: int, photo_id: int, now: str | None) -> None:
    """Take a photo out of sight, or with None put it back."""
    connection.execute(
        "update photos set removed_at = :now where id = :id and job_id = :job", {"id": photo_id, "job": job_id, "now": now}
    )


def put_edge(connection: sqlite3.Connection, photo_id: int, edge: str) -> None:
    """Keep what was measured of the edge on a photo."""
    connection.execute("update photos set edge = :edge where id = :id", {"edge": edge, "id": photo_id})
