"""How likely each pixel belongs to the thing that a mark means: by a network of our own, trained on made pictures of
things with exact outlines (training/cling.py)."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.mask.colours import Colours, lab_of
from keen_sweep.core.methods.network import answer_of
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.photo.picture import Pixels

Bools = NDArray[np.bool_]
Floats = NDArray[np.float32]
How = Literal["scribble", "outline"]
FILE = Path(__file__).with_name("cling.onnx")
# Its surroundings, as a share of the mark's size, and the side of the square that they are looked at in.
ROUND, LEAST_ROUND, SIDE = 0.5, 12, 192
# What is farther from a scribble, in lengths of it, is not the thing; how much colours can say.
FAR, MOST = 0.6, 3.0
FEWEST = 80


def likely(picture: Pixels, near: Bools, how: How) -> Floats:
    """How likely each pixel of a mark's surroundings belongs to what it means, 0 to 1, (SIDE, SIDE) spread over them.

    picture (H, W, 3) uint8 or uint16; near (H, W) bool: what the scribble covers or the outline holds, a pixel
    at least.
    """
    _, seen = seen_by_network(picture, near, how)
    return np.asarray(answer_of(FILE, seen[None])[0, 0])


def seen_by_network(picture: Pixels, near: Bools, how: How) -> tuple[Box, Floats]:
    """The surroundings of a mark as the network sees them, (6, SIDE, SIDE) float32: red, green, blue, the mark, how
    much more the colour is the mark's than that of what is far from it, and which kind of mark it is."""
    box = surroundings(near)
    pixels = to_eight_bit(np.ascontiguousarray(picture[box.slices]))
    side = (SIDE, SIDE)
    square = np.asarray(cv2.resize(pixels, side, interpolation=cv2.INTER_AREA), np.uint8)
    mark = np.asarray(cv2.resize(near[box.slices].astype(np.float32), side, interpolation=cv2.INTER_AREA), np.float32)
    planes = [square[..., k].astype(np.float32) / 255 - 0.5 for k in range(3)]
    plane = np.full(side, 0.5 if how == "outline" else -0.5, np.float32)
    return box, np.stack([*planes, mark, _told_by_colour(square, mark, how), plane])


def surroundings(near: Bools) -> Box:
    """What is looked at round a mark."""
    tight = box_of(near)
    return tight.grow(int(max(ROUND * np.sqrt(tight.area), LEAST_ROUND)), whole(near))


def _told_by_colour(square: NDArray[np.uint8], mark: Floats, how: How) -> Floats:
    """How much more often each pixel's colour occurs in the mark than away from it, -1 to 1."""
    hit = mark > min(0.5, float(mark.max()) * 0.999)
    away = cv2.distanceTransform((~hit).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    outside = away > FAR * np.sqrt(hit.sum()) if how == "scribble" else ~hit
    if outside.sum() < FEWEST:
        outside = ~hit
    colours = Colours(lab_of(square))
    told = np.log(colours.share(hit) / colours.share(outside))[colours.bins]
    return np.asarray(np.clip(told, -MOST, MOST) / MOST, np.float32)
