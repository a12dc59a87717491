"""The database: migrations, backups, and nothing half done."""

import sqlite3

import pytest

from dividers.core.base.errors import DividersError
from dividers.store.database import connect, transaction
from dividers.store.migrate import back_up, migrate, migrations


def test_migrations_run_once_and_are_numbered_without_gaps(tmp_path):
    connection = connect(tmp_path / "a.sqlite")
    assert migrate(connection) == migrate(connection) == len(migrations())
    assert [number for number, _ in migrations()] == list(range(1, len(migrations()) + 1))
    assert connection.execute("pragma journal_mode").fetchone()[0] == "wal"
    assert connection.execute("pragma foreign_keys").fetchone()[0] == 1
    connection.close()


def test_data_from_a_newer_program_are_left_alone(tmp_path):
    connection = connect(tmp_path / "a.sqlite")
    connection.execute("pragma user_version = 999")
    with pytest.raises(DividersError, match="newer"):
        migrate(connection)
    connection.close()


def test_a_transaction_that_fails_leaves_nothing():
    connection = connect(":memory:")
    migrate(connection)
    with pytest.raises(sqlite3.IntegrityError), transaction(connection):
        connection.execute("insert into jobs (id, head, created_at, changed_at) values (1, 1, '', '')")
        connection.execute("insert into revisions values (99, 1, null, '', '', '', '', '', null)")
    assert connection.execute("select count(*) from jobs").fetchone()[0] == 0
    connection.close()


def test_a_backup_holds_what_was_there(tmp_path):
    connection = connect(tmp_path / "a.sqlite")
    migrate(connection)
    connection.execute("insert into jobs (id, head, created_at, changed_at) values (7, 1, '', '')")
    back_up(connection, tmp_path / "kept" / "b.sqlite")
    connection.close()
    copy = connect(tmp_path / "kept" / "b.sqlite")
    assert copy.execute("select id from jobs").fetchone()[0] == 7
    copy.close()


def test_what_was_typed_at_a_station_is_found_under_its_new_name():
    connection = connect(":memory:")
    for number, script in migrations():
        if number == 7:
            connection.execute("insert into jobs (id, head, created_at, changed_at) values (1, 1, '', '')")
            for station in ("survey", "order", "marks"):
                connection.execute("insert into drafts values (1, 'front', ?, '{}')", [station])
        connection.executescript(script)
    found = connection.execute("select station from drafts order by station").fetchall()
    assert [row[0] for row in found] == ["marks", "measure", "schedule"]
    connection.close()
