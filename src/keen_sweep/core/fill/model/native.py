"""From a model's output to the picture's own resolution: its shapes and tones, the picture's detail.

A model paints at a few hundred pixels. For each place of its painting the place of the picture is looked up that looks
the same at that size (PatchMatch, Barnes et al. 2009), and what that place has beyond it, its fine detail, is laid on
the enlarged painting: example-based enlargement (Freeman, Jones, Pasztor 2002) with the picture as its own examples.
"""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit, Floats
from keen_sweep.core.fill.bands import match_grain
from keen_sweep.core.fill.weave.features import features_of
from keen_sweep.core.methods.patchmatch import measure, scatter, search
from keen_sweep.core.methods.seam import membrane
from keen_sweep.core.methods.setting import NO_SETTING

# Half the side of the compared patches, pixels.
PATCH_RADIUS_PX = 2
# Number of improvements of the match field.
SEARCH_ROUNDS = 5
# Distance around the hole over which grain is measured, pixels.
GRAIN_RADIUS_PX = 24.0


def fill_at_full_size(picture: Floats, hole: Bools, painted: EightBit, seed: int = 0) -> Floats:
    """Fill a hole at full size, following a painting that may be smaller.

    Tone and hue of the painting are matched exactly at the hole's border.

    Parameters
    ----------
    picture : (h, w, 3) float32
        The picture, 0 to 255; its pixels in the hole are not read.
    hole : (h, w) bool
        The hole.
    painted : (h', w', 3) uint8
        The painting.
    seed : int, optional
        Seed of the random search.

    Returns
    -------
    (h, w, 3) float32
        The filled picture, 0 to 255.
    """
    height, width = hole.shape
    small = painted.shape[1::-1]
    enlarged = np.asarray(cv2.resize(painted, (width, height), interpolation=cv2.INTER_CUBIC), np.float32)
    filled = enlarged.copy()
    if small != (width, height):
        filled += _detail(picture, hole, painted, seed)
    # What the painting is off by where the picture is known, carried over the hole.
    off = picture - filled if small == (width, height) else _smooth(picture - enlarged, ~hole)
    for channel in range(3):
        filled[..., channel] += membrane(np.ascontiguousarray(off[..., channel]), hole)
    out = np.where(hole[..., None], filled, picture).astype(np.float32)
    if small != (width, height):
        match_grain(out, hole, ~hole, GRAIN_RADIUS_PX)
    return np.asarray(out.clip(0, 255), np.float32)


def _detail(picture: Floats, hole: Bools, painted: EightBit, seed: int) -> Floats:
    """What the picture has beyond its size in the painting, laid in the hole by likeness; 0 elsewhere."""
    height, width = hole.shape
    tall, wide = painted.shape[:2]
    known = (~hole).astype(np.float32)
    # Means of known pixels only: what is to go must not shine into its surroundings.
    weight = cv2.resize(known, (wide, tall), interpolation=cv2.INTER_AREA)
    mean = cv2.resize(picture * known[..., None], (wide, tall), interpolation=cv2.INTER_AREA)
    mean = mean / np.maximum(weight, 1e-3)[..., None]
    gap = weight < 0.999
    coarse = np.where(gap[..., None], painted, mean).astype(np.float32)
    beyond = picture - cv2.resize(coarse, (width, height), interpolation=cv2.INTER_CUBIC)
    features = features_of(np.rint(coarse.clip(0, 255)).astype(np.uint8), np.ones((tall, wide), np.bool_))
    rim = np.ones((2 * PATCH_RADIUS_PX + 3,) * 2, np.uint8)
    allowed = ~np.asarray(cv2.dilate(gap.astype(np.uint8), rim), np.bool_)
    allowed[:PATCH_RADIUS_PX] = allowed[-PATCH_RADIUS_PX:] = False
    allowed[:, :PATCH_RADIUS_PX] = allowed[:, -PATCH_RADIUS_PX:] = False
    if not allowed.any():
        return np.zeros_like(picture)
    targets = np.argwhere(gap).astype(np.int32)
    field = np.zeros((tall, wide, 2), np.int32)
    cost = np.full((tall, wide), -1, np.int32)
    state = np.array([seed * 2 + 1_234_567], np.uint64)
    scatter(targets, np.argwhere(allowed).astype(np.int32), field, state)
    measure(features, features, targets, field, cost, PATCH_RADIUS_PX, NO_SETTING)
    search(
        features,
        features,
        allowed,
        targets,
        field,
        cost,
        PATCH_RADIUS_PX,
        SEARCH_ROUNDS,
        max(tall, wide),
        state,
        NO_SETTING,
    )
    rows, columns = np.nonzero(hole)
    step = np.array([height / tall, width / wide])
    cells = np.minimum(((np.column_stack([rows, columns]) + 0.5) / step).astype(np.intp), [tall - 1, wide - 1])
    shift = np.rint((field[cells[:, 0], cells[:, 1]] - cells) * step).astype(np.intp)
    source = np.clip(np.column_stack([rows, columns]) + shift, 0, [height - 1, width - 1])
    out = np.zeros_like(picture)
    out[rows, columns] = beyond[source[:, 0], source[:, 1]]
    return out


def _smooth(off: Floats, known: Bools) -> Floats:
    """A difference without the detail that a painting cannot have: means over known pixels near by."""
    weight = known.astype(np.float32)
    total = cv2.GaussianBlur(off * weight[..., None], (0, 0), 3.0)
    return np.asarray(total / np.maximum(cv2.GaussianBlur(weight, (0, 0), 3.0), 1e-3)[..., None], np.float32)
