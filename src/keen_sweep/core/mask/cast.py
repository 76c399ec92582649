"""What a thing casts, on the ground and in what mirrors it: by a network of our own, trained on made pictures with one
sun each (training/shadows.py)."""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.methods.network import answer_of
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.photo.picture import Pixels

Bools = NDArray[np.bool_]
Floats = NDArray[np.float32]
FILE = Path(__file__).with_name("cast.onnx")
# How far round the thing is looked, in lengths of its longer side, and the side of the square that is looked at.
ROUND, LEAST_ROUND, SIDE = 0.9, 16, 192
# Light is compared over this share of the square.
WIDE = 0.12


def cast_by(picture: Pixels, thing: Bools) -> tuple[Box, Floats, Floats]:
    """The surroundings of a thing, how likely each of their pixels lies in its shadow, and how likely it is its mirror
    image, (h, w) 0 to 1 each. picture (H, W, 3) uint8 or uint16; thing (H, W) bool, a pixel at least."""
    box, seen = seen_by_network(picture, thing)
    told = answer_of(FILE, seen[None])[0]
    size = (box.width, box.height)
    shadow, mirror = (np.asarray(cv2.resize(each, size, interpolation=cv2.INTER_LINEAR), np.float32) for each in told)
    return box, shadow, mirror


def seen_by_network(picture: Pixels, thing: Bools) -> tuple[Box, Floats]:
    """The surroundings of a thing as the network sees them, (5, SIDE, SIDE) float32: red, green, blue, the thing, and
    how light each place is against what is round it."""
    tight = box_of(thing)
    box = tight.grow(int(max(ROUND * max(tight.width, tight.height), LEAST_ROUND)), whole(thing))
    pixels = to_eight_bit(np.ascontiguousarray(picture[box.slices]))
    side = (SIDE, SIDE)
    square = np.asarray(cv2.resize(pixels, side, interpolation=cv2.INTER_AREA), np.float32) / 255
    mask = np.asarray(cv2.resize(thing[box.slices].astype(np.float32), side, interpolation=cv2.INTER_AREA), np.float32)
    light = np.log(square.mean(axis=2) + 0.03)
    # The thing itself says nothing of how light the ground is.
    weight = np.where(mask > 0.5, 0.0, 1.0).astype(np.float32) + np.float32(1e-3)
    wide = (0, 0)
    mean = cv2.GaussianBlur(light * weight, wide, WIDE * SIDE) / cv2.GaussianBlur(weight, wide, WIDE * SIDE)
    against = np.clip((light - mean) / 2, -1, 1)
    return box, np.stack([*(square.transpose(2, 0, 1) - 0.5), mask, against]).astype(np.float32)
