"""Looking for small things: the detector over overlapping squares of a picture, from coarse to fine."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import Box, whole
from keen_sweep.core.scout.networks.detector import Seen, best_of, detect

# Sides of the finest tiles, pixels: a person of 60 px is 40 px tall to the network there, which reads well.
FINEST, OVERLAP, LEAST = 624, 0.25, 0.5
# A box that ends so near an inner border of its tile is likely cut, pixels of the tile's side.
CUT = 0.008
Progress = Callable[[float, str], None]


def tiles_of(room: Box) -> list[Box]:
    """Squares that cover a picture with overlap, from half its long side down to the finest."""
    side, out = max(room.width, room.height) / 2, []
    while side > FINEST * 0.75:
        out += list(_grid(room, max(round(side), FINEST)))
        side /= 2
    return out


def _grid(room: Box, side: int) -> Iterator[Box]:
    wide, tall = min(side, room.width), min(side, room.height)
    for y in _starts(room.height, tall):
        for x in _starts(room.width, wide):
            yield Box(x=x, y=y, width=wide, height=tall)


def _starts(length: int, side: int) -> list[int]:
    count = int(np.ceil((length - side) / (side * (1 - OVERLAP)))) + 1 if length > side else 1
    return [round(k) for k in np.linspace(0, length - side, count)]


def detect_small(
    picture: NDArray[np.uint8], kinds: Sequence[str], progress: Progress = lambda share, doing: None
) -> list[Seen]:
    """What is in a picture (H, W, 3) with small things too; progress is told after each tile. Raises NoWeights."""
    room = whole(picture)
    seen = detect(picture, LEAST, kinds)
    tiles = tiles_of(room)
    for number, tile in enumerate(tiles, start=1):
        for each in detect(np.ascontiguousarray(picture[tile.slices]), LEAST, kinds):
            if not _is_cut(each, tile, room):
                left, top, right, bottom = each.box
                box = (left + tile.x, top + tile.y, right + tile.x, bottom + tile.y)
                seen.append(Seen(each.kind, each.score, box))
        progress(number / len(tiles), f"tile {number} of {len(tiles)}")
    return best_of(seen)


def _is_cut(each: Seen, tile: Box, room: Box) -> bool:
    near = max(CUT * max(tile.width, tile.height), 2.0)
    left, top, right, bottom = each.box
    return (
        (left < near and tile.x > room.x)
        or (top < near and tile.y > room.y)
        or (right > tile.width - near and tile.right < room.right)
        or (bottom > tile.height - near and tile.bottom < room.bottom)
    )
