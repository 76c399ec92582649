"""How near a fill comes to the truth, as the eye would say it. Everything is measured inside the mask.

All functions take uint8 RGB pictures (H, W, 3) and a bool mask (H, W) with at least one true pixel, except
where they say otherwise; a picture's pixels outside the mask serve as context only.
"""

from __future__ import annotations

import cv2
import numpy as np
import scipy

from keen_sweep.core.arrays import Bools, EightBit, Floats
from keen_sweep.core.box import box_of
from keen_sweep.core.methods.sliced_distance import PATCH_SIDE_PX, patches, sliced_distance, unit_directions

# Xue et al. 2014, section III: for 8-bit luminance.
GMSD_CONSTANT = 170.0
# Side of the windows of lswd, on a grid of half of it, pixels.
WINDOW_SIDE_PX = 48
# Number of projections of lswd.
PROJECTION_COUNT = 64
# Patches that are projected at once.
BATCH_PATCHES = 20_000
# Longest side that lswd compares at full size, pixels.
MAX_SIDE_PX = 1_100


def lab(picture: EightBit) -> Floats:
    """Convert to CIE L*a*b* (D65).

    Parameters
    ----------
    picture : (H, W, 3) uint8
        sRGB.

    Returns
    -------
    (H, W, 3) float32
        L* in 0 to 100, a*, b*.
    """
    return np.asarray(cv2.cvtColor(picture.astype(np.float32) / 255, cv2.COLOR_RGB2LAB), np.float32)


def grey(picture: EightBit) -> Floats:
    """Luma of Rec. 601.

    Parameters
    ----------
    picture : (H, W, 3) uint8
        sRGB.

    Returns
    -------
    (H, W) float32
        0 to 255.
    """
    return picture.astype(np.float32) @ np.array([0.299, 0.587, 0.114], np.float32)


def swd(fill: EightBit, truth: EightBit, mask: Bools) -> float:
    """Sliced Wasserstein distance between the 7 x 7 L*a*b* patches of a fill and the truth: 0 where both
    consist of the same patches, in any order.

    Parameters
    ----------
    fill : (H, W, 3) uint8
        The filled picture.
    truth : (H, W, 3) uint8
        The picture without the thing.
    mask : (H, W) bool
        What was filled.

    Returns
    -------
    float
        The distance.
    """
    return sliced_distance(patches(lab(fill), mask), patches(lab(truth), mask))


def lswd(fill: EightBit, truth: EightBit, mask: Bools) -> float:
    """Mean of `swd` in windows of 48 pixels on a grid of 24, weighted by their share of the mask: texture may
    differ, but what lies in the wrong place counts.

    Parameters
    ----------
    fill : (H, W, 3) uint8
        The filled picture, as from `judged_size`.
    truth : (H, W, 3) uint8
        The picture without the thing.
    mask : (H, W) bool
        What was filled.

    Returns
    -------
    float
        The distance.
    """
    planes = [lab(picture) for picture in (fill, truth)]
    across = unit_directions(PATCH_SIDE_PX * PATCH_SIDE_PX * 3, PROJECTION_COUNT)
    rows, columns = np.nonzero(mask)
    places = np.zeros((2, len(rows), PROJECTION_COUNT), np.float32)
    for k, plane in enumerate(planes):
        for first in range(0, len(rows), BATCH_PATCHES):
            some = np.zeros(mask.shape, np.bool_)
            some[rows[first : first + BATCH_PATCHES], columns[first : first + BATCH_PATCHES]] = True
            places[k, first : first + BATCH_PATCHES] = patches(plane, some, BATCH_PATCHES) @ across
    box = box_of(mask)
    total, weight = 0.0, 0
    for top in range(box.y - WINDOW_SIDE_PX // 2, box.bottom, WINDOW_SIDE_PX // 2):
        band = slice(*np.searchsorted(rows, (top, top + WINDOW_SIDE_PX)))
        for left in range(box.x - WINDOW_SIDE_PX // 2, box.right, WINDOW_SIDE_PX // 2):
            inside = np.flatnonzero((columns[band] >= left) & (columns[band] < left + WINDOW_SIDE_PX)) + band.start
            if len(inside):
                difference = np.abs(np.sort(places[0, inside], axis=0) - np.sort(places[1, inside], axis=0)).mean()
                total += float(difference) * len(inside)
                weight += len(inside)
    return total / weight


def judged_size(fill: EightBit, truth: EightBit, mask: Bools) -> tuple[EightBit, EightBit, Bools]:
    """Reduce pictures to the size at which `lswd` compares them: half if longer than 1,100 pixels.

    Parameters
    ----------
    fill : (H, W, 3) uint8
        The filled picture.
    truth : (H, W, 3) uint8
        The picture without the thing.
    mask : (H, W) bool
        What was filled.

    Returns
    -------
    tuple of (h, w, 3) uint8, (h, w, 3) uint8 and (h, w) bool
        All three, reduced.
    """
    if max(mask.shape) <= MAX_SIDE_PX:
        return fill, truth, mask
    size = (mask.shape[1] // 2, mask.shape[0] // 2)
    small = [np.asarray(cv2.resize(each, size, interpolation=cv2.INTER_AREA), np.uint8) for each in (fill, truth)]
    share = cv2.resize(mask.astype(np.float32), size, interpolation=cv2.INTER_AREA)
    inside = share >= 0.5
    return small[0], small[1], inside if inside.any() else share > 0


def gmsd(fill: EightBit, truth: EightBit, mask: Bools) -> float:
    """Gradient magnitude similarity deviation over the mask; 0 is equal.

    A mask that is true everywhere gives the published figure.

    Parameters
    ----------
    fill : (H, W, 3) uint8
        The filled picture.
    truth : (H, W, 3) uint8
        The picture without the thing.
    mask : (H, W) bool
        What was filled.

    Returns
    -------
    float
        The deviation.

    References
    ----------
    Xue, Zhang, Mou and Bovik 2014, "Gradient magnitude similarity deviation".
    """
    slopes = [_prewitt(_halved(grey(picture))) for picture in (fill, truth)]
    similarity = (2 * slopes[0] * slopes[1] + GMSD_CONSTANT) / (slopes[0] ** 2 + slopes[1] ** 2 + GMSD_CONSTANT)
    inside = mask[::2, ::2] if mask.all() else _any_of_four(mask)
    return float(similarity[inside].std())


def _halved(plane: Floats) -> Floats:
    """2 x 2 means, every second one, as the paper's authors do it."""
    framed = np.pad(plane, ((0, 1), (0, 1)))
    mean = (framed[:-1, :-1] + framed[1:, :-1] + framed[:-1, 1:] + framed[1:, 1:]) / 4
    return np.ascontiguousarray(mean[::2, ::2])


def _any_of_four(mask: Bools) -> Bools:
    framed = np.pad(mask, ((0, mask.shape[0] % 2), (0, mask.shape[1] % 2)))
    return np.asarray(framed.reshape(framed.shape[0] // 2, 2, -1, 2).any(axis=(1, 3)))


def _prewitt(plane: Floats) -> Floats:
    kernel = np.repeat([[1.0, 0.0, -1.0]], 3, axis=0) / 3
    across = cv2.filter2D(plane, cv2.CV_32F, kernel, borderType=cv2.BORDER_CONSTANT)
    down = cv2.filter2D(plane, cv2.CV_32F, kernel.T, borderType=cv2.BORDER_CONSTANT)
    return np.asarray(np.hypot(across, down))


def sharpness(fill: EightBit, truth: EightBit, mask: Bools) -> float:
    """Ratio of the Laplacian energies of fill and truth: below 1 is soft, above 1 harsh.

    Parameters
    ----------
    fill : (H, W, 3) uint8
        The filled picture.
    truth : (H, W, 3) uint8
        The picture without the thing.
    mask : (H, W) bool
        What was filled.

    Returns
    -------
    float
        The ratio.
    """
    energy = [float((cv2.Laplacian(grey(p), cv2.CV_32F)[mask] ** 2).mean()) for p in (fill, truth)]
    return (energy[0] + 1e-3) / (energy[1] + 1e-3)


def seam(fill: EightBit, truth: EightBit, mask: Bools) -> float:
    """Ratio of the mean colour steps at the mask's border in fill and truth: above 1 a seam shows.

    Parameters
    ----------
    fill : (H, W, 3) uint8
        The filled picture.
    truth : (H, W, 3) uint8
        The picture without the thing.
    mask : (H, W) bool
        What was filled.

    Returns
    -------
    float
        The ratio.
    """
    steps = [_step(lab(p), mask) for p in (fill, truth)]
    return (steps[0] + 1e-3) / (steps[1] + 1e-3)


def _step(planes: Floats, mask: Bools) -> float:
    found = []
    for a, b in ((np.s_[:, :-1], np.s_[:, 1:]), (np.s_[:-1], np.s_[1:])):
        border = mask[a] != mask[b]
        found.append(np.linalg.norm(planes[a][border] - planes[b][border], axis=1))
    steps = np.concatenate(found)
    return float(steps.mean()) if len(steps) else 0.0


def psnr(fill: EightBit, truth: EightBit, mask: Bools) -> float:
    """Peak signal-to-noise ratio over the mask.

    Parameters
    ----------
    fill : (H, W, 3) uint8
        The filled picture.
    truth : (H, W, 3) uint8
        The picture without the thing.
    mask : (H, W) bool
        What was filled.

    Returns
    -------
    float
        Decibels.
    """
    error = fill[mask].astype(np.float64) - truth[mask]
    return float(10 * np.log10(255**2 / max(float((error**2).mean()), 1e-9)))


def ssim(fill: EightBit, truth: EightBit, mask: Bools) -> float:
    """Structural similarity of luma with 7 x 7 uniform windows, averaged over the mask.

    Parameters
    ----------
    fill : (H, W, 3) uint8
        The filled picture.
    truth : (H, W, 3) uint8
        The picture without the thing.
    mask : (H, W) bool
        What was filled.

    Returns
    -------
    float
        The similarity, -1 to 1.

    References
    ----------
    Wang et al. 2004, "Image quality assessment: from error visibility to structural similarity".
    """
    x, y = grey(fill).astype(np.float64), grey(truth).astype(np.float64)
    count = PATCH_SIDE_PX**2
    unbias = count / (count - 1)
    mx, my = scipy.ndimage.uniform_filter(x, PATCH_SIDE_PX), scipy.ndimage.uniform_filter(y, PATCH_SIDE_PX)
    vx = unbias * (scipy.ndimage.uniform_filter(x * x, PATCH_SIDE_PX) - mx * mx)
    vy = unbias * (scipy.ndimage.uniform_filter(y * y, PATCH_SIDE_PX) - my * my)
    vxy = unbias * (scipy.ndimage.uniform_filter(x * y, PATCH_SIDE_PX) - mx * my)
    c1, c2 = (0.01 * 255) ** 2, (0.03 * 255) ** 2
    similarity = (2 * mx * my + c1) * (2 * vxy + c2) / ((mx**2 + my**2 + c1) * (vx + vy + c2))
    return float(similarity[mask].mean())


def scores(fill: EightBit, truth: EightBit, mask: Bools) -> dict[str, float]:
    """All scores of a fill, on a crop around the mask.

    Parameters
    ----------
    fill : (H, W, 3) uint8
        The filled picture.
    truth : (H, W, 3) uint8
        The picture without the thing.
    mask : (H, W) bool
        What was filled.

    Returns
    -------
    dict of str to float
        Scores by name.
    """
    a, b, m = _around(fill, truth, mask)
    return {
        "swd": swd(a, b, m),
        "lswd": lswd(*_around(*judged_size(fill, truth, mask))),
        "gmsd": gmsd(a, b, m),
        "sharp": sharpness(a, b, m),
        "seam": seam(a, b, m),
        "psnr": psnr(a, b, m),
        "ssim": ssim(a, b, m),
    }


def _around(fill: EightBit, truth: EightBit, mask: Bools) -> tuple[EightBit, EightBit, Bools]:
    rows, columns = np.flatnonzero(mask.any(1)), np.flatnonzero(mask.any(0))
    near = (
        slice(max(rows[0] - 8, 0) // 2 * 2, rows[-1] + 9),
        slice(max(columns[0] - 8, 0) // 2 * 2, columns[-1] + 9),
    )
    return fill[near], truth[near], mask[near]
