"""Supplies: filled once, kept, into jobs and out of them."""

import json

import pytest

from dividers.core.base.errors import BadJob
from dividers.services.jobs import job_list
from dividers.services.jobs.demo import load_demo
from dividers.services.jobs.editing import open_job
from dividers.services.opening import open_data
from dividers.services.supplies import supplies
from dividers.store.jobs import list_jobs


@pytest.fixture
def connection(tmp_path):
    opened = open_data(tmp_path)
    load_demo(opened)
    supplies.fill_once(opened)
    yield opened
    opened.close()


def named(connection, name):
    return next(item for item in supplies.items(connection) if item.name == name)


def test_the_starter_set_is_added_once_and_every_item_of_it_is_valid(connection):
    first = supplies.items(connection)
    assert {item.kind for item in first} == {"paint", "tape", "seal", "colour"}
    for item in first:
        supplies.check(item.kind, item.name, json.loads(item.body))
    supplies.retire(connection, first[0].id, True)
    supplies.fill_once(connection)
    assert len(supplies.items(connection)) == len(first)
    assert supplies.items(connection)[-1].retired_at


def test_an_item_is_kept_copied_and_refused_with_what_is_wrong(connection):
    made = supplies.save(
        connection, None, "tape", {"name": "Wide", "width": "50 mm", "adhesion": "medium", "swelling_edge": "on"}
    )
    assert json.loads(supplies.require(connection, made).body)["swelling_edge"] is True
    assert supplies.require(connection, supplies.copy(connection, made)).name == "Wide (2)"
    with pytest.raises(BadJob) as bad:
        supplies.save(connection, made, "tape", {"name": "", "width": "fifty", "adhesion": "medium"})
    assert {fault.path for fault in bad.value.faults} == {"name", "width"}
    with pytest.raises(BadJob) as twice:
        supplies.save(connection, None, "tape", {"name": "Wide", "width": "50 mm"})
    assert "already" in str(twice.value.faults[0])


def test_an_item_goes_into_a_job_and_out_again(connection):
    [job] = list_jobs(connection)
    opened = open_job(connection, job.id)
    key = supplies.into_job(connection, job.id, opened.revision.number, named(connection, "Floor enamel, oil").id)
    after = open_job(connection, job.id)
    assert after.job.products[key].binder == "oil"
    supplies.into_job(connection, job.id, after.revision.number, named(connection, "Pond").id)
    last = open_job(connection, job.id)
    assert last.job.palette["pond"].name == "Pond"
    made = supplies.out_of_job(connection, last.document, "cart enamel")
    assert json.loads(supplies.require(connection, made).body)["recoat"] == "3 h"
    assert job_list.export_job(connection, job.id)
