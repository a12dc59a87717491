"""A browser test that fails is run once more, alone, after all others. If it passes then, it is unsteady: named at the end, and to be mended."""

import os
import subprocess
import sys

import pytest

ROOM = "tests/browser/"
MOST = 6  # where more of them fail, something is broken
ALONE = "DIVIDERS_TEST_ALONE"  # set in the run that is the second try


class SecondTry:
    """Runs failed browser tests again once all workers have ended; every other failure stands at once."""

    def __init__(self, config):
        self.config = config
        self.failed = {}
        self.unsteady = []

    def pytest_runtest_logreport(self, report):
        if report.failed:
            self.failed.setdefault(report.nodeid, []).append(report)

    @pytest.hookimpl(trylast=True)
    def pytest_sessionfinish(self, session):
        again = [test for test in self.failed if test.startswith(ROOM)]
        if not 0 < len(again) <= MOST or os.environ.get(ALONE):
            return
        self.unsteady = [test for test in again if passes_alone(test, self.config.rootpath)]
        self._forgive(self.config.pluginmanager.get_plugin("terminalreporter"))
        if set(self.unsteady) == set(self.failed):
            session.exitstatus = pytest.ExitCode.OK

    def _forgive(self, reporter):
        """Count what passed alone as unsteady instead of as failed."""
        for kind in ("failed", "error"):
            reports = reporter.stats.get(kind, [])
            reporter.stats[kind] = [report for report in reports if report.nodeid not in self.unsteady]
        reporter.stats["unsteady"] = [report for test in self.unsteady for report in self.failed[test][:1]]

    def pytest_terminal_summary(self, terminalreporter):
        for test in self.unsteady:
            terminalreporter.section(f"unsteady: {test}", "_", yellow=True)
            for report in self.failed[test]:
                terminalreporter.write_line(report.longreprtext)
        if self.unsteady:
            terminalreporter.section("unsteady browser tests: failed, then passed alone; mend them", "=", yellow=True)
            for test in self.unsteady:
                terminalreporter.write_line(test)


def passes_alone(test, root):
    """Whether a test passes by itself, in a run of its own."""
    command = [sys.executable, "-m", "pytest", "-p", "no:xdist", "-p", "no:cacheprovider", test]
    found = subprocess.run(command, cwd=root, env=os.environ | {ALONE: "yes"}, capture_output=True, text=True, check=False)
    return found.returncode == 0
