"""A broken line: a straight edge that runs up to the border of a fill and does not carry on inside."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Floats
from keen_sweep.core.methods.segments import segments_of
from keen_sweep.core.review.scores import grey
from keen_sweep.core.review.snag import Laid, Snag, SnagKind, outlines_elsewhere, snag_at
from keen_sweep.core.sentences import sentence

# Shortest edge that is followed, pixels.
MIN_EDGE_LENGTH_PX = 24.0
# Weakest edge that is followed, 8-bit levels.
MIN_EDGE_CONTRAST = 9.0
# Distance from the border within which an edge must end, pixels.
BORDER_DISTANCE_PX = 9.0
# How far beyond the border it is followed, pixels.
FOLLOWED_PX = 14.0
# How far to the side it is searched for, pixels.
SIDE_SEARCH_PX = 2
# An edge is broken when less than this share of its contrast is left.
MAX_CONTRAST_LEFT = 0.45
# Share of its contrast that it must have right before the border.
MIN_CONTRAST_AT_BORDER = 0.75
# Share of that contrast that may be left beyond the border.
MAX_CONTRAST_AHEAD = 0.5
# How much more it must stand out than edges that end elsewhere in the picture.
MIN_SCORE_RATIO = 1.3
# More ends than this multiple of the natural number are reported.
MAX_COUNT_RATIO = 1.5


def broken_line(laid: Laid) -> list[Snag]:
    """Find edges that a fill does not continue, if they are clearer than edges that end elsewhere in the
    picture.

    Parameters
    ----------
    laid : Laid
        The fill.

    Returns
    -------
    list of Snag
        The snags.
    """
    luma = grey(laid.after)
    segments = segments_of(luma.astype(np.uint8)).astype(np.float32)
    if not len(segments):
        return []
    smooth = np.asarray(cv2.GaussianBlur(luma, (0, 0), 1.0), np.float32)
    ends = _ends(smooth, segments, laid.hole)
    if not ends:
        return []
    natural = [_ends(smooth, segments, hole) for hole in outlines_elsewhere(laid, int(FOLLOWED_PX))]
    scores = [end.score for each in natural for end in each]
    unusual = [end for end in ends if end.score > MIN_SCORE_RATIO * max(scores, default=0.0)]
    if len(ends) > MAX_COUNT_RATIO * max(len(each) for each in natural) + 1:
        # So many end here that it is not by nature, even if none of them stands out.
        unusual = ends
    return _merged(unusual, laid.hole)


@dataclass(frozen=True)
class _End:
    """Where a line ends at a border: a point (x, y) beyond it, its contrast before, and the share that is left."""

    at: tuple[float, float]
    contrast: float
    left: float

    @property
    def score(self) -> float:
        return (1 - self.left) * self.contrast


def _ends(luma: Floats, segments: Floats, hole: Bools) -> list[_End]:
    out = []
    for x0, y0, x1, y1 in segments:
        if np.hypot(x1 - x0, y1 - y0) < MIN_EDGE_LENGTH_PX:
            continue
        for start, end in (((x0, y0), (x1, y1)), ((x1, y1), (x0, y0))):
            found = _end(luma, hole, np.array(start), np.array(end))
            if found is not None:
                out.append(found)
    return out


def _end(luma: Floats, hole: Bools, start: Floats, end: Floats) -> _End | None:
    """Where a segment from start to end meets the border and is broken there; None if it is not."""
    length = float(np.hypot(*(end - start)))
    along = (end - start) / length
    steps = np.arange(-length, BORDER_DISTANCE_PX + 1)
    path = np.rint(end + steps[:, None] * along).astype(int)
    height, width = hole.shape
    fits = (path >= 0).all(axis=1) & (path < (width, height)).all(axis=1)
    in_hole = np.zeros(len(path), np.bool_)
    in_hole[fits] = hole[path[fits, 1], path[fits, 0]]
    if not in_hole.any():
        return None
    first = int(in_hole.argmax())
    # Most of it has to lie outside, and it has to end soon after the border.
    if first < MIN_EDGE_LENGTH_PX or steps[first] < -BORDER_DISTANCE_PX:
        return None
    border = end + steps[first] * along
    column, row = np.rint(border + along * (FOLLOWED_PX + 2)).astype(int)
    if not (0 <= row < height and 0 <= column < width) or not hole[row, column]:
        return None
    normal = np.array([-along[1], along[0]])
    before = _contrast(luma, border - along * (MIN_EDGE_LENGTH_PX * 0.8), along, normal, MIN_EDGE_LENGTH_PX * 0.7)[
        SIDE_SEARCH_PX
    ]
    close = _contrast(luma, border - along * 5, along, normal, 4)[SIDE_SEARCH_PX] * np.sign(before)
    after = _contrast(luma, border + along, along, normal, 6) * np.sign(before)
    # It ends at the border and nowhere else.
    if (
        abs(before) < MIN_EDGE_CONTRAST
        or close < MIN_CONTRAST_AT_BORDER * abs(before)
        or after.max() > MAX_CONTRAST_AHEAD * close
    ):
        return None
    beyond = _contrast(luma, border + along * 2, along, normal, FOLLOWED_PX) * np.sign(before)
    left = float(max(beyond.max(), 0) / abs(before))
    at = border + along * 6
    return _End((float(at[0]), float(at[1])), float(abs(before)), left) if left < MAX_CONTRAST_LEFT else None


def _contrast(
    luma: Floats,
    start: Floats,
    along: Floats,
    normal: Floats,
    length: float,
) -> Floats:
    """(2 * SIDE_SEARCH_PX + 1,): one side less the other along a line and its parallels, median over its length,
    levels."""
    steps = np.arange(0, length)
    sides = np.array([1.2, 2.4])
    aside = np.arange(-SIDE_SEARCH_PX, SIDE_SEARCH_PX + 1)
    offsets = np.concatenate([aside[:, None] - sides, aside[:, None] + sides], axis=1)
    points = start + steps[:, None, None, None] * along + offsets[None, :, :, None] * normal
    values = cv2.remap(
        luma,
        np.ascontiguousarray(points[..., 0].reshape(len(steps), -1), dtype=np.float32),
        np.ascontiguousarray(points[..., 1].reshape(len(steps), -1), dtype=np.float32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    ).reshape(len(steps), len(aside), 4)
    step = values[..., 2:].mean(axis=2) - values[..., :2].mean(axis=2)
    return np.asarray(np.median(step, axis=0), np.float32)


def _merged(ends: list[_End], hole: Bools) -> list[Snag]:
    """The strongest of what lies at one place: both edges of a bar are one line."""
    out: list[Snag] = []
    taken = np.zeros(hole.shape, np.bool_)
    for end in sorted(ends, key=lambda end: -end.score):
        place = np.zeros(hole.shape, np.uint8)
        cv2.circle(place, (round(end.at[0]), round(end.at[1])), 12, 1, -1)
        if (taken & (place > 0)).any():
            continue
        taken |= place > 0
        text = sentence("A line ends at the fill: only {left:.0%} of it continues.", left=end.left)
        out.append(snag_at(SnagKind.BROKEN_LINE, place > 0, end.score / 60 + 0.2, text))
    return out
