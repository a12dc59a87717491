"""What a stored job takes and what to buy for it."""

import json
from functools import lru_cache

from dividers.core.job.model import Job
from dividers.core.materials.buying import Shopping, shopping_of
from dividers.core.order.schedule import start_of
from dividers.core.order.tasks import work_of
from dividers.formats.tables.shopping_csv import write_shopping
from dividers.services.stations import scheduling


@lru_cache(maxsize=16)
def shopping(document: str) -> Shopping:
    """The shopping list of a document's job."""
    plan = scheduling.planned(document)
    return shopping_of(plan, work_of(plan, start_of(plan.job)).choices)


def tape_metres(document: str) -> float:
    """The metres of tape in a document's plan, waste not counted."""
    return sum(need.net_m for piece in scheduling.planned(document).pieces for need in piece.tapes)


def items_of(job: Job) -> list[str]:
    """What a job takes, by name."""
    document = json.dumps(dict(job.document), ensure_ascii=False, separators=(",", ":"))
    return [line.need.item for line in shopping(document).lines]


def shopping_csv(document: str) -> str:
    return write_shopping(shopping(document))
