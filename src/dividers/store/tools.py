"""The tools that a workshop has, asked once."""

import sqlite3
from collections.abc import Mapping


def find_tools(connection: sqlite3.Connection) -> dict[str, bool]:
    """Whether each tool is there, by name; without those that nobody was asked about."""
    rows = connection.execute("select name, there from tools order by name")
    return {row["name"]: bool(row["there"]) for row in rows}


def put_tools(connection: sqlite3.Connection, tools: Mapping[str, bool]) -> None:
    connection.executemany(
        "insert into tools (name, there) values (:name, :there) on conflict (name) do update set there = :there",
        [{"name": name, "there": int(there)} for name, there in tools.items()],
    )
