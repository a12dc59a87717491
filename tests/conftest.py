"""Settings that all tests share."""

import os

from hypothesis import HealthCheck, Phase, settings

settings.register_profile(
    "steady",
    deadline=None,
    derandomize=True,
    max_examples=120,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large, HealthCheck.filter_too_much],
)
settings.register_profile("thorough", settings.get_profile("steady"), max_examples=1000)
# Says at once that something is wrong, without looking for the smallest case.
settings.register_profile("quick", settings.get_profile("steady"), phases=[Phase.explicit, Phase.generate])
settings.load_profile(os.environ.get("DIVIDERS_PROFILE", "steady"))
