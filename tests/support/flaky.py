"""Tests that fail once and pass when run again: said at the end of a run, so that they are mended, and no hindrance."""

from __future__ import annotations

import pytest
from _pytest.terminal import TerminalReporter

# How much of an error is said, characters.
REASON_CHARS = 200


def pytest_terminal_summary(terminalreporter: TerminalReporter) -> None:
    """Print a line for each test that passed only when it was run again."""
    passed = {each.nodeid for each in terminalreporter.stats.get("passed", [])}
    again: list[pytest.TestReport] = terminalreporter.stats.get("rerun", [])
    for report in again:
        if report.nodeid in passed:
            terminalreporter.write_line(f"FLAKY: {report.nodeid}: {reason_of(report)}", yellow=True)


def reason_of(report: pytest.TestReport) -> str:
    """The last line of an error that says something."""
    crash = getattr(report.longrepr, "reprcrash", None)
    words = str(crash.message if crash is not None else report.longrepr)
    return " ".join(words.split())[:REASON_CHARS]
