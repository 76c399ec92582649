"""Which materials a picture shows where, by how light, coloured, rough and lined its places are."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import skimage
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Doubles, EightBit, Floats, Numbers, Pixels
from keen_sweep.core.fill.words.materials import MATERIAL_LOOKS, MEASURE_NAMES, OVERALL_LOOK
from keen_sweep.core.photo.channels import to_eight_bit

# Longer side at working size, pixels.
WORKING_SIDE_PX = 640
# Approximate number of superpixels.
SEGMENT_COUNT = 700
# A picture with a weaker mean chroma is treated as black and white, a*b*.
MIN_CHROMA = 1.5


@dataclass(frozen=True)
class Recognised:
    """Materials of a picture.

    Attributes
    ----------
    shares : (n, m) float32
        Likelihood of each material at each place.
    places : (h, w) int32
        Place of each pixel of the reduced picture.
    size : tuple of 2 int
        Width and height of the picture.
    """

    shares: Floats
    places: NDArray[np.int32]
    size: tuple[int, int]

    def where(self, materials: list[str], least: float) -> Bools:
        """The pixels (H, W) bool of places that are of one of some materials with at least this likelihood."""
        names = list(MATERIAL_LOOKS)
        share = self.shares[:, [names.index(material) for material in materials]].sum(axis=1)
        chosen = (share >= least)[self.places].astype(np.uint8)
        return np.asarray(cv2.resize(chosen, self.size, interpolation=cv2.INTER_NEAREST) > 0)

    def most(self, materials: list[str]) -> float:
        """How likely the likeliest place is of one of some materials."""
        names = list(MATERIAL_LOOKS)
        return float(self.shares[:, [names.index(material) for material in materials]].sum(axis=1).max())


def measures_of(picture: EightBit) -> Floats:
    """Measures of each pixel, in the order of MEASURE_NAMES.

    Parameters
    ----------
    picture : (h, w, 3) uint8
        The picture.

    Returns
    -------
    (h, w, 8) float32
        The measures.
    """
    lab = np.asarray(cv2.cvtColor(picture.astype(np.float32) / 255, cv2.COLOR_RGB2Lab), np.float32)
    light = np.ascontiguousarray(lab[..., 0])

    def soft(plane: Numbers, sigma: float) -> Floats:
        return np.asarray(cv2.GaussianBlur(plane, (0, 0), sigma), np.float32)

    mean = soft(lab, 4)
    fine = np.sqrt(soft((light - soft(light, 1.5)) ** 2, 6))
    coarse = np.sqrt(soft((soft(light, 1.5) - soft(light, 5)) ** 2, 9))
    calm = soft(light, 1)
    across, along = cv2.Sobel(calm, cv2.CV_32F, 1, 0) / 8, cv2.Sobel(calm, cv2.CV_32F, 0, 1) / 8
    xx, yy, xy = soft(across * across, 8), soft(along * along, 8), soft(across * along, 8)
    total = xx + yy + 0.02
    down = np.broadcast_to(np.linspace(0, 1, len(light), dtype=np.float32)[:, None], light.shape)
    return np.dstack(
        [
            mean,
            np.log2(fine + 0.3),
            np.log2(coarse + 0.3),
            np.sqrt((xx - yy) ** 2 + 4 * xy**2) / total,
            (yy - xx) / total,
            down,
        ]
    ).astype(np.float32)


def recognise_materials(picture: Pixels, unknown: Bools) -> Recognised:
    """Recognise the materials of a picture.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    unknown : (H, W) bool
        What is to be filled: of no material.

    Returns
    -------
    Recognised
        The materials.
    """
    height, width = picture.shape[:2]
    scale = min(1.0, WORKING_SIDE_PX / max(height, width))
    size = (max(round(width * scale), 1), max(round(height * scale), 1))
    small = np.asarray(cv2.resize(to_eight_bit(picture), size, interpolation=cv2.INTER_AREA), np.uint8)
    gap = np.asarray(cv2.resize(unknown.astype(np.float32), size, interpolation=cv2.INTER_AREA) > 0)
    # What is to go must not shine into what is measured beside it.
    around = cv2.dilate(gap.astype(np.uint8), np.ones((3, 3), np.uint8))
    measured = measures_of(np.asarray(cv2.inpaint(small, around, 3, cv2.INPAINT_NS), np.uint8))
    places = np.asarray(
        skimage.segmentation.slic(small, n_segments=SEGMENT_COUNT, compactness=12, sigma=1, start_label=0), np.int32
    )
    count = int(places.max()) + 1
    open_ground = ~gap
    weight = np.bincount(places[open_ground], minlength=count)
    means = np.stack(
        [
            np.bincount(places[open_ground], measured[..., k][open_ground], minlength=count) / np.maximum(weight, 1)
            for k in range(len(MEASURE_NAMES))
        ],
        axis=1,
    )
    colourless = float(np.abs(measured[..., 1:3]).mean()) < MIN_CHROMA
    skipped = {"red", "yellow"} if colourless else set()
    fits = np.stack(
        [
            np.logaddexp.reduce([_fit(means, each, skipped) for each in ways], axis=0)
            for ways in MATERIAL_LOOKS.values()
        ],
        axis=1,
    )
    other = _fit(means, {}, skipped)
    top = np.maximum(fits.max(axis=1), other)
    share = np.exp(fits - top[:, None])
    share /= (share.sum(axis=1) + np.exp(other - top))[:, None]
    share[weight == 0] = 0
    return Recognised(share.astype(np.float32), places, (width, height))


def _fit(means: Doubles, wanted: dict[str, tuple[float, float]], skipped: set[str]) -> Doubles:
    """The logarithm of how likely places with these measures (n, 8) are for one way to look."""
    out = np.zeros(len(means))
    for k, name in enumerate(MEASURE_NAMES):
        if name not in skipped:
            mean, spread = wanted.get(name, OVERALL_LOOK[name])
            out -= 0.5 * ((means[:, k] - mean) / spread) ** 2 + np.log(spread)
    return out
