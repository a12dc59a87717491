"""Copies, backups and restoring; disks that are full or locked, databases that are damaged, emptied or newer; two programs at once."""

import io
import json
import os
import shutil
import sqlite3
import subprocess
import sys
import zipfile
from contextlib import closing
from datetime import timedelta
from pathlib import Path

import pytest
from days import MORNING, Clock
from jobs import wall as plain_wall
from PIL import Image

from dividers.core.base.errors import BadInput, DividersError, NotFound
from dividers.services.jobs import editing, job_list
from dividers.services.keeping import backups, daily
from dividers.services.keeping.health import faults_in
from dividers.services.logbook import logbook
from dividers.services.one_at_a_time import alone
from dividers.services.opening import DATABASE, open_data
from dividers.store import migrate


def picture():
    out = io.BytesIO()
    Image.new("RGB", (40, 30), "#446688").save(out, "JPEG")
    return out.getvalue()


@pytest.fixture
def data(tmp_path):
    """A data folder with a job and a photo in its logbook."""
    folder = tmp_path / "data"
    with closing(open_data(folder)) as connection:
        job_list.add_job(connection, plain_wall(), "a wall")
        logbook.add_finding(connection, 1, {"round": "wall/1", "all-clean": "yes"}, picture(), folder / "photos")
    return folder


def dump(folder):
    with closing(sqlite3.connect(folder / DATABASE)) as connection:
        return list(connection.iterdump()), {path.name: path.read_bytes() for path in (folder / "photos").iterdir()}


def test_a_backup_restored_elsewhere_is_equal_and_what_was_there_is_kept(data, tmp_path):
    (data / "secret").write_text("x" * 64)
    made = backups.backup(data, tmp_path / "all.zip")
    assert (made.photos, made.missing) == (1, ())
    assert sorted(zipfile.ZipFile(made.path).namelist())[:2] == ["backup.json", DATABASE]
    assert backups.restore(made.path, tmp_path / "new") is None
    assert dump(tmp_path / "new") == dump(data) and faults_in(tmp_path / "new") == []
    with closing(open_data(data)) as connection:
        job_list.rename_job(connection, 1, "changed since")
    kept = backups.restore(made.path, data)
    with closing(open_data(data)) as connection:
        assert editing.open_job(connection, 1).job.title == "A wall"
    assert "changed since" in "".join(dump(kept)[0])
    assert (data / "secret").exists()


def test_a_daily_copy_is_put_back_too_and_the_photos_stay(data):
    daily.do_daily(data)
    before = dump(data)
    emptied(data)
    copy = next((data / "backups").glob("day-*"))
    assert (backups.restore(copy, data) / DATABASE).exists()
    assert dump(data) == before and faults_in(data) == []
    copy.write_bytes(b"rubbish" * 900)
    with pytest.raises(BadInput, match="not sound"):
        backups.restore(copy, data)


def spoiled(path, act):
    """A copy of a backup with its parts changed."""
    made = path.with_name("spoiled.zip")
    with zipfile.ZipFile(path) as old, zipfile.ZipFile(made, "w") as new:
        for name in old.namelist():
            content = act(name, old.read(name))
            if content is not None:
                new.writestr(name, content)
    return made


@pytest.mark.parametrize(
    "act",
    [
        lambda name, content: content[:-1] + b"x" if name == DATABASE else content,
        lambda name, content: None if name.startswith("photos") else content,
        lambda name, content: b"{}" if name == "backup.json" else content,
        lambda name, content: content.replace(b"photos/", b"../out/") if name == "backup.json" else content,
        lambda name, content: json.dumps({**json.loads(content), "sums": {DATABASE: 3}}) if name == "backup.json" else content,
    ],
)
def test_a_damaged_backup_is_refused_and_nothing_changes(data, tmp_path, act):
    made = backups.backup(data, tmp_path / "all.zip").path
    before = dump(data)
    for file in (spoiled(made, act), tmp_path / "cut.zip"):
        (tmp_path / "cut.zip").write_bytes(made.read_bytes()[:-200])
        with pytest.raises(BadInput, match=r"Nothing was changed|nothing was changed|not a backup"):
            backups.restore(file, data)
    assert dump(data) == before and not list(data.glob(".restore-*"))


def test_check_names_what_is_wrong(data):
    assert faults_in(data) == []
    photo = next((data / "photos").iterdir())
    shutil.copy(photo, data / "photos" / "loose.jpg")
    photo.unlink()
    assert [fault.split(":")[0] for fault in faults_in(data)] == [
        "The file of a photo is missing",
        "A photo belongs to nothing",
    ]
    assert backups.backup(data).missing == (photo.name,)
    with closing(sqlite3.connect(data / DATABASE)) as connection:
        connection.execute("update revisions set document = '{\"format\": 1}', packed = null")
        connection.commit()
    assert faults_in(data)[0].startswith("Job 1, “A wall”, can't be read")
    content = bytearray((data / DATABASE).read_bytes())
    content[4096 * 3 : 4096 * 5] = b"\xaa" * 8192
    (data / DATABASE).write_bytes(content)
    assert "damaged" in faults_in(data)[0] or "can't be read" in faults_in(data)[0]


def test_a_copy_a_day_the_last_fourteen_and_the_bin_is_emptied_after_thirty(data, monkeypatch):
    time = Clock(monkeypatch, MORNING)
    with closing(open_data(data)) as connection:
        job_list.delete_job(connection, 1)
    assert daily.do_daily(data) and not daily.do_daily(data)
    for _ in range(29):
        time.on(24 * 60)
        assert daily.do_daily(data)
    assert len(list((data / "backups").glob("day-*"))) == 14
    with closing(open_data(data)) as connection:
        job_list.restore_job(connection, 1)
        job_list.delete_job(connection, 1)
    time.on(31 * 24 * 60)
    assert daily.do_daily(data)
    with closing(open_data(data)) as connection, pytest.raises(NotFound):
        job_list.restore_job(connection, 1)
    assert list((data / "photos").iterdir()) == [] and faults_in(data) == []


def test_a_copy_that_fails_is_said_and_an_old_one_warned_of(data, monkeypatch):
    assert daily.do_daily(data)
    assert not daily.last_copy(data).overdue
    later = daily.clock.moment() + timedelta(days=8)
    monkeypatch.setattr(daily.clock, "moment", lambda: later)
    assert daily.last_copy(data).overdue

    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(daily, "back_up", full)
    assert not daily.do_daily(data) and "No space left" in daily.last_copy(data).failed


def corrupt(folder):
    (folder / DATABASE).write_bytes(b"rubbish" * 3000)


def newer(folder):
    with closing(sqlite3.connect(folder / DATABASE)) as connection:
        connection.execute("pragma user_version = 999")


def emptied(folder):
    daily.do_daily(folder)
    for name in (f"{DATABASE}-wal", f"{DATABASE}-shm"):
        (folder / name).unlink(missing_ok=True)
    (folder / DATABASE).write_bytes(b"")


def blocked(folder):
    shutil.rmtree(folder)
    folder.write_text("a file where the folder should be")


@pytest.mark.parametrize(
    ("act", "words"),
    [
        (corrupt, "is damaged"),
        (newer, "newer version"),
        (emptied, "is empty, but there are copies"),
        (blocked, "can't be written"),
    ],
)
def test_what_cannot_be_opened_says_what_to_do_and_stays_as_it_is(data, act, words):
    act(data)
    before = data.read_bytes() if data.is_file() else (data / DATABASE).read_bytes()
    with pytest.raises(DividersError, match=words):
        open_data(data)
    assert before == (data.read_bytes() if data.is_file() else (data / DATABASE).read_bytes())


RUN = [sys.executable, "-m", "dividers.cli"]


def test_a_first_start_on_a_full_disk_says_so_and_the_next_one_works(tmp_path):
    folder = tmp_path / "small"
    limited = "import resource,signal,sys; signal.signal(signal.SIGXFSZ, signal.SIG_IGN); resource.setrlimit(resource.RLIMIT_FSIZE,(20000,20000)); from dividers.cli import main; sys.exit(main(['export','--data',sys.argv[1]]))"
    # -B: a compiled module that is cut off at the limit would spoil every start after it.
    failed = subprocess.run([sys.executable, "-B", "-c", limited, str(folder)], capture_output=True, text=True, timeout=60)
    assert failed.returncode == 2 and "Traceback" not in failed.stderr
    assert "no room" in failed.stderr or "can't be" in failed.stderr, failed.stderr
    again = subprocess.run([*RUN, "export", "--data", str(folder)], capture_output=True, text=True, timeout=60)
    assert (again.returncode, again.stderr) == (0, "")


def test_two_programs_starting_on_an_older_folder_both_work(tmp_path, monkeypatch):
    steps = migrate.migrations()
    with monkeypatch.context() as older, closing(sqlite3.connect(tmp_path / DATABASE)) as connection:
        older.setattr(migrate, "migrations", lambda: steps[:4])
        migrate.migrate(connection)
    both = [subprocess.Popen([*RUN, "export", "--data", str(tmp_path)], stderr=subprocess.PIPE) for _ in range(4)]
    assert [program.communicate(timeout=60)[1] for program in both] == [b""] * 4
    assert faults_in(tmp_path) == []


def test_one_server_at_a_time(data):
    with alone(data, "serving", wait=False):
        second = subprocess.run([*RUN, "serve", "--data", str(data), "--port", "0"], capture_output=True, text=True, timeout=60)
        assert second.returncode == 2 and "running already" in second.stderr
        restoring = subprocess.run(
            [*RUN, "restore", "none.zip", "--data", str(data)], capture_output=True, text=True, timeout=60
        )
        assert restoring.returncode == 2 and "running already" in restoring.stderr


def test_the_commands_say_what_they_did(data, tmp_path):
    def run(*arguments):
        done = subprocess.run([*RUN, *arguments, "--data", str(data)], capture_output=True, text=True, timeout=60)
        return done.returncode, done.stdout + done.stderr

    assert run("check") == (0, "All is well: database, jobs and photos.\n")
    code, said = run("backup", str(tmp_path / "b.zip"))
    assert code == 0 and "1 photos" in said and Path(tmp_path / "b.zip").stat().st_mode & 0o077 == 0
    code, said = run("restore", str(tmp_path / "b.zip"))
    assert code == 0 and "before-restore" in said
    next((data / "photos").iterdir()).unlink()
    assert run("check")[0] == 1
    if os.getuid():
        data.chmod(0o500)
        assert "can't be" in run("export")[1]
