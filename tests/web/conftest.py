"""A client of the demo; pages don't wait for schedules."""

import pytest
from pages import reading

from dividers.services.jobs.demo import load_demo
from dividers.services.opening import open_data
from dividers.services.stations import scheduling
from dividers.web.app import create_app


@pytest.fixture(scope="module", autouse=True)
def short_waits():
    """Pages wait for a schedule only briefly: these tests look at what they say meanwhile."""
    usual = scheduling.WAIT_S
    scheduling.WAIT_S = 0.05
    yield
    scheduling.WAIT_S = usual


@pytest.fixture(scope="module")
def app(tmp_path_factory):
    folder = tmp_path_factory.mktemp("data")
    connection = open_data(folder)
    load_demo(connection, start="2026-10-13T08:00")
    connection.close()
    return reading(create_app(folder))


@pytest.fixture
def client(app):
    return app.test_client()
