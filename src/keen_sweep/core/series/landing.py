"""Landing: where a thing that is marked in one frame stands in another, and whether it is there at all.

The alignment says where what is round it is seen; the thing may be nearer or farther than that, so that its own motion
is found by dense flow, from its own pixels alone, and it is compared with what is there.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit, Floats, Matrix, Pixels
from keen_sweep.core.box import Box, whole
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.series.alignment import Alignment, sample_grid
from keen_sweep.core.series.flow import by_cells, consistent_flow, local_similarity, texture_strength, warp_by
from keen_sweep.core.series.projected_view import project_view, reduce_pixels

# Longer side at working size, pixels.
WORKING_SIDE_PX = 1_100
# Margin around a thing, share of its size.
MARGIN_SHARE = 0.35
# Bounds of that margin, pixels.
MIN_MARGIN_PX = 40
MAX_MARGIN_PX = 500
# Side of a cell, pixels at working size.
CELL_SIDE_PX = 12
# Standard deviation of the surroundings that are compared, pixels at working size.
SURROUNDINGS_SIGMA_PX = 2.5
# Confidence from which on a mark has landed.
LANDED_CONFIDENCE = 0.45
# Confidence from which on a mark is doubtful.
DOUBTFUL_CONFIDENCE = 0.25
# Share of the mark that must lie inside the picture.
MIN_INSIDE_SHARE = 0.5
# Confidence at the aligned place from which on no motion of its own is searched for: the camera only turned.
IN_PLACE_CONFIDENCE = 0.9
# Weight of the border of a mask relative to its middle.
BORDER_WEIGHT = 0.05
# Weight of plain parts of a thing relative to its edges.
PLAIN_WEIGHT = 0.3
# Colours this close are the same, L*a*b*.
SAME_COLOUR_DISTANCE = 12.0
# Colours this far apart are different, L*a*b*.
OTHER_COLOUR_DISTANCE = 30.0
# Larger windows are followed at half size.
MAX_FULL_PIXELS = 150_000
# Thinner things are followed at full size in any case, pixels.
MIN_HALF_SIZE_RADIUS_PX = 12.0
# Longer side of the area in which a thing is searched for, pixels.
SEARCH_SIDE_PX = 800


class Verdict(StrEnum):
    """Whether a thing was found in another frame."""

    LANDED = "landed"
    DOUBTFUL = "doubtful"
    NOT_THERE = "not there"
    OUT_OF_FRAME = "out of frame"


@dataclass(frozen=True)
class Landing:
    """Where a thing is in another frame.

    Attributes
    ----------
    verdict : Verdict
        Whether it was found.
    confidence : float
        0 to 1.
    alignment : Alignment
        Alignment of the two frames.
    box : Box
        Box of the cells in the first frame.
    motion : (h, w, 2) float32
        Motion of the thing itself on cells over the box, pixels of the first frame.
    """

    verdict: Verdict
    confidence: float
    alignment: Alignment
    box: Box
    motion: Floats

    def places(self, points: Matrix) -> Matrix:
        """Where points (n, 2) of the thing are seen in the other frame."""
        rows, columns = self.motion.shape[:2]
        across = (points[:, 0] - self.box.x + 0.5) * columns / self.box.width - 0.5
        down = (points[:, 1] - self.box.y + 0.5) * rows / self.box.height - 0.5
        return self.alignment.places(points + sample_grid(self.motion, across, down))


def land(one: Pixels, mask: Mask, other: Pixels, alignment: Alignment, wide: bool = False) -> Landing:
    """Find a thing of one frame in another: where the alignment puts it, otherwise near by.

    Parameters
    ----------
    one : (H, W, 3) uint8 or uint16
        The first frame.
    mask : Mask
        Mask of the thing.
    other : (H', W', 3) uint8 or uint16
        The second frame.
    alignment : Alignment
        Alignment of the two frames.
    wide : bool, optional
        Whether the thing moves by itself: it is searched for farther away and less strictly.

    Returns
    -------
    Landing
        Where it is.
    """
    box = mask.box.grow(_reach(mask.box, MARGIN_SHARE, MIN_MARGIN_PX, MAX_MARGIN_PX), whole(one))
    if not wide:
        first = _landed(one, mask, other, alignment, box, (0.0, 0.0))
        if first.verdict is not Verdict.NOT_THERE:
            return first
    seek = WIDE_SEARCH if wide else NARROW_SEARCH
    at, score = _sought(one, mask, other, alignment, seek)
    if score < seek.least:
        return Landing(
            Verdict.NOT_THERE, max(score, 0.0) * DOUBTFUL_CONFIDENCE, alignment, box, np.zeros((1, 1, 2), np.float32)
        )
    again = _landed(one, mask, other, alignment, box, at)
    if again.verdict is Verdict.LANDED and not wide:
        return again
    own = again.motion if again.verdict is not Verdict.NOT_THERE else np.array([[at]], np.float32)
    return Landing(Verdict.DOUBTFUL, score * DOUBTFUL_CONFIDENCE, alignment, box, own)


@dataclass(frozen=True)
class _Seek:
    """How far a thing is looked for, as a share of the frame's long side, and how alike it has to look, correlation."""

    far: float
    least: float


NARROW_SEARCH = _Seek(0.12, 0.6)
WIDE_SEARCH = _Seek(0.3, 0.5)


def _landed(one: Pixels, mask: Mask, other: Pixels, alignment: Alignment, box: Box, at: tuple[float, float]) -> Landing:
    """A thing where the alignment says, moved by some pixels of its own frame, and then by its own flow."""
    scale = min(1.0, WORKING_SIDE_PX / max(box.width, box.height))
    size = (max(round(box.width * scale), 8), max(round(box.height * scale), 8))
    own_seen, cover = reduce_pixels(one[box.slices], size), _cover(mask, box, size)
    other_seen, seen = project_view(other, alignment, box, size, at)
    if not cover.any() or seen[cover].mean() < MIN_INSIDE_SHARE:
        return Landing(Verdict.OUT_OF_FRAME, 0.0, alignment, box, np.zeros((1, 1, 2), np.float32))
    grey, theirs = (np.asarray(cv2.cvtColor(each, cv2.COLOR_RGB2GRAY), np.uint8) for each in (own_seen, other_seen))
    thin = (
        float(np.asarray(cv2.distanceTransform(cover.astype(np.uint8), cv2.DIST_L2, 5)).max()) < MIN_HALF_SIZE_RADIUS_PX
    )
    weight = np.where(_rimmed(cover), texture_strength(grey), 0).astype(np.float32)
    inner = np.maximum(weight, PLAIN_WEIGHT * cover) * _depth(cover)

    def confident(like: Floats, other_seen: EightBit) -> float:
        return float((like * _same_colour(own_seen, other_seen) * inner).sum() / max(float(inner.sum()), 1e-6))

    if alignment.still and not np.any(at):
        like = np.where(seen, local_similarity(grey, theirs, SURROUNDINGS_SIGMA_PX), 0).astype(np.float32)
        confidence = confident(like, other_seen)
        if confidence >= IN_PLACE_CONFIDENCE:
            return Landing(Verdict.LANDED, confidence, alignment, box, np.zeros((1, 1, 2), np.float32))
    finest = int(grey.size > MAX_FULL_PIXELS and not thin)
    motion, same = consistent_flow(grey, theirs, np.zeros((*grey.shape, 2), np.float32), finest)
    like = np.where(same & seen, local_similarity(grey, warp_by(theirs, motion), SURROUNDINGS_SIGMA_PX), 0).astype(
        np.float32
    )
    confidence = confident(like, warp_by(other_seen, motion))
    verdict = (
        Verdict.LANDED
        if confidence >= LANDED_CONFIDENCE
        else Verdict.DOUBTFUL
        if confidence >= DOUBTFUL_CONFIDENCE
        else Verdict.NOT_THERE
    )
    own = by_cells(motion, like * weight, CELL_SIDE_PX) / np.float32(scale) + np.array(at, np.float32)
    return Landing(verdict, confidence, alignment, box, own.astype(np.float32))


def _sought(
    one: Pixels, mask: Mask, other: Pixels, alignment: Alignment, seek: _Seek
) -> tuple[tuple[float, float], float]:
    """How far from where the alignment says something looks most like the thing, pixels of its own frame, and how alike
    it is: the correlation of its pixels (cv2.matchTemplate)."""
    far = round(seek.far * max(alignment.size))
    tight = mask.box.grow(4, whole(one))
    scale = min(1.0, SEARCH_SIDE_PX / max(tight.width + 2 * far, tight.height + 2 * far))
    size = (max(round(tight.width * scale), 4), max(round(tight.height * scale), 4))
    template, cover = reduce_pixels(one[tight.slices], size), _cover(mask, tight, size)
    room = Box(x=tight.x - far, y=tight.y - far, width=tight.width + 2 * far, height=tight.height + 2 * far)
    other_seen, seen = project_view(
        other, alignment, room, (max(round(room.width * scale), 8), max(round(room.height * scale), 8))
    )
    if not cover.any() or not seen.any():
        return (0.0, 0.0), 0.0
    weight = np.repeat(_rimmed(cover)[..., None], 3, axis=2).astype(np.float32)
    found = cv2.matchTemplate(
        other_seen.astype(np.float32), template.astype(np.float32), cv2.TM_CCOEFF_NORMED, mask=weight
    )
    found = np.where(np.isfinite(found), found, -1)
    inside = cv2.erode(seen.astype(np.uint8), np.ones((size[1], size[0]), np.uint8), anchor=(0, 0), borderValue=1)
    found = np.where(inside[: found.shape[0], : found.shape[1]] > 0, found, -1)
    _, score, _, place = cv2.minMaxLoc(found)
    return (place[0] / scale - far, place[1] / scale - far), float(score)


def _reach(box: Box, share: float, least: int, most: int) -> int:
    return int(np.clip(share * max(box.width, box.height), least, most))


def _cover(mask: Mask, box: Box, size: tuple[int, int]) -> Bools:
    """Where the thing is in a box made small."""
    thing = np.zeros((box.height, box.width), np.uint8)
    thing[mask.box.relative_to(box).slices] = mask.pixels
    return np.asarray(cv2.resize(thing, size, interpolation=cv2.INTER_AREA)) > 64


def _same_colour(own: EightBit, other: EightBit) -> Floats:
    """How much two pictures (h, w, 3) are of the same colours, (h, w) 0 to 1: grey alone does not tell a red thing from
    green ground."""
    labs = [cv2.cvtColor(each.astype(np.float32) / np.float32(255), cv2.COLOR_RGB2LAB) for each in (own, other)]
    distance = np.linalg.norm(cv2.GaussianBlur(labs[0] - labs[1], (0, 0), 1.5), axis=2)
    return np.asarray(
        np.clip((OTHER_COLOUR_DISTANCE - distance) / (OTHER_COLOUR_DISTANCE - SAME_COLOUR_DISTANCE), 0, 1), np.float32
    )


def _depth(cover: Bools) -> Floats:
    """How much each place of a mask says of the thing rather than of what is round it, (h, w): a mask leaves a border,
    and what is in it may look the same without the thing."""
    away = np.asarray(cv2.distanceTransform(cover.astype(np.uint8), cv2.DIST_L2, 5), np.float32)
    count, labels = cv2.connectedComponents(cover.astype(np.uint8))
    deepest = np.ones(count, np.float32)
    np.maximum.at(deepest, labels.ravel().astype(np.intp), away.ravel())
    return np.asarray(BORDER_WEIGHT + (1 - BORDER_WEIGHT) * np.clip(2 * away / deepest[labels], 0, 1) ** 2, np.float32)


def _rimmed(cover: Bools) -> Bools:
    """A thing with its rim, which tells most about where it is."""
    return np.asarray(cv2.dilate(cover.astype(np.uint8), np.ones((5, 5), np.uint8))) > 0
