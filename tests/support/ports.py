"""Addresses for servers of tests."""

import itertools
import os
import socket

# Below those that the system gives to whoever connects to something (32768 and more on Linux), so that nobody takes one
# while its server is about to start again; each process of the suite has its own.
FIRST, EACH = 20_000, 2_000
_worker = int(os.environ.get("PYTEST_XDIST_WORKER", "gw0").removeprefix("gw"))
_numbers = itertools.cycle(range(EACH))
# Suites that run at the same time on one machine begin at different places.
_first = os.getpid() % EACH


def free_port() -> int:
    """A port that nobody listens on, and that no other test is given soon."""
    for number in itertools.islice(_numbers, EACH):
        port = FIRST + (_worker % 5) * EACH + (_first + number) % EACH
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", port))
            except OSError:
                continue
            return port
    raise AssertionError("no port is free")
