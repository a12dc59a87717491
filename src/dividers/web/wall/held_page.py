"""All steps of a run with their drawings, as a page holds them: made once, sent compressed, and not again while they are the same."""

import gzip
import hashlib
import json
from functools import lru_cache

from flask import Response, render_template, request

from dividers.core.job.model import Job
from dividers.services.jobs.planning import job_of
from dividers.services.wall.progress import Progress
from dividers.web.access.guard import who
from dividers.web.wall.run_state import held_lags
from dividers.web.wall.steps_shown import StepsShown, shown_of

RUNS_KEPT = 4


def held_answer(progress: Progress, job_id: int) -> Response:
    """What a page holds, or that it is still the same as what the page has (304)."""
    content, name = _packed(shown_of(progress), job_id, json.dumps(held_lags(progress)), who().owner)
    unpacked = "gzip" not in request.headers.get("Accept-Encoding", "")
    made = Response(gzip.decompress(content) if unpacked else content, mimetype="application/json")
    if not unpacked:
        made.headers["Content-Encoding"] = "gzip"
    made.headers["Cache-Control"] = "private, no-cache"  # kept, and asked about each time
    made.set_etag(name, weak=True)
    made.make_conditional(request)
    return made


@lru_cache(maxsize=RUNS_KEPT)
def _packed(shown: StepsShown, job_id: int, lags: str, owner: bool) -> tuple[bytes, str]:
    """The compressed JSON and a name that changes with it."""
    job: Job = job_of(shown.document)
    steps = {
        key: render_template(
            "wall/_step.html",
            board=board,
            job=job,
            state=None,
            opened_id=job_id,
            painter=1,
            drawing="",
            unticked=[],
            held=True,
            owner=owner,
        )
        for key, board in shown.boards.items()
    }
    content = {
        "document": shown.name,
        "steps": steps,
        "views": dict(shown.views),
        "tapes": dict(shown.tapes),
        "lags": json.loads(lags),
    }
    text = json.dumps(content, ensure_ascii=False).encode()
    return gzip.compress(text, mtime=0), hashlib.sha256(text).hexdigest()[:20]
