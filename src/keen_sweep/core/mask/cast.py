"""How likely each place round a thing lies in its shadow or its mirror image: by a network of our own, trained on made
pictures with one sun each (training/shadows.py)."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import Box, box_of
from keen_sweep.core.mask.sun import Sun, thrown
from keen_sweep.core.methods.network import answer_of
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.photo.picture import Pixels

Bools = NDArray[np.bool_]
Floats = NDArray[np.float32]
FILE = Path(__file__).with_name("cast.onnx")
# What is looked at, in heights of the thing: so far to either side of its middle, above its feet and below them; and
# the size that it is looked at in, the same scale both ways.
ASIDE, ABOVE, BELOW = 1.3, 1.1, 0.8
WIDE, TALL = 176, 128
# A wide thing counts as this share of its width high.
LOW = 0.6
# Light is compared over this share of the height of what is looked at.
AROUND = 0.18


def surroundings(thing: Bools) -> Box:
    """What is looked at round a thing (H, W), a pixel at least; it may reach beyond the picture."""
    tight = box_of(thing)
    tall = max(tight.height, LOW * tight.width, 8)
    width, above, below = round(2 * ASIDE * tall), round(ABOVE * tall), round(BELOW * tall)
    middle = tight.x + tight.width // 2
    return Box(x=middle - width // 2, y=tight.bottom - above, width=width, height=above + below)


@dataclass(frozen=True)
class Cast:
    """The surroundings of a thing, and of each of their places, (TALL, WIDE) spread over them, 0 to 1 each: whether it
    is the thing's own, how likely it lies in its shadow, and how likely it is its mirror image."""

    box: Box
    body: Floats
    shadow: Floats
    mirror: Floats


def cast_by(picture: Pixels, thing: Bools, sun: Sun | None = None) -> Cast:
    """What a thing casts. picture (H, W, 3) uint8 or uint16; thing (H, W) bool, a pixel at least; sun: as known from
    another thing of the frame."""
    box, seen = seen_by_network(picture, thing, sun)
    shadow, mirror = answer_of(FILE, seen[None])[0]
    return Cast(box, seen[3], np.asarray(shadow), np.asarray(mirror))


def seen_by_network(picture: Pixels, thing: Bools, sun: Sun | None) -> tuple[Box, Floats]:
    """The surroundings of a thing as the network sees them, (6, TALL, WIDE) float32: red, green, blue, the thing, how
    light each place is against what is round it, and where a known sun throws the thing. Zero beyond the picture."""
    box = surroundings(thing)
    inside = box.intersect(Box(x=0, y=0, width=thing.shape[1], height=thing.shape[0]))
    pixels = to_eight_bit(np.ascontiguousarray(picture[inside.slices]))
    scale = (WIDE / box.width, TALL / box.height)
    left, top = (inside.x - box.x) * scale[0], (inside.y - box.y) * scale[1]
    size = (max(round(inside.width * scale[0]), 1), max(round(inside.height * scale[1]), 1))
    small = cv2.resize(pixels, size, interpolation=cv2.INTER_AREA).astype(np.float32) / 255
    cover = cv2.resize(thing[inside.slices].astype(np.float32), size, interpolation=cv2.INTER_AREA)
    x, y = min(round(left), WIDE - 1), min(round(top), TALL - 1)
    wide, tall = min(size[0], WIDE - x), min(size[1], TALL - y)
    at = np.s_[y : y + tall, x : x + wide]
    square = np.zeros((TALL, WIDE, 3), np.float32)
    mask, there = np.zeros((2, TALL, WIDE), np.float32)
    square[at], mask[at], there[at] = small[:tall, :wide], cover[:tall, :wide], 1
    light = np.log(square.mean(axis=2) + 0.03)
    # The thing itself says nothing of how light the ground is.
    weight = np.where(mask > 0.5, 0.0, there).astype(np.float32) + np.float32(1e-3)
    blur = AROUND * TALL
    mean = cv2.GaussianBlur(light * weight, (0, 0), blur) / cv2.GaussianBlur(weight, (0, 0), blur)
    against = np.clip((light - mean) / 2, -1, 1) * there
    known = thrown(mask, foot_of(mask), sun) if sun is not None else np.zeros_like(mask)
    return box, np.stack([*((square - 0.5) * there[..., None]).transpose(2, 0, 1), mask, against, known]).astype(
        np.float32
    )


def foot_of(mask: Floats) -> float:
    """The row that a thing (h, w), 0 to 1, stands on; the last one where it is nowhere half."""
    rows = np.flatnonzero((mask > min(0.5, float(mask.max()) * 0.99)).any(axis=1))
    return float(rows[-1]) if len(rows) else float(len(mask) - 1)
