"""Checks a plan made on the way from its own numbers: nothing lost or doubled, waits kept, windows kept or told, hands not in two places."""

import itertools
from datetime import UTC

from dividers.core.order.schedule import start_of
from dividers.core.order.tasks import work_of

SLACK = 1  # plans go by whole minutes


def utc(moment):
    """A moment on the site's clock, which is UTC where it has no zone."""
    return (moment if moment.tzinfo else moment.replace(tzinfo=UTC)).astimezone(UTC)


def check_plan(progress):
    """Raises AssertionError with what is wrong."""
    plan, facts, live = progress.in_force, progress.facts, progress.live
    left = {task.key for task in progress.tasks if facts.of(task.key).state not in ("done", "skipped")}
    assert set(plan.starts) == left, set(plan.starts) ^ left
    if not left or not plan.possible:
        return
    made = (utc(progress.now) - utc(live.midnight)).total_seconds() / 60
    told = {missed.task for missed in plan.missed}
    for key, start in plan.starts.items():
        assert start >= int(made) or plan.events < len(progress.events), (key, start, made)
    _check_hands(progress)
    if any(fact.state == "skipped" for fact in facts.tasks.values()) or facts.airs:
        return  # waits are led round and moved then: the plain ones below don't hold as they stand
    plain, whole = (work_of(progress.plan, start_of(progress.job), None, which) for which in (False, True))
    keys = [task.key for task in plain.tasks]
    for lag, long in zip(plain.lags, whole.lags, strict=True):
        first, then = keys[lag.first], keys[lag.then]
        if then not in left or facts.of(then).state != "open":
            continue
        if first in left:
            if facts.of(first).state != "open" and lag.of == "start":
                continue
            one = plan.starts[first] if lag.of == "start" else plan.ends[first]
        else:
            fact = facts.of(first)
            one = live.wall(fact.started if lag.of == "start" else fact.ended)
        other = plan.starts[then] if lag.to == "start" else plan.ends[then]
        assert other - one >= lag.least - SLACK, (first, then, other - one, lag)
        if long.most is not None and then not in told:
            assert other - one <= long.most + SLACK, (first, then, other - one, long)


def _check_hands(progress):
    """Nobody does two things at once, and no more people work than there are."""
    plan = progress.in_force
    assert set(plan.painters.values()) <= set(range(1, progress.job.crew.painters + 1))
    for hand in set(plan.painters.values()):
        spans = sorted((plan.starts[key], plan.ends[key], key) for key in plan.starts if plan.painters[key] == hand)
        for (_, end, one), (start, _, other) in itertools.pairwise(spans):
            assert start >= end, (hand, one, other, start, end)


def check_day(progress, plans, painter):
    """Once all is done: what is recorded is what was truly done, and every window that was missed had been told."""
    facts = progress.facts
    for task in progress.tasks:
        state = facts.of(task.key).state
        assert state == ("skipped" if task.key in painter.skipped else "done"), (task.key, state)
    for key, (begun, ended) in painter.done.items():
        fact = facts.of(key)
        assert utc(fact.ended) == ended, key
        if begun:
            assert utc(fact.started) == begun, key
    told = {missed.task for plan in plans for missed in plan.missed}
    whole = work_of(progress.plan, start_of(progress.job), None, True)
    if facts.airs or painter.skipped:
        return
    for lag in whole.lags:
        if lag.most is None:
            continue
        one, other = (facts.of(whole.tasks[n].key) for n in (lag.first, lag.then))
        took = (utc(other.ended) - utc(one.started)).total_seconds() / 60
        assert took <= lag.most + 2 * SLACK or whole.tasks[lag.then].key in told, (whole.tasks[lag.then].key, took, lag.most)
