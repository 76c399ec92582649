"""The main subject of a picture whose background is out of focus: what is sharp while the rest is not."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Pixels
from keen_sweep.core.box import box_of
from keen_sweep.core.mask.fit import fill_holes
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.photo.channels import to_eight_bit

WORKING_SIDE_PX = 640
# Share of the picture that a subject covers.
MIN_SUBJECT_SHARE = 0.01
MAX_SUBJECT_SHARE = 0.5
# Ratio of the sharpness of the subject to that of the rest.
MIN_SHARPNESS_RATIO = 3.0


def subject_of(picture: Pixels) -> Mask | None:
    """The sharp subject of a picture, to be guarded.

    Sharpness is the local energy of the finest detail of L*. The subject is the largest sharp part, weighted
    towards the middle, with a margin.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.

    Returns
    -------
    Mask or None
        The mask of the subject; None where sharpness does not distinguish one.
    """
    scale = min(1.0, WORKING_SIDE_PX / max(picture.shape[:2]))
    size = (max(round(picture.shape[1] * scale), 8), max(round(picture.shape[0] * scale), 8))
    pixels = cv2.resize(to_eight_bit(np.ascontiguousarray(picture)), size, interpolation=cv2.INTER_AREA)
    grey = cv2.cvtColor(np.asarray(pixels, np.uint8), cv2.COLOR_RGB2LAB)[..., 0].astype(np.float32)
    detail = (grey - cv2.GaussianBlur(grey, (0, 0), 1.2)) ** 2
    energy = np.sqrt(cv2.GaussianBlur(detail, (0, 0), max(size) / 60))
    top = float(np.percentile(energy, 98))
    sharp = np.asarray(
        cv2.morphologyEx((energy > 0.4 * top).astype(np.uint8), cv2.MORPH_OPEN, np.ones((7, 7), np.uint8))
    )
    count, labels, stats, middles = cv2.connectedComponentsWithStats(sharp, connectivity=8)
    if count < 2:
        return None
    away = np.hypot(*((middles[1:] / size - 0.5) * 2).T)
    best = 1 + int((stats[1:, cv2.CC_STAT_AREA] * (1.3 - away.clip(0, 1.2))).argmax())
    chosen = labels == best
    share, rest = float(chosen.mean()), energy[sharp == 0]
    if not MIN_SUBJECT_SHARE <= share <= MAX_SUBJECT_SHARE or rest.size < 100:
        return None
    if float(np.median(energy[chosen])) < MIN_SHARPNESS_RATIO * max(float(np.median(rest)), 0.2):
        return None
    whole_thing = cv2.morphologyEx(chosen.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((9, 9), np.uint8))
    large = cv2.resize(whole_thing * np.float32(1), picture.shape[1::-1], interpolation=cv2.INTER_LINEAR)
    full = fill_holes(np.where(large >= 0.5, 255, 0).astype(np.uint8))
    box = box_of(full > 0)
    return Mask(box, full[box.slices])
