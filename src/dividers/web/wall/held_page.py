"""All steps of a run with their drawings, as a page holds them: made once, sent compressed, and not again while they are the same."""

import gzip
import hashlib
import json
from functools import lru_cache

from flask import Response, render_template, request

from dividers.core.job.model import Job
from dividers.services.jobs.planning import job_of
from dividers.services.wall.progress import Progress
from dividers.web.wall.wall_board import boards, document_name, held_lags, tapes, views

RUNS_KEPT = 4


def held_answer(progress: Progress, job_id: int) -> Response:
    """What a page holds, or that it is still the same as what the page has (304)."""
    content, name = _packed(progress.run.document, job_id, json.dumps(held_lags(progress)))
    unpacked = "gzip" not in request.headers.get("Accept-Encoding", "")
    made = Response(gzip.decompress(content) if unpacked else content, mimetype="application/json")
    if not unpacked:
        made.headers["Content-Encoding"] = "gzip"
    made.headers["Cache-Control"] = "private, no-cache"  # kept, and asked about each time
    made.set_etag(name, weak=True)
    made.make_conditional(request)
    return made


@lru_cache(maxsize=RUNS_KEPT)
def _packed(document: str, job_id: int, lags: str) -> tuple[bytes, str]:
    """The compressed JSON and a name that changes with it."""
    job: Job = job_of(document)
    steps = {
        key: render_template(
            "wall/_step.html", board=board, job=job, state=None, opened_id=job_id, painter=1, drawing="", unticked=[], held=True
        )
        for key, board in boards(document).items()
    }
    content = {
        "document": document_name(document),
        "steps": steps,
        "views": dict(views(document)),
        "tapes": dict(tapes(document)),
        "lags": json.loads(lags),
    }
    text = json.dumps(content, ensure_ascii=False).encode()
    return gzip.compress(text, mtime=0), hashlib.sha256(text).hexdigest()[:20]
