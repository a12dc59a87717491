"""The terms of an offer for a job."""

import sqlite3


def find_quote(connection: sqlite3.Connection, job_id: int) -> tuple[str, str] | None:
    """The terms as JSON, and when they were made."""
    row = connection.execute("select terms, made_at from quotes where job_id = :job", {"job": job_id}).fetchone()
    return (str(row["terms"]), str(row["made_at"])) if row else None


def put_quote(connection: sqlite3.Connection, job_id: int, terms: str, now: str) -> None:
    connection.execute(
        """
        insert into quotes (job_id, terms, made_at) values (:job, :terms, :now)
        on conflict (job_id) do update set terms = :terms, made_at = :now
        """,
        {"job": job_id, "terms": terms, "now": now},
    )
