"""Our own networks, opened once each."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

import numpy as np

from keen_sweep.core.arrays import Floats, Numbers
from keen_sweep.core.network import Session

THREAD_COUNT = 2


def answer_of(file: Path, *seen: Numbers) -> Floats:
    """Run a network with one output.

    Parameters
    ----------
    file : Path
        The ONNX file.
    *seen : (1, C, h, w) float32
        Its inputs, in order.

    Returns
    -------
    float32 array
        Its output.
    """
    opened = _opened(file)
    given = {
        put.name: np.ascontiguousarray(each, np.float32) for put, each in zip(opened.get_inputs(), seen, strict=True)
    }
    [answer] = opened.run(None, given)
    return np.asarray(answer, np.float32)


@lru_cache(maxsize=8)
def _opened(file: Path) -> Session:
    import onnxruntime

    options = onnxruntime.SessionOptions()
    options.intra_op_num_threads = THREAD_COUNT
    session: Session = onnxruntime.InferenceSession(str(file), options, providers=["CPUExecutionProvider"])
    return session
