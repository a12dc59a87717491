"""The order of work: hours, batches, windows, forecasts, and what is said of them."""

import re
from dataclasses import replace
from datetime import datetime
from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall

from dividers.core.base.quantities import spoken
from dividers.core.job.crew import Climate, Crew
from dividers.core.job.products import Paint
from dividers.core.job_file.job_reader import read_job
from dividers.core.order.bands import bands_of, batches_of
from dividers.core.order.calendar import calendar_of
from dividers.core.order.day_bands import day_bands_of
from dividers.core.order.goes import goes_of, pauses_of
from dividers.core.order.schedule import gains_of, schedule_of, variants_of
from dividers.core.order.tasks import work_of
from dividers.core.plan.plan import plan_job
from dividers.core.risk.forecast import (
    Situation,
    cautions,
    forecast,
    peel_force,
    pull_angle,
    pull_methods_for,
    pull_risk,
    seals_for,
)
from dividers.core.risk.windows import window_of

MONDAY = datetime(2027, 3, 1, 8)


def order(**changes):
    return schedule_of(plan_job(read_job(wall(**changes))), 1.0, "2027-03-01T08:00")


def choice(**changes):
    return order(**changes).work.choices["piece-1"][0]


@given(st.integers(0, 20_000))
def test_both_clocks_agree(wall_minute):
    calendar = calendar_of(Crew(), MONDAY, 20)
    presence = calendar.at_or_after(wall_minute)
    if presence < calendar.presence:
        assert calendar.wall(presence) >= wall_minute
        assert calendar.wall_end(presence + 1) == calendar.wall(presence) + 1
        assert calendar.at_or_after(calendar.wall(presence)) == presence


def test_hours_leave_out_lunch_nights_days_off_and_busy_times():
    busy = [(datetime(2027, 3, 1, 9), datetime(2027, 3, 1, 10, 30)), (datetime(2027, 3, 2), datetime(2027, 3, 3))]
    calendar = calendar_of(Crew(days=("mon", "tue", "wed")), MONDAY.replace(hour=8, minute=30), 4, busy)
    assert [tuple(calendar.moment(at).strftime("%a %H:%M") for at in span) for span in calendar.spans] == [
        ("Mon 08:30", "Mon 09:00"), ("Mon 10:30", "Mon 12:00"), ("Mon 12:30", "Mon 17:30"), ("Wed 08:00", "Wed 12:00"), ("Wed 12:30", "Wed 17:30"),
    ]  # fmt: skip


@given(st.lists(st.integers(1, 30), max_size=14), st.integers(1, 40))
def test_batches_fit_where_they_can_keep_the_order_and_are_as_few_as_can_be(minutes, most):
    found = batches_of(len(minutes), lambda bands: sum(minutes[b] for b in bands), most)
    assert [band for batch in found for band in batch] == list(range(len(minutes)))
    assert all(sum(minutes[b] for b in batch) <= most or len(batch) == 1 for batch in found)
    fewest, room = 0, -1
    for each in minutes:
        if each > room:
            fewest, room = fewest + 1, most
        room -= each
    assert len(found) == fewest


def test_bands_are_what_tape_and_wet_paint_tie_together():
    """Six upright stripes, three of them ink: three bands; a horizon with one painted side: one."""
    striped = plan_job(read_job(wall())).pieces[0].taping.chosen.rounds[0]
    assert [len(band.cells) for band in bands_of(striped)] == [1, 1, 1]
    along, around = 2 * 96 * 0.0254, 2 * (96 + 20) * 0.0254
    assert along < bands_of(striped)[1].tape_m <= around * 1.15  # its ends have tape too, a little longer than they are wide
    grid = {"kind": "checker", "direction": None, "count": None, "columns": 4, "rows": 4}
    for taping, many in (("strips", 1), ("pieces", 8)):
        chequers = plan_job(read_job(wall(pattern=grid, method={"taping": taping}))).pieces[0]
        assert len(bands_of(chequers.taping.chosen.rounds[0])) == many


@pytest.mark.parametrize(
    ("side", "order"), [("left", [5, 4, 3, 2, 1, 0]), ("right", [0, 1, 2, 3, 4, 5]), ("bottom", [0, 1, 2, 3, 4, 5])]
)
def test_floors_are_worked_from_the_back_to_the_exit(side, order):
    job = wall(pattern={"count": 12}, method={"exit": side, "pull": "touch-dry"})
    job["pieces"][0]["surface"]["kind"] = "floor"
    bands = schedule_of(plan_job(read_job(job)), 0.3).work.choices["piece-1"][0].bands
    lefts = sorted(band.box[0] for band in bands)
    assert [lefts.index(band.box[0]) for band in bands] == order


def test_a_wet_pull_splits_what_is_too_much_into_even_batches():
    """Twelve stripes of half a square metre at 8 m² an hour: not all within ten minutes less the margin."""
    found = choice(method={"pull": "wet"}, pattern={"count": 24})
    assert len(found.batches) > 1
    assert found.problems == ()
    lone = choice(
        method={"pull": "wet"},
        pattern={"kind": "horizon", "direction": None, "count": None, "drop": "40", "colors": ["ink", None]},
    )
    assert "more than the" in lone.problems[0]
    assert "touch-dry" in lone.problems[0]


def test_what_does_not_fit_wet_is_pulled_touch_dry_and_says_why():
    found = choice(pattern={"kind": "horizon", "direction": None, "count": None, "drop": "40", "colors": ["ink", None]})
    assert found.window.pull_method == "touch-dry"
    assert "Not wet: the largest part takes" in found.reason


def test_caulk_with_two_coats_is_refused_and_says_what_would_do():
    asked = order(method={"seal": "caulk", "coats": {"ink": 2}}, pattern={"count": 24})
    assert asked.solution.status == "infeasible"
    assert "caulk skins over in 30 min" in asked.said[0]
    assert order(method={"seal": "caulk", "coats": {"ink": 1}}, pattern={"count": 24}).solution.times is not None


def test_a_base_painted_before_counts_its_age():
    """Painted at noon the day before: tape-safe at noon, so nothing is taped earlier."""
    job = wall()
    job["pieces"][0]["surface"]["finish"] = {"state": "painted", "painted_on": "2027-02-28T12:00"}
    found = schedule_of(plan_job(read_job(job)), 1.0, "2027-03-01T08:00")
    times = found.solution.times
    assert not [task for task in times.tasks if task.kind == "base"]
    [tape] = [t for t, task in enumerate(times.tasks) if task.kind == "tape"]
    assert times.calendar.moment(times.start(tape)) >= datetime(2027, 3, 1, 12)


def test_the_finish_is_explained_by_its_longest_waits():
    said = order().said
    assert said[0].startswith("Done ")
    assert any("must be tape-safe, 24 h" in line for line in said)


def test_variants_stand_side_by_side_with_what_they_gain():
    plan = plan_job(read_job(wall(pattern={"count": 24})))
    found = {variant.name: variant for variant in variants_of(plan, 0.1, "2027-03-01T08:00")}
    assert found["Pulled dry"].elapsed_min > found["As planned"].elapsed_min
    assert found["9 °F warmer"].elapsed_min <= found["As planned"].elapsed_min
    gains = gains_of(list(found.values()))
    assert all(found[name].elapsed_min == found["As planned"].elapsed_min - minutes for name, minutes in gains)
    assert found["Caulked"].finish is None
    assert "caulk" in found["Caulked"].said


def test_goes_hold_every_task_once_and_join_what_follows():
    found = order()
    goes = goes_of(found)
    times = found.solution.times
    parts = [part for go in goes for part in go.parts]
    worked = [(number, low, high) for number in range(len(times.tasks)) for low, high in times.by_day(number)]
    assert sorted((part.task, part.begin, part.end) for part in parts) == sorted(worked)
    assert [go.number for go in goes] == list(range(1, len(goes) + 1)) and len(goes) < len(worked)
    for go in goes:
        tasks = {(times.tasks[part.task].name.piece, times.tasks[part.task].number) for part in go.parts}
        assert tasks == {(go.piece, go.round)}
        assert all(b.begin - a.end <= 10 for a, b in pairwise(go.parts))
    for pause in pauses_of(found, goes):
        assert pause.why and not any(go.begin < pause.end and go.end > pause.begin for go in goes)


def test_the_picture_of_the_days_shows_every_go_at_its_hour_and_windows_that_close():
    found = order()
    goes = goes_of(found)
    bands = day_bands_of(found, goes)
    assert [shown.go for shown in bands.goes] == goes
    hours = {words: x for x, words in bands.hours}
    for shown in bands.goes:
        begin = found.calendar.moment(shown.go.begin)
        x, after = hours[str(begin.hour)], hours[str(begin.hour + 1)]
        assert shown.stretches[0].x0 == pytest.approx(x + (after - x) * begin.minute / 60)
        assert bands.bands[shown.band].startswith(f"{begin:%a}")
    pictures = [(shown.band, shown.picture_x) for shown in bands.goes if shown.picture_x is not None]
    assert all(b[1] - a[1] >= 44 for a, b in pairwise(sorted(pictures)) if a[0] == b[0])  # none over another
    assert bands.closings and all(each.x0 < each.x1 for each in bands.closings)


SITUATION = Situation("smooth", "wall", "painted", "delicate", True, "none", "wet", 1, (None,), 0.5, 10**6)


@pytest.mark.parametrize(
    ("changes", "risk", "level", "points"),
    [
        ({}, "bleed", "low", 0),  # swelling-edge tape -1, over a paint layer +1
        ({"texture": "rough"}, "bleed", "high", 5),  # rough +5
        ({"texture": "rough", "seal": "caulk"}, "bleed", "low", 1),  # rough +5, caulk -4
        ({"adhesion": "strong", "texture": "cold-pressed", "kind": "paper"}, "lift", "high", 7),  # strong +3, paper +1, both +3
        ({"base_age_min": 60}, "lift", "fair", 4),  # not tape-safe +4
        ({"pull": "dry", "coats": 3}, "bridge", "high", 6),  # dry +4, three coats +2
        ({"pull": "dry", "texture": "hot-pressed", "kind": "paper"}, "bridge", "low", 1),  # dry +4, thin paint on paper -3
    ],
)
def test_forecasts_of_plain_cases(changes, risk, level, points):
    """Common practice, no source: what the trade says of each, in points added up by hand."""
    found = getattr(forecast(Situation(**{**vars(SITUATION), **changes})), risk)
    assert (found.level, found.points) == (level, points)


def test_what_does_nothing_is_said_with_its_reason():
    found = forecast(replace(SITUATION, swelling_edge=False, seal="moisten", finish="bare"))
    assert "moistening does nothing on tape without a swelling edge" in map(str, found.bleed.reasons)
    assert "bare ground: no paint under the tape to lift" in map(str, found.lift.reasons)


@pytest.mark.parametrize(
    ("changes", "days", "words"),
    [
        ({"seal": "caulk", "pull": "dry"}, 0, "caulk left to dry"),
        ({"seal": "caulk", "paints": (Paint("p", "water", "flat", Fraction(9)),)}, 0, "flat paint can crack over caulk"),
        ({"seal": "moisten", "swelling_edge": False}, 0, "only works with swelling-edge"),
        ({"adhesion": "strong", "texture": "cold-pressed"}, 0, "strong tape tears paper"),
        ({"base_age_min": 60}, 0, "isn't tape-safe yet"),
        ({"base_age_min": 60, "texture": "hot-pressed"}, 0, "on paper the base must be fully dry"),
        ({"seal": "matte-medium", "paints": (Paint("p", "water", "gloss", Fraction(9)),)}, 0, "matte medium shows under gloss"),
        ({}, 5, "the tape stays on for 5 days"),
    ],
)
def test_combinations_that_practitioners_warn_of(changes, days, words):
    assert any(words in said for said in cautions(Situation(**{**vars(SITUATION), **changes}), "Wall", days, 3.0))
    assert cautions(SITUATION, "Wall", 1, 3.0) == []


def test_peel_force_by_angle():
    """Rivlin 1944, from memory: G / (1 - cos θ): at 180° half of what it is at 90°."""
    assert [round(peel_force(angle), 3) for angle in (60, 90, 180)] == [2.0, 1.0, 0.5]
    assert pull_angle(Situation(**{**vars(SITUATION), "texture": "hot-pressed"}))[0] == 180


def test_paper_is_pulled_dry_and_canvas_sealed_with_medium():
    paper = Situation(**{**vars(SITUATION), "texture": "cold-pressed", "kind": "paper"})
    assert (seals_for(paper)[0], pull_methods_for(paper)[0]) == ("none", "dry")
    assert seals_for(Situation(**{**vars(SITUATION), "texture": "canvas", "kind": "canvas"}))[0] == "matte-medium"


def test_windows_by_school():
    paint = Paint(
        "p", "water", "matte", Fraction(9), touch_dry_min=Fraction(30), full_dry_min=Fraction(600), wet_edge_min=Fraction(20)
    )
    at_label = Climate()
    assert (window_of("wet", [paint], at_label, 80).most_min, window_of("wet", [None], at_label, 100).most_min) == (16, 10)
    touch = window_of("touch-dry", [paint], at_label, 50)
    assert (touch.least_min, touch.most_min) == (30, 150)
    assert window_of("dry", [paint], at_label, 80).least_min == 600
    assert [spoken(m) for m in (5, 60, 95, 2880)] == ["5 min", "1 h", "1 h 35 min", "2 days"]


def test_risk_rises_when_wet_is_over():
    risks = [pull_risk(m, 10, 45, 1440) for m in (0, 10, 25, 45, 300, 1440)]
    assert risks[0] == risks[1] < risks[3] < risks[2]
    assert risks[-1] == max(risks)


def test_two_pieces_of_one_name_keep_their_own_seals_and_pulls():
    """A wall and a canvas, both called “Wall”: each goes by its own surface."""
    job = wall()
    job["pieces"].append(
        {**job["pieces"][0], "surface": {**job["pieces"][0]["surface"], "kind": "canvas", "texture": "canvas"}}
    )
    plan = plan_job(read_job(job))
    work = work_of(plan, MONDAY)
    first, second = (work.choices[key][0] for key in ("piece-1", "piece-2"))
    assert (first.situation.kind, second.situation.kind) == ("wall", "canvas")
    assert second.seal.method == "matte-medium" != first.seal.method
    assert {"same-name"} <= {warning.code for warning in plan.warnings}


def test_a_pattern_that_paints_nothing_says_so():
    plan = plan_job(read_job(wall(pattern={"colors": [None]})))
    assert [warning.code for warning in plan.warnings] == ["paints-nothing"]


def test_what_cannot_be_done_says_which_window_is_missed_when_and_what_would_do():
    """Touch-dry six hours after an afternoon's coat falls at night. Hours until later, or a dry pull, would do."""
    job = wall(method={"pull": "touch-dry", "seal": "none", "paint": {"ink": "slow"}})
    job["products"]["slow"] = {"kind": "paint", "touch_dry": "6 h"}
    job["crew"] = {"hours": [["13:00", "18:00"]]}
    found = schedule_of(plan_job(read_job(job)), 0.5, "2027-03-01T08:00")
    assert found.solution.status == "infeasible" and found.solution.times is None
    said = " ".join(found.said)
    assert re.search(r"pull the tape, last strip first: from \w+ \d\d:\d\d until \w+ \d\d:\d\d, but somebody is there", said)
    assert "Any of these would do:" in said and "pulled dry" in said and "two more hours each day" in said
    for change in ({"hours": [["13:00", "20:00"]]}, None):
        better = job | ({"crew": change} if change else {})
        if not change:
            better["pieces"][0]["method"]["pull"] = "dry"
        assert schedule_of(plan_job(read_job(better)), 0.5, "2027-03-01T08:00").solution.times is not None


def test_the_day_list_at_risk_keeps_every_wait_and_misses_only_ends_of_windows():
    job = wall(method={"pull": "touch-dry", "seal": "none", "paint": {"ink": "slow"}})
    job["products"]["slow"] = {"kind": "paint", "touch_dry": "6 h"}
    job["crew"] = {"hours": [["13:00", "18:00"]]}
    found = schedule_of(plan_job(read_job(job)), 0.5, "2027-03-01T08:00").at_risk
    times = found.solution.times
    waits = [times.anchor(lag.then, lag.to) - times.anchor(lag.first, lag.of) for lag in found.work.lags]
    assert all(wait >= lag.least for wait, lag in zip(waits, found.work.lags, strict=True))
    missed = [lag.group for wait, lag in zip(waits, found.work.lags, strict=True) if lag.most is not None and wait > lag.most]
    assert set(missed) == {"pull"}


def test_auto_never_chooses_a_pair_that_cannot_work():
    """Two coats two hours apart outlast every caulk: it is never chosen by itself where something else works."""
    for texture in ("rough", "grain", "light", "smooth"):
        job = wall()
        job["pieces"][0]["surface"]["texture"] = texture
        plan = plan_job(read_job(job))
        [choice] = work_of(plan, MONDAY).choices["piece-1"]
        assert not choice.problems
