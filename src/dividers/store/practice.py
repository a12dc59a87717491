"""Answers given in practice."""

import sqlite3


def insert_answer(connection: sqlite3.Connection, kind: str, seed: int, answer: str, right: bool, now: str) -> None:
    connection.execute(
        "insert into practice_answers (kind, seed, answer, right, answered_at) values (:kind, :seed, :answer, :right, :now)",
        {"kind": kind, "seed": seed, "answer": answer, "right": int(right), "now": now},
    )


def tally(connection: sqlite3.Connection) -> dict[str, tuple[int, int]]:
    """For each kind of exercise how many answers were right, of how many."""
    rows = connection.execute("select kind, sum(right) as good, count(*) as many from practice_answers group by kind")
    return {str(row["kind"]): (int(row["good"]), int(row["many"])) for row in rows}
