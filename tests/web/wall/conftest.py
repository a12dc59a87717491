"""A trunk that is begun at the wall, at a clock that stands still until it is moved."""

import pytest
from days import MORNING, Clock, settled
from pages import reading

from dividers.services.jobs.demo import demo_document
from dividers.services.jobs.job_list import add_job
from dividers.services.opening import open_data
from dividers.web.app import create_app


@pytest.fixture
def time(monkeypatch):
    return Clock(monkeypatch, MORNING)


@pytest.fixture
def client(tmp_path, time):
    document = demo_document()
    document["pieces"] = [piece for piece in document["pieces"] if piece["id"] == "prop-trunk"]
    document["crew"] = {"painters": 2, "start": "2026-10-13T08:00"}
    connection = open_data(tmp_path)
    settled(connection, add_job(connection, document, "a trunk"))
    connection.close()
    return reading(create_app(tmp_path)).test_client()
