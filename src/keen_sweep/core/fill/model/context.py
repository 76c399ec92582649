"""What a model is shown: the hole with its surroundings, at the size that the model likes."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.box import Box
from keen_sweep.core.fill.model.port import Model

# Ratio of the side of the area shown to a model to the side of the hole.
CONTEXT_RATIO = 2.0


@dataclass(frozen=True)
class Context:
    """What a generative model is shown.

    Attributes
    ----------
    box : Box
        Its box in the picture.
    shown : (h, w, 3) uint8
        The picture at the model's size; mirrored to the right and below where the picture is too small.
    hole : (h, w) bool
        The hole.
    size : tuple of 2 int
        Width and height of what is picture.
    """

    box: Box
    shown: EightBit
    hole: Bools
    size: tuple[int, int]


def context_box(hole: Box, picture: Box, model: Model) -> Box:
    """Box around a hole that a model is shown: at least as much surroundings as hole, square where possible,
    never smaller than what the model can see at full size.

    Parameters
    ----------
    hole : Box
        Box of the hole.
    picture : Box
        Box of the picture.
    model : Model
        The model.

    Returns
    -------
    Box
        The box.
    """
    least = model.side or 0
    side = round(max(CONTEXT_RATIO * max(hole.width, hole.height), least))
    width, height = min(side, picture.width), min(side, picture.height)

    def start(middle: float, length: int, most: int) -> int:
        return int(min(max(round(middle - length / 2), 0), most - length))

    x = start(hole.x + hole.width / 2, width, picture.width)
    y = start(hole.y + hole.height / 2, height, picture.height)
    return Box(x=x, y=y, width=width, height=height)


def context(cut: EightBit, gap: Bools, box: Box, model: Model) -> Context:
    """Reduce a box of a picture to the model's size.

    Parameters
    ----------
    cut : (h, w, 3) uint8
        The pixels of the box.
    gap : (h, w) bool
        The hole.
    box : Box
        The box in the picture.
    model : Model
        The model.

    Returns
    -------
    Context
        What the model is shown.
    """
    largest = model.side or model.most
    scale = min(1.0, largest / max(box.width, box.height))
    width, height = max(round(box.width * scale), 1), max(round(box.height * scale), 1)
    shown, small = np.array(cut), np.array(gap)
    if (width, height) != (box.width, box.height):
        shown = np.asarray(cv2.resize(cut, (width, height), interpolation=cv2.INTER_AREA), np.uint8)
        share = cv2.resize(gap.astype(np.float32), (width, height), interpolation=cv2.INTER_AREA)
        # Every pixel that has anything of the thing in it is painted.
        small = np.asarray(share > 0)
    step = model.multiple
    wide = model.side or -(-width // step) * step
    tall = model.side or -(-height // step) * step
    rim = ((0, tall - height), (0, wide - width))
    return Context(
        box,
        np.pad(shown, (*rim, (0, 0)), mode="symmetric"),
        np.pad(small, rim, mode="symmetric"),
        (width, height),
    )
