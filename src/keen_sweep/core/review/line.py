"""A broken line: a straight edge that runs up to the border of a fill and does not carry on inside."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Floats
from keen_sweep.core.methods.segments import segments_of
from keen_sweep.core.review.scores import grey
from keen_sweep.core.review.snag import Laid, Snag, SnagKind, elsewhere, placed

# Edges at least so long and so strong (levels) are followed; they end at the border if so near, pixels.
LONG = 24.0
STRONG = 9.0
NEAR = 9.0
# How far beyond the border they are followed, how far aside they are looked for, and what is left of their contrast
# where they are broken.
AHEAD = 14.0
ASIDE = 2
LEFT = 0.45
# How much of its contrast it has right before the border; and how much more it stands out than what ends elsewhere.
CLOSE = 0.75
DROP = 0.5
UNUSUAL = 1.3
MANY = 1.5


def broken_line(laid: Laid) -> list[Snag]:
    """Edges that a fill does not carry on, if they are plainer than those that end by nature at borders elsewhere."""
    luma = grey(laid.after)
    segments = segments_of(luma.astype(np.uint8)).astype(np.float32)
    if not len(segments):
        return []
    smooth = np.asarray(cv2.GaussianBlur(luma, (0, 0), 1.0), np.float32)
    ends = _ends(smooth, segments, laid.hole)
    if not ends:
        return []
    natural = [_ends(smooth, segments, hole) for hole in elsewhere(laid, int(AHEAD))]
    scores = [end.score for each in natural for end in each]
    unusual = [end for end in ends if end.score > UNUSUAL * max(scores, default=0.0)]
    if len(ends) > MANY * max(len(each) for each in natural) + 1:
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
        if np.hypot(x1 - x0, y1 - y0) < LONG:
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
    steps = np.arange(-length, NEAR + 1)
    path = np.rint(end + steps[:, None] * along).astype(int)
    height, width = hole.shape
    fits = (path >= 0).all(axis=1) & (path < (width, height)).all(axis=1)
    in_hole = np.zeros(len(path), np.bool_)
    in_hole[fits] = hole[path[fits, 1], path[fits, 0]]
    if not in_hole.any():
        return None
    first = int(in_hole.argmax())
    # Most of it has to lie outside, and it has to end soon after the border.
    if first < LONG or steps[first] < -NEAR:
        return None
    border = end + steps[first] * along
    column, row = np.rint(border + along * (AHEAD + 2)).astype(int)
    if not (0 <= row < height and 0 <= column < width) or not hole[row, column]:
        return None
    normal = np.array([-along[1], along[0]])
    before = _contrast(luma, border - along * (LONG * 0.8), along, normal, LONG * 0.7)[ASIDE]
    close = _contrast(luma, border - along * 5, along, normal, 4)[ASIDE] * np.sign(before)
    after = _contrast(luma, border + along, along, normal, 6) * np.sign(before)
    # It ends at the border and nowhere else.
    if abs(before) < STRONG or close < CLOSE * abs(before) or after.max() > DROP * close:
        return None
    beyond = _contrast(luma, border + along * 2, along, normal, AHEAD) * np.sign(before)
    left = float(max(beyond.max(), 0) / abs(before))
    at = border + along * 6
    return _End((float(at[0]), float(at[1])), float(abs(before)), left) if left < LEFT else None


def _contrast(
    luma: Floats,
    start: Floats,
    along: Floats,
    normal: Floats,
    length: float,
) -> Floats:
    """(2 * ASIDE + 1,): one side less the other along a line and its parallels, median over its length, levels."""
    steps = np.arange(0, length)
    sides = np.array([1.2, 2.4])
    aside = np.arange(-ASIDE, ASIDE + 1)
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
        text = f"A line ends at the fill: only {end.left:.0%} of it continues."
        out.append(placed(SnagKind.BROKEN_LINE, place > 0, end.score / 60 + 0.2, text))
    return out
