"""Settings that all tests share."""

import os

import pytest
from hypothesis import HealthCheck, Phase, settings

from dividers.store.database import connect
from dividers.store.migrate import migrate

settings.register_profile(
    "steady",
    deadline=None,
    derandomize=True,
    max_examples=80,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large, HealthCheck.filter_too_much],
)
settings.register_profile("thorough", settings.get_profile("steady"), max_examples=1000)
# Says at once that something is wrong, without looking for the smallest case.
settings.register_profile("quick", settings.get_profile("steady"), phases=[Phase.explicit, Phase.generate])
settings.load_profile(os.environ.get("DIVIDERS_PROFILE", "steady"))


@pytest.fixture
def connection():
    """A fresh database in memory."""
    opened = connect(":memory:")
    migrate(opened)
    yield opened
    opened.close()
