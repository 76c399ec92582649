"""A reflection in glass told from what is behind it: the light that the pane adds.

What is reflected is out of focus: its gradients are small. Quick: gradients below a threshold are taken to be the
reflection's, and what is left is put together again in closed form by cosine transforms (Yang, Ma, Zheng, Cao, Liu &
Shi 2019, Fast Single Image Reflection Suppression via Convex Optimization). Of that only the soft part is used, so that
fine texture stays, and the light that lies over everything evenly is taken off as a black level. Best: at a larger
size, and a network trained by us (training/reflections.py) says how much light lies over everything.
"""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
import scipy

from keen_sweep.core.arrays import Floats, Pixels
from keen_sweep.core.methods.network import answer_of

NETWORK_FILE = Path(__file__).with_name("reflections.onnx")
NETWORK_SIDE_PX = 256
# Weight of the picture itself in the reconstruction from gradients.
PICTURE_WEIGHT = 1e-6
# Softness of a reflection, share of the longer side.
SOFTNESS_SHARE = 0.006
# Smallest softness, pixels.
MIN_SOFTNESS_PX = 3.0
# Percentage of values that may fall below black.
BLACK_PERCENT = 1.0
# The same percentage where the network asks for more.
MAX_BLACK_PERCENT = 4.0
# Working size of the fast version, pixels.
FAST_PIXELS = 1_500_000
# Working size of the best version, pixels.
FINE_PIXELS = 8_000_000
# Gradient below which detail belongs to the reflection, one per take.
GRADIENT_THRESHOLDS = (0.01, 0.015, 0.006)
# Mean added light from which on a reflection is reported.
MIN_ADDED_LIGHT = 0.02


def added_light(picture: Floats, fine: bool = True, threshold: float = GRADIENT_THRESHOLDS[0]) -> Floats:
    """Light that a pane adds to a picture.

    Parameters
    ----------
    picture : (H, W, 3) float32
        The picture, 0 to 1.
    fine : bool, optional
        Whether to work at the larger size.
    threshold : float, optional
        Gradient below which detail belongs to the reflection.

    Returns
    -------
    (H, W, 3) float32
        The added light; never more than the picture.
    """
    height, width = picture.shape[:2]
    scale = min(1.0, float(np.sqrt((FINE_PIXELS if fine else FAST_PIXELS) / (height * width))))
    size = (max(round(width * scale), 2), max(round(height * scale), 2))
    small = np.asarray(cv2.resize(picture, size, interpolation=cv2.INTER_AREA), np.float32) if scale < 1 else picture
    soft = max(SOFTNESS_SHARE * max(small.shape[:2]), MIN_SOFTNESS_PX)
    light = np.asarray(cv2.GaussianBlur(small - without_soft_gradients(small, threshold), (0, 0), soft), np.float32)
    least, most = (float(np.percentile(small - light, share)) for share in (BLACK_PERCENT, MAX_BLACK_PERCENT))
    even = float(np.clip(_learned(small).mean(), least, most)) if fine else least
    light = light + np.float32(max(even, 0.0))
    if scale < 1:
        light = np.asarray(cv2.resize(light, (width, height), interpolation=cv2.INTER_LINEAR), np.float32)
    return np.minimum(light, picture)


def evidence_of(picture: Floats) -> float:
    """Estimate how much light was added to a picture: what the network says, limited by the darkest places.

    Parameters
    ----------
    picture : (H, W, 3) float32
        The picture, 0 to 1.

    Returns
    -------
    float
        Mean added light, 0 to 1.
    """
    return min(float(_learned(picture).mean()), float(np.percentile(picture, BLACK_PERCENT)))


@dataclass(frozen=True)
class Separated:
    """A picture separated from its reflection.

    Attributes
    ----------
    clean : (H, W, 3) uint8 or uint16
        The picture without the reflection.
    alone : (H, W, 3) uint8 or uint16
        The reflection.
    evidence : float
        Mean added light, 0 to 1.
    confidence : float
        Probability that it is a reflection, 0 to 1.
    """

    clean: Pixels
    alone: Pixels
    evidence: float
    confidence: float


def separate_reflection(pixels: Pixels) -> Separated | None:
    """Separate a picture from its reflection.

    Parameters
    ----------
    pixels : (H, W, 3) uint8 or uint16
        The picture.

    Returns
    -------
    Separated or None
        Both; None where no reflection is visible.
    """
    top = np.float32(np.iinfo(pixels.dtype).max)
    seen = pixels.astype(np.float32) / top
    evidence = evidence_of(seen)
    if evidence < MIN_ADDED_LIGHT:
        return None
    light = added_light(seen)
    clean, alone = (np.rint(plane * top).clip(0, top).astype(pixels.dtype) for plane in (seen - light, light))
    return Separated(clean, alone, evidence, min(evidence / (4 * MIN_ADDED_LIGHT), 1.0))


def without_soft_gradients(picture: Floats, threshold: float) -> Floats:
    """Reconstruct a picture from its strong gradients.

    T minimises |L T - div g|^2 + e |T - Y|^2 with the Laplacian L and the remaining gradients g, solved by
    the cosine transform.

    Parameters
    ----------
    picture : (H, W, 3) float32
        The picture, 0 to 1.
    threshold : float
        Smallest gradient that is kept.

    Returns
    -------
    (H, W, 3) float32
        The reconstruction.

    References
    ----------
    Yang et al. 2019, "Fast single image reflection suppression via convex optimization", equation 8.
    """
    height, width = picture.shape[:2]
    across, down = np.zeros_like(picture), np.zeros_like(picture)
    across[:, :-1] = picture[:, 1:] - picture[:, :-1]
    down[:-1] = picture[1:] - picture[:-1]
    kept = ((across**2 + down**2).mean(axis=2) >= threshold**2)[..., None]
    across *= kept
    down *= kept
    divergence = across + down
    divergence[:, 1:] -= across[:, :-1]
    divergence[1:] -= down[:-1]
    rows = 2 * np.cos(np.pi * np.arange(height) / height)
    columns = 2 * np.cos(np.pi * np.arange(width) / width)
    eigen = (rows[:, None] + columns[None] - 4).astype(np.float32)[..., None]
    wanted = eigen * scipy.fft.dctn(divergence, axes=(0, 1), workers=-1) + np.float32(PICTURE_WEIGHT) * scipy.fft.dctn(
        picture, axes=(0, 1), workers=-1
    )
    return np.asarray(
        scipy.fft.idctn(wanted / (eigen**2 + np.float32(PICTURE_WEIGHT)), axes=(0, 1), workers=-1), np.float32
    )


def _learned(picture: Floats) -> Floats:
    """The light that the network says was added, an eighth of its size."""
    square = np.asarray(
        cv2.resize(picture, (NETWORK_SIDE_PX, NETWORK_SIDE_PX), interpolation=cv2.INTER_AREA), np.float32
    )
    answer = answer_of(NETWORK_FILE, square.transpose(2, 0, 1)[None])
    return np.asarray(np.clip(answer[0].transpose(1, 2, 0), 0, 1), np.float32)
