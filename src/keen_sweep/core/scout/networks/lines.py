"""The wire network, trained by us on drawn wires (training/wires.py): how likely each pixel is part of a wire."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from keen_sweep.core.arrays import EightBit, Floats
from keen_sweep.core.box import Box, whole
from keen_sweep.core.methods.network import answer_of

FILE = Path(__file__).with_name("wires.onnx")
# The picture is looked at in squares of this side with so much overlap: the network sees some 150 pixels of a line.
TILE = 1024
OVERLAP = 96
STEP = 8


def wire_likelihood(picture: EightBit) -> Floats:
    """(H, W) of 0 to 1 for a picture (H, W, 3) sRGB."""
    room = whole(picture)
    out = np.zeros(picture.shape[:2], np.float32)
    for y in range(0, room.height, TILE - OVERLAP):
        for x in range(0, room.width, TILE - OVERLAP):
            tile = Box(x=x, y=y, width=TILE, height=TILE).intersect(room)
            seen = _answer(picture[tile.slices])
            # Half of each overlap belongs to either tile.
            top, left = (OVERLAP // 2 if k else 0 for k in (y, x))
            out[y + top : tile.bottom, x + left : tile.right] = seen[top:, left:]
            if tile.bottom == room.bottom and tile.right == room.right:
                return out
            if tile.right == room.right:
                break
    return out


def _answer(pixels: EightBit) -> Floats:
    height, width = pixels.shape[:2]
    pad = (-height % STEP, -width % STEP)
    square = np.pad(pixels, ((0, pad[0]), (0, pad[1]), (0, 0)), mode="edge").astype(np.float32) / 255
    return answer_of(FILE, square.transpose(2, 0, 1)[None])[0, 0, :height, :width]
