"""Who may come in: the passphrase's hash, phones with the hashes of their links, and the tries at both."""

import sqlite3
from dataclasses import dataclass

COLUMNS = "id, job_id, name, made_at, ends_at, revoked_at, seen_at"


@dataclass(frozen=True)
class Phone:
    """A phone that a link lets into one job, until a moment or until it is shut out. Moments are UTC."""

    id: int
    job_id: int
    name: str
    made_at: str
    ends_at: str
    revoked_at: str | None
    seen_at: str | None


@dataclass(frozen=True)
class Try:
    """A try to come in: when, from where, by what, and whether it passed."""

    at: str
    address: str
    what: str
    passed: int


def find_passphrase(connection: sqlite3.Connection) -> tuple[str, str] | None:
    """The hash and the epoch, which changes with every new passphrase."""
    row = connection.execute("select hash, epoch from passphrase where id = 1").fetchone()
    return (row["hash"], row["epoch"]) if row else None


def put_passphrase(connection: sqlite3.Connection, hashed: str, epoch: str, now: str) -> None:
    connection.execute(
        """
        insert into passphrase (id, hash, epoch, set_at) values (1, :hash, :epoch, :now)
        on conflict (id) do update set hash = :hash, epoch = :epoch, set_at = :now
        """,
        {"hash": hashed, "epoch": epoch, "now": now},
    )


def insert_phone(connection: sqlite3.Connection, job_id: int, name: str, token_hash: str, now: str, ends_at: str) -> int:
    found = connection.execute(
        "insert into phones (job_id, name, token_hash, made_at, ends_at) values (:job, :name, :hash, :now, :ends)",
        {"job": job_id, "name": name, "hash": token_hash, "now": now, "ends": ends_at},
    )
    return int(found.lastrowid or 0)


def list_phones(connection: sqlite3.Connection) -> list[Phone]:
    """All phones, those that may still come in first, the newest first."""
    rows = connection.execute(f"select {COLUMNS} from phones order by revoked_at is not null, id desc limit 200")
    return [Phone(**row) for row in rows]


def find_phone(connection: sqlite3.Connection, token_hash: str) -> Phone | None:
    row = connection.execute(f"select {COLUMNS} from phones where token_hash = :hash", {"hash": token_hash}).fetchone()
    return Phone(**row) if row else None


def set_seen(connection: sqlite3.Connection, phone_id: int, now: str) -> None:
    connection.execute("update phones set seen_at = :now where id = :id", {"now": now, "id": phone_id})


def set_revoked(connection: sqlite3.Connection, phone_id: int, now: str) -> None:
    connection.execute(
        "update phones set revoked_at = :now where id = :id and revoked_at is null", {"now": now, "id": phone_id}
    )


def insert_try(connection: sqlite3.Connection, now: str, address: str, what: str, passed: bool) -> None:
    """Write down a try; only the latest few thousand are kept."""
    connection.execute(
        "insert into access_tries (at, address, what, passed) values (:at, :address, :what, :passed)",
        {"at": now, "address": address, "what": what, "passed": int(passed)},
    )
    connection.execute("delete from access_tries where id <= (select max(id) from access_tries) - 5000")


def count_failed(connection: sqlite3.Connection, what: str, since: str, address: str | None = None) -> int:
    """How many tries failed since a moment, from one address or from all."""
    row = connection.execute(
        """
        select count(*) as many from access_tries
        where what = :what and passed = 0 and at > :since and (:address is null or address = :address)
        """,
        {"what": what, "since": since, "address": address},
    ).fetchone()
    return int(row["many"])


def list_tries(connection: sqlite3.Connection, most: int) -> list[Try]:
    """The latest tries, the newest first."""
    rows = connection.execute("select at, address, what, passed from access_tries order by id desc limit :most", {"most": most})
    return [Try(**row) for row in rows]
