"""A scripted painter: works through a plan with delays, early starts, skips, lost answers and reloads, and remembers what was done."""

import random
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

from dividers.services import clock
from dividers.services.wall import at_the_wall
from dividers.store import wall_runs


class Clock:
    """A clock that stands still until it is moved."""

    def __init__(self, monkeypatch, at, zone=""):
        self.at = at
        monkeypatch.setattr(clock, "moment", lambda: self.at)
        if zone:
            monkeypatch.setattr(clock, "_zone", ZoneInfo(zone))
        else:
            monkeypatch.setattr(clock, "on_site", lambda at: at.replace(tzinfo=None))

    def on(self, minutes):
        self.at += timedelta(minutes=minutes)


def settled(connection, job_id):
    """A run, once the schedule is there."""
    run = None
    while run is None:
        run = at_the_wall.begin(connection, job_id, 300.0)
    return run


class Painter:
    """Does what the plan says, more or less; `told` is what was told, `done` what was truly done when."""

    def __init__(self, connection, run, time, seed, trouble=0.3):
        self.connection, self.run, self.time, self.trouble = connection, run, time, trouble
        self.dice = random.Random(seed)
        self.done, self.skipped, self.unsent, self.count = {}, {}, [], 0
        self.checks = []

    def record(self, kind, task="", **body):
        """Put something into the phone's queue; most times it is sent at once, at times twice, at times later with the rest."""
        self.count += 1
        event = {"kind": kind, "task": task, "uid": f"phone-{self.count}", "at": self.time.at.isoformat(), "body": body}
        self.unsent.append(event)
        if self.dice.random() < self.trouble / 3:
            return None  # no connection
        queue = list(self.unsent)
        if self.dice.random() < self.trouble / 3:
            at_the_wall.record(self.connection, self.run, queue)  # the answer gets lost: all of it is sent again
        self.unsent.clear()
        return at_the_wall.record(self.connection, self.run, queue)

    def progress(self):
        run = wall_runs.find_run(self.connection, self.run.id)
        found = at_the_wall.record(self.connection, run, self.unsent)
        self.unsent.clear()
        return found

    def next_task(self, progress):
        """The plan's next open task that may be begun, and from when."""
        return min(progress.in_force.starts.items(), key=lambda pair: (pair[1], pair[0]), default=(None, 0))

    def work(self, most=200):
        """Until nothing is left; calls every check after every new plan."""
        for _ in range(most):
            progress = self.progress()
            for check in self.checks:
                check(progress)
            key, start = self.next_task(progress)
            if key is None:
                return progress
            self._wait_until(progress.live.moment(start))
            self._do(progress, key)
        raise AssertionError("the day never ends")

    def _wait_until(self, moment):
        late = self.dice.choice([0, 0, 0, 1, 4, 25]) if self.dice.random() < self.trouble else 0
        moment = (moment if moment.tzinfo else moment.replace(tzinfo=UTC)).astimezone(UTC) + timedelta(minutes=late)
        self.time.at = max(self.time.at, moment)

    def _do(self, progress, key):
        task = progress.task(key)
        if task.kind in ("coat", "seal") and self.dice.random() < self.trouble / 8:
            self.record("skip", key, reason="covers well enough")
            self.skipped[key] = self.time.at
            return
        begun = self.time.at
        if progress.facts.of(key).state == "open" and self.dice.random() < 0.9:
            self.record("start", key)
            told = True
        else:
            told = False
        left = task.minutes
        pace = self.dice.uniform(0.7, 1.0 + self.trouble)
        self.time.on(max(left * pace, 0.5))
        if self.dice.random() < self.trouble / 5:
            self.record("done", key)
            self.record("undo", of=f"phone-{self.count}")
            self.time.on(1)
        self.record("done", key)
        self.done[key] = (begun if told else None, self.time.at)
        if self.dice.random() < self.trouble / 6:
            self.record("air", temperature=self.dice.choice([14, 19, 23, 28]), humidity=self.dice.choice([40, 55, 70]))


MORNING = datetime(2026, 10, 13, 8, 0, tzinfo=UTC)
