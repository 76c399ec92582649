"""The wire scout: cables over sky, buildings and trees, straight or sagging.

A network says how likely each pixel is part of a wire; what it says is joined to long curves, across gaps; each is
judged by what wires have and roofs, glazing bars and twigs lack, carried on to the frame's edge and followed pixel by
pixel, so that its mask is the wire's width and a margin.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Doubles, EightBit, Floats, Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.scout.curves import Curve, curves_in
from keen_sweep.core.scout.follow import extend_curve, trace_wire
from keen_sweep.core.scout.found import FindKind, Found
from keen_sweep.core.scout.merging import merges
from keen_sweep.core.scout.networks.lines import wire_likelihood
from keen_sweep.core.scout.poles import poles_at
from keen_sweep.core.sentences import sentence

# Number of pixels at working size, at most.
WORKING_PIXELS = 5_000_000
# Shorter curves are left to the photographer, share of the longer side.
MIN_LENGTH_SHARE = 0.1
# Curves surer than this are finds.
MIN_CONFIDENCE = 0.65
# Distances at which lines beside a curve are searched for, pixels.
SIDE_DISTANCES_PX = (8.0, 14.0, 20.0)
# Curves count as parallel up to this angle, radians.
MAX_PARALLEL_ANGLE_RAD = 0.07
# More parallel curves than this are courses of bricks or bars.
MAX_PARALLELS = 4
# Two finds that share this much of the second's mask are one wire.
MAX_COMMON_SHARE = 0.5
# Smallest distance by which a mask reaches past the wire, pixels.
MIN_MARGIN_PX = 1.5
# Distance by which a mask reaches past the wire, share of its width.
MARGIN_SHARE = 0.25


@dataclass(frozen=True)
class CurveFeatures:
    """CurveFeatures of a curve.

    Attributes
    ----------
    length : float
        Length, share of the picture's longer side.
    likely : float
        Mean likelihood along it.
    least : float
        10th percentile of the likelihood along it.
    covered : float
        Share of it that is likely.
    beside : float
        Mean likelihood beside it.
    parallels : float
        Number of parallel curves.
    at_edge : float
        Number of its ends at the picture's edge.
    sag : float
        Sag, share of its length.
    """

    length: float
    likely: float
    least: float
    covered: float
    beside: float
    parallels: float
    at_edge: float
    sag: float

    @property
    def row(self) -> Doubles:
        """As numbers for the judge, (9,), the first being 1."""
        return np.array(
            [
                1.0,
                min(self.length, 1.0),
                self.likely,
                self.least,
                self.covered,
                self.beside,
                min(self.parallels, 12) / 12,
                self.at_edge / 2,
                min(self.sag, 0.2) * 5,
            ]
        )


# Logistic regression on curves in synthetic pictures (training/judge.py).
FEATURE_WEIGHTS = (-6.54, 5.0, 6.69, -0.16, -2.43, 2.87, -3.85, 0.99, 0.83)


def find_wires(picture: Pixels, guard: Bools | None = None) -> list[Found]:
    """Find wires.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    guard : (H, W) bool or None, optional
        Nothing is found here.

    Returns
    -------
    list of Found
        The finds, longest first.
    """
    scale = min(1.0, float(np.sqrt(WORKING_PIXELS / (picture.shape[0] * picture.shape[1]))))
    pixels = to_eight_bit(np.ascontiguousarray(picture))
    if scale < 1:
        size = (round(picture.shape[1] * scale), round(picture.shape[0] * scale))
        pixels = np.asarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA), np.uint8)
    likelihood = wire_likelihood(pixels)
    out: list[Found] = []
    taken = np.zeros(picture.shape[:2], np.bool_)
    for curve, sure in wires_in(likelihood):
        path, width = trace_wire(extend_curve(curve, likelihood), likelihood)
        if merges(pixels, path, width):
            continue
        mask = _mask((path + 0.5) / scale, width / scale, picture.shape[:2])
        if guard is not None:
            mask.pixels[guard[mask.box.slices]] = 0
        own, covered = mask.pixels > 0, taken[mask.box.slices]
        # A second curve along the same wire is no second wire.
        if own.any() and (own & covered).sum() < MAX_COMMON_SHARE * own.sum():
            covered |= own
            reason = sentence(
                "{length:.0f} px long, {width:.0f} px wide", length=curve.length / scale, width=width / scale
            )
            out.append(Found(FindKind.WIRES, sentence("Wire {number}", number=len(out) + 1), mask, sure, reason))
    return out + _poles(pixels, taken, scale, guard)


def _poles(pixels: EightBit, wires: Bools, scale: float, guard: Bools | None) -> list[Found]:
    """What would stand about for nothing without the wires, not chosen: pixels at working size, the rest at full."""
    size = pixels.shape[1::-1]
    small = np.asarray(cv2.resize(wires.astype(np.uint8), size, interpolation=cv2.INTER_AREA)) > 0
    out = []
    for number, pole in enumerate(poles_at(pixels, small), start=1):
        mask = _enlarged(pole, scale, wires.shape)
        if guard is not None:
            mask.pixels[guard[mask.box.slices]] = 0
        reason = sentence(
            "{height} px tall: it would carry nothing without the wire that touches it", height=mask.box.height
        )
        out.append(
            Found(
                FindKind.WIRES, sentence("Pole {number}", number=number), mask, 0.5, reason, chosen=False, what="pole"
            )
        )
    return out


def _enlarged(mask: Mask, scale: float, shape: tuple[int, ...]) -> Mask:
    """A mask found at working size, in the picture."""
    low = int(mask.box.x / scale), int(mask.box.y / scale)
    high = int(np.ceil(mask.box.right / scale)), int(np.ceil(mask.box.bottom / scale))
    room = Box(x=0, y=0, width=shape[1], height=shape[0])
    box = Box(x=low[0], y=low[1], width=high[0] - low[0], height=high[1] - low[1]).intersect(room)
    plane = cv2.resize(mask.pixels, (box.width, box.height), interpolation=cv2.INTER_LINEAR)
    return Mask(box, np.where(np.asarray(plane) >= 128, 255, 0).astype(np.uint8))


def wires_in(likelihood: Floats) -> list[tuple[Curve, float]]:
    """Curves that are wires.

    Parameters
    ----------
    likelihood : (H, W) float32
        Likelihood of lines, 0 to 1.

    Returns
    -------
    list of tuple of (Curve, float)
        Each curve and its confidence, longest first.
    """
    curves = curves_in(likelihood)
    judged = [(curve, judge(features)) for curve, features in zip(curves, features_of(curves, likelihood), strict=True)]
    return [(curve, sure) for curve, sure in judged if sure > MIN_CONFIDENCE]


def judge(features: CurveFeatures) -> float:
    """Confidence that a curve is a wire.

    Parameters
    ----------
    features : CurveFeatures
        CurveFeatures of the curve.

    Returns
    -------
    float
        0 to 1.
    """
    if features.length < MIN_LENGTH_SHARE:
        return 0.0
    return float(1 / (1 + np.exp(-float(features.row @ np.array(FEATURE_WEIGHTS)))))


def features_of(curves: list[Curve], likelihood: Floats) -> list[CurveFeatures]:
    """Measure curves.

    Parameters
    ----------
    curves : list of Curve
        The curves.
    likelihood : (H, W) float32
        Likelihood of lines, 0 to 1.

    Returns
    -------
    list of CurveFeatures
        CurveFeatures of each.
    """
    height, width = likelihood.shape
    near = np.asarray(cv2.dilate(likelihood, np.ones((3, 3), np.uint8)), np.float32)
    long = max(height, width)
    angles = np.array([np.arctan2(c.axis[1], c.axis[0]) for c in curves])
    lengths = np.array([c.length for c in curves])
    out = []
    for k, curve in enumerate(curves):
        points = curve.points(1.0)
        along = _sampled(near, points)
        aside = np.array([-curve.axis[1], curve.axis[0]])
        beside = np.mean(
            [_sampled(likelihood, points + s * d * aside).mean() for d in SIDE_DISTANCES_PX for s in (-1, 1)]
        )
        turned = np.abs((angles - angles[k] + np.pi / 2) % np.pi - np.pi / 2)
        parallels = int(((turned < MAX_PARALLEL_ANGLE_RAD) & (lengths > 0.35 * lengths[k])).sum()) - 1
        ends = points[[0, -1]]
        inside = np.minimum(ends, np.array([width, height]) - 1 - ends).min(axis=1)
        out.append(
            CurveFeatures(
                length=curve.length / long,
                likely=float(along.mean()),
                least=float(np.percentile(along, 10)),
                covered=float((along > 0.3).mean()),
                beside=float(beside),
                parallels=float(max(parallels - MAX_PARALLELS, 0)),
                at_edge=float((inside < 0.03 * long).sum()),
                sag=curve.sag,
            )
        )
    return out


def _sampled(plane: Floats, points: Doubles) -> Doubles:
    """Values of a plane at points (n, 2) x and y, the nearest pixel's, the edge's beyond it."""
    columns = np.clip(np.rint(points[:, 0]).astype(np.int64), 0, plane.shape[1] - 1)
    rows = np.clip(np.rint(points[:, 1]).astype(np.int64), 0, plane.shape[0] - 1)
    return np.asarray(plane[rows, columns], np.float64)


def _mask(path: Doubles, width: float, shape: tuple[int, int]) -> Mask:
    """A wire's path (n, 2) in picture pixels as a mask, its width and a margin wide."""
    thick = width + 2 * max(MIN_MARGIN_PX, MARGIN_SHARE * width)
    reach = int(np.ceil(thick)) + 2
    low, high = np.floor(path.min(axis=0)).astype(int) - reach, np.ceil(path.max(axis=0)).astype(int) + reach
    wide, tall = (int(n) for n in high - low)
    room = Box(x=0, y=0, width=shape[1], height=shape[0])
    box = Box(x=int(low[0]), y=int(low[1]), width=wide, height=tall).intersect(room)
    canvas = np.zeros((box.height, box.width), np.uint8)
    # Coordinates of OpenCV are those of pixel centres, in sixteenths.
    fixed = np.rint((path - np.array([box.x, box.y]) - 0.5) * 16).astype(np.int32).reshape(-1, 1, 2)
    cv2.polylines(canvas, [fixed], False, 255, max(round(thick), 1), cv2.LINE_8, 4)
    return Mask(box, canvas)
