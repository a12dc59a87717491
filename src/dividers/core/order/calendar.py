"""When people are there: the hours of the days from a start on, less what they are busy with, as spans and as presence minutes.

Two clocks. Wall minutes run from midnight of the first day, through lunch and night. Presence minutes count only time at work:
hands-on work takes so many of them, drying so many of the wall's.
"""

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property

from dividers.core.base.dates import after, minutes_between
from dividers.core.base.units import DAY_MIN
from dividers.core.job.crew import DAYS, Crew

MOST_DAYS = 400
Span = tuple[int, int]  # wall minutes, from and to


@dataclass(frozen=True)
class Calendar:
    """Spans of presence in order, in wall minutes from `midnight`, never empty and never touching.

    Where `midnight` has a zone, wall minutes are those that really pass: a clock change is no hour lost or won.
    """

    midnight: datetime
    spans: tuple[Span, ...]

    @cached_property
    def before(self) -> tuple[int, ...]:
        """Presence minutes before each span, and in all."""
        total, found = 0, []
        for start, end in self.spans:
            found.append(total)
            total += end - start
        return (*found, total)

    @property
    def presence(self) -> int:
        """All presence minutes there are."""
        return self.before[-1]

    def wall(self, presence: int) -> int:
        """When a presence minute begins, in wall minutes."""
        span = bisect_right(self.before, presence) - 1
        span = min(span, len(self.spans) - 1)
        return self.spans[span][0] + presence - self.before[span]

    def wall_end(self, presence: int) -> int:
        """When work that has taken up so many presence minutes from the first is done, in wall minutes."""
        return self.wall(presence - 1) + 1 if presence else self.spans[0][0]

    def at_or_after(self, wall: int) -> int:
        """The first presence minute that begins at a wall minute or later; `presence` where there is none."""
        for number, (start, end) in enumerate(self.spans):
            if wall < end:
                return self.before[number] + max(wall - start, 0)
        return self.presence

    def span_of(self, presence: int) -> int:
        """The number of the span that a presence minute lies in."""
        return min(bisect_right(self.before, presence) - 1, len(self.spans) - 1)

    def moment(self, wall: int) -> datetime:
        return after(self.midnight, wall)

    def day_of(self, wall: int) -> int:
        return wall // DAY_MIN

    def counted_from(self, midnight: datetime) -> "Calendar":
        """The same spans in wall minutes from another midnight.

        >>> noon = Calendar(datetime(2027, 3, 6), ((720, 780),))
        >>> noon.counted_from(datetime(2027, 3, 5)).spans
        ((2160, 2220),)
        """
        later = _minutes(midnight, self.midnight)
        return Calendar(midnight, tuple((start + later, end + later) for start, end in self.spans))

    def first(self, days: int) -> "Calendar":
        """Only the spans of the first so many days."""
        return Calendar(self.midnight, tuple(span for span in self.spans if span[0] < days * DAY_MIN))


def calendar_of(crew: Crew, start: datetime, days: int, busy: Sequence[tuple[datetime, datetime]] = ()) -> Calendar:
    """The presence of a crew for so many days from a start on; `busy` times are taken out."""
    midnight = start.replace(hour=0, minute=0, second=0, microsecond=0)
    begun = _minutes(midnight, start)
    away = sorted((_minutes(midnight, one), _minutes(midnight, other)) for one, other in busy)
    spans: list[Span] = []
    for day in range(min(days, MOST_DAYS)):
        date = midnight.replace(tzinfo=None) + timedelta(days=day)
        if DAYS[date.weekday()] in crew.days:
            for one, other in sorted(crew.hours):
                low, high = (_minutes(midnight, date + timedelta(minutes=_clock(text))) for text in (one, other))
                spans += _less(max(low, begun), high, away)
    return Calendar(midnight, tuple(merged(spans)))


def _minutes(midnight: datetime, moment: datetime) -> int:
    return int(minutes_between(midnight, moment) // 1)


def _clock(text: str) -> int:
    hours, minutes = text.split(":")
    return int(hours) * 60 + int(minutes)


def _less(low: int, high: int, away: Sequence[Span]) -> list[Span]:
    """A span without what lies in times away."""
    found = []
    for start, end in away:
        if start >= high or end <= low:
            continue
        if start > low:
            found.append((low, start))
        low = max(low, end)
    if low < high:
        found.append((low, high))
    return found


def merged(spans: Sequence[Span]) -> list[Span]:
    merged: list[Span] = []
    for start, end in sorted(spans):
        if merged and start <= merged[-1][1]:
            merged[-1] = (merged[-1][0], max(end, merged[-1][1]))
        else:
            merged.append((start, end))
    return merged
