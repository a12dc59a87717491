"""Half a strip sealed otherwise than the rest: planned, waited for, judged by itself."""

import json

import pytest
from jobs import wall as plain_wall

from dividers.core.base.errors import BadInput
from dividers.core.order.trial import trial_left_out
from dividers.services.jobs import editing, evidence
from dividers.services.jobs.job_list import add_job
from dividers.services.logbook import logbook
from dividers.services.wall.progress import planned_work


def test_half_a_strip_sealed_otherwise_is_a_step_waited_for_and_counted_by_itself(connection, tmp_path):
    document = plain_wall(method={"seal": "base", "trial_seal": "clear"}, pattern={"count": 4})
    made = add_job(connection, document, "a trial")
    [about] = logbook.rounds_of(connection, made)
    trial = about.choice.trial
    strips = [strip for each in about.piece.taping.chosen.rounds for on in each.strips for strip in on.lengths.tolist()]
    assert strips[trial.strip - 1] == max(strips) == pytest.approx(trial.length_m * 1000)
    _, work = planned_work(editing.open_job(connection, made).revision.document)
    [step] = [task for task in work.tasks if task.kind == "seal" and task.coat == 2]
    assert "half of strip" in step.words and "clear coat" in step.words
    after = [lag for lag in work.lags if work.tasks[lag.first] is step]
    assert after and all(lag.least >= 2 * trial.seal.dry_min > about.choice.seal.dry_min for lag in after)
    logbook.add_finding(connection, made, {"round": "wall/1", "all-clean": "yes"}, None, tmp_path)
    for wrong in ({}, {"clean": "1", "bleed": "1"}):
        with pytest.raises(BadInput):
            logbook.add_finding(connection, made, {"round": "wall/1/half", **wrong}, None, tmp_path)
    logbook.add_finding(connection, made, {"round": "wall/1/half", "slight": "1"}, None, tmp_path)
    counted = evidence.counts(connection)
    assert {ground.seal: (count.clean, count.strips) for ground, count in counted.items() if ground.risk == "bleed"} == {
        "base": (about.strips, about.strips),
        "clear": (0, 1),
    }


@pytest.mark.parametrize(
    ("seal", "tried", "said"),
    [
        ("base", "unsealed", ""),
        ("none", "moisten", ""),
        ("base", "caulk", "can't be tried on half a strip. Try it on a board first"),
        ("caulk", "clear", "nothing is tried beside it"),
        ("none", "unsealed", "sealed that way as it is"),
        ("caulk", "caulk", "sealed that way as it is"),
    ],
)
def test_every_seal_and_none_can_be_asked_for_and_what_cannot_be_is_said(seal, tried, said):
    document = plain_wall(method={"seal": seal, "trial_seal": tried}, pattern={"count": 4})
    plan, work = planned_work(json.dumps(document))
    [warning] = trial_left_out(plan.job.pieces[0], *work.choices.values()) or [""]
    assert said in warning and bool(said) == bool(warning)
    words = [task.words for task in work.tasks if task.kind == "seal"]
    assert any("half of strip" in each for each in words) == (not said)
    if tried == "unsealed" and not said:  # in the seal's own step: afterwards it would be too late
        assert len(words) == 1 and "leave half of strip" in words[0]
