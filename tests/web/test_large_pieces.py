"""A piece of thousands of parts: every page answers at once with what is ready, and what takes long comes after it, worked out beside the server."""

import pytest
from pages import reading, until

from dividers.core.base.errors import NotYet
from dividers.core.plan.layered import plan_piece
from dividers.services.jobs.editing import open_job
from dividers.services.jobs.job_list import add_job
from dividers.services.jobs.planning import piece_plan
from dividers.services.opening import open_data
from dividers.services.stations import large_plans
from dividers.web.app import create_app

FOLLOWS, HERE = "The drawing follows", "/jobs/1/floor/pattern"
HTMX = {"HX-Request": "true"}
PATTERN = {"kind": "checker", "columns": 100, "rows": 150, "colors": ["dark", None]}
DOCUMENT = {
    "format": "dividers-job/1",
    "title": "Foyer",
    "units": "mm",
    "palette": {"base": {"name": "Cream", "hex": "#f3efe4"}, "dark": {"name": "Slate", "hex": "#3f5a7a"}},
    "products": {},
    "pieces": [
        {
            "id": "floor",
            "name": "Floor",
            "base": "base",
            "surface": {"kind": "floor", "panels": [{"name": "floor", "width": "6000", "height": "10000"}]},
            "pattern": PATTERN,
        }
    ],
}


@pytest.fixture
def folder(tmp_path):
    connection = open_data(tmp_path)
    add_job(connection, DOCUMENT, "New job")
    connection.close()
    yield tmp_path
    large_plans.close()
    large_plans.LARGE_PLANS.__init__(large_plans._work_out)


def test_an_edit_of_15000_parts_answers_at_once_and_the_drawing_follows(folder, monkeypatch):
    client = reading(create_app(folder)).test_client()
    connection = open_data(folder)
    whole = client.get(HERE).get_data(as_text=True)
    assert (
        FOLLOWS in whole and 'name="pattern.columns"' in whole and "<svg" in whole
    )  # the form and the pictures of patterns are there
    whole = until(client, HERE, lambda page: FOLLOWS not in page)
    assert 'class="drawing"' in whole and "15000 parts" in whole
    typed = {"revision": "1", "pattern.kind": "checker", "pattern.columns": "99", "pattern.rows": "150"}
    answer = client.post(HERE, data=typed, headers=HTMX).get_data(as_text=True)
    assert FOLLOWS in answer and 'value="99"' in answer
    opened = open_job(connection, 1)
    monkeypatch.setattr(large_plans, "LATER_WAIT_S", 0.0)
    with pytest.raises(NotYet):  # the answer didn't wait for the plan
        large_plans.require_ready(1, opened.revision.document, "floor", marks=True)
    assert client.get("/jobs/1/floor/materials").status_code in (200, 202)
    for _ in range(100):
        if large_plans.is_ready(1, opened.revision.document, "floor", marks=True, wait_s=0.5):
            break
    found, alone = piece_plan(opened.revision.document, "floor"), plan_piece(opened.job, opened.piece("floor"))
    assert found.marks == alone.marks and len(found.marks) > 400
    assert found.warnings == alone.warnings and len(found.taping.chosen.rounds) == len(alone.taping.chosen.rounds)
    connection.close()


def test_a_small_piece_waits_for_nobody(connection):
    small = DOCUMENT["pieces"][0] | {"pattern": PATTERN | {"columns": 6, "rows": 10}}
    job_id = add_job(connection, DOCUMENT | {"pieces": [small]}, "New job")
    document = open_job(connection, job_id).revision.document
    assert large_plans.is_ready(job_id, document, "floor", marks=True, wait_s=0.0)
    assert large_plans.LARGE_PLANS.worker is None
