"""What is true of the whole workshop: the zone that its clock is in."""

import sqlite3


def find_zone(connection: sqlite3.Connection) -> str:
    """The site's zone, like Europe/Vienna; "" while nobody has said it."""
    row = connection.execute("select zone from site where id = 1").fetchone()
    return str(row["zone"]) if row else ""


def put_zone(connection: sqlite3.Connection, zone: str, now: str) -> None:
    connection.execute(
        "insert into site (id, zone, set_at) values (1, :zone, :now) on conflict (id) do update set zone = :zone, set_at = :now",
        {"zone": zone, "now": now},
    )
