"""Looking more than once: the detector over a picture seen from farther away, over overlapping squares of it, and for
small things over ever finer ones."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import cv2
import numpy as np

from keen_sweep.core.arrays import EightBit
from keen_sweep.core.box import Box, whole
from keen_sweep.core.progress import Progress, no_progress
from keen_sweep.core.scout.networks.detector import PADDING_VALUE, Seen, detect, drop_duplicates
from keen_sweep.core.sentences import sentence

# Side of the smallest tiles: a person of 60 px is 40 px tall to the network there, which it reads well.
MIN_TILE_SIDE_PX = 624
TILE_OVERLAP_SHARE = 0.25
MIN_SCORE = 0.5
# Margin added around the picture when it is seen from farther away.
FAR_MARGIN_SHARE = 0.3
# Side of the squares seen from closer, share of the longer side.
CLOSE_TILE_SHARE = 0.58
# A box that ends this close to an inner border of its tile is probably cut off, share of the tile's side.
CUT_MARGIN_SHARE = 0.008


def tiles_of(room: Box) -> list[Box]:
    """Overlapping squares that cover a picture, from half its longer side to the smallest size.

    Parameters
    ----------
    room : Box
        Box of the picture.

    Returns
    -------
    list of Box
        The squares.
    """
    side, out = max(room.width, room.height) / 2, []
    while side > MIN_TILE_SIDE_PX * 0.75:
        out += list(_grid(room, max(round(side), MIN_TILE_SIDE_PX)))
        side /= 2
    return out


def _grid(room: Box, side: int) -> Iterator[Box]:
    wide, tall = min(side, room.width), min(side, room.height)
    for y in _starts(room.height, tall):
        for x in _starts(room.width, wide):
            yield Box(x=x, y=y, width=wide, height=tall)


def _starts(length: int, side: int) -> list[int]:
    count = int(np.ceil((length - side) / (side * (1 - TILE_OVERLAP_SHARE)))) + 1 if length > side else 1
    return [round(k) for k in np.linspace(0, length - side, count)]


def detect_around(picture: EightBit, kinds: Sequence[str], least: float) -> list[Seen]:
    """Detect things in a picture as a whole, from farther away (who fills a picture is not recognised in it),
    and in squares of somewhat more than half its side.

    Parameters
    ----------
    picture : (H, W, 3) uint8
        The picture.
    kinds : sequence of str
        Classes to detect.
    least : float
        Smallest score.

    Returns
    -------
    list of Seen
        The detections, surest first.

    Raises
    ------
    NoWeights
        The network is missing.
    """
    room = whole(picture)
    seen = detect(picture, least, kinds) + _from_afar(picture, kinds, least)
    for tile in _grid(room, round(CLOSE_TILE_SHARE * max(room.width, room.height))):
        seen += _in_tile(picture, tile, kinds, least)
    return drop_duplicates(seen)


def _from_afar(picture: EightBit, kinds: Sequence[str], least: float) -> list[Seen]:
    height, width = picture.shape[:2]
    down, across = round(FAR_MARGIN_SHARE * height), round(FAR_MARGIN_SHARE * width)
    padded = cv2.copyMakeBorder(
        picture, down, down, across, across, cv2.BORDER_CONSTANT, value=(PADDING_VALUE, PADDING_VALUE, PADDING_VALUE)
    )
    out = []
    for each in detect(np.asarray(padded, np.uint8), least, kinds):
        left, top, right, bottom = each.box
        box = max(left - across, 0.0), max(top - down, 0.0), min(right - across, width), min(bottom - down, height)
        out.append(Seen(each.kind, each.score, box))
    return out


def _in_tile(picture: EightBit, tile: Box, kinds: Sequence[str], least: float) -> list[Seen]:
    """What is in a tile, in the picture's pixels, less what an inner border of it may cut."""
    out = []
    for each in detect(np.ascontiguousarray(picture[tile.slices]), least, kinds):
        if not _is_cut(each, tile, whole(picture)):
            left, top, right, bottom = each.box
            box = (left + tile.x, top + tile.y, right + tile.x, bottom + tile.y)
            out.append(Seen(each.kind, each.score, box))
    return out


def detect_small(picture: EightBit, kinds: Sequence[str], progress: Progress = no_progress) -> list[Seen]:
    """Detect things in a picture including small ones.

    Parameters
    ----------
    picture : (H, W, 3) uint8
        The picture.
    kinds : sequence of str
        Classes to detect.
    progress : Progress, optional
        Called after each tile.

    Returns
    -------
    list of Seen
        The detections, surest first.

    Raises
    ------
    NoWeights
        The network is missing.
    """
    seen = detect_around(picture, kinds, MIN_SCORE)
    tiles = tiles_of(whole(picture))
    for number, tile in enumerate(tiles, start=1):
        seen += _in_tile(picture, tile, kinds, MIN_SCORE)
        progress(number / len(tiles), sentence("tile {number} of {count}", number=number, count=len(tiles)))
    return drop_duplicates(seen)


def _is_cut(each: Seen, tile: Box, room: Box) -> bool:
    near = max(CUT_MARGIN_SHARE * max(tile.width, tile.height), 2.0)
    left, top, right, bottom = each.box
    return (
        (left < near and tile.x > room.x)
        or (top < near and tile.y > room.y)
        or (right > tile.width - near and tile.right < room.right)
        or (bottom > tile.height - near and tile.bottom < room.bottom)
    )
