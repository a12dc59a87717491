"""Small runs of the load and of the kills; larger ones by hand: python tests/load/clients.py 50 60, python tests/load/kills.py 200."""

from clients import main as many_clients
from kills import main as many_kills


def test_nothing_acknowledged_is_lost_by_kills():
    told = many_kills(2)
    assert told["edits"] + told["findings"] > 0


def test_many_clients_get_answers_and_lose_no_edit():
    _, errors, lost = many_clients(6, 2, passes=1)
    assert errors == [] and lost == 0
