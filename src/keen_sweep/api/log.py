"""Requests in the log: all that change something, fail or are slow; by the address's pattern, not by what it holds."""

from __future__ import annotations

import time
from collections.abc import Awaitable, Callable

from fastapi import Request, Response

from keen_sweep.store.log import happened

# Slower requests are logged, seconds.
SLOW_SECONDS = 1.0
READ_METHODS = {"GET", "HEAD"}
MIN_FAILED_STATUS = 400


async def noted(request: Request, call_next: Callable[[Request], Awaitable[Response]]) -> Response:
    """Answer a request, and write down what is worth it."""
    began = time.monotonic()
    answer = await call_next(request)
    seconds = time.monotonic() - began
    if request.method not in READ_METHODS or answer.status_code >= MIN_FAILED_STATUS or seconds > SLOW_SECONDS:
        pattern = getattr(request.scope.get("route"), "path", "none")
        ms = round(1000 * seconds)
        happened("request", method=request.method, route=pattern, status=answer.status_code, ms=ms)
    return answer
