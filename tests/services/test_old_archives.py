"""An archive made with an earlier version still imports whole: its run with every plan, its logbook, its photo."""

import io
import json
import zipfile
from contextlib import closing
from pathlib import Path

import pytest
from budget import ANEW

from dividers.core.base.errors import BadInput
from dividers.services.files import archives, unpacking
from dividers.services.jobs import evidence
from dividers.services.jobs.editing import open_job
from dividers.services.logbook import logbook
from dividers.services.logbook.proposals import proposals
from dividers.services.logbook.record import record_csv, record_json, record_of
from dividers.services.wall import at_the_wall
from dividers.services.wall.progress import progress_of
from dividers.store.database import connect
from dividers.store.migrate import migrate

OLD = sorted((Path(__file__).parents[1] / "archives").glob("made-with-*.zip"))


@pytest.mark.parametrize("path", OLD, ids=[path.stem for path in OLD])
def test_an_archive_of_before_imports_whole(connection, tmp_path, path):
    job_id = unpacking.unpack(connection, path.read_bytes(), tmp_path).job_id
    assert open_job(connection, job_id).job.title == "The Lantern Cart"
    [run] = at_the_wall.runs_of(connection, job_id)
    progress = progress_of(connection, run)
    keys = {task.key for task in progress.tasks}
    assert {event.task for event in progress.events if event.task} <= keys  # no step of that time is lost
    left = [task.kind for task in progress.tasks if progress.facts.of(task.key).state not in ("done", "skipped")]
    assert left == ["erase"]  # pencil marks that show are found one by one only since
    plans = at_the_wall.plans(connection, run)
    assert len(plans) == 13
    assert set(plans[0].painters) == set(plans[0].starts) and set(plans[0].painters.values()) == {1}
    assert len(logbook.findings_of(connection, job_id)) == 2
    assert len(list(tmp_path.glob("*.jpg"))) == 1
    record = record_of(connection, job_id)
    assert record.worked_min > 0 and len(record.lines) == len(progress.tasks)


BOOK = "logbook.json"
ROWS = ("findings", "touch_ups", "sign_offs", "used", "measured", "photos")


def leaves_of(value, path=()):
    """Paths to everything in a value that is no list or object, of lists only the first."""
    if isinstance(value, dict):
        return [leaf for key, each in value.items() for leaf in leaves_of(each, (*path, key))]
    if isinstance(value, list):
        return [leaf for each in value[:1] for leaf in leaves_of(each, (*path, 0))]
    return [path]


def read_book(content):
    with zipfile.ZipFile(io.BytesIO(content)) as held:
        entries = {name: held.read(name) for name in held.namelist()}
    return entries, json.loads(entries[BOOK])


def changed(content, path, rubbish):
    """An archive with rubbish at a place of its logbook; in the JSON texts of a run's rows at a first key of theirs."""
    entries, book = read_book(content)
    at = book
    for key in path[:-1]:
        at = at[key]
    at[path[-1]] = rubbish
    entries[BOOK] = json.dumps(book).encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as made:
        for name, each in entries.items():
            made.writestr(name, each)
    return out.getvalue()


LEAVES = [leaf for leaf in leaves_of(read_book(OLD[0].read_bytes())[1]) if leaf[0] in (*ROWS, "runs")]
RUBBISH = [None, "?", -1, 1e300, [], {}, True, "2026-99-99T99:99", '{"starts": {"x": "y"}}', "x" * 5000]


@pytest.mark.parametrize("path", LEAVES, ids=[".".join(map(str, leaf)) for leaf in LEAVES])
def test_an_archive_with_rubbish_is_refused_whole_or_can_be_shown_whole(path, tmp_path):
    good = OLD[0].read_bytes()
    turn = LEAVES.index(path)
    for rubbish in (
        RUBBISH if ANEW else [RUBBISH[(turn * 5 + at) % len(RUBBISH)] for at in range(5)]
    ):  # half of it at each place
        with closing(connect(":memory:")) as connection:
            migrate(connection)
            try:
                job_id = unpacking.unpack(connection, changed(good, path, rubbish), tmp_path).job_id
            except BadInput:
                assert connection.execute("select count(*) from jobs").fetchone()[0] == 0
                assert list(tmp_path.glob("*.jpg")) == []
                continue
            assert record_json(record_of(connection, job_id)) and record_csv(record_of(connection, job_id))
            for run in at_the_wall.runs_of(connection, job_id):
                assert at_the_wall.plans(connection, run)
            evidence.counts(connection)
            proposals(connection, job_id)
            archives.pack(connection, job_id, tmp_path)
            for photo in tmp_path.glob("*.jpg"):
                photo.unlink()


UNLAYABLE = {"kind": "stripes", "count": 900, "pinstripe": "30", "colors": [None]}


def test_a_run_whose_job_can_be_read_but_not_laid_out_is_refused_whole(connection, tmp_path):
    good = OLD[0].read_bytes()
    job = json.loads(read_book(good)[1]["runs"][0]["document"])
    job["pieces"][0]["pattern"] = UNLAYABLE
    with pytest.raises(BadInput, match="A run at the wall in this archive can't be read"):
        unpacking.unpack(connection, changed(good, ("runs", 0, "document"), json.dumps(job)), tmp_path)
    assert connection.execute("select count(*) from jobs").fetchone()[0] == 0
