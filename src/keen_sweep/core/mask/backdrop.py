"""The studio backdrop of a picture: paper or cloth, the subject on it, and what else lies there.

Paper is the large part, about the middle, over which nothing changes quickly: its edge, and that of everything on it,
is where L*a*b* does. (From first principles, no source.)
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit, Floats, Pixels
from keen_sweep.core.mask.fit import fill_holes
from keen_sweep.core.photo.channels import to_eight_bit

# Longer side at working size, pixels.
WORKING_SIDE_PX = 900
# Ground is calm where its change in L*a*b* stays below this multiple of the 30th percentile.
CALM_RATIO = 2.2
# Lower bound of that limit, units per pixel at working size.
MIN_CALM_CHANGE = 0.55
# Upper bound of that limit, units per pixel at working size: gravel is no paper.
MAX_CALM_CHANGE = 1.3
# Share of the picture that a backdrop covers.
MIN_BACKDROP_SHARE = 0.08
MAX_BACKDROP_SHARE = 0.95
# Share of the picture that a thing on the backdrop covers at least.
MIN_THING_SHARE = 3e-5
# Share of the picture that a subject covers at least.
MIN_SUBJECT_SHARE = 0.004
# Contrast between a thing and the paper around it, L*a*b*.
MIN_THING_CONTRAST = 7.0
# Calm ground ends this far from a soft edge, pixels.
EDGE_SOFTNESS_PX = 2
# The paper's outline is smoothed over this share of the longer side: tape on it is not its edge.
OUTLINE_SMOOTHING_SHARE = 0.05
# A separate part belongs to the paper if its tones differ by less than this, L*a*b*.
MAX_PAPER_DISTANCE = 5.0
# Paper lies under the subject: it reaches the bottom edge over this share of the edge.
MIN_BOTTOM_SHARE = 0.15
# Smallest ratio of the paper's area to that of its convex hull.
MIN_SOLIDITY = 0.75


@dataclass(frozen=True)
class Backdrop:
    """A studio backdrop, at working size.

    Attributes
    ----------
    outline : (h, w) bool
        The paper with everything on it.
    plain : (h, w) bool
        Paper on which nothing lies.
    subject : (h, w) bool
        The subject.
    things : tuple of (h, w) bool
        The other things on the paper.
    """

    outline: Bools
    plain: Bools
    subject: Bools
    things: tuple[Bools, ...]


def backdrop_of(picture: Pixels) -> Backdrop | None:
    """Find the backdrop of a studio picture.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.

    Returns
    -------
    Backdrop or None
        The backdrop; None where there is no recognisable one.
    """
    lab = _lab(picture)
    change = np.max([np.hypot(*_slopes(lab[..., k])) for k in range(3)], axis=0)
    calm = change < np.clip(CALM_RATIO * float(np.percentile(change, 30)), MIN_CALM_CHANGE, MAX_CALM_CHANGE)
    paper = _main_part(np.asarray(cv2.erode(calm.astype(np.uint8), np.ones((3, 3), np.uint8))))
    if paper is None:
        return None
    paper = _rejoined(lab, paper, np.asarray(calm))
    plain = (
        np.asarray(
            cv2.dilate(paper.astype(np.uint8), np.ones((2 * EDGE_SOFTNESS_PX + 1, 2 * EDGE_SOFTNESS_PX + 1), np.uint8))
        )
        > 0
    )
    outline = _outline(plain)
    if not MIN_BACKDROP_SHARE <= float(outline.mean()) <= MAX_BACKDROP_SHARE or not _lies_like_paper(outline, plain):
        return None
    found = _told_apart(lab, outline, plain)
    return found if found.subject.any() else None


def _lab(picture: Pixels) -> Floats:
    scale = min(1.0, WORKING_SIDE_PX / max(picture.shape[:2]))
    size = (max(round(picture.shape[1] * scale), 8), max(round(picture.shape[0] * scale), 8))
    small = cv2.resize(to_eight_bit(np.ascontiguousarray(picture)), size, interpolation=cv2.INTER_AREA)
    calm = cv2.GaussianBlur(np.asarray(small, np.float32) / 255, (0, 0), 1.2)
    return np.asarray(cv2.cvtColor(calm, cv2.COLOR_RGB2LAB), np.float32)


def _slopes(plane: Floats) -> tuple[Floats, Floats]:
    across, down = cv2.Sobel(plane, cv2.CV_32F, 1, 0) / 8, cv2.Sobel(plane, cv2.CV_32F, 0, 1) / 8
    return np.asarray(across, np.float32), np.asarray(down, np.float32)


def _main_part(calm: EightBit) -> Bools | None:
    """The connected calm part that is largest, pixels about the middle counting most."""
    height, width = calm.shape
    count, labels = cv2.connectedComponents(calm, connectivity=4)
    if count < 2:
        return None
    yy, xx = np.mgrid[-1 : 1 : height * 1j, -1 : 1 : width * 1j]
    weight = np.exp(-2 * (xx**2 + 0.5 * yy**2)).ravel()
    worth = np.bincount(labels.ravel(), weight, minlength=count)
    worth[0] = 0
    return np.asarray(labels == int(worth.argmax()))


def _rejoined(lab: Floats, paper: Bools, calm: Bools) -> Bools:
    """The paper with calm parts that the subject cuts off from it: their tones are among the paper's, or near them."""
    low, high = np.percentile(lab[paper], (2, 98), axis=0)
    unlike = np.maximum(lab - high, low - lab).max(axis=2)
    parts = np.asarray(cv2.erode(calm.astype(np.uint8), np.ones((3, 3), np.uint8)))
    count, labels, stats, _ = cv2.connectedComponentsWithStats(parts, connectivity=4)
    like = np.bincount(labels.ravel(), (unlike < MAX_PAPER_DISTANCE).ravel(), minlength=count)
    area = stats[:, cv2.CC_STAT_AREA]
    joins = (area >= MIN_THING_SHARE * 10 * paper.size) & (like >= 0.9 * area)
    joins[0] = False
    return np.asarray(paper | joins[labels])


def _lies_like_paper(outline: Bools, plain: Bools) -> bool:
    """Whether paper reaches the bottom of the picture and its outline is solid: skies and walls are no backdrops."""
    if float(plain[-3:].any(axis=0).mean()) < MIN_BOTTOM_SHARE:
        return False
    contours, _ = cv2.findContours(outline.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    largest = max(contours, key=cv2.contourArea)
    return bool(cv2.contourArea(largest) >= MIN_SOLIDITY * cv2.contourArea(cv2.convexHull(largest)))


def _outline(plain: Bools) -> Bools:
    """The paper with what stands on it or bites into its edge: filled, and smooth where it was bitten."""
    reach = 2 * round(OUTLINE_SMOOTHING_SHARE * max(plain.shape) / 2) + 1
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach, reach))
    # What the picture cuts off goes on beyond it: closing must not round that off.
    wide = cv2.copyMakeBorder(plain.astype(np.uint8), reach, reach, reach, reach, cv2.BORDER_REPLICATE)
    closed = np.asarray(cv2.morphologyEx(wide, cv2.MORPH_CLOSE, disc))[reach:-reach, reach:-reach]
    # The subject may be cut by the bottom of the picture: what is closed off by paper and that side is on the paper.
    sealed = cv2.copyMakeBorder(closed, 0, 1, 0, 0, cv2.BORDER_CONSTANT, value=0)
    columns = np.flatnonzero(closed[-1])
    if columns.size:
        sealed[-1, columns[0] : columns[-1] + 1] = 1
    return np.asarray(fill_holes(_as_mask(sealed > 0))[:-1] > 0)


def _told_apart(lab: Floats, outline: Bools, plain: Bools) -> Backdrop:
    """The subject and the things among what is on the paper without being paper."""
    other = outline & ~plain
    count, labels, stats, middles = cv2.connectedComponentsWithStats(other.astype(np.uint8), connectivity=8)
    height, width = outline.shape
    areas = stats[:, cv2.CC_STAT_AREA] / outline.size
    away = np.hypot((middles[:, 0] / width - 0.5) * 2, (middles[:, 1] / height - 0.5) * 1.2)
    worth = areas * np.exp(-(away**2))
    worth[0] = 0
    best = int(worth.argmax()) if count > 1 else 0
    nothing = np.zeros_like(outline)
    core = labels == best if best and areas[best] >= MIN_SUBJECT_SHARE else nothing
    subject = _past_the_edge(lab, core, outline) if core.any() else nothing
    # What all but touches the subject is part of it, or of its shadow.
    touch = np.asarray(cv2.dilate(subject.astype(np.uint8), np.ones((9, 9), np.uint8))) > 0
    things = []
    for k in range(1, count):
        thing = labels == k
        if k != best and areas[k] >= MIN_THING_SHARE and not touch[thing].any() and _stands_out(lab, thing, plain):
            things.append(thing)
    return Backdrop(outline & ~(subject & ~core) | core, plain, subject, tuple(things))


def _stands_out(lab: Floats, thing: Bools, plain: Bools) -> bool:
    """Whether some of a thing is unlike the paper round it: grain is not."""
    near = np.asarray(cv2.dilate(thing.astype(np.uint8), np.ones((15, 15), np.uint8))) > 0
    paper = near & plain
    if not paper.any():
        return True
    unlike = np.abs(lab[thing] - np.median(lab[paper], axis=0)).max(axis=1)
    return float(np.percentile(unlike, 80)) > MIN_THING_CONTRAST


def _past_the_edge(lab: Floats, core: Bools, outline: Bools) -> Bools:
    """The subject with what of it reaches past the paper's edge: like it in colour, unlike what lies beyond."""
    ring = np.asarray(cv2.dilate(core.astype(np.uint8), np.ones((5, 5), np.uint8))) > 0
    if not (ring & ~outline).any():
        return core
    size = np.sqrt(core.sum())
    away = cv2.distanceTransform((~core).astype(np.uint8), cv2.DIST_L2, 5)
    near = (away < 0.5 * size) & ~outline
    bins = (np.clip(lab / np.array([8, 8, 8], np.float32) + np.array([0, 13, 13], np.float32), 0, 26)).astype(np.int64)
    key = (bins[..., 0] * 27 + bins[..., 1]) * 27 + bins[..., 2]
    mine = np.bincount(key[core], minlength=27**3) / max(int(core.sum()), 1)
    theirs = np.bincount(key[~outline & ~near], minlength=27**3) / max(int((~outline & ~near).sum()), 1)
    alike = near & (mine[key] > 3 * theirs[key] + 1e-5)
    joined = core | alike
    _, labels = cv2.connectedComponents(joined.astype(np.uint8), connectivity=8)
    return np.asarray(np.isin(labels, np.unique(labels[core])) & joined)


def _as_mask(plane: Bools) -> EightBit:
    return np.where(plane, 255, 0).astype(np.uint8)
