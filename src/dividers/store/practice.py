"""Answers given in practice."""

import sqlite3


def insert_answer(connection: sqlite3.Connection, kind: str, seed: int, answer: str, right: bool, now: str) -> None:
    """Keep the first answer to an exercise: a second one, of a page loaded again, has seen what is right."""
    connection.execute(
        "insert into practice_answers (kind, seed, answer, right, answered_at) select :kind, :seed, :answer, :right, :now"
        " where not exists (select 1 from practice_answers where kind = :kind and seed = :seed)",
        {"kind": kind, "seed": seed, "answer": answer, "right": int(right), "now": now},
    )


def tally(connection: sqlite3.Connection) -> dict[str, tuple[int, int]]:
    """For each kind of exercise how many answers were right, of how many."""
    rows = connection.execute("select kind, sum(right) as good, count(*) as many from practice_answers group by kind")
    return {str(row["kind"]): (int(row["good"]), int(row["many"])) for row in rows}
