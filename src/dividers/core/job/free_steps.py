"""Steps of one's own, in one's own words: fabric, hardware, whatever else belongs to the work."""

from dataclasses import dataclass

FIRST, BEFORE_TAPE, TAPE_OFF, LAST = WHENS = ("first", "before tape", "tape off", "last")


@dataclass(frozen=True)
class FreeStep:
    """What is done, when, for how many minutes, and how many minutes what follows waits after it."""

    name: str
    when: str
    minutes: float
    wait_min: int = 0
