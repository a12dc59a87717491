"""Waits between the tasks of a round and between rounds, from the schedule's own times. Common practice, no source, but for labels."""

from fractions import Fraction

import pytest
from jobs import wall

from dividers.core.job.crew import Climate
from dividers.core.job.products import Paint
from dividers.core.job_file.job_reader import read_job
from dividers.core.order.schedule import schedule_of, start_of, variants_of
from dividers.core.order.tasks import work_of
from dividers.core.plan.plan import plan_job
from dividers.core.risk.windows import window_of

DAY_MIN = 1440
PAINT = {"kind": "paint", "touch_dry": "1 h", "recoat": "2 h", "tape_safe": "30 h", "full_dry": "3 d"}


def schedule(tape=None, pattern=None, **method):
    job = wall(panel={"width": "40", "height": "30"}, method={"seal": "none", "pull": "dry"} | method, pattern=pattern or {})
    job["products"]["paint"] = PAINT
    job["products"]["delicate"] |= tape or {}
    job["pieces"][0]["method"]["paint"] = dict.fromkeys(("cream", "ink", "madder"), "paint")
    job["climate"] = {"temperature": "73.4 F", "humidity": 50}
    return schedule_of(plan_job(read_job(job)), 0.5, "2027-03-01T08:00")


def times_of(found, kind, number=None):
    """(start, end) of each task of a kind, in wall minutes."""
    times = found.solution.times
    return [
        (times.start(t), times.end(t))
        for t, task in enumerate(times.tasks)
        if task.kind == kind and number in (None, task.number)
    ]


@pytest.mark.parametrize(("seal", "coats", "dry"), [("base", 1, 40), ("clear", 2, 60)])
def test_the_seal_dries_before_the_paint_and_between_its_coats(seal, coats, dry):
    found = schedule(seal=seal)
    sealed = sorted(times_of(found, "seal"))
    assert len(sealed) == coats
    if coats == 2:
        assert sealed[1][0] - sealed[0][1] >= dry
    assert min(times_of(found, "coat"))[0] - sealed[-1][1] >= dry


def test_a_second_coat_waits_as_the_label_says_and_the_pull_for_the_last():
    found = schedule()
    first, second = sorted(times_of(found, "coat"))
    assert second[0] - first[1] >= 120
    assert times_of(found, "pull")[0][0] - second[1] >= 3 * DAY_MIN


def test_touching_up_waits_until_the_paint_beside_it_is_touch_dry():
    found = schedule(pull="wet", coats={"ink": 1})
    assert times_of(found, "touch-up")[0][0] - max(end for _, end in times_of(found, "coat")) >= 60


def test_the_tape_is_off_before_the_caulk_skins_over():
    found = schedule(seal="caulk", pull="wet", coats={"ink": 1})
    for pulled in times_of(found, "pull"):
        sealed = max(start for start, _ in times_of(found, "seal") if start < pulled[0])
        assert 0 < pulled[1] - sealed <= 30


def test_the_tape_is_off_within_the_days_that_it_comes_off_clean():
    """Dry after three days, and a tape that comes off clean within two: not to be done, and the tape's days are named."""
    found = schedule(tape={"remove_within": "2 d"})
    assert found.solution.times is None
    assert "tape's days" in found.solution.clashes
    assert schedule(tape={"remove_within": "7 d"}).solution.times is not None


def test_tape_goes_on_paint_of_the_round_before_only_when_that_is_tape_safe():
    checks = {"kind": "checker", "count": None, "direction": None, "columns": 3, "rows": 3, "colors": ["ink", "madder"]}
    found = schedule(pattern=checks, pull="wet", coats=dict.fromkeys(("ink", "madder"), 1))
    rounds = sorted({task.number for task in found.solution.times.tasks if task.number})
    assert len(rounds) >= 2
    crossing = [lag for lag in found.work.lags if lag.group == "tape-safe" and lag.why.startswith("coat")]
    assert crossing
    for lag in crossing:
        assert lag.least == 30 * 60
    last_of_one = max(end for _, end in times_of(found, "coat", rounds[0]))
    assert times_of(found, "tape", rounds[1])[0][0] - last_of_one >= 30 * 60
    assert times_of(found, "tape", rounds[1])[0][0] >= max(end for _, end in times_of(found, "pull", rounds[0]))


def test_tape_goes_over_another_round_only_once_that_is_pulled():
    """Pulled dry after three days, tape-safe after 30 h: the tape of the second round waits for the pull, not only for the paint."""
    checks = {"kind": "checker", "count": None, "direction": None, "columns": 3, "rows": 3, "colors": ["ink", "madder"]}
    found = schedule(pattern=checks, coats=dict.fromkeys(("ink", "madder"), 1))
    assert times_of(found, "tape", 2)[0][0] >= max(end for _, end in times_of(found, "pull", 1))
    last = max(end for _, end in times_of(found, "coat", 1))
    assert times_of(found, "tape", 2)[0][0] - last >= 3 * DAY_MIN


def test_marks_are_erased_once_touched_up_paint_can_take_it():
    found = schedule(marks="tape-side", coats={"ink": 1})
    [(_, touched)], [(erased, _)] = times_of(found, "touch-up"), times_of(found, "erase")
    assert erased - touched >= 120


def test_a_caulk_with_a_longer_skin_time_may_stay_so_long_and_no_longer():
    job = wall(panel={"width": "40", "height": "30"}, method={"seal": "caulk", "pull": "wet", "coats": {"ink": 1}})
    for skin in (20, 45):
        job["products"]["caulk"] = {"kind": "seal", "method": "caulk", "skin": f"{skin} min"}
        plan = plan_job(read_job(job))
        held = [lag for lag in work_of(plan, start_of(plan.job)).lags if lag.group == "caulk"]
        assert held and {(lag.most, lag.of, lag.to) for lag in held} == {(skin, "start", "end")}


def test_touch_dry_is_that_of_the_slowest_paint_and_wet_that_of_the_quickest():
    quick, slow = (
        Paint(str(m), "water", "matte", Fraction(9), wet_edge_min=Fraction(m), touch_dry_min=Fraction(3 * m)) for m in (12, 30)
    )
    at_label = Climate()
    assert window_of("touch-dry", [quick, slow], at_label, 100).least_min == 90
    assert window_of("wet", [quick, slow], at_label, 100).most_min == 12


def test_one_more_painter_is_one_more_painter():
    """Two stripes that wait for nothing of each other: with another hand the job takes less time, by what both do at once."""
    job = wall(panel={"width": "40", "height": "30"}, method={"seal": "none", "pull": "wet", "coats": {"ink": 1, "cream": 0}})
    job["pieces"].append({**job["pieces"][0], "name": "other"})
    plan = plan_job(read_job(job))
    variants = {each.name: each for each in variants_of(plan, 0.5, "2027-03-01T08:00")}
    assert variants["One more painter"].elapsed_min < variants["As planned"].elapsed_min


def test_preparing_goes_step_by_step_each_with_a_name_of_its_own():
    found = schedule(prep=["clean", "sand", "prime"])
    tasks = [task for task in found.work.tasks if task.kind == "prep"]
    assert [task.words.split()[0] for task in tasks] == ["Clean", "Sand", "Prime"]
    assert len({task.key for task in tasks}) == 3
    clean, sand, prime = times_of(found, "prep")
    assert sand[0] - clean[1] >= 30 and prime[0] >= sand[1]
    assert min(times_of(found, "base"))[0] - prime[1] >= 120
