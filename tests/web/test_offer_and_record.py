"""An offer: its figures by hand from hours, rate, margin and tax; what is not valid stands at its field; PDF; planned against worked."""

import io
import re
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall
from pages import reading, until
from PIL import Image

from dividers.core.materials.quote import Terms, quote_of
from dividers.formats.photos import cleaned
from dividers.services import clock
from dividers.services.files import photo_preview
from dividers.services.jobs.job_list import add_job
from dividers.services.logbook import logbook, year
from dividers.services.opening import open_data
from dividers.web.app import create_app


@given(st.integers(0, 20_000), st.integers(0, 10**6), st.integers(0, 20_000), st.integers(0, 60), st.integers(0, 30))
def test_lines_are_whole_cents_and_the_total_is_their_sum(minutes, materials, rate, margin, tax):
    quote = quote_of(
        minutes, Fraction(materials, 100), Terms(Fraction(rate, 100), Fraction(0), Fraction(margin), Fraction(tax))
    )
    assert all(line.amount * 100 == int(line.amount * 100) for line in quote.lines)
    exact = (
        (Fraction(rate, 100) * Fraction((minutes + 3) // 6, 10) + Fraction(materials, 100))
        * (1 + Fraction(margin, 100))
        * (1 + Fraction(tax, 100))
    )
    assert abs(quote.total - exact) <= Fraction(3, 100)


@pytest.fixture
def client(tmp_path):
    connection = open_data(tmp_path)
    add_job(connection, wall(job={"currency": "EUR"}), "Begun")
    connection.close()
    return reading(create_app(tmp_path)).test_client()


def test_an_offer_is_made_kept_and_printed(client, tmp_path):
    bad = client.post("/jobs/1/quote", data={"rate": "much", "client": "The Lantern Cart", "margin": "12"})
    assert (
        bad.status_code == 422 and "is not valid as a price of an hour" in bad.text and 'value="The Lantern Cart"' in bad.text
    )
    typed = {"rate": "48", "margin": "12", "tax": "20", "more_materials": "85,50", "client": "The Lantern Cart", "valid": "14"}
    assert client.post("/jobs/1/quote", data=typed).status_code == 303
    page = until(client, "/jobs/1/quote", lambda page: "In all" in page)
    hours = float(re.search(r"Work, ([\d.]+) h at 48.00", page)[1])
    work, total = (
        float(each)
        for each in re.findall(r'class="reading">\s*([\d.]+) EUR', page)[:: len(re.findall(r'class="reading">', page)) - 1]
    )
    assert work == pytest.approx(hours * 48, abs=0.001)
    assert total == pytest.approx((work + 85.5) * 1.12 * 1.2, abs=0.03)
    base = re.search(r'name="base" value="([^"]*)"', page)[1]
    other = client.post("/jobs/1/quote", data={**typed, "rate": "60", "base": "2020-01-01T00:00:00+00:00"})
    assert other.status_code == 422 and "saved in another window" in other.text and 'value="60"' in other.text
    assert "at 48.00" in client.get("/jobs/1/quote").text
    assert f'name="base" value="{base}"' in other.text  # pressed again, it is put in its place
    plain = client.get("/jobs/1/quote/offer.pdf").data
    assert plain.startswith(b"%PDF") and "quote-place" not in page
    place = io.BytesIO()
    Image.new("RGB", (600, 400), "#778899").save(place, "JPEG")
    connection = open_data(tmp_path)
    photo_preview.put_photo(connection, 1, "wall", cleaned(place.getvalue()), tmp_path / "photos")
    connection.close()
    assert "wall/preview" in re.search(r'class="quote-place"\s+src="([^"]*)"', client.get("/jobs/1/quote").text)[1]
    assert len(client.get("/jobs/1/quote/offer.pdf").data) > len(plain)


def test_a_year_counts_each_strip_once_and_the_client_page_names_every_colour(client, tmp_path):
    connection = open_data(tmp_path)
    logbook.add_finding(connection, 1, {"round": "wall/1", "clean": "5", "bleed": "1"}, None, tmp_path)
    logbook.add_finding(connection, 1, {"round": "wall/1", "strip": "2", "edge": "bleed"}, None, tmp_path)
    this = clock.on_site(clock.moment()).year
    found = year.year_of(connection, this)
    assert [(row.clean, row.slight, row.bled) for row in found.edges] == [(5, 0, 1)]
    assert sum(found.strips_in_month) == 6
    assert (found.jobs, year.year_of(connection, this - 1).edges) == ((), ())
    connection.close()
    page = client.get(f"/year/{this}").text
    assert "83 % of 6" in page and "No job was begun" in page
    keep = client.get("/jobs/1/record/client").text
    assert "Warm cream (#f1e6cf)" in keep and "Ink (#22345a)" in keep and "How to repair it" in keep
