"""Serve the simulated service on this machine."""

from __future__ import annotations

from pathlib import Path

import uvicorn

from keen_sweep.simulated.app import make_service


def serve(folder: Path, port: int) -> None:
    """Answer on a port until the process is told to end."""
    uvicorn.run(make_service(folder), host="127.0.0.1", port=port, log_level="warning")
