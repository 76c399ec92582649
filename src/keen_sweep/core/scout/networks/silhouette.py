"""The silhouette of whoever is in a box: the mean of two segmentation networks (mediapipe, Apache-2.0).

The pose network's mask knows limbs, the portrait network's knows clothes; together they beat either.
"""

from __future__ import annotations

from functools import lru_cache
from threading import Lock

import cv2
import numpy as np
import scipy

from keen_sweep.core.arrays import EightBit, Floats
from keen_sweep.core.box import Box, whole
from keen_sweep.core.network import Interpreter
from keen_sweep.core.scout.networks.weights import POSE_WEIGHTS, SELFIE_WEIGHTS, Weights, read_weights

INPUT_SIDE_PX = 256
# Ratio of the crop's side to the person's size, for each network.
POSE_CROP_RATIO = 1.25
SELFIE_CROP_RATIO = 1.4
# Nothing belongs to the person outside the box grown by these shares of its width and height.
WIDTH_GROWTH_SHARE = 0.16
HEIGHT_GROWTH_SHARE = 0.08
# An interpreter holds its input and output: concurrent calls would exchange answers or fail.
_NETWORK_LOCK = Lock()


def silhouette(picture: EightBit, box: tuple[float, float, float, float]) -> tuple[Box, Floats]:
    """Likelihood that each pixel around a box belongs to the person in it.

    Parameters
    ----------
    picture : (H, W, 3) uint8
        The picture.
    box : tuple of 4 float
        Left, top, right, bottom, pixels.

    Returns
    -------
    tuple of Box and (h, w) float32
        Where, and the likelihood, 0 to 1.

    Raises
    ------
    NoWeights
        A network is missing.
    """
    left, top, right, bottom = box
    across, down = (right - left) * WIDTH_GROWTH_SHARE, (bottom - top) * HEIGHT_GROWTH_SHARE
    x0, y0 = int(np.floor(left - across)), int(np.floor(top - down))
    x1, y1 = int(np.ceil(right + across)), int(np.ceil(bottom + down))
    window = Box(x=x0, y=y0, width=max(x1 - x0, 1), height=max(y1 - y0, 1)).intersect(whole(picture))
    mean = np.zeros((window.height, window.width), np.float32)
    for weights, room in ((POSE_WEIGHTS, POSE_CROP_RATIO), (SELFIE_WEIGHTS, SELFIE_CROP_RATIO)):
        side = max(right - left, bottom - top) * room
        corner = (left + right - side) / 2, (top + bottom - side) / 2
        answer = _answer(weights, _square(picture, corner, side))
        # Back from the square's pixels to those of the window.
        scale = INPUT_SIDE_PX / side
        turn = np.array(
            [
                [scale, 0, (window.x + 0.5 - corner[0]) * scale - 0.5],
                [0, scale, (window.y + 0.5 - corner[1]) * scale - 0.5],
            ]
        )
        flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
        mean += cv2.warpAffine(answer, turn, (window.width, window.height), flags=flags) / 2
    return window, mean


def _square(picture: EightBit, corner: tuple[float, float], side: float) -> Floats:
    """A square of the picture at the network's size, 0 to 1; beyond the picture its edge is repeated."""
    x, y, wide = int(np.floor(corner[0])), int(np.floor(corner[1])), int(np.ceil(side)) + 1
    room = Box(x=x, y=y, width=wide, height=wide).intersect(whole(picture))
    pixels = cv2.copyMakeBorder(
        picture[room.slices],
        room.y - y,
        y + wide - room.y - room.height,
        room.x - x,
        x + wide - room.x - room.width,
        cv2.BORDER_REPLICATE,
    )
    way = cv2.INTER_AREA if wide > INPUT_SIDE_PX else cv2.INTER_LINEAR
    return np.asarray(cv2.resize(pixels, (INPUT_SIDE_PX, INPUT_SIDE_PX), interpolation=way), np.float32) / np.float32(
        255
    )


def _answer(weights: Weights, square: Floats) -> Floats:
    """The network's mask of a square, (INPUT_SIDE_PX, INPUT_SIDE_PX) of 0 to 1."""
    with _NETWORK_LOCK:
        network, put, take, logits = _network(weights)
        network.set_tensor(put, square[None])
        network.invoke()
        mask = np.asarray(network.get_tensor(take)[0, ..., 0], np.float32)
    return np.asarray(scipy.special.expit(mask) if logits else mask, np.float32)


@lru_cache(maxsize=2)
def _network(weights: Weights) -> tuple[Interpreter, int, int, bool]:
    from ai_edge_litert import interpreter

    network = interpreter.Interpreter(model_content=read_weights(weights), num_threads=2)
    network.allocate_tensors()
    put = network.get_input_details()[0]["index"]
    # Both answer with one plane of the square's size; only the pose network's are logits.
    take = next(
        d["index"] for d in network.get_output_details() if tuple(d["shape"]) == (1, INPUT_SIDE_PX, INPUT_SIDE_PX, 1)
    )
    return network, put, take, weights is POSE_WEIGHTS
