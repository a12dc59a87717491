"""Settings that all tests share."""

import importlib
import os
import pkgutil

import pytest
from flask import Flask
from hypothesis import HealthCheck, Phase, settings
from jinja2 import BytecodeCache
from unsteady import SecondTry

import dividers
from dividers.services.stations import scheduling
from dividers.store.database import connect
from dividers.store.migrate import migrate

settings.register_profile(
    "steady",
    deadline=None,
    derandomize=True,
    max_examples=40,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large, HealthCheck.filter_too_much],
)
settings.register_profile("anew", settings.get_profile("steady"), derandomize=False, max_examples=320, print_blob=True)
# Says at once that something is wrong, without looking for the smallest case.
settings.register_profile("quick", settings.get_profile("steady"), phases=[Phase.explicit, Phase.generate])
settings.load_profile(os.environ.get("DIVIDERS_PROFILE", "steady"))

# Hypothesis draws constants from the modules that happen to be loaded: with all of them, a test sees the same cases
# wherever and after whatever it runs.
for _module in pkgutil.walk_packages(dividers.__path__, "dividers."):
    if not _module.name.endswith("__main__"):
        importlib.import_module(_module.name)


class CompiledOnce(BytecodeCache):
    """Templates compiled once for all applications of a worker: that takes most of a second of each."""

    def __init__(self):
        self.kept = {}

    def load_bytecode(self, bucket):
        if bucket.key in self.kept:
            bucket.bytecode_from_string(self.kept[bucket.key])

    def dump_bytecode(self, bucket):
        self.kept[bucket.key] = bucket.bytecode_to_string()


Flask.jinja_options = {"bytecode_cache": CompiledOnce()}


def pytest_configure(config):
    if not hasattr(config, "workerinput"):
        config.pluginmanager.register(SecondTry(config))


# Schedules are looked for briefly, in the process beside as well: what they are worth is measured in tests/reference, with limits of its own.
scheduling.SCHEDULE_S, scheduling.VARIANT_S = 0.3, 0.05


@pytest.fixture
def connection():
    """A fresh database in memory."""
    opened = connect(":memory:")
    migrate(opened)
    yield opened
    opened.close()
