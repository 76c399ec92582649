"""Where edges of the picture end at the rim of a hole: their place, the way they point, how they bend, what lies on
both sides. Edges by Canny 1986; the bend by a least-squares circle (Kasa 1976) through what is followed outwards."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Doubles, Floats

Point = Doubles
# An edge is followed from the rim for this many pixels at most.
MAX_CHAIN_PX = 40
MIN_CHAIN_PX = 9
# Distance from the rim within which an edge must begin, pixels.
MAX_START_DISTANCE_PX = 4.0
# Canny's upper threshold on Sobel slopes of 8-bit lightness.
STRONG_SLOPE = 90.0
# Canny's lower threshold.
WEAK_SLOPE = 35.0
# Half the width of the profile across an edge, pixels.
PROFILE_RADIUS_PX = 4
# Mean distance of chain points from their line or circle, pixels.
MAX_MEAN_DEVIATION_PX = 0.8


@dataclass(frozen=True)
class End:
    """An edge that ends at a hole.

    Attributes
    ----------
    at : Point
        x and y on the rim.
    inwards : Point
        Unit vector into the hole.
    bend : float
        Signed curvature, 1 / pixels; positive bends to the right of `inwards` as seen on screen.
    length : float
        Length over which it was followed, pixels.
    profile : (2 * PROFILE_RADIUS_PX + 1, C) float32
        Values across it, from left to right.
    """

    at: Point
    inwards: Point
    bend: float
    length: float
    profile: Floats

    @property
    def left(self) -> Floats:
        return np.asarray(self.profile[:2].mean(axis=0), np.float32)

    @property
    def right(self) -> Floats:
        return np.asarray(self.profile[-2:].mean(axis=0), np.float32)


def ends_of(planes: Floats, hole: Bools, known: Bools) -> list[End]:
    """Find the edges that end at a hole.

    Parameters
    ----------
    planes : (H, W, C) float32
        The picture, L*a*b* first.
    hole : (H, W) bool
        The hole.
    known : (H, W) bool
        Known pixels.

    Returns
    -------
    list of End
        The edges.
    """
    away = np.asarray(cv2.distanceTransform((~hole).astype(np.uint8), cv2.DIST_L2, 5), np.float32)
    edges = _edges(planes, known)
    edges &= away > 1.5
    out = []
    used = np.zeros_like(edges)
    starts = np.argwhere(edges & (away <= MAX_START_DISTANCE_PX))
    for y, x in starts[np.argsort(away[tuple(starts.T)], kind="stable")]:
        if used[y, x]:
            continue
        chain = _follow(edges, away, used, int(y), int(x))
        if len(chain) < MIN_CHAIN_PX:
            continue
        end = _end(planes, hole, known, chain)
        if end is not None:
            out.append(end)
    return out


def _edges(planes: Floats, known: Bools) -> Bools:
    """Edges of the colours; none beside what is not known."""
    scaled = np.clip(planes[..., :3] * np.float32(2.0) + np.array([0, 128, 128], np.float32), 0, 255)
    # Of known pixels alone: what is to go must not show.
    weight = cv2.GaussianBlur(known.astype(np.float32), (0, 0), 1.0)
    smooth = cv2.GaussianBlur(scaled * known[..., None], (0, 0), 1.0) / np.maximum(weight, 1e-3)[..., None]
    across = np.stack([cv2.Sobel(smooth[..., c], cv2.CV_16S, 1, 0) for c in range(3)])
    down = np.stack([cv2.Sobel(smooth[..., c], cv2.CV_16S, 0, 1) for c in range(3)])
    # Of three colours the one with the steepest slope says where the edge is.
    steep = (across.astype(np.int32) ** 2 + down.astype(np.int32) ** 2).argmax(axis=0)
    dx, dy = (np.take_along_axis(each, steep[None], 0)[0] for each in (across, down))
    blank = cv2.dilate((~known).astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    dx[blank], dy[blank] = 0, 0
    found = cv2.Canny(np.ascontiguousarray(dx), np.ascontiguousarray(dy), WEAK_SLOPE, STRONG_SLOPE, L2gradient=True) > 0
    return np.asarray(found)


def _follow(edges: Bools, away: Floats, used: Bools, y: int, x: int) -> list[tuple[int, int]]:
    """The pixels of an edge from the rim outwards, as long as it does not turn back."""
    chain = [(y, x)]
    used[max(y - 1, 0) : y + 2, max(x - 1, 0) : x + 2] = True
    height, width = edges.shape
    while len(chain) < MAX_CHAIN_PX:
        way = np.array([0.0, 0.0]) if len(chain) < 3 else np.subtract(chain[-1], chain[max(len(chain) - 6, 0)])
        best, step = -np.inf, None
        for dy in (-1, 0, 1):
            for dx in (-1, 0, 1):
                ny, nx = y + dy, x + dx
                if (dy or dx) and 0 <= ny < height and 0 <= nx < width and edges[ny, nx] and (ny, nx) not in chain[-4:]:
                    ahead = dy * way[0] + dx * way[1] if len(chain) >= 3 else float(away[ny, nx] - away[y, x])
                    if ahead > best:
                        best, step = ahead, (ny, nx)
        if step is None or best <= (0 if len(chain) >= 3 else -1.0):
            break
        y, x = step
        chain.append(step)
        used[max(y - 1, 0) : y + 2, max(x - 1, 0) : x + 2] |= (
            away[max(y - 1, 0) : y + 2, max(x - 1, 0) : x + 2] <= MAX_START_DISTANCE_PX
        )
    return chain


def _end(planes: Floats, hole: Bools, known: Bools, chain: list[tuple[int, int]]) -> End | None:
    points = np.array(chain, np.float64)[:, ::-1]  # x, y; from the rim outwards
    middle = points.mean(axis=0)
    _, _, axes = np.linalg.svd(points - middle)
    along = axes[0] if np.dot(axes[0], points[0] - points[-1]) > 0 else -axes[0]  # inwards
    normal = np.array([-along[1], along[0]])
    s, h = (points - middle) @ along, (points - middle) @ normal
    # y = a + b s + c s^2 over the chord: the slope and the bend at the rim, where s is largest.
    power = 2 if len(chain) >= 16 else 1
    fitted = np.polyfit(s, h, power)
    if np.abs(h - np.polyval(fitted, s)).mean() > MAX_MEAN_DEVIATION_PX:
        return None
    slope = np.polyval(np.polyder(fitted), s.max())
    inwards = along + slope * normal
    inwards /= np.linalg.norm(inwards)
    bend = 2 * fitted[0] / (1 + slope**2) ** 1.5 if power == 2 else 0.0
    at = middle + s.max() * along + np.polyval(fitted, s.max()) * normal
    side = np.array([-inwards[1], inwards[0]])  # to the right of inwards, y pointing down
    profile = _profile(planes, known, points[2:14], side)
    if profile is None:
        return None
    # To the rim itself: edges are only seen some pixels away from it.
    for _ in range(8):
        x, y = np.rint(at + inwards).astype(int)
        if not (0 <= y < hole.shape[0] and 0 <= x < hole.shape[1]):
            return None
        if hole[y, x]:
            break
        at = at + inwards
        turn = bend
        inwards = np.array([inwards[0] - turn * inwards[1], inwards[1] + turn * inwards[0]])
        inwards /= np.linalg.norm(inwards)
    else:
        return None
    return End(at=at, inwards=inwards, bend=float(bend), length=float(len(chain)), profile=profile)


def _profile(planes: Floats, known: Bools, points: Point, side: Point) -> Floats | None:
    """Means across an edge over its points nearest to the rim; None where too little of that is known."""
    out = []
    for k in range(-PROFILE_RADIUS_PX, PROFILE_RADIUS_PX + 1):
        x, y = np.rint(points + k * side).astype(int).T
        in_picture = (x >= 0) & (y >= 0) & (x < known.shape[1]) & (y < known.shape[0])
        in_picture[in_picture] = known[y[in_picture], x[in_picture]]
        if in_picture.sum() < 3:
            return None
        out.append(np.median(planes[y[in_picture], x[in_picture]], axis=0))
    return np.asarray(out, np.float32)
