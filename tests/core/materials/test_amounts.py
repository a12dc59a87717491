"""Amounts of one piece by hand: area, coats, copies, spread, waste."""

from datetime import datetime

import pytest
from jobs import wall

from dividers.core.job_file.job_reader import read_job
from dividers.core.materials.buying import shopping_of
from dividers.core.order.tasks import work_of
from dividers.core.plan.plan import plan_job

SQUARE_M2_LESS = 120 * 96 * 25.4**2 / 1e6


def piece_of(copies=1, **method):
    job = wall(piece={"copies": copies} if copies > 1 else {}, method=method)
    job["products"]["paint"] = {"kind": "paint", "spread": "10 m2/L"}
    job["pieces"][0]["method"] |= {"paint": {"ink": "paint"}, "coats": {"ink": 3}}
    return plan_job(read_job(job)).pieces[0]


@pytest.mark.parametrize("copies", [1, 4])
def test_paint_is_area_times_coats_over_spread_for_all_copies(copies):
    ink = next(need for need in piece_of(copies).paints if need.color == "ink")
    assert ink.area_m2 == pytest.approx(SQUARE_M2_LESS / 2 * copies)
    assert ink.litres == pytest.approx(SQUARE_M2_LESS / 2 * copies * 3 / 10)


@pytest.mark.parametrize("copies", [1, 4])
def test_tape_is_what_is_laid_and_a_tenth_more_for_all_copies(copies):
    plan = piece_of(copies)
    laid = sum(float(strips.lengths.sum()) for each in plan.taping.chosen.rounds for strips in each.strips) / 1000
    assert plan.tapes[0].metres == pytest.approx(laid * copies * 1.1, rel=1e-6)
    assert piece_of(copies, tape_waste=25).tapes[0].metres == pytest.approx(laid * copies * 1.25, rel=1e-6)


@pytest.mark.parametrize(
    ("surface", "coats", "bought"),
    [({"kind": "wall"}, {}, 2), ({"kind": "paper"}, {}, 0), ({"kind": "paper"}, {"cream": 1}, 1)],
)
def test_base_coats_are_bought_as_they_are_scheduled(surface, coats, bought):
    job = wall()
    job["pieces"][0]["surface"] |= surface
    job["pieces"][0]["method"]["coats"] = coats
    plan = plan_job(read_job(job))
    [base] = [need for need in plan.pieces[0].paints if need.is_base]
    assert base.coats == bought
    scheduled = [task for task in work_of(plan, datetime(2027, 3, 1, 8)).tasks if task.kind == "base"]
    assert len(scheduled) == bought


def test_waits_between_rounds_are_compared_in_the_air_there_is():
    def waits(climate):
        job = wall(pattern={"count": 6, "colors": ["ink", "madder"]}) | {"climate": climate}
        return [option.wait_min for option in plan_job(read_job(job)).pieces[0].taping.options]

    cold = waits({"temperature": "10 C", "humidity": 80})
    usual = waits({})
    assert all(one > 2 * other > 0 for one, other in zip(cold, usual, strict=True))


def test_a_glaze_below_another_is_bought_for_where_they_cross_too():
    """Two glazes that cross: the first is painted over the whole width of its bands, also where the second lies on it."""
    plaid = {"kind": "plaid", "count": None, "direction": None, "upright": ["10", "10"], "level": ["12", "12"]}
    plan = plan_job(read_job(wall(pattern=plaid | {"colors": ["ink", None], "level_colors": ["madder", None]}))).pieces[0]
    areas = {need.color: need.area_m2 for need in plan.paints if not need.is_base}
    whole = 120 * 96 * 0.0254**2
    assert areas == {"ink": pytest.approx(whole / 2), "madder": pytest.approx(whole / 2)}


def test_primer_and_clear_coats_are_for_all_copies():
    def litres(copies):
        job = wall(piece={"copies": copies}, method={"prep": ["prime"], "clear_coats": 2})
        plan = plan_job(read_job(job))
        found = shopping_of(plan, work_of(plan, datetime(2027, 3, 1, 8)).choices)
        return {each.need.item: each.need.net for each in found.lines if each.need.item in ("primer", "clear coat")}

    one, three = litres(1), litres(3)
    assert set(one) == {"primer", "clear coat"}
    assert three == {item: pytest.approx(3 * net) for item, net in one.items()}


@pytest.mark.parametrize(
    ("finish", "kind", "coats"),
    [
        ({"base": "on"}, "wall", 0),
        ({"base": "2027-01-01"}, "wall", 0),
        ({"base": "6 January 2027"}, "wall", 0),
        ({"painted_on": "2027-01-01"}, "wall", 0),
        ({"base": "to paint", "painted_on": "2027-01-01"}, "wall", 2),
        ({"base": "to paint"}, "paper", 2),
        ({}, "paper", 0),
        ({}, "wall", 2),
    ],
)
def test_materials_and_schedule_agree_whether_the_base_is_painted(finish, kind, coats):
    job = wall()
    job["pieces"][0]["surface"] |= {"finish": finish, "kind": kind}
    plan = plan_job(read_job(job))
    work = work_of(plan, datetime(2027, 3, 1, 8))
    assert sum(task.kind == "base" for task in work.tasks) == coats
    bought = [each for each in shopping_of(plan, work.choices).lines if each.need.item.startswith("Warm cream")]
    assert bool(bought) == bool(coats)
