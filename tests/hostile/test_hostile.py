"""Nothing that is sent makes the program fail or hang: 800 hostile requests here, more by DIVIDERS_HOSTILE=20000."""

import os
import time
import traceback

import pytest
from days import MORNING, Clock, settled
from inputs import Hostile, forms_of

from dividers.services.jobs.demo import demo_document
from dividers.services.jobs.job_list import add_job
from dividers.services.opening import open_data
from dividers.web.app import create_app

MANY = int(os.environ.get("DIVIDERS_HOSTILE", "800"))
SEEDS = 4
ANEW_AFTER = 250  # what was spoiled meanwhile is put right again
SLOWEST_S = 40.0  # a drawing is given up after twenty; other tests run beside
LEFT_OUT = {"static", "jobs.delete"}
PAGES = [
    "/jobs", "/phones", "/enter", "/supplies", "/supplies/paint/new", "/supplies/items/1", "/patches", "/practice", "/devices", "/logbook?q=x",
    "/jobs/1/wall", "/jobs/1/logbook", "/jobs/1/history/1", "/jobs/1/prop-trunk/readings/table", "/jobs/1/prop-trunk/preview", "/jobs/1/prop-trunk/files",
    *(f"/jobs/1/{piece}/{station}" for piece in ("prop-trunk", "poster") for station in ("measure", "pattern", "marks", "tape", "schedule", "materials")),
]  # fmt: skip


def laid(folder):
    """A job of two pieces, being painted."""
    document = demo_document()
    document["pieces"] = [piece for piece in document["pieces"] if piece["id"] in ("prop-trunk", "poster")]
    connection = open_data(folder)
    settled(connection, add_job(connection, document, "a trunk"))
    connection.close()
    app = create_app(folder)
    app.config["WTF_CSRF_ENABLED"] = False
    return app


@pytest.mark.timeout(3600)
@pytest.mark.parametrize("seed", range(SEEDS))
def test_nothing_sent_makes_it_fail_or_hang(seed, tmp_path, monkeypatch):
    Clock(monkeypatch, MORNING)
    hostile, failed = None, []
    for number in range(MANY // SEEDS):
        if number % ANEW_AFTER == 0:
            app = laid(tmp_path / str(number))
            client = app.test_client()
            if hostile is None:
                rules = [
                    (rule, m)
                    for rule in app.url_map.iter_rules()
                    if rule.endpoint not in LEFT_OUT
                    for m in sorted(rule.methods - {"HEAD", "OPTIONS"})
                ]
                archive = client.get("/jobs/1/archive.zip").get_data()
                hostile = Hostile(seed, rules, forms_of(client, PAGES), archive)
            traces = []
            monkeypatch.setattr(app.logger, "exception", lambda *_, exc_info=None, traces=traces: traces.append(exc_info))
        asked = hostile.request()
        began = time.monotonic()
        status = client.open(base_url="http://localhost", buffered=True, **asked).status_code
        took = time.monotonic() - began
        if status >= 500 or took > SLOWEST_S:
            failed.append(
                (
                    seed,
                    number,
                    status,
                    round(took, 1),
                    asked["method"],
                    asked["path"][:150],
                    str(asked.get("data"))[:400],
                    trace(traces),
                )
            )
    assert not failed, "\n\n".join("\n".join(map(str, each)) for each in failed[:40])


def trace(traces):
    if not traces:
        return ""
    return "".join(traceback.format_exception(traces[-1])[-3:])
