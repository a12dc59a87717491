"""Long work beside the server: what is kept, what is thrown away, and what happens when it goes wrong."""

import os
import time
from concurrent.futures import ThreadPoolExecutor

import pytest
from slow_work import work

from dividers.services.background import Background, WorkFailed

PATIENT_S = 20.0


@pytest.fixture(scope="module")
def desk():
    background = Background(work)
    yield background
    background.close()


def test_it_works_in_another_process_and_keeps_what_is_whole(desk):
    first = desk.ask("job 1", "a", PATIENT_S)
    assert first.startswith("a in ") and not first.endswith(f" {os.getpid()}")
    assert desk.ask("job 1", "a", 0.0) == first


def test_what_a_newer_document_replaced_leaves_no_half_result(desk):
    assert desk.ask("job 1", "later A", 0.2) is None
    assert desk.ask("job 1", "B", PATIENT_S).startswith("B in ")
    assert desk.ask("job 1", "later A", 0.2) is None  # and not "half of later A"
    assert desk.ask("job 1", "C", PATIENT_S).startswith("C in ")


def test_another_job_waits_and_stops_nothing(desk):
    assert desk.ask("job 1", "later D", 0.1) is None
    assert desk.ask("job 2", "E", 0.2) is None
    desk.content_with_less("later D")
    assert desk.ask("job 1", "later D", PATIENT_S) == "half of later D"
    assert desk.ask("job 2", "E", PATIENT_S).startswith("E in ")


def test_a_painter_content_with_less_before_it_began_gets_what_there_is_and_can_ask_again(desk):
    assert desk.ask("job 1", "later F", 0.1) is None
    assert desk.ask("job 2", "later G", 0.0) is None
    desk.content_with_less("later G")
    desk.content_with_less("later F")
    assert desk.ask("job 2", "later G", PATIENT_S) == "half of later G"
    desk.forget("later G")
    assert desk.ask("job 2", "later G", 0.2) is None
    assert desk.ask("job 2", "H", PATIENT_S).startswith("H in ")


def test_what_goes_wrong_is_said_and_the_next_is_worked_on(desk):
    with pytest.raises(WorkFailed, match="ValueError: bad I"):
        desk.ask("job 1", "bad I", PATIENT_S)
    with pytest.raises(WorkFailed, match="ended unexpectedly"):
        desk.ask("job 1", "dead J", PATIENT_S)
    assert desk.ask("job 1", "K", PATIENT_S).startswith("K in ")


def test_only_two_wait_so_that_pages_go_on_being_served(desk):
    assert desk.ask("job 1", "later L", 0.1) is None
    with ThreadPoolExecutor(4) as pool:
        began = time.monotonic()
        asked = [pool.submit(lambda: (desk.ask("job 1", "later L", 2.0), time.monotonic() - began)) for _ in range(4)]
        took = sorted(each.result()[1] for each in asked)
    assert took[1] < 1.5 and took[2] > 1.9
    desk.content_with_less("later L")
