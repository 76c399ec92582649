"""The engines by the name of their method."""

from __future__ import annotations

from keen_sweep.core.fill.backdrop import BackdropEngine
from keen_sweep.core.fill.engine import Engine
from keen_sweep.core.fill.local.engine import ByPart
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.reflection import ReflectionEngine


def engine_for(method: Method) -> Engine:
    """Engine of a local method.

    Parameters
    ----------
    method : Method
        auto, close, weave, backdrop or reflection.

    Returns
    -------
    Engine
        The engine.
    """
    if method == Method.BACKDROP:
        return BackdropEngine()
    return ReflectionEngine() if method == Method.REFLECTION else ByPart(method)
