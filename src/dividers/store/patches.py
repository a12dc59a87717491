"""Test patches: grids of tape, seal, paint and wait in a hidden spot, and what came of them."""

import sqlite3
from dataclasses import asdict, dataclass


@dataclass(frozen=True)
class Patch:
    id: int
    title: str
    place: str
    texture: str
    made_at: str
    retired_at: str | None


@dataclass(frozen=True)
class Cell:
    """One field of a grid. Times are UTC, `wait_min` from the last coat to the pull; `edge` and `lift` once it was pulled."""

    number: int
    tape: str
    adhesion: str
    swelling_edge: int
    seal: str
    paint: str
    wait_min: int
    painted_at: str | None = None
    pulled_at: str | None = None
    edge: str | None = None
    lift: str | None = None
    note: str = ""
    sealed_at: str | None = None
    photo_id: int | None = None


def insert_patch(connection: sqlite3.Connection, title: str, place: str, texture: str, cells: list[Cell], now: str) -> int:
    found = connection.execute(
        "insert into patches (title, place, texture, made_at) values (:title, :place, :texture, :now)",
        {"title": title, "place": place, "texture": texture, "now": now},
    )
    patch_id = int(found.lastrowid or 0)
    connection.executemany(
        """
        insert into patch_cells (patch_id, number, tape, adhesion, swelling_edge, seal, paint, wait_min)
        values (:patch, :number, :tape, :adhesion, :swelling_edge, :seal, :paint, :wait_min)
        """,
        [asdict(cell) | {"patch": patch_id} for cell in cells],
    )
    return patch_id


def list_patches(connection: sqlite3.Connection) -> list[Patch]:
    rows = connection.execute("select id, title, place, texture, made_at, retired_at from patches order by id desc")
    return [Patch(**row) for row in rows]


def find_patch(connection: sqlite3.Connection, patch_id: int) -> Patch | None:
    row = connection.execute(
        "select id, title, place, texture, made_at, retired_at from patches where id = :id", {"id": patch_id}
    ).fetchone()
    return Patch(**row) if row else None


def list_cells(connection: sqlite3.Connection, patch_id: int) -> list[Cell]:
    rows = connection.execute(
        """
        select number, tape, adhesion, swelling_edge, seal, paint, wait_min, painted_at, pulled_at, edge, lift, note, sealed_at,
               photo_id
        from patch_cells where patch_id = :id order by number
        """,
        {"id": patch_id},
    )
    return [Cell(**row) for row in rows]


def update_cell(connection: sqlite3.Connection, patch_id: int, cell: Cell) -> None:
    connection.execute(
        """
        update patch_cells set sealed_at = :sealed_at, painted_at = :painted_at, pulled_at = :pulled_at, edge = :edge, lift = :lift, note = :note,
            photo_id = :photo_id
        where patch_id = :patch and number = :number
        """,
        asdict(cell) | {"patch": patch_id},
    )


def set_retired(connection: sqlite3.Connection, patch_id: int, now: str | None) -> None:
    connection.execute("update patches set retired_at = :now where id = :id", {"now": now, "id": patch_id})


def next_due(connection: sqlite3.Connection) -> tuple[str, str, str] | None:
    """The painted field to be pulled next, of a grid that counts: when in UTC, its grid's title, its number in words."""
    row = connection.execute(
        """
        select strftime('%Y-%m-%dT%H:%M:%S+00:00', painted_at, '+' || wait_min || ' minutes') as at, title, number
        from patch_cells join patches on patches.id = patch_cells.patch_id
        where painted_at is not null and pulled_at is null and retired_at is null order by at limit 1
        """
    ).fetchone()
    return (str(row["at"]), str(row["title"]), f"field {row['number']}") if row else None


def list_found(connection: sqlite3.Connection) -> list[tuple[str, Cell]]:
    """Every pulled field of grids that count: the texture it was tried on, and the field."""
    rows = connection.execute(
        """
        select patches.texture as ground, number, tape, adhesion, swelling_edge, seal, paint, wait_min, painted_at, pulled_at, edge,
               lift, note, sealed_at, photo_id
        from patch_cells join patches on patches.id = patch_cells.patch_id
        where edge is not null and retired_at is null order by patch_id, number
        """
    )
    found = []
    for row in rows:
        values = dict(row)
        found.append((str(values.pop("ground")), Cell(**values)))
    return found
