"""Exposure and white balance between two frames: a rising curve for each channel."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from keen_sweep.core.arrays import Floats, Pixels

# Smallest distance between two knots of a curve.
MIN_KNOT_STEP = 1e-3
# Quantiles of the pixels at which the curves are fixed.
KNOT_QUANTILES = np.concatenate([[0.002, 0.01], np.linspace(0.03, 0.97, 19), [0.99, 0.998]])
# Fewer pixels give no curve.
MIN_PIXELS = 200


@dataclass(frozen=True)
class Tones:
    """Tone curves from one frame to another.

    Attributes
    ----------
    before : (3, n) float32
        Knots before, 0 to 1, rising.
    after : (3, n) float32
        Knots after, 0 to 1, rising.
    """

    before: Floats
    after: Floats

    def applied(self, pixels: Floats) -> Floats:
        """Pixels (..., 3) of 0 to 1 in the other frame's tones; beyond the knots as far off as at them."""
        out = np.empty_like(pixels)
        for channel in range(3):
            x, y = self.before[channel], self.after[channel]
            plane = pixels[..., channel]
            out[..., channel] = np.interp(plane, x, y) + np.minimum(plane - x[0], 0) + np.maximum(plane - x[-1], 0)
        return out.clip(0, 1)

    def laid_on(self, pixels: Pixels) -> Pixels:
        """Pixels (..., 3) uint8 or uint16 in the other frame's tones, of the same dtype."""
        top = int(np.iinfo(pixels.dtype).max)
        every = np.repeat((np.arange(top + 1, dtype=np.float32) / np.float32(top))[:, None], 3, axis=1)
        table = np.rint(self.applied(every) * top).astype(pixels.dtype)
        return np.stack([table[pixels[..., channel], channel] for channel in range(3)], axis=-1)


IDENTITY_TONES = Tones(*(np.tile(np.array([0, 1], np.float32), (3, 1)) for _ in range(2)))
"""Two frames of the same tones."""


def tones_between(pixels: Floats, like: Floats) -> Tones:
    """Tone curves between pixels that show the same places, by matching quantiles: a few places that differ
    do not matter.

    Parameters
    ----------
    pixels : (n, 3) float32
        Pixels of one frame, 0 to 1.
    like : (n, 3) float32
        The same places in the other frame.

    Returns
    -------
    Tones
        The curves; the identity to within grain where tones are the same.

    References
    ----------
    Gonzalez and Woods, "Digital Image Processing": histogram specification.
    """
    if len(pixels) < MIN_PIXELS:
        return IDENTITY_TONES
    before, after = (np.quantile(each, KNOT_QUANTILES, axis=0).T.astype(np.float32) for each in (pixels, like))
    out_before, out_after = [], []
    for x, y in zip(before, after, strict=True):
        # Knots must rise: of those that stand in one place the first counts, as often as there are.
        rising = np.flatnonzero(np.concatenate([[True], np.diff(x) > MIN_KNOT_STEP]))
        kept = rising[np.minimum(np.arange(len(x)), len(rising) - 1)]
        out_before.append(x[kept])
        out_after.append(np.maximum.accumulate(y)[kept])
    return Tones(np.array(out_before, np.float32), np.array(out_after, np.float32))
