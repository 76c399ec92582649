"""The detector NanoDet (Apache-2.0; trained on the 80 kinds of COCO, Lin et al. 2014): boxes of people and things.

Boxes are spread as distributions over eleven distances a side (Li et al. 2020, Generalized Focal Loss), whose means
are taken.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np

from keen_sweep.core.arrays import EightBit, Floats
from keen_sweep.core.errors import NoWeights
from keen_sweep.core.network import Session
from keen_sweep.core.scout.networks.graph import as_onnx
from keen_sweep.core.scout.networks.weights import DETECTOR_GRAPH, DETECTOR_WEIGHTS, read_weights
from keen_sweep.core.sentences import sentence

INPUT_SIDE_PX = 416
GRID_STRIDES = (8, 16, 32)
DISTANCE_BINS = 11
INPUT_MEAN = (103.53, 116.28, 123.675)
INPUT_DEVIATION = (57.375, 57.12, 58.395)
PADDING_VALUE = 114
# Two boxes of one kind that overlap this much show the same thing (intersection over union).
MAX_OVERLAP = 0.45
# Two boxes also show the same thing when this share of one lies in the other.
MAX_CONTAINED_SHARE = 0.8

KIND_NAMES = (
    "person,bicycle,car,motorcycle,airplane,bus,train,truck,boat,traffic light,fire hydrant,stop sign,parking meter,"
    "bench,bird,cat,dog,horse,sheep,cow,elephant,bear,zebra,giraffe,backpack,umbrella,handbag,tie,suitcase,frisbee,"
    "skis,snowboard,sports ball,kite,baseball bat,baseball glove,skateboard,surfboard,tennis racket,bottle,wine glass,"
    "cup,fork,knife,spoon,bowl,banana,apple,sandwich,orange,broccoli,carrot,hot dog,pizza,donut,cake,chair,couch,"
    "potted plant,bed,dining table,toilet,tv,laptop,mouse,remote,keyboard,cell phone,microwave,oven,toaster,sink,"
    "refrigerator,book,clock,vase,scissors,teddy bear,hair drier,toothbrush"
).split(",")


@dataclass(frozen=True)
class Seen:
    """A detection.

    Attributes
    ----------
    kind : str
        One of KIND_NAMES.
    score : float
        0 to 1.
    box : tuple of 4 float
        Left, top, right, bottom, pixels.
    """

    kind: str
    score: float
    box: tuple[float, float, float, float]

    @property
    def height(self) -> float:
        return self.box[3] - self.box[1]

    @property
    def area(self) -> float:
        return max(self.box[2] - self.box[0], 0.0) * max(self.height, 0.0)


def detect(picture: EightBit, least: float, kinds: Sequence[str] = KIND_NAMES) -> list[Seen]:
    """Detect things in a picture.

    Parameters
    ----------
    picture : (H, W, 3) uint8
        sRGB.
    least : float
        Smallest score.
    kinds : sequence of str, optional
        Classes to detect.

    Returns
    -------
    list of Seen
        The detections, surest first.

    Raises
    ------
    NoWeights
        The network is missing.
    """
    height, width = picture.shape[:2]
    scale = INPUT_SIDE_PX / max(height, width)
    size = (max(round(width * scale), 1), max(round(height * scale), 1))
    small = cv2.resize(picture, size, interpolation=cv2.INTER_AREA if scale < 1 else cv2.INTER_LINEAR)
    left, top = (INPUT_SIDE_PX - size[0]) // 2, (INPUT_SIDE_PX - size[1]) // 2
    # The picture keeps its shape: the rest of the square is grey.
    square = np.full((INPUT_SIDE_PX, INPUT_SIDE_PX, 3), PADDING_VALUE, np.float32)
    square[top : top + size[1], left : left + size[0]] = small[..., ::-1]
    square = np.asarray((square - np.array(INPUT_MEAN)) / np.array(INPUT_DEVIATION), np.float32)
    session, outputs = _session()
    answers = session.run(outputs, {session.get_inputs()[0].name: square.transpose(2, 0, 1)[None]})
    wanted = [KIND_NAMES.index(kind) for kind in kinds]
    found = []
    for stride, scores, spread in zip(GRID_STRIDES, answers[:3], answers[3:], strict=True):
        best = scores[0][:, wanted]
        kind = best.argmax(axis=1)
        score = best.max(axis=1)
        for cell in np.nonzero(score >= least)[0]:
            row, column = divmod(int(cell), INPUT_SIDE_PX // stride)
            reach = _means(spread[0][cell].reshape(4, DISTANCE_BINS)) * stride
            x, y = (column + 0.5) * stride, (row + 0.5) * stride
            box = (x - reach[0] - left, y - reach[1] - top, x + reach[2] - left, y + reach[3] - top)
            found.append(Seen(kinds[kind[cell]], float(score[cell]), _cut(box, scale, width, height)))
    return drop_duplicates(found)


def drop_duplicates(seen: list[Seen]) -> list[Seen]:
    """Keep the surest of boxes that show the same thing.

    Parameters
    ----------
    seen : list of Seen
        The detections.

    Returns
    -------
    list of Seen
        Those that are kept, surest first.
    """
    kept: list[Seen] = []
    for each in sorted(seen, key=lambda s: -s.score):
        if each.area > 0 and all(each.kind != k.kind or not _same(each, k) for k in kept):
            kept.append(each)
    return kept


def overlap(a: Seen, b: Seen) -> float:
    """Area that two boxes share.

    Parameters
    ----------
    a : Seen
        The first box.
    b : Seen
        The second box.

    Returns
    -------
    float
        Pixels.
    """
    across = min(a.box[2], b.box[2]) - max(a.box[0], b.box[0])
    down = min(a.box[3], b.box[3]) - max(a.box[1], b.box[1])
    return max(across, 0.0) * max(down, 0.0)


def _same(a: Seen, b: Seen) -> bool:
    shared = overlap(a, b)
    return shared > MAX_OVERLAP * (a.area + b.area - shared) or shared > MAX_CONTAINED_SHARE * min(a.area, b.area)


def _means(logits: Floats) -> Floats:
    weight = np.exp(logits - logits.max(axis=1, keepdims=True))
    return np.asarray((weight * np.arange(DISTANCE_BINS)).sum(axis=1) / weight.sum(axis=1), np.float32)


def _cut(
    box: tuple[float, float, float, float], scale: float, width: int, height: int
) -> tuple[float, float, float, float]:
    x0, y0, x1, y1 = (float(v / scale) for v in box)
    return max(x0, 0.0), max(y0, 0.0), min(x1, float(width)), min(y1, float(height))


@lru_cache(maxsize=1)
def _session() -> tuple[Session, list[str]]:
    """The network and its outputs in order: scores of the three strides, then their boxes."""
    import onnxruntime

    model = as_onnx(read_weights(DETECTOR_GRAPH), read_weights(DETECTOR_WEIGHTS))
    options = onnxruntime.SessionOptions()
    options.intra_op_num_threads = 2
    try:
        session = onnxruntime.InferenceSession(model, options, providers=["CPUExecutionProvider"])
    except Exception as error:
        raise NoWeights(sentence("The detector cannot be loaded: {error}", error=error)) from error
    shapes = {each.name: tuple(each.shape) for each in session.get_outputs()}
    cells = [(INPUT_SIDE_PX // stride) ** 2 for stride in GRID_STRIDES]
    names = [
        n
        for width in (len(KIND_NAMES), 4 * DISTANCE_BINS)
        for c in cells
        for n, s in shapes.items()
        if s[1:] == (c, width)
    ]
    return session, names
