"""Looks that are kept, by name; `body` is JSON text."""

import sqlite3


def insert_recipe(connection: sqlite3.Connection, name: str, body: str, now: str) -> int:
    found = connection.execute("insert into recipes (name, body, made_at) values (?, ?, ?)", (name, body, now))
    return int(found.lastrowid or 0)


def list_recipes(connection: sqlite3.Connection) -> list[tuple[int, str, str]]:
    """Those that are not retired, the newest first: (id, name, body)."""
    rows = connection.execute("select id, name, body from recipes where retired_at is null order by id desc")
    return [(row["id"], row["name"], row["body"]) for row in rows]


def retire_recipe(connection: sqlite3.Connection, recipe_id: int, now: str | None) -> None:
    """Take a look out of sight, or with None put it back."""
    connection.execute("update recipes set retired_at = ? where id = ?", (now, recipe_id))
