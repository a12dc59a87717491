"""Windows and waits in the air there is: wet edges, seals, preparing. Common practice, no source, but for labels."""

import re

import pytest
from jobs import wall

from dividers.core.job.crew import Climate
from dividers.core.job.drying import drying_factor
from dividers.core.job_file.job_reader import read_job
from dividers.core.order.fewer_coats import one_coat_of
from dividers.core.order.schedule import start_of
from dividers.core.order.tasks import work_of
from dividers.core.plan.plan import plan_job
from dividers.core.risk.windows import window_of

AIRS = [(23, 50), (30, 30), (12, 75)]


def job_in(temperature=23, humidity=50, paint=None, **method):
    job = wall(panel={"width": "40", "height": "30"}, method=method)
    job["climate"] = {"temperature": f"{temperature} C", "humidity": humidity}
    job["products"]["paint"] = {"kind": "paint", **(paint or {})}
    job["pieces"][0]["method"]["paint"] = dict.fromkeys(("cream", "ink"), "paint")
    return job


def work(job):
    plan = plan_job(read_job(job))
    return work_of(plan, start_of(plan.job))


@pytest.mark.parametrize(("celsius", "percent"), AIRS)
@pytest.mark.parametrize("wet_edge", [5, 12, 30])
def test_a_wet_pull_ends_within_the_wet_edge_of_the_label_in_this_air(celsius, percent, wet_edge):
    """From the first stroke of a coat to the end of its pull: never more, however short the label's time is."""
    lags = work(job_in(celsius, percent, {"wet_edge": f"{wet_edge} min"}, pull="wet", window=100)).lags
    allowed = wet_edge * drying_factor("water", celsius, percent)
    ends = [lag.most for lag in lags if lag.group == "pull" and lag.most is not None]
    assert ends and all(allowed - 1 < most <= allowed for most in ends)


def test_a_paint_that_dries_too_fast_to_be_pulled_wet_is_pulled_touch_dry_with_the_reason():
    job = job_in(paint={"wet_edge": "2 min", "touch_dry": "30 min"})
    plan = plan_job(read_job(job))
    [choice] = work_of(plan, start_of(plan.job)).choices["piece-1"]
    assert choice.window.pull_method == "touch-dry"
    assert "min to paint and pull" in choice.reason


def test_a_silent_label_counts_as_ten_minutes_wet():
    assert window_of("wet", [None], Climate(), 100).most_min == 10


@pytest.mark.parametrize(("binder", "hours"), [("water", 2), ("oil", 16), ("shellac", 1)])
def test_a_second_coat_waits_as_long_as_labels_of_that_binder_commonly_say(binder, hours):
    """Common practice, no source: oil is recoated the next day, shellac within the hour."""
    waits = [lag.least for lag in work(job_in(paint={"binder": binder})).lags if "recoated" in lag.why]
    assert waits and set(waits) == {60 * hours}


@pytest.mark.parametrize(
    ("paint", "wait"),
    [
        ({"binder": "oil", "touch_dry": "6 h"}, 360),
        ({"binder": "oil"}, 240),
        ({"binder": "water", "touch_dry": "20 min"}, 20),
        ({"binder": "water", "touch_dry": "2 h"}, 40),
        ({}, 40),
    ],
)
def test_the_seal_in_the_base_colour_waits_by_that_colours_own_paint(paint, wait):
    found = {
        lag.least for lag in work(job_in(paint=paint, seal="base", pull="dry")).lags if lag.why.startswith("the seal must")
    }
    assert found == {wait}


def test_seals_and_primer_take_longer_in_cold_damp_air():
    for method in ({"seal": "clear", "pull": "dry"}, {"prep": ["prime"]}):
        usual, cold = (
            max(lag.least for lag in work(job_in(*air, **method)).lags if lag.group in ("seal", "prep")) for air in AIRS[::2]
        )
        assert cold == pytest.approx(usual * drying_factor("water", *AIRS[2]), abs=1)


def test_caulk_skins_over_sooner_in_warm_dry_air():
    held = [lag.most for lag in work(job_in(30, 30, seal="caulk", pull="wet", coats={"ink": 1})).lags if lag.group == "caulk"]
    assert held and set(held) == {int(30 * drying_factor("water", 30, 30))}


def test_priming_over_a_base_that_is_on_is_odd_and_said():
    job = job_in(prep=["prime"])
    assert not [w for w in plan_job(read_job(job)).warnings if w.code == "prime-over-base"]
    job["pieces"][0]["surface"]["finish"] = {"painted_on": "2027-01-01"}
    [warning] = [w for w in plan_job(read_job(job)).warnings if w.code == "prime-over-base"]
    assert "primer would hide the base" in warning.message


@pytest.mark.parametrize(("texture", "coats", "offered"), [("rough", 2, True), ("rough", 1, False), ("smooth", 2, False)])
def test_on_rough_ground_one_coat_is_offered_where_it_would_allow_caulk(texture, coats, offered):
    """Two coats two hours apart outlast caulk; one coat pulled wet doesn't, and bleeds less on rough ground."""
    job = job_in(paint={"wet_edge": "25 min"}, coats={"ink": coats})
    job["pieces"][0]["surface"]["texture"] = texture
    plan = plan_job(read_job(job))
    [choice] = work_of(plan, start_of(plan.job)).choices["piece-1"]
    offer = one_coat_of(plan.job, plan.pieces[0], choice, None)
    assert bool(offer) == offered
    if offer:
        assert re.fullmatch(r"One coat would allow caulk: bleed (low|fair) instead of (fair|high)\.", offer.said)
        job["pieces"][0]["method"]["coats"] = dict.fromkeys(offer.colors, 1)
        plan = plan_job(read_job(job))
        [choice] = work_of(plan, start_of(plan.job)).choices["piece-1"]
        assert (choice.seal.method, choice.forecast.bleed.level) == ("caulk", offer.instead)
