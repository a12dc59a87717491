"""Devices' readings as they arrived, and the token that lets them in."""

import sqlite3
from dataclasses import dataclass


@dataclass(frozen=True)
class DeviceReading:
    id: int
    device: str
    kind: str
    first: float
    second: float | None
    at: str


def insert_reading(connection: sqlite3.Connection, device: str, kind: str, first: float, second: float | None, at: str) -> None:
    connection.execute(
        "insert into device_readings (device, kind, first, second, at) values (:device, :kind, :first, :second, :at)",
        {"device": device, "kind": kind, "first": first, "second": second, "at": at},
    )


def list_readings(connection: sqlite3.Connection, most: int) -> list[DeviceReading]:
    """The latest readings, the newest first."""
    rows = connection.execute(
        "select id, device, kind, first, second, at from device_readings order by id desc limit :most", {"most": most}
    )
    return [DeviceReading(**row) for row in rows]


def take_readings(connection: sqlite3.Connection, kind: str, since: str, now: str, most: int) -> list[DeviceReading]:
    """Readings of a kind that nobody has taken yet, not older than a moment, the first first; they count as taken from now on."""
    rows = connection.execute(
        """
        select id, device, kind, first, second, at from device_readings
        where kind = :kind and taken_at is null and at >= :since order by id limit :most
        """,
        {"kind": kind, "since": since, "most": most},
    )
    found = [DeviceReading(**row) for row in rows]
    for reading in found:
        connection.execute("update device_readings set taken_at = :now where id = :id", {"now": now, "id": reading.id})
    return found


def last_reading(connection: sqlite3.Connection, kind: str, since: str) -> DeviceReading | None:
    row = connection.execute(
        """
        select id, device, kind, first, second, at from device_readings
        where kind = :kind and at >= :since order by id desc limit 1
        """,
        {"kind": kind, "since": since},
    ).fetchone()
    return DeviceReading(**row) if row else None


def find_token(connection: sqlite3.Connection) -> str | None:
    row = connection.execute("select token from device_token").fetchone()
    return str(row["token"]) if row else None


def put_token(connection: sqlite3.Connection, token: str, now: str) -> None:
    connection.execute(
        "insert into device_token (only, token, made_at) values (1, :token, :now) on conflict (only) do update set token = :token, made_at = :now",
        {"token": token, "now": now},
    )
