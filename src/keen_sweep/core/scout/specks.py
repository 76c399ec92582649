"""Specks: sensor dust and small debris on calm ground, as round spots that are dark in every channel.

Candidates are extrema of the difference of Gaussians over place and size (Lindeberg 1998) of log light, in which dust,
that takes a share of it, is as deep on a bright sky as on a dark one. Each is then measured against a ring round it.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Floats, Pixels
from keen_sweep.core.box import whole
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.scout.found import FindKind, Found
from keen_sweep.core.sentences import sentence

# Number of pixels at working size, at most.
WORKING_PIXELS = 6_000_000
# Diameters that are searched for, pixels at working size.
SPECK_DIAMETERS_PX = (5.0, 6.5, 8.5, 11.0, 14.5, 19.0, 25.0, 33.0, 43.0)
# Ratio of a candidate's response to the median step around it.
MIN_RESPONSE_RATIO = 5.0
SECTOR_COUNT = 12
# Ratio of a mask's diameter to the speck's, which covers its soft rim.
RIM_RATIO = 1.25
# Margin around that, pixels.
MARGIN_PX = 1.5
# Smallest depth, natural logarithm.
MIN_DEPTH = 0.015
# Smallest share of the deepest channel in another one: a tone curve flattens bright channels.
MIN_CHANNEL_SHARE = 0.08
# Spots up to this diameter may be the grain of something, pixels.
MAX_GRAIN_DIAMETER_PX = 9.0
# Number of such spots of like size near by that make them grain.
MIN_CROWD = 5
# Below this confidence nearly all were false on real skies.
MIN_CONFIDENCE = 0.45
# A pixel is rough when it is this far from smooth, natural logarithm.
MIN_ROUGHNESS = 0.035
# Side of the square in which rough pixels are counted, pixels.
CALM_SIDE_PX = 81
# Ground is calm where less than this share of that square is rough.
MAX_ROUGH_SHARE = 0.2

# Spots are compared within this share of the longer side.
NEIGHBOURHOOD_SHARE = 0.3
# Spots are alike from this ratio of their confidences on.
MIN_LIKENESS = 0.3
# Number of bright spots of like size and strength that make dark ones texture.
MIN_BRIGHT_SPOTS = 2
# Number of bright spots that make dark ones texture, share of the dark ones.
MIN_BRIGHT_SHARE = 0.25
# Number of spots on rough ground that make dark ones texture.
MAX_ROUGH_SPOTS = 3


@dataclass(frozen=True)
class Speck:
    """A dust spot.

    Attributes
    ----------
    x : float
        Column of its centre, picture pixels.
    y : float
        Row of its centre, picture pixels.
    diameter : float
        Diameter, picture pixels.
    contrast : float
        Share of light that is lost at its centre.
    confidence : float
        0 to 1.
    """

    x: float
    y: float
    diameter: float
    contrast: float
    confidence: float


def find_specks(picture: Pixels, guard: Bools | None = None) -> list[Found]:
    """Find dust spots.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    guard : (H, W) bool or None, optional
        Nothing is found here.

    Returns
    -------
    list of Found
        The finds, surest first.
    """
    out = []
    room = whole(picture)
    for number, speck in enumerate(specks_in(picture, None if guard is None else ~guard), start=1):
        disc = Stroke(points=((speck.x, speck.y),), size=max(speck.diameter * RIM_RATIO + 2 * MARGIN_PX, 3.0))
        box = disc.box.intersect(room)
        reason = sentence(
            "{diameter:.0f} px, takes {contrast:.0%} of the light", diameter=speck.diameter, contrast=speck.contrast
        )
        out.append(
            Found(
                FindKind.SPECKS,
                sentence("Speck {number}", number=number),
                Mask(box, disc.cover(box)),
                speck.confidence,
                reason,
            )
        )
    return out


def specks_in(picture: Pixels, known: Bools | None = None) -> list[Speck]:
    """Detect dust spots.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    known : (H, W) bool or None, optional
        Where to search; None for everywhere.

    Returns
    -------
    list of Speck
        The spots, surest first.
    """
    scale = min(1.0, float(np.sqrt(WORKING_PIXELS / (picture.shape[0] * picture.shape[1]))))
    pixels = to_eight_bit(np.ascontiguousarray(picture))
    if scale < 1:
        size = (round(picture.shape[1] * scale), round(picture.shape[0] * scale))
        pixels = np.asarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA), np.uint8)
    light = np.log(pixels.astype(np.float32) + 8)
    kept = [each for each in _dark_spots(light) if known is None or _at(known, each.x / scale, each.y / scale)]
    if kept:
        kept = _without_texture(kept, _dark_spots(-light), NEIGHBOURHOOD_SHARE * max(pixels.shape[:2]))
    return [Speck(s.x / scale, s.y / scale, s.diameter / scale, s.contrast, s.confidence) for s in kept]


def _dark_spots(light: Floats) -> list[Speck]:
    """Round spots of (h, w, 3) that are darker than what is round them in every channel, surest first."""
    grey = np.asarray(light.mean(axis=2), np.float32)
    found = [_measured(light, grey, *each) for each in _candidates(grey, _calm(grey))]
    kept: list[Speck] = []
    for speck in sorted((each for each in found if each is not None), key=lambda each: -each.confidence):
        if all(np.hypot(speck.x - k.x, speck.y - k.y) > (speck.diameter + k.diameter) / 2 for k in kept):
            kept.append(speck)
    return kept


def _without_texture(dark: list[Speck], bright: list[Speck], near: float) -> list[Speck]:
    """Dark spots where there are hardly any bright ones like them round about: dust only takes light, while craters,
    vessels and stones have both."""

    def round_about(one: Speck, spots: list[Speck]) -> int:
        return sum(np.hypot(one.x - each.x, one.y - each.y) < near for each in spots)

    def like(one: Speck, spots: list[Speck]) -> int:
        """How many spots of its neighbourhood are of its kind."""
        return sum(
            np.hypot(one.x - each.x, one.y - each.y) < near
            and each.confidence > MIN_LIKENESS * one.confidence
            and MIN_LIKENESS < each.diameter / one.diameter < 1 / MIN_LIKENESS
            for each in spots
        )

    def crowded(one: Speck) -> bool:
        small = [each for each in dark if each.diameter <= MAX_GRAIN_DIAMETER_PX]
        return one.diameter <= MAX_GRAIN_DIAMETER_PX and round_about(one, small) >= MIN_CROWD

    dark = [each for each in dark if not crowded(each)]
    lone = [each for each in dark if like(each, bright) < max(MIN_BRIGHT_SPOTS, MIN_BRIGHT_SHARE * like(each, dark))]
    rough = [each for each in dark if each not in lone]
    return [each for each in lone if round_about(each, rough) < MAX_ROUGH_SPOTS]


def _at(plane: Bools, x: float, y: float) -> bool:
    return bool(plane[min(int(y), plane.shape[0] - 1), min(int(x), plane.shape[1] - 1)])


def _calm(grey: Floats) -> Bools:
    """Where the ground is calm, (h, w): few of the pixels round a place are far from their smooth version."""
    rough = np.abs(grey - cv2.GaussianBlur(grey, (0, 0), 5)) > MIN_ROUGHNESS
    share = cv2.boxFilter(rough.astype(np.float32), -1, (CALM_SIDE_PX, CALM_SIDE_PX))
    return np.asarray(share < MAX_ROUGH_SHARE)


def _candidates(grey: Floats, calm: Bools) -> list[tuple[float, float, float]]:
    """Places and diameters that stand out against their neighbourhood: x, y, diameter."""
    out = []
    for diameter in SPECK_DIAMETERS_PX:
        # Large specks are looked for on a smaller picture: the answer is the same and the time is not.
        step = 2 ** max(int(np.floor(np.log2(diameter / 8))), 0)
        size = (max(grey.shape[1] // step, 1), max(grey.shape[0] // step, 1))
        plane = np.asarray(cv2.resize(grey, size, interpolation=cv2.INTER_AREA), np.float32)
        sigma = diameter / step / 2.6
        response = cv2.GaussianBlur(plane, (0, 0), 1.6 * sigma) - cv2.GaussianBlur(plane, (0, 0), sigma)
        reach = 2 * round(1.2 * sigma) + 1
        calm_small = cv2.resize(calm.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST) > 0
        peak = calm_small & (response >= cv2.dilate(response, np.ones((reach, reach), np.uint8))) & (response > 0.004)
        # How strongly the neighbourhood responds anyway: a coarse grid of medians.
        activity = _medians(np.abs(response), max(int(8 * sigma), 12))
        rows, columns = np.nonzero(peak & (response > MIN_RESPONSE_RATIO * activity + 0.002))
        order = np.argsort(-response[rows, columns])[:400]
        out += [((columns[k] + 0.5) * step, (rows[k] + 0.5) * step, diameter) for k in order]
    return out


def _medians(plane: Floats, block: int) -> Floats:
    """The median of blocks, smoothly between them, (h, w)."""
    height, width = plane.shape
    rows, columns = max(height // block, 1), max(width // block, 1)
    small = plane[: rows * block, : columns * block] if height >= block and width >= block else plane
    if small.shape == (rows * block, columns * block):
        blocks = small.reshape(rows, block, columns, block).swapaxes(1, 2).reshape(rows, columns, -1)
        grid = np.median(blocks, axis=2).astype(np.float32)
    else:
        grid = np.full((1, 1), np.median(plane), np.float32)
    return np.asarray(cv2.resize(grid, (width, height), interpolation=cv2.INTER_LINEAR), np.float32)


def _measured(light: Floats, grey: Floats, x: float, y: float, diameter: float) -> Speck | None:
    """A candidate held against a ring round it; None unless it is dark, round, and alike in every channel."""
    reach = int(np.ceil(1.6 * diameter)) + 2
    top, left = max(int(y) - reach, 0), max(int(x) - reach, 0)
    window = light[top : int(y) + reach + 1, left : int(x) + reach + 1]
    plane = grey[top : int(y) + reach + 1, left : int(x) + reach + 1]
    yy, xx = np.mgrid[0 : plane.shape[0], 0 : plane.shape[1]]
    dy, dx = yy + top + 0.5 - y, xx + left + 0.5 - x
    distance = np.hypot(dx, dy) / (diameter / 2)
    core, ring = distance <= 0.55, (distance >= 1.7) & (distance <= 2.7)
    # Of what lies at the picture's edge half the ring is not seen.
    if core.sum() < 4 or ring.sum() < 30 or min(x, y, grey.shape[1] - x, grey.shape[0] - y) < diameter / 2:
        return None
    # The ground is a plane through the ring.
    terms = np.stack([np.ones_like(dx), dx, dy], 2)
    ground, *_ = np.linalg.lstsq(terms[ring], plane[ring].astype(np.float64), rcond=None)
    rest = (plane - terms @ ground).astype(np.float64)
    noise = float(np.std(rest[ring]))
    depth = -float(rest[core].mean())
    if depth < MIN_DEPTH or depth < 2.5 * noise:
        return None
    angle = ((np.arctan2(dy, dx) / (2 * np.pi) + 1) % 1 * SECTOR_COUNT).astype(np.int64)
    outside = [float(rest[ring & (angle == k)].mean()) for k in range(SECTOR_COUNT) if (ring & (angle == k)).sum() >= 3]
    inside = [float(rest[core & (angle // 3 == k)].mean()) for k in range(4) if (core & (angle // 3 == k)).any()]
    # Every way out of it must be up, and no quarter of it may be as light as the ground: edges and lines are not.
    if not outside or min(outside) < -0.35 * depth or max(inside) > -0.5 * depth:
        return None
    middle = (distance >= 0.9) & (distance <= 1.2)
    if middle.any() and float(rest[middle].mean()) < -0.85 * depth:
        return None  # larger than the diameter that was tried
    by_channel = []
    for channel in range(3):
        values = window[..., channel]
        by_channel.append(float(values[ring].mean() - values[core].mean()))
    if min(by_channel) < MIN_CHANNEL_SHARE * max(by_channel):
        return None
    confidence = float(np.clip(1 - np.exp(-(depth / max(noise, 0.004) - 1.5) / 4), 0, 1))
    return Speck(x, y, diameter, 1 - float(np.exp(-depth)), confidence) if confidence >= MIN_CONFIDENCE else None
