"""The schedule played on the drawing: each moment says its day, what was done, what is on and what comes; all of them as one picture."""

import io
import re

import pytest
from jobs import wall
from pages import reading, until
from PIL import Image
from pypdf import PdfReader

from dividers.core.job_file.job_reader import read_job
from dividers.core.order.schedule import start_of
from dividers.core.order.tasks import work_of
from dividers.core.plan.plan import plan_job
from dividers.services.jobs.job_list import add_job
from dividers.services.opening import open_data
from dividers.web.app import create_app

PLACE = "/jobs/1/wall/rehearsal"


@pytest.fixture
def client(tmp_path, monkeypatch):
    connection = open_data(tmp_path)
    job = wall(pattern={"count": 4}, method={"coats": {"ink": 1}})
    job["crew"] = {"start": "2027-03-06T08:00"}
    add_job(connection, job, "Begun")
    connection.close()
    found = reading(create_app(tmp_path)).test_client()
    until(found, PLACE, lambda page: "rehearsal-clock" in page)
    return found


def test_every_moment_is_shown_from_bare_to_finished(client):
    first = client.get(PLACE).text
    count = int(re.search(r"1 of (\d+)", first)[1])
    assert "Saturday 6 March, 08:00" in first
    assert "Nothing is on yet." in first and "Base coat 1" in first
    pages = [client.get(f"{PLACE}?at={number}").text for number in range(count)]
    taped = [page for page in pages if "strips of tape" in page]
    assert taped and all('class="strip' in page for page in taped)
    assert any("parts wet" in page and "url(#gloss)" in page for page in pages)
    assert "Then:" not in pages[-1] and "strips of tape" not in pages[-1]
    assert f"{count} of {count}" in client.get(f"{PLACE}?at=999").text


def test_all_moments_are_one_moving_picture(client):
    answer = client.get(f"{PLACE}/picture.png")
    picture = Image.open(io.BytesIO(answer.data))
    assert picture.n_frames > 4
    looks = set()
    for number in range(picture.n_frames):
        picture.seek(number)
        looks.add(picture.convert("RGB").resize((30, 24)).tobytes())
    assert len(looks) > 3


def test_what_can_go_wrong_is_said_where_it_is_asked_for(client):
    schedule = "/jobs/1/wall/schedule"
    assert "Tried 2000 times" not in client.get(schedule).text
    shown = client.get(f"{schedule}?chances=1").text
    assert re.search(r"Finished by\s*<strong>\w+ \d+ March, \d\d:\d\d</strong> in 8 of 10", shown)
    percents = [int(each) for each in re.findall(r"<td>(\d+) %</td>", shown)]
    assert 95 <= sum(percents) <= 105
    assert client.get(f"{schedule}?chances=1").text.count("in 8 of 10") == 1


def test_the_contact_sheet_has_a_picture_for_each_moment(client):
    sheet = PdfReader(io.BytesIO(client.get(f"{PLACE}/contact-sheet.pdf").data))
    text = "".join(page.extract_text() for page in sheet.pages)
    assert "how it comes about" in text and "As planned, not as it happened" in text
    assert len(set(re.findall(r"March, \d\d:\d\d", text))) >= 5


def test_from_a_step_at_the_wall_it_is_shown_as_it_should_look_before_it(client):
    plan = plan_job(read_job(client.get("/jobs/1.json").get_json(force=True)))
    base, *_, pull = (task.key for task in work_of(plan, start_of(plan.job)).tasks if task.kind in ("base", "pull"))
    assert "Nothing is on yet." in client.get(f"{PLACE}?task={base}").text
    before = client.get(f"{PLACE}?task={pull}").text
    assert "strips of tape" in before
    assert "Nothing is on yet." in client.get(f"{PLACE}?task=nonsense").text
