"""Settings that all tests share."""

import os

from hypothesis import HealthCheck, settings

settings.register_profile(
    "steady",
    deadline=None,
    derandomize=True,
    max_examples=120,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large],
)
settings.register_profile("thorough", settings.get_profile("steady"), max_examples=1000)
settings.load_profile(os.environ.get("DIVIDERS_PROFILE", "steady"))
