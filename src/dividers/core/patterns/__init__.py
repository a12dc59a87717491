"""The patterns there are, in the order the picker shows them. A new one is its file and a line here."""

from dividers.core.patterns import (
    basket,
    brick,
    checker,
    chevron,
    concentric,
    cube,
    diamonds,
    facets,
    frame,
    herringbone,
    hexagons,
    horizon,
    mask,
    plaid,
    rays,
    stripes,
    triangles,
    tumbling,
)
from dividers.core.patterns.base.parameters import Pattern

PATTERNS: tuple[Pattern, ...] = (
    stripes.PATTERN,
    chevron.PATTERN,
    diamonds.PATTERN,
    checker.PATTERN,
    brick.PATTERN,
    facets.PATTERN,
    horizon.PATTERN,
    frame.PATTERN,
    mask.PATTERN,
    cube.PATTERN,
    plaid.PATTERN,
    herringbone.PATTERN,
    basket.PATTERN,
    hexagons.PATTERN,
    tumbling.PATTERN,
    triangles.PATTERN,
    concentric.PATTERN,
    rays.PATTERN,
)
BY_KEY: dict[str, Pattern] = {pattern.key: pattern for pattern in PATTERNS}
