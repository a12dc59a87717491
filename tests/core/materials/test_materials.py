"""What a job takes: against the coverage identity and hand-worked sums; packs against trying all."""

from fractions import Fraction
from itertools import product

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall

from dividers.core.base.errors import BadJob
from dividers.core.base.quantities import mixed, run
from dividers.core.base.units import INCH_MM, SQUARE_FOOT_M2, US_GALLON_L
from dividers.core.job_file.job_reader import read_job
from dividers.core.materials.buying import shopping_of
from dividers.core.materials.mixes import batch_of
from dividers.core.materials.packs import Pack, packs_for
from dividers.core.order.schedule import start_of
from dividers.core.order.tasks import work_of
from dividers.core.plan.plan import plan_job
from dividers.core.plan.spacers import spacers_m, spacers_said


def shopping(job):
    plan = plan_job(read_job(job))
    return shopping_of(plan, work_of(plan, start_of(plan.job)).choices)


def line(found, start):
    return next(each for each in found.lines if each.need.item.startswith(start))


def test_a_gallon_covers_1604_square_feet_a_mil_thick():
    """231 in³ over 0.001 in: the coverage identity of paint handbooks (from memory)."""
    square_feet = US_GALLON_L / 1000 / (INCH_MM / 1000 / 1000) / SQUARE_FOOT_M2
    assert float(square_feet) == pytest.approx(1604.2, abs=0.1)
    job = wall(
        panel={"width": "1925.0 in", "height": "120 in"},
        pattern={"kind": "horizon", "drop": "60 in", "count": None, "direction": None, "colors": [None, "ink"]},
    )
    job["products"]["paint"] = {
        "kind": "paint",
        "spread": f"{float(square_feet):.3f} ft2/gal" if square_feet < 4000 else "100 m2/L",
    }
    job["pieces"][0]["method"] |= {"paint": {"ink": "paint"}, "coats": {"ink": 2, "cream": 0}, "tool": "brush"}
    need = line(shopping(job), "Ink").need
    square = 1925 * 60 / 144
    assert need.net == pytest.approx(2 * square / float(square_feet) * float(US_GALLON_L), rel=1e-3)
    assert need.amount == pytest.approx(need.net * 1.05)


def test_a_wall_worked_by_hand():
    """120 x 96 in in six stripes, three painted twice: 40 ft² x 2 ÷ 400 ft²/gal = 0.2 gal, and a tenth that stays on the roller."""
    job = wall()
    job["products"]["paint"] = {"kind": "paint", "spread": "400 ft2/gal"}
    job["pieces"][0]["method"] |= {"paint": {"ink": "paint", "cream": "paint"}, "coats": {"ink": 2, "cream": 1}, "seal": "none"}
    found = shopping(job)
    gallon = float(US_GALLON_L)
    assert line(found, "Ink").need.net == pytest.approx(40 * 2 / 400 * gallon)
    assert line(found, "Ink").need.amount == pytest.approx(0.22 * gallon)
    assert line(found, "Warm cream").need.net == pytest.approx(80 / 400 * gallon)
    tape = line(found, "delicate")
    assert tape.need.net == pytest.approx(
        (6 * 96 + 2 * 5 * 20) * 0.0254
    )  # five lines and an edge; along top and bottom over five stripes
    assert [(float(pack.size), many) for pack, many in tape.packs] == [(55.0, 1)]


@pytest.mark.parametrize(
    ("width", "bought"), [("12 in", [Fraction(1, 16)]), ("40 in", [Fraction(1, 16)]), ("144 in", [Fraction(1, 4)])]
)
def test_what_one_tester_pot_covers_is_bought_as_one(width, bought):
    """At 400 ft²/gal and two coats with what stays on the roller, half of 24 in x its height: half a pint covers 11 ft² so."""
    job = wall(panel={"width": width, "height": "24 in"}, pattern={"count": 6})
    job["products"]["paint"] = {"kind": "paint", "spread": "400 ft2/gal"}
    job["pieces"][0]["method"]["paint"] = {"ink": "paint"}
    found = line(shopping(job), "Ink")
    assert [pack.size / US_GALLON_L for pack, _ in found.packs] == bought
    assert (found.need.amount <= US_GALLON_L / 16) == (bought == [Fraction(1, 16)])


def test_a_glaze_is_told_apart_and_edges_take_their_seal():
    job = wall()
    job["products"]["glaze"] = {"kind": "paint", "spread": "10 m2/L", "glaze_parts": 4}
    job["pieces"][0]["method"] |= {
        "paint": {"ink": "glaze"},
        "coats": {"ink": 1, "cream": 0},
        "seal": "caulk",
        "prep": ["prime"],
        "clear_coats": 2,
    }
    found = shopping(job)
    area = 40 * float(SQUARE_FOOT_M2)
    assert line(found, "glaze").need.net == pytest.approx(area / 10 * 4 / 5)
    assert line(found, "Ink").need.net == pytest.approx(area / 10 / 5)
    assert line(found, "clear caulk").need.net == pytest.approx(line(found, "delicate").need.net * 2.5 / 1000)
    assert line(found, "primer").need.net == pytest.approx(2 * area / 10)
    assert line(found, "clear coat").need.net == pytest.approx(2 * 2 * area / 10)
    assert any(what.startswith("caulking gun") for what, _ in found.sundries)


def test_stock_is_taken_off_prices_add_up_and_tape_that_runs_out_is_told():
    job = wall(job={"currency": "EUR"})
    job["supplies"] = {
        "delicate": {"stock": "10 m", "sizes": ["25 m", "50 m"], "prices": ["4", "6.50"]},
        "Ink, usual paint": {"stock": "5 L"},
    }
    found = shopping(job)
    tape = line(found, "delicate")
    assert [(float(pack.size), many) for pack, many in tape.packs] == [(25.0, 1)]
    assert (tape.cost, found.cost, found.currency) == (Fraction(4), Fraction(4), "EUR")
    assert line(found, "Ink").packs == ()
    assert float(tape.left_over) == pytest.approx(35 - tape.need.amount, abs=1e-3)
    # 10 m are 393.7 in; two strips of 100 1/2 in and two of 96 1/2 in, tabs included, are 394
    assert found.runs_out == ("delicate: the 33 ft in stock run out at strip 4 of Wall.",)
    job["supplies"]["delicate"]["sizes"] = ["none"]
    with pytest.raises(BadJob, match=r"supplies\.delicate\.sizes\.0"):
        shopping(job)


def test_spacer_strips_are_bought_though_they_are_lifted_again():
    job = wall(pattern={"count": None, "spacer": True})
    found = line(shopping(job), "delicate").need
    assert any("spacer strips, lifted again" in step for step in found.steps)
    plain = line(shopping(wall(pattern={"count": None, "widths": ["36 mm"]})), "delicate").need
    assert found.net > plain.net * 1.4
    twice = plan_job(read_job(job | {"pieces": [job["pieces"][0] | {"copies": 2}]})).pieces[0]
    assert spacers_m(twice) == pytest.approx(2 * spacers_m(plan_job(read_job(job)).pieces[0]))
    door = {"name": "door", "left": "30", "top": "20", "width": "40", "height": "76"}
    cut = wall(pattern={"count": None, "spacer": True}, panel={"openings": [door]})
    assert "one piece of 96 1/2 in" in spacers_said(
        plan_job(read_job(cut)).pieces[0]
    )  # the longest, though some end at the door
    said = spacers_said(plan_job(read_job(job)).pieces[0])  # the same metres as are bought, and the longest strip once
    assert f"{run(found.net, 'in')} from the roll" in said and "one piece of 96 1/2 in" in said


def test_a_large_need_leaves_room_for_a_better_end():
    """601 in packs of 3 and 2: 199 and 2 leave nothing over; 200 of 3 would leave 1."""
    assert [(int(pack.size), many) for pack, many in packs_for(Fraction(601), (Pack(Fraction(2)), Pack(Fraction(3))))] == [
        (3, 199),
        (2, 2),
    ]


@given(
    st.integers(1, 400),
    st.lists(st.tuples(st.integers(1, 30), st.none() | st.integers(1, 40)), min_size=1, max_size=3, unique_by=lambda p: p[0]),
)
def test_packs_are_the_best_of_all_that_cover_a_need(need, sizes):
    packs = [Pack(Fraction(size), None if price is None else Fraction(price)) for size, price in sizes]
    if need / min(pack.size for pack in packs) > 40:
        need = int(min(pack.size for pack in packs)) * 40
    found = dict(packs_for(Fraction(need), packs))
    assert sum(pack.size * many for pack, many in found.items()) >= need
    priced = all(pack.price is not None for pack in packs)

    def cost(counts):
        amount = sum(pack.size * many for pack, many in counts)
        return (sum(pack.price * many for pack, many in counts) if priced else amount, amount, sum(many for _, many in counts))

    ranges = [range(-(-need // int(pack.size)) + 1) for pack in packs]
    best = min(
        cost(list(zip(packs, c, strict=True)))
        for c in product(*ranges)
        if sum(p.size * n for p, n in zip(packs, c, strict=True)) >= need
    )
    assert cost(list(found.items())) == best


def sundries(surface="wall", width="120", count=6):
    job = wall(panel={"width": width, "height": "96"}, pattern={"count": count})
    job["pieces"][0]["surface"]["kind"] = surface
    return dict(shopping(job).sundries)


def test_tools_fit_the_part_and_the_surface():
    """A 12 in stripe beside an inch of tape isn't rolled with 9 in; nothing hard is pressed on paper."""
    stripe = sundries(width="72", count=6)
    assert "4 in roller, two sleeves" in stripe and "9 in roller, two sleeves" not in stripe
    assert "9 in roller, two sleeves" in sundries(width="480")
    assert "putty knife or blunt blade" in stripe
    paper = sundries("paper", "24")
    assert "soft cloth or a fingernail" in paper and not any("knife or blunt" in what for what in paper)


def test_a_mix_is_measured_out_in_whole_millilitres():
    """4 parts of glaze and 1 of paint for 0.36 m² at 12 m²/L with a tenth lost: 33 mL, 26 and 7; worked by hand."""
    parts = (("glaze", Fraction(4)), ("paint", Fraction(1)))
    batch = batch_of(parts, 0.36, 1, 12.0, 10.0)
    assert mixed(batch.litres, batch.parts, "mm") == "33 mL: 26 mL of glaze and 7 mL of paint"
    assert mixed(batch.litres, batch.parts, "in") == "1.1 fl oz: 0.9 fl oz of glaze and 0.2 fl oz of paint"
