"""Waiting for states, never for seconds."""

import time
from collections.abc import Callable

# How long a state may take to come on a machine that has much else to do, seconds.
PATIENCE = 240.0


def until(holds: Callable[[], bool]) -> None:
    """Wait until a condition holds. Raises AssertionError if it never does."""
    end = time.monotonic() + PATIENCE
    while not holds():
        assert time.monotonic() < end, "waited too long"
        time.sleep(0.05)
