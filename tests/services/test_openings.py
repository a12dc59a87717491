"""Adding what stands in the way: with its word and usual size, where there is room, on panels of any size."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall

from dividers.core.base.units import INCH_MM, JOB_UNITS
from dividers.core.job.in_the_way import BY_SURFACE, offered_on
from dividers.core.job.surface import SURFACE_KINDS
from dividers.core.job_file.job_reader import read_job
from dividers.services.jobs.openings import add_opening


@given(st.sampled_from(SURFACE_KINDS), st.sampled_from(JOB_UNITS), st.integers(24, 200), st.integers(24, 130), st.data())
def test_what_is_added_lies_on_the_panel_and_beside_the_others(surface, units, width, height, data):
    job = wall(panel={"width": f"{width} in", "height": f"{height} in"}) | {"units": units}
    job["pieces"][0]["surface"]["kind"] = surface
    words = data.draw(st.lists(st.sampled_from([each.word for each in offered_on(surface)]), min_size=1, max_size=3))
    for word in words:
        add_opening(job, "pieces.0", 0, word)
    openings = read_job(job).pieces[0].surface.panels[0].openings
    assert len(openings) == len({each.name for each in openings}) == len(words)
    for number, each in enumerate(openings):
        assert 0 <= each.box.left < each.box.right <= width * INCH_MM
        assert 0 <= each.box.top < each.box.bottom <= height * INCH_MM
        assert not any(each.box.overlap(other.box) for other in openings[:number])


@pytest.mark.parametrize(("units", "high"), [("in", "80"), ("mm", "2030"), ("cm", "203")])
def test_a_door_stands_on_the_floor_whatever_the_height(units, high):
    job = wall(panel={"width": "120 in", "height": "95 7/8 in"}) | {"units": units}
    add_opening(job, "pieces.0", 0, "door")
    [door] = read_job(job).pieces[0].surface.panels[0].openings
    assert (door.name, job["pieces"][0]["surface"]["panels"][0]["openings"][0]["height"]) == ("Door", high)
    assert door.box.bottom == Fraction(767, 8) * INCH_MM


def test_each_surface_has_its_own_words_and_anything_else():
    assert all(things[-1].word == "something else" for things in BY_SURFACE.values())
    job = wall()
    for _ in range(2):
        add_opening(job, "pieces.0", 0, "never heard of")
    assert [each["name"] for each in job["pieces"][0]["surface"]["panels"][0]["openings"]] == ["Opening", "Opening 2"]
