"""The small acts at the wall: each where it is due and nowhere else, and switched off one by one."""

import pytest
from jobs import wall

from dividers.core.job.method import SMALL_ACTS
from dividers.core.job_file.job_reader import read_job
from dividers.core.order.schedule import start_of
from dividers.core.order.tasks import work_of
from dividers.core.plan.plan import plan_job
from dividers.core.wall.small_acts import ACTS, acts_of

OIL = {"slow": {"kind": "paint", "binder": "oil"}, "fast": {"kind": "paint", "binder": "water", "wet_edge": "8 min"}}


def due(surface=None, pattern=None, **method):
    """The keys of the acts by kind of step."""
    job = wall(method=method, pattern=pattern or {})
    job["products"] |= OIL
    job["pieces"][0]["surface"] |= surface or {}
    if pattern:
        job["pieces"][0]["pattern"] = pattern
    plan = plan_job(read_job(job))
    work = work_of(plan, start_of(plan.job))
    found = {}
    for task in work.tasks:
        choices = tuple(work.choices[task.name.piece])
        found.setdefault(task.kind, set()).update(act.key for act in acts_of(plan.pieces[0], task, choices))
    return found


def test_every_act_can_be_switched_off():
    assert tuple(act.key for act in ACTS) == SMALL_ACTS
    assert "tack" in due()["tape"]
    assert not any(due(acts_off=list(SMALL_ACTS)).values())
    assert due(acts_off=["tack"])["tape"] == set()


@pytest.mark.parametrize(
    ("act", "step", "situation", "other"),
    [
        ("straighten", "pull", {"pull": "wet"}, {"pull": "dry"}),
        ("warm", "pull", {"pull": "dry"}, {"pull": "wet"}),
        ("offload", "coat", {"tool": "roller"}, {"tool": "brush"}),
        ("wrap", "coat", {"coats": {"ink": 2}}, {"coats": {"ink": 1}}),
        ("mist", "coat", {"paint": {"ink": "fast"}}, {}),
        ("thinner", "pull", {"paint": {"ink": "slow"}}, {"paint": {"ink": "fast"}}),
        ("swab", "pull", {"pull": "wet", "paint": {"ink": "fast"}}, {"pull": "wet", "paint": {"ink": "slow"}}),
    ],
)
def test_an_act_is_told_where_it_is_due_and_nowhere_else(act, step, situation, other):
    found = due(**situation)
    assert act in found[step]
    assert not any(act in acts for kind, acts in found.items() if kind != step)
    assert not any(act in acts for acts in due(**other).values())


def test_paper_is_mopped_and_a_torn_edge_may_seep():
    paper = {"kind": "paper", "texture": "hot-pressed"}
    assert "mop" in due(paper, pull="wet")["pull"]
    assert "tack" not in due(paper)["tape"]
    torn = {"kind": "mask", "inset": "4", "edge": "torn", "colors": ["ink"]}
    found = due(paper, torn, pull="wet")["pull"]
    assert "seep" in found and "straighten" not in found
