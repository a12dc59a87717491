"""An archive made with an earlier version still imports whole: its run with every plan, its logbook, its photo."""

from pathlib import Path

import pytest

from dividers.services.files import archives
from dividers.services.jobs.editing import open_job
from dividers.services.logbook import logbook
from dividers.services.logbook.record import record_of
from dividers.services.wall import at_the_wall
from dividers.services.wall.progress import progress_of

OLD = sorted((Path(__file__).parents[1] / "archives").glob("made-with-*.zip"))


@pytest.mark.parametrize("path", OLD, ids=[path.stem for path in OLD])
def test_an_archive_of_before_imports_whole(connection, tmp_path, path):
    job_id = archives.unpack(connection, path.read_bytes(), tmp_path)
    assert open_job(connection, job_id).job.title == "The Lantern Cart"
    [run] = at_the_wall.runs_of(connection, job_id)
    progress = progress_of(connection, run)
    assert {progress.facts.of(task.key).state for task in progress.tasks} <= {"done", "skipped"}
    plans = at_the_wall.plans(connection, run)
    assert len(plans) == 13
    assert set(plans[0].painters) == set(plans[0].starts) and set(plans[0].painters.values()) == {1}
    assert len(logbook.findings_of(connection, job_id)) == 2
    assert len(list(tmp_path.glob("*.jpg"))) == 1
    record = record_of(connection, job_id)
    assert record.worked_min > 0 and len(record.lines) == len(progress.tasks)
