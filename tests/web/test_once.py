"""A form whose button is pressed twice, without scripts: what it does is done once."""

import re
from concurrent.futures import ThreadPoolExecutor

from pages import reading

from dividers.services.jobs import job_list
from dividers.services.opening import open_data
from dividers.web import once
from dividers.web.app import create_app


def pressed(app, form):
    return app.test_client().post("/new/wall", data=form).headers["Location"]


def test_a_form_pressed_twice_counts_once_and_one_with_something_else_counts_too(tmp_path, monkeypatch):
    app = reading(create_app(tmp_path))
    name = re.findall(r'name="once" value="([^"]+)"', app.test_client().get("/new/wall").get_data(as_text=True))[0]
    form = {"width": "120", "height": "96", "base": "on", "units": "in", "once": name}
    with ThreadPoolExecutor(4) as presses:  # the others come while the first is being answered
        answers = list(presses.map(lambda _: pressed(app, form), range(4)))
    assert len(set(answers)) == 1
    assert pressed(app, form) == answers[0]
    assert pressed(app, form | {"width": "110"}) != answers[0]  # gone back, something else typed
    assert pressed(app, form | {"once": "of another page"}) != answers[0]
    monkeypatch.setattr(once, "PRESSED_S", 0.0)
    assert pressed(app, form) != answers[0]  # much later it is wanted again
    connection = open_data(tmp_path)
    assert sorted(row.title for row in job_list.list_jobs(connection)) == ["Wall", "Wall 2", "Wall 3", "Wall 4"]
    connection.close()


def test_what_was_refused_may_be_sent_again_under_its_name(tmp_path):
    client = reading(create_app(tmp_path)).test_client()
    form = {"width": "120", "height": "", "units": "in", "once": "a page"}
    for _ in range(2):
        refused = client.post("/new/wall", data=form)
        assert refused.status_code == 422 and 'id="height-fault">Measure it' in refused.text and 'value="120"' in refused.text
    assert client.post("/new/wall", data=form | {"height": "96"}).status_code == 303
