"""The engines by the name of their method."""

from __future__ import annotations

from keen_sweep.core.fill.backdrop import BackdropEngine
from keen_sweep.core.fill.by_part import ByPart
from keen_sweep.core.fill.protocol import Engine, Method


def engine_for(method: Method) -> Engine:
    """The engine of a method: auto, close, weave or backdrop."""
    return BackdropEngine() if method == "backdrop" else ByPart(method)
