"""Supplies: what the workshop keeps, for any job."""

import sqlite3
from dataclasses import dataclass


@dataclass(frozen=True)
class Item:
    """A paint, tape, seal or colour; `body` is JSON text as in a job file. A `starter` one came with the program."""

    id: int
    kind: str
    name: str
    body: str
    starter: bool
    retired_at: str | None


def _item(row: sqlite3.Row) -> Item:
    return Item(row["id"], row["kind"], row["name"], row["body"], bool(row["starter"]), row["retired_at"])


def list_items(connection: sqlite3.Connection) -> list[Item]:
    """Everything, by kind and name; what is retired comes last."""
    rows = connection.execute(
        "select id, kind, name, body, starter, retired_at from cupboard order by retired_at is not null, kind, name collate nocase"
    )
    return [_item(row) for row in rows]


def find_item(connection: sqlite3.Connection, item_id: int) -> Item | None:
    row = connection.execute(
        "select id, kind, name, body, starter, retired_at from cupboard where id = :id", {"id": item_id}
    ).fetchone()
    return _item(row) if row else None


def find_named(connection: sqlite3.Connection, kind: str, name: str) -> Item | None:
    row = connection.execute(
        "select id, kind, name, body, starter, retired_at from cupboard where kind = :kind and name = :name",
        {"kind": kind, "name": name},
    ).fetchone()
    return _item(row) if row else None


def insert_item(connection: sqlite3.Connection, kind: str, name: str, body: str, starter: bool, at: str) -> int:
    row = connection.execute(
        """insert into cupboard (kind, name, body, starter, changed_at) values (:kind, :name, :body, :starter, :at) returning id""",
        {"kind": kind, "name": name, "body": body, "starter": int(starter), "at": at},
    ).fetchone()
    return int(row["id"])


def update_item(connection: sqlite3.Connection, item_id: int, name: str, body: str, at: str) -> None:
    connection.execute(
        "update cupboard set name = :name, body = :body, changed_at = :at where id = :id",
        {"id": item_id, "name": name, "body": body, "at": at},
    )


def set_retired(connection: sqlite3.Connection, item_id: int, at: str | None) -> None:
    connection.execute("update cupboard set retired_at = :at where id = :id", {"id": item_id, "at": at})


def was_filled(connection: sqlite3.Connection) -> bool:
    """Whether the starter set was added before, even if it was retired since."""
    return connection.execute("select 1 from cupboard_filled").fetchone() is not None


def note_filled(connection: sqlite3.Connection, at: str) -> None:
    connection.execute("insert into cupboard_filled (at) values (:at)", {"at": at})
