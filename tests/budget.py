"""How many cases each property test draws: few enough for bin/test, four times as many, other ones each time, by bin/test --anew."""

import os

from hypothesis import HealthCheck, settings

ANEW = os.environ.get("DIVIDERS_PROFILE") == "anew"
MORE = 4 if ANEW else 1


def examples(usual, **more):
    """The settings of a property test that usually draws so many cases."""
    return settings(max_examples=usual * MORE, suppress_health_check=list(HealthCheck), **more)
