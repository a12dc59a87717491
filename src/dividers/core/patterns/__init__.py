"""The patterns there are, in the order the picker shows them. A new one is its file and a line here."""

from dividers.core.patterns import checker, chevron, diamonds, frame, horizon, stripes
from dividers.core.patterns.parameters import Pattern

PATTERNS: tuple[Pattern, ...] = (
    stripes.PATTERN,
    chevron.PATTERN,
    diamonds.PATTERN,
    checker.PATTERN,
    frame.PATTERN,
    horizon.PATTERN,
)
BY_KEY: dict[str, Pattern] = {pattern.key: pattern for pattern in PATTERNS}
