"""Settings that all tests share."""

import importlib
import os
import pkgutil

import pytest
from hypothesis import HealthCheck, Phase, settings

import dividers
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

# Hypothesis draws constants from the modules that happen to be loaded: with all of them, a test sees the same cases
# wherever and after whatever it runs.
for _module in pkgutil.walk_packages(dividers.__path__, "dividers."):
    if not _module.name.endswith("__main__"):
        importlib.import_module(_module.name)


@pytest.fixture
def connection():
    """A fresh database in memory."""
    opened = connect(":memory:")
    migrate(opened)
    yield opened
    opened.close()
