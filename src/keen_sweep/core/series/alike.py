"""Alike: which of several things in another frame is the one that is marked in this one, by its colours."""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np
import scipy

from keen_sweep.core.arrays import Floats, Pixels
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.photo.channels import to_eight_bit

# Bins of L*, a*, b*.
HISTOGRAM_BINS = (8, 12, 12)
# Blur of the histogram in bins, so that a small change of light does not matter.
HISTOGRAM_SIGMA = 0.8
# Below this common share of colours, it is somebody else.
MIN_COMMON_SHARE = 0.5


def most_similar(one: Pixels, mask: Mask, other: Pixels, among: Sequence[Mask]) -> tuple[int | None, float]:
    """Find the mask in another picture whose colours are most like those under a mask of this one.

    Parameters
    ----------
    one : (H, W, 3) uint8 or uint16
        This picture.
    mask : Mask
        A mask of it.
    other : (H', W', 3) uint8 or uint16
        The other picture.
    among : sequence of Mask
        Masks of the other picture.

    Returns
    -------
    tuple of (int or None, float)
        Index of the mask, None where none is similar, and the share of common colours.
    """
    own = _colours(one, mask)
    shares = [float(np.minimum(own, _colours(other, each)).sum()) for each in among]
    if not shares or max(shares) < MIN_COMMON_SHARE:
        return None, max(shares, default=0.0)
    best = int(np.argmax(shares))
    return best, shares[best]


def _colours(picture: Pixels, mask: Mask) -> Floats:
    """The histogram of L*a*b* under a mask, its middle rather than its border, summing to one."""
    pixels = to_eight_bit(np.ascontiguousarray(picture[mask.box.slices]))
    lab = cv2.cvtColor(pixels, cv2.COLOR_RGB2LAB)
    depth = np.asarray(cv2.distanceTransform((np.pad(mask.pixels, 1) > 0).astype(np.uint8), cv2.DIST_L2, 5))[1:-1, 1:-1]
    inner = (depth > 0.3 * depth.max()).astype(np.uint8)
    counts = np.asarray(
        cv2.calcHist([lab], [0, 1, 2], inner, list(HISTOGRAM_BINS), [0, 256, 64, 192, 64, 192]), np.float32
    )
    counts = np.asarray(scipy.ndimage.gaussian_filter(counts, HISTOGRAM_SIGMA), np.float32)
    return np.asarray(counts / max(float(counts.sum()), 1.0), np.float32)
