"""Many tried schedules against closed forms (scipy's lognormal distribution), within the error that so many runs have."""

import math
import time
from datetime import datetime

import numpy as np
import pytest
import scipy.stats
from jobs import wall

from dividers.core.job_file.job_reader import read_job
from dividers.core.order.calendar import Calendar
from dividers.core.order.chances import DRY_SPREAD, OWN_WEIGHT, WORK_SPREAD, chances, own_speed, sampling_error
from dividers.core.order.network import END, START, Lag, Task
from dividers.core.order.schedule import schedule_of
from dividers.core.order.task_key import TaskKey
from dividers.core.order.times import Times
from dividers.core.plan.plan import plan_job
from dividers.services.jobs.demo import demo_document

ALWAYS = Calendar(datetime(2001, 1, 1), ((0, 1_000_000),))
RUNS = 20_000


def chain(*minutes, calendar=ALWAYS, least=0, most=None, group="order"):
    tasks = tuple(Task(TaskKey("p", "coat", coat=n), "p", each, f"task {n}") for n, each in enumerate(minutes))
    lags = [Lag(n, n + 1, least, "", group) for n in range(len(minutes) - 1)]
    if most:
        lags += [Lag(n, n + 1, 0, "", "pull", most, START, END) for n in range(len(minutes) - 1)]
    starts = [sum(minutes[:n]) + n * least for n in range(len(minutes))]
    return Times(calendar, tasks, tuple(starts)), lags


def test_a_chain_of_tasks_ends_as_the_sum_of_lognormals_does():
    minutes = (30, 60, 45, 120)
    found = chances(*chain(*minutes), 1, runs=RUNS)
    grown = math.exp(WORK_SPREAD**2)
    mean = sum(minutes) * math.sqrt(grown)
    deviation = math.sqrt(sum(each**2 for each in minutes) * grown * (grown - 1))
    assert found.finishes.mean() == pytest.approx(mean, abs=4 * deviation / math.sqrt(RUNS))
    assert found.finishes.std() == pytest.approx(deviation, rel=0.03)


def test_one_task_and_one_wait_have_the_quantiles_of_their_distributions():
    found = chances(*chain(100), 1, runs=RUNS)
    law = scipy.stats.lognorm(WORK_SPREAD, scale=100)
    for share in (0.1, 0.5, 0.8, 0.95):
        assert found.within(law.ppf(share)) == pytest.approx(share, abs=4 * sampling_error(share, RUNS))
    waits = chances(*chain(1, 1, least=10_000, group="recoat"), 1, runs=RUNS)
    dry = scipy.stats.lognorm(DRY_SPREAD, scale=10_000)
    assert waits.within(dry.ppf(0.8)) == pytest.approx(0.8, abs=0.02)


def test_a_window_is_missed_as_often_as_two_tasks_together_outlast_the_drying():
    # the first takes ten times the second: nearly lognormal over lognormal, whose logarithm is normal
    times, lags = chain(100, 1, most=120)
    found = chances(times, lags, 1, runs=RUNS)
    [share] = found.missed.values()
    expected = scipy.stats.norm.sf(math.log(120 / 101) / math.hypot(WORK_SPREAD, DRY_SPREAD))
    assert share == pytest.approx(expected, abs=0.02)
    wider = chances(times, lags, 1, windows={1: 2.0}, runs=RUNS)
    quicker = chances(times, lags, 1, quicker={0: 0.5}, runs=RUNS)
    assert max(*wider.missed.values(), *quicker.missed.values()) < share / 3


def test_nights_are_waited_out_and_what_is_not_laid_down_begins_in_the_morning():
    days = Calendar(datetime(2001, 1, 1), tuple((day * 1440 + 480, day * 1440 + 720) for day in range(30)))
    times, lags = chain(200, 100, calendar=days)
    found = chances(times, lags, 1, runs=2000)
    assert ((found.finishes % 1440 >= 480) & (found.finishes % 1440 <= 720)).all()
    assert (found.finishes > 1440).mean() > 0.8  # both fit on the first day only where both go very quickly
    calm = chances(times, lags, 1, runs=10, spreads=(0.0, 0.0))
    assert set(calm.finishes.tolist()) == {1440 + 480 + 100}


def test_without_any_spread_the_schedule_comes_out_as_planned_and_the_same_seed_says_the_same():
    job = wall(pattern={"count": 5})
    job["crew"] = {"start": "2027-03-06T08:00"}
    order = schedule_of(plan_job(read_job(job)), 1.0)
    times, lags = order.solution.times, order.work.lags
    calm = chances(times, lags, 1, runs=5, spreads=(0.0, 0.0))
    assert set(calm.finishes.tolist()) == {times.finish}
    assert set(calm.missed.values()) <= {0.0}
    one, other = (chances(times, lags, 1) for _ in range(2))
    assert one.finishes.tolist() == other.finishes.tolist() and one.missed == other.missed


def test_two_thousand_runs_of_the_sample_take_seconds():
    order = schedule_of(plan_job(read_job(demo_document())), 1.0)
    begun = time.process_time()
    found = chances(order.solution.times, order.work.lags, order.job.crew.painters)
    assert time.process_time() - begun < 5
    assert found.runs == 2000


def test_own_steps_count_more_the_more_there_are():
    """Closed form: the mean and the spread that a normal law's conjugate prior gives; with very many steps those of the steps alone."""
    dice = np.random.default_rng(5)
    ratios = np.exp(0.3 + 0.4 * dice.standard_normal(5000))
    many = own_speed(ratios.tolist())
    assert (math.log(many.factor), many.spread) == (pytest.approx(0.3, abs=0.02), pytest.approx(0.4, abs=0.02))
    few = own_speed([math.exp(0.3)] * OWN_WEIGHT)
    assert math.log(few.factor) == pytest.approx(0.15)
    assert few.spread == pytest.approx(math.sqrt((WORK_SPREAD**2 + 0.5 * 0.3**2) / 2))
    found = chances(*chain(100), 1, runs=RUNS, spreads=(many.spread, DRY_SPREAD), factor=many.factor)
    assert float(np.median(found.finishes)) == pytest.approx(100 * many.factor, rel=0.02)
