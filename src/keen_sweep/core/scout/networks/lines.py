"""The wire network, trained by us on drawn wires (training/wires.py): how likely each pixel is part of a wire."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from keen_sweep.core.arrays import EightBit, Floats
from keen_sweep.core.box import Box, whole
from keen_sweep.core.methods.network import answer_of

NETWORK_FILE = Path(__file__).with_name("wires.onnx")
# The picture is processed in tiles of this side, pixels.
TILE_SIDE_PX = 1024
# Overlap of the tiles: the network sees some 150 pixels of a line.
TILE_OVERLAP_PX = 96
SIDE_MULTIPLE = 8


def wire_likelihood(picture: EightBit) -> Floats:
    """Likelihood of wires, from our network.

    Parameters
    ----------
    picture : (H, W, 3) uint8
        sRGB.

    Returns
    -------
    (H, W) float32
        0 to 1.
    """
    room = whole(picture)
    out = np.zeros(picture.shape[:2], np.float32)
    for y in range(0, room.height, TILE_SIDE_PX - TILE_OVERLAP_PX):
        for x in range(0, room.width, TILE_SIDE_PX - TILE_OVERLAP_PX):
            tile = Box(x=x, y=y, width=TILE_SIDE_PX, height=TILE_SIDE_PX).intersect(room)
            seen = _answer(picture[tile.slices])
            # Half of each overlap belongs to either tile.
            top, left = (TILE_OVERLAP_PX // 2 if k else 0 for k in (y, x))
            out[y + top : tile.bottom, x + left : tile.right] = seen[top:, left:]
            if tile.bottom == room.bottom and tile.right == room.right:
                return out
            if tile.right == room.right:
                break
    return out


def _answer(pixels: EightBit) -> Floats:
    height, width = pixels.shape[:2]
    pad = (-height % SIDE_MULTIPLE, -width % SIDE_MULTIPLE)
    square = np.pad(pixels, ((0, pad[0]), (0, pad[1]), (0, 0)), mode="edge").astype(np.float32) / 255
    return answer_of(NETWORK_FILE, square.transpose(2, 0, 1)[None])[0, 0, :height, :width]
