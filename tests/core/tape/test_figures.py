"""What is said of the tape in different places is the same: ways compared, list of strips, cutting list, materials, tasks."""

import re
from datetime import datetime

import pytest
from budget import examples
from hypothesis import given
from jobs import any_jobs

from dividers.core.base.errors import BadJob
from dividers.core.job_file.job_reader import read_job
from dividers.core.order.tasks import work_of
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_document
from dividers.core.rounds.cutting import cutting_list


@examples(20)
@given(any_jobs())
def test_strips_and_metres_are_the_same_wherever_they_are_said(job):
    try:
        plan = plan_job(read_job(job))
    except BadJob:
        return
    document = plan_document(plan)
    piece = document["pieces"][0]
    strips = [strip for each in piece["rounds"] for strip in each["strips"]]
    chosen = next(o for o in piece["taping"]["options"] if o["taping"] == piece["taping"]["chosen"])
    metres = sum(strip["length"] for strip in strips) / 1000
    assert chosen["strips"] == len(strips)
    assert chosen["tape_m"] == pytest.approx(metres, abs=2e-3)
    [tape] = [line for line in document["materials"] if line["kind"] == "tape"]
    assert tape["length_m"] == pytest.approx(metres * 1.1, abs=5e-3)
    rounds = plan.pieces[0].taping.chosen.rounds
    assert sum(cut.many for each in rounds for cut in cutting_list(each, "in")) == len(strips)
    words = [task.words for task in work_of(plan, datetime(2027, 3, 1, 8)).tasks if task.kind == "tape"]
    pressed = [re.search(r"press (\d+) strips?", said) for said in words if "nothing to tape" not in said]
    assert sum(int(found[1]) for found in pressed) == len(strips)
