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
from keen_sweep.core.scout.networks.detector import INPUT_DEVIATION, INPUT_MEAN
from keen_sweep.core.scout.networks.graph import as_onnx
from keen_sweep.core.scout.networks.weights import DETECTOR_GRAPH, DETECTOR_WEIGHTS, read_weights
from keen_sweep.core.sentences import sentence

# Side of the network's input, pixels.
INPUT_SIDE_PX = 384
# Sides of the cells of its layers, pixels of the input.
CELL_SIDES_PX = (4, 8, 16, 32)
# Layers that are read at each step, by their names in the published graph.
LAYER_NAMES = (("Concat_12",), ("Concat_27", "Add_107"), ("Concat_42", "Add_128"), ("Concat_62", "Add_149"))
# Their number of channels together.
CHANNEL_COUNTS = (64, 256, 384, 640)
THREAD_COUNT = 2


def features_of(square: EightBit) -> tuple[Floats, ...]:
    """Features of the detector's trunk.

    Parameters
    ----------
    square : (h, w, 3) uint8
        sRGB, stretched to a square.

    Returns
    -------
    tuple of (C, n, n) float32
        For each of CELL_SIDES_PX, with n = INPUT_SIDE_PX / side.

    Raises
    ------
    NoWeights
        The network is missing.
    """
    way = cv2.INTER_AREA if max(square.shape[:2]) > INPUT_SIDE_PX else cv2.INTER_LINEAR
    seen = cv2.resize(square, (INPUT_SIDE_PX, INPUT_SIDE_PX), interpolation=way)[..., ::-1].astype(np.float32)
    seen = np.asarray((seen - np.array(INPUT_MEAN)) / np.array(INPUT_DEVIATION), np.float32)
    session = _session()
    outputs = session.run(None, {session.get_inputs()[0].name: np.ascontiguousarray(seen.transpose(2, 0, 1)[None])})
    out, at = [], 0
    for layers in LAYER_NAMES:
        out.append(np.concatenate([each[0] for each in outputs[at : at + len(layers)]]))
        at += len(layers)
    return tuple(out)


@lru_cache(maxsize=1)
def _session() -> Session:
    import onnxruntime

    wanted = [f"PartitionedCall/onnx_tf_prefix_{each}" for layers in LAYER_NAMES for each in layers]
    model = as_onnx(read_weights(DETECTOR_GRAPH), read_weights(DETECTOR_WEIGHTS), INPUT_SIDE_PX, wanted)
    options = onnxruntime.SessionOptions()
    options.intra_op_num_threads = THREAD_COUNT
    try:
        session: Session = onnxruntime.InferenceSession(model, options, providers=["CPUExecutionProvider"])
    except Exception as error:
        raise NoWeights(sentence("The detector's trunk cannot be loaded: {error}", error=error)) from error
    return session
