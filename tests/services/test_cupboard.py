"""The cupboard: filled once, kept, into jobs and out of them."""

import json

import pytest

from dividers.core.errors import BadJob
from dividers.services import cupboard, shelf
from dividers.services.demo import load_demo
from dividers.services.editing import open_job
from dividers.services.opening import open_data
from dividers.store.jobs import list_jobs


@pytest.fixture
def connection(tmp_path):
    opened = open_data(tmp_path)
    load_demo(opened)
    yield opened
    opened.close()


def named(connection, name):
    return next(item for item in cupboard.items(connection) if item.name == name)


def test_the_starter_set_is_laid_in_once_and_every_thing_of_it_is_valid(connection):
    first = cupboard.items(connection)
    assert {item.kind for item in first} == {"paint", "tape", "seal", "colour"}
    for item in first:
        cupboard.check(item.kind, item.name, json.loads(item.body))
    cupboard.retire(connection, first[0].id, True)
    assert len(cupboard.items(connection)) == len(first)
    assert cupboard.items(connection)[-1].retired_at


def test_a_thing_is_kept_copied_and_refused_with_what_is_wrong(connection):
    made = cupboard.save(
        connection, None, "tape", {"name": "Wide", "width": "50 mm", "adhesion": "medium", "swelling_edge": "on"}
    )
    assert json.loads(cupboard.require(connection, made).body)["swelling_edge"] is True
    assert cupboard.require(connection, cupboard.copy(connection, made)).name == "Wide (2)"
    with pytest.raises(BadJob) as bad:
        cupboard.save(connection, made, "tape", {"name": "", "width": "fifty", "adhesion": "medium"})
    assert {fault.path for fault in bad.value.faults} == {"name", "width"}
    with pytest.raises(BadJob) as twice:
        cupboard.save(connection, None, "tape", {"name": "Wide", "width": "50 mm"})
    assert "already" in str(twice.value.faults[0])


def test_a_thing_goes_into_a_job_and_out_again(connection):
    [job] = list_jobs(connection)
    opened = open_job(connection, job.id)
    key = cupboard.into_job(connection, job.id, opened.revision.number, named(connection, "Floor enamel, oil").id)
    after = open_job(connection, job.id)
    assert after.job.products[key].binder == "oil"
    cupboard.into_job(connection, job.id, after.revision.number, named(connection, "Pond").id)
    last = open_job(connection, job.id)
    assert last.job.palette["pond"].name == "Pond"
    made = cupboard.out_of_job(connection, last.document, "cart enamel")
    assert json.loads(cupboard.require(connection, made).body)["recoat"] == "3 h"
    assert shelf.export_job(connection, job.id)
