"""The schedule of a stored job: worked out beside the page, kept while the same document is looked at, stopped on demand."""

import json
from dataclasses import dataclass
from datetime import timedelta
from zoneinfo import ZoneInfo

from dividers.core.order.round_choices import RoundChoice
from dividers.core.order.schedule import Schedule, Variant, schedule_of, start_of, variants_of
from dividers.core.order.solver_model import Stopping
from dividers.core.order.tasks import choices_at
from dividers.core.plan.plan import Plan
from dividers.services import clock
from dividers.services.background import Background
from dividers.services.jobs.planning import job_of, piece_plan

WAIT_S = 0.9  # a page waits so long before it says that it is still working
SCHEDULE_S, VARIANT_S = 4.0, 0.4


@dataclass(frozen=True)
class _Search:
    """What is to be scheduled, as the key of the work: a document, when it usually starts, how long to search, the site's zone."""

    document: str
    start: str
    seconds: float
    zone: str

    @property
    def key(self) -> str:
        return json.dumps([self.document, self.start, self.seconds, self.zone])

    @property
    def tzinfo(self) -> ZoneInfo | None:
        return ZoneInfo(self.zone) if self.zone else None

    @classmethod
    def of(cls, key: str) -> "_Search":
        return cls(*json.loads(key))


def _key(document: str, seconds: float) -> str:
    """A job without a start of its own starts the next morning."""
    zone = clock.zone()
    return _Search(document, f"{next_morning()}T08:00", seconds, zone.key if zone else "").key


def next_morning() -> str:
    """Tomorrow on site, as a date."""
    return (clock.on_site(clock.moment()).date() + timedelta(days=1)).isoformat()


def planned(document: str) -> Plan:
    """The plan of a whole stored job, from the plans of its pieces that are remembered."""
    job = job_of(document)
    return Plan(job, tuple(piece_plan(document, piece.key).in_job(job, piece) for piece in job.pieces))


def choices_of(document: str, piece: str) -> tuple[RoundChoice, ...]:
    """How a piece's rounds are sealed, pulled and split, while its schedule is still being worked out."""
    plan = next(plan for plan in planned(document).pieces if plan.piece.key == piece)
    return choices_at(plan, start_of(plan.job, f"{next_morning()}T08:00"))


def _schedule(key: str, stopping: Stopping) -> Schedule:
    wanted = _Search.of(key)
    return schedule_of(planned(wanted.document), wanted.seconds, wanted.start, stopping, zone=wanted.tzinfo)


def _variants(key: str, stopping: Stopping) -> list[Variant]:
    wanted = _Search.of(key)
    return variants_of(planned(wanted.document), wanted.seconds, wanted.start, lambda: stopping.asked)


SCHEDULES: Background[Schedule] = Background(_schedule)
VARIANTS: Background[list[Variant]] = Background(_variants)


def schedule_for(subject: str | int, document: str, wait_s: float | None = None) -> Schedule | None:
    """The schedule of a document; None while it is being worked out. Of a subject (a job's number), only the newest is worked on."""
    return SCHEDULES.ask(str(subject), _key(document, SCHEDULE_S), WAIT_S if wait_s is None else wait_s)


def begin_early(subject: str | int, document: str) -> None:
    """Begin to work a schedule out before anybody asks for it."""
    SCHEDULES.ask(str(subject), _key(document, SCHEDULE_S), 0)


def variants_for(subject: str | int, document: str, wait_s: float | None = None) -> list[Variant] | None:
    """What could be done otherwise, side by side; None while it is being worked out."""
    return VARIANTS.ask(str(subject), _key(document, VARIANT_S), WAIT_S if wait_s is None else wait_s)


def waited_s(document: str) -> float:
    """For how long the schedule of a document has been worked on by now."""
    return SCHEDULES.waited_s(_key(document, SCHEDULE_S))


def stop(document: str) -> None:
    """Be content with what was found by now."""
    SCHEDULES.content_with_less(_key(document, SCHEDULE_S))


def search_on(document: str) -> None:
    """Search again for what was stopped."""
    SCHEDULES.forget(_key(document, SCHEDULE_S))


def close() -> None:
    """Stop all work in the background."""
    SCHEDULES.close()
    VARIANTS.close()
