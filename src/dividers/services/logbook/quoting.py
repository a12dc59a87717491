"""An offer for a client: the hours of the schedule, what must be bought, and ways to do it otherwise beside it."""

import json
import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import timedelta
from fractions import Fraction

from dividers.core.materials.buying import Shopping
from dividers.core.materials.quote import Quote, Terms, quote_of
from dividers.core.order.explain import labour_min
from dividers.core.order.schedule import Variant
from dividers.services import clock
from dividers.services.jobs import evidence
from dividers.services.jobs.editing import Opened
from dividers.services.logbook.logbook import Fields
from dividers.services.logbook.record import record_of
from dividers.services.stations import scheduling
from dividers.services.stations.shopping import shopping
from dividers.store import quotes
from dividers.store.database import transaction

NUMBERS = {  # field: least, most, what it is
    "rate": (0, 10_000, "a price of an hour"),
    "more_materials": (0, 10_000_000, "a price"),
    "margin": (0, 500, "percent"),
    "tax": (0, 100, "percent"),
    "valid": (1, 3650, "a number of days"),
}
TEXTS = {"client": 200, "not_included": 1000, "words": 1000}
NOT_INCLUDED = "Repairs of the surface, moving furniture, scaffolding, taking waste away."
MOST_BESIDE = 3


@dataclass(frozen=True)
class OtherWay:
    """The job done otherwise, with what it costs then and by how many days it ends sooner or later."""

    name: str
    quote: Quote
    days: int
    finish: str


@dataclass(frozen=True)
class Offer:
    """All of an offer: `typed` has what was entered; `quote` is None while the schedule is being worked out, or where there is none."""

    typed: Mapping[str, str]
    terms: Terms
    quote: Quote | None
    work_min: int
    days: int
    shopping: Shopping
    made_at: str
    until: str
    beside: tuple[OtherWay, ...]
    chosen: tuple[str, ...]  # the names of those, also while they are still being worked out
    ways: tuple[str, ...]
    worked_min: int
    impossible: bool
    saved: bool


def save(connection: sqlite3.Connection, job_id: int, typed: Mapping[str, str], beside: list[str]) -> None:
    """Keep the terms of an offer, unless they were saved elsewhere since `base`, which the page shows. Raises BadForm."""
    fields = Fields(typed)
    before = quotes.find_quote(connection, job_id)
    if before and typed.get("base", before[1]) != before[1]:
        fields.faults["base"] = (
            "The offer was saved in another window since. Look at it there; press Save again to put this one in its place."
        )
    for name, (least, most, words) in NUMBERS.items():
        fields.number(name, least, most, words)
    kept = {name: fields.text(name, longest) for name, longest in TEXTS.items()}
    fields.close()
    kept |= {name: typed.get(name, "").strip()[:20] for name in NUMBERS}
    kept["beside"] = json.dumps(beside[:MOST_BESIDE])
    with transaction(connection):
        quotes.put_quote(connection, job_id, json.dumps(kept), clock.now())


def offer_of(connection: sqlite3.Connection, opened: Opened, with_ways: bool = False) -> Offer:
    """The offer for a job as it is now; `with_ways` works out the ways to do it otherwise."""
    kept = quotes.find_quote(connection, opened.id)
    typed: dict[str, str] = json.loads(kept[0]) if kept else {"not_included": NOT_INCLUDED}
    terms = _terms(typed)
    document = evidence.informed(connection, opened.revision.document)
    schedule = scheduling.schedule_for(opened.id, document)
    bought = shopping(opened.revision.document)
    work = labour_min(schedule.work.tasks) if schedule else 0
    times = schedule.solution.times if schedule else None
    chosen = json.loads(typed.get("beside") or "[]")
    variants = scheduling.variants_for(opened.id, document) if with_ways or chosen else None
    if variants is not None:
        chosen = [name for name in chosen if name in {each.name for each in variants if each.finish}]
    made_at = kept[1] if kept else clock.now()
    return Offer(
        typed, terms, quote_of(work, bought.cost, terms) if times else None, work, times.days if times else 0, bought,
        made_at, (clock.date_of(made_at) + timedelta(days=terms.valid_days)).isoformat(),
        tuple(_other_way(each, bought.cost, terms) for each in variants or () if each.name in chosen),
        tuple(chosen),
        tuple(each.name for each in (variants or ())[1:] if each.finish), _worked(connection, opened.id),
        schedule is not None and times is None, kept is not None,
    )  # fmt: skip


def _other_way(variant: Variant, materials: Fraction, terms: Terms) -> OtherWay:
    finish = f"{variant.finish:%A} {variant.finish.day} {variant.finish:%B}" if variant.finish else ""
    return OtherWay(variant.name, quote_of(variant.labour_min, materials, terms), variant.days, finish)


def _worked(connection: sqlite3.Connection, job_id: int) -> int:
    found = record_of(connection, job_id)
    return round(found.worked_min) if found.begun_at else 0


def _terms(typed: Mapping[str, str]) -> Terms:
    def number(name: str, usual: str) -> Fraction:
        return Fraction((typed.get(name) or usual).replace(",", "."))

    return Terms(
        number("rate", "0"),
        number("more_materials", "0"),
        number("margin", "0"),
        number("tax", "0"),
        int(number("valid", "30")),
    )
