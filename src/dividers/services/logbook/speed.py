"""How quick one is against one's plans, from what was done at the wall."""

import sqlite3

from dividers.core.order.chances import Speed, own_speed
from dividers.services.jobs import job_list
from dividers.services.logbook.record import record_of
from dividers.store.wall_runs import list_runs

LEAST_MIN = 5  # shorter steps say more of the tapping than of the work
MOST_JOBS = 30
FAR = 8.0  # a step that took so many times as long, or as little, was interrupted or ticked late


def speed_of_own(connection: sqlite3.Connection) -> Speed:
    """From the steps of the jobs changed last: what each took over what was planned; times that were guessed don't count."""
    ratios = []
    for row in job_list.list_jobs(connection)[:MOST_JOBS]:
        if not list_runs(connection, row.id):
            continue
        for line in record_of(connection, row.id).lines:
            if line.worked_min and not line.guessed and line.planned_min >= LEAST_MIN:
                ratio = line.worked_min / line.planned_min
                if 1 / FAR <= ratio <= FAR:
                    ratios.append(ratio)
    return own_speed(ratios)
