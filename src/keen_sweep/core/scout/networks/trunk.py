"""What the detector's trunk sees in a square of picture: features learned on everyday photographs, before they are
turned into boxes. They tell things from ground where colours do not.

The trunk and neck are those of the detector (networks/detector.py), read at another size.
"""

from __future__ import annotations

from functools import lru_cache

import cv2
import numpy as np

from keen_sweep.core.arrays import EightBit, Floats
from keen_sweep.core.errors import NoWeights
from keen_sweep.core.network import Session
from keen_sweep.core.scout.networks.detector import MEAN, SPREAD
from keen_sweep.core.scout.networks.graph import as_onnx
from keen_sweep.core.scout.networks.weights import DETECTOR, DETECTOR_GRAPH, read_weights

# The side of the square that it looks at, pixels; its cells are 4, 8, 16 and 32 of them wide.
SIDE = 384
STEPS = (4, 8, 16, 32)
# Which layers are read at each step, by their names in the published graph, and how many channels they have together.
LAYERS = (("Concat_12",), ("Concat_27", "Add_107"), ("Concat_42", "Add_128"), ("Concat_62", "Add_149"))
CHANNELS = (64, 256, 384, 640)
THREADS = 2


def features_of(square: EightBit) -> tuple[Floats, ...]:
    """Features of a picture (h, w, 3) sRGB stretched to a square, for each step (CHANNELS, SIDE / step, SIDE / step).

    Raises NoWeights.
    """
    way = cv2.INTER_AREA if max(square.shape[:2]) > SIDE else cv2.INTER_LINEAR
    seen = cv2.resize(square, (SIDE, SIDE), interpolation=way)[..., ::-1].astype(np.float32)
    seen = np.asarray((seen - np.array(MEAN)) / np.array(SPREAD), np.float32)
    session = _session()
    told = session.run(None, {session.get_inputs()[0].name: np.ascontiguousarray(seen.transpose(2, 0, 1)[None])})
    out, at = [], 0
    for layers in LAYERS:
        out.append(np.concatenate([each[0] for each in told[at : at + len(layers)]]))
        at += len(layers)
    return tuple(out)


@lru_cache(maxsize=1)
def _session() -> Session:
    import onnxruntime

    wanted = [f"PartitionedCall/onnx_tf_prefix_{each}" for layers in LAYERS for each in layers]
    model = as_onnx(read_weights(DETECTOR_GRAPH), read_weights(DETECTOR), SIDE, wanted)
    options = onnxruntime.SessionOptions()
    options.intra_op_num_threads = THREADS
    try:
        session: Session = onnxruntime.InferenceSession(model, options, providers=["CPUExecutionProvider"])
    except Exception as error:
        raise NoWeights(f"The detector's trunk cannot be loaded: {error}") from error
    return session
