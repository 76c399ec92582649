"""What a hole should roughly look like: a smooth continuation of its surroundings, for narrow holes as it is, for wide
ones parted by the bridges that lead through them.

A bridge carries the profile of its two ends across, the one changing into the other; the rest of the hole is the
harmonic continuation of its rim and of the bridges (diffusion curves, Orzan et al. 2008), so that what lies on two
sides of a bridge does not mix.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Doubles, Features, Floats
from keen_sweep.core.fill.weave.bars import bar_bridges
from keen_sweep.core.fill.weave.bridges import Bridge, bridges_of, crosses
from keen_sweep.core.fill.weave.ends import ends_of
from keen_sweep.core.fill.weave.features import FEATURE_STEPS, LIGHTNESS_WEIGHT, halve_known
from keen_sweep.core.fill.weave.lead_bridges import lead_bridges
from keen_sweep.core.methods.seam import membrane

# Standard deviation with which a guide fades beside its bridge, pixels.
FADE_SIGMA_PX = 2.0


# Weight of the continuation between drawn lines, away from them: they say which ground lies on which side.
LED_PULL = 0.5


@dataclass(frozen=True)
class Guide:
    """What bridges say about a hole.

    Attributes
    ----------
    values : (h, w, 4) int16
        Features.
    pull : (h, w) float32
        Their weight, 0 to 1.
    """

    values: Features
    pull: Floats

    def halved(self, corner: tuple[int, int], shape: tuple[int, int], at: tuple[int, int]) -> Guide:
        """The guide at half size: its corner (row, column) in its picture; the shape and corner of the coarser
        window."""
        top, left = corner[0] % 2, corner[1] % 2
        bottom, right = (-(top + self.pull.shape[0])) % 2, (-(left + self.pull.shape[1])) % 2
        frame = ((top, bottom), (left, right))
        values = np.pad(self.values, (*frame, (0, 0)), mode="edge")
        small, _ = halve_known(values, np.ones(values.shape[:2], np.bool_))
        pull = cv2.resize(np.pad(self.pull, frame, mode="edge"), small.shape[1::-1], interpolation=cv2.INTER_AREA)
        # Where the two windows begin, in the coarser picture.
        rows = np.clip(np.arange(shape[0]) + at[0] - corner[0] // 2, 0, small.shape[0] - 1)
        columns = np.clip(np.arange(shape[1]) + at[1] - corner[1] // 2, 0, small.shape[1] - 1)
        return Guide(
            np.ascontiguousarray(small[np.ix_(rows, columns)]), np.ascontiguousarray(pull[np.ix_(rows, columns)])
        )


def bridged(
    features: Features, hole: Bools, known: Bools, lines: Sequence[Doubles] = (), parted: bool = False
) -> Guide | None:
    """Guide of a hole by its bridges.

    Parameters
    ----------
    features : (H, W, 4) int16
        Features.
    hole : (H, W) bool
        The hole.
    known : (H, W) bool
        Known pixels.
    lines : sequence of (n, 2) float64, optional
        Lines that the photographer drew, x and y. Bridges that cross them are left out, and the whole hole follows
        the guide.
    parted : bool, optional
        Whether these part the hole into cells: each keeps to its own ground then, and a guide along them would only
        smooth what lies beside them.

    Returns
    -------
    Guide or None
        The guide; None where there are no bridges.
    """
    colours = features[..., :3] / np.array([FEATURE_STEPS * LIGHTNESS_WEIGHT, FEATURE_STEPS, FEATURE_STEPS], np.float32)
    planes = np.dstack([colours, features[..., 3].astype(np.float32)])
    ends = ends_of(planes, hole, known)
    led = lead_bridges(lines, planes, hole, known)
    edges = [*([] if parted else led), *_beside(bridges_of(ends, hole), led)]
    bars = _beside(bar_bridges(planes, edges, hole, known), led)
    if not edges and not bars:
        return None
    strip, painted = _painted(edges, features.shape[:2])
    # A bar stands before what it crosses, and at what it ends.
    before, as_bars = _painted(bars, features.shape[:2])
    painted[before] = as_bars[before]
    strip = (strip | before) & hole
    values = features.astype(np.float32)
    painted[..., :3] *= np.array([FEATURE_STEPS * LIGHTNESS_WEIGHT, FEATURE_STEPS, FEATURE_STEPS], np.float32)
    values[strip] = painted[strip]
    rest = hole & ~strip
    unknown = ~known & ~strip
    for channel in range(4):
        plane = np.ascontiguousarray(values[..., channel])
        values[..., channel] = membrane(plane, unknown)
    away = cv2.distanceTransform((~strip).astype(np.uint8), cv2.DIST_L2, 5)
    pull = np.where(
        rest, np.maximum(np.exp(-0.5 * (away / FADE_SIGMA_PX) ** 2), LED_PULL if led and not parted else 0.0), 1.0
    )
    pull[~hole] = 0
    return Guide(np.rint(values).astype(np.int16), pull.astype(np.float32))


def _beside(found: list[Bridge], led: list[Bridge]) -> list[Bridge]:
    """Bridges that cross none of those that were drawn."""
    return [each for each in found if not any(crosses(each, other) for other in led)]


def _painted(bridges: list[Bridge], shape: tuple[int, int]) -> tuple[Bools, Floats]:
    """Where bridges lie and what they look like: (H, W) bool and (H, W, 4) float32."""
    total = np.zeros((*shape, 4), np.float32)
    count = np.zeros(shape, np.float32)
    for bridge in bridges:
        points = bridge.points
        step = np.gradient(points, axis=0)
        step /= np.maximum(np.linalg.norm(step, axis=1, keepdims=True), 1e-6)
        side = np.stack([-step[:, 1], step[:, 0]], 1)
        share = np.linspace(0, 1, len(points))[:, None]
        first, second = bridge.first.profile, bridge.second.profile[::-1]
        for k in range(len(first)):
            for part in (0.0, 0.5):
                x, y = np.rint(points + (k - len(first) // 2 + part) * side).astype(int).T
                value = first[k] * (1 - share) + second[k] * share
                inside = (x >= 0) & (y >= 0) & (x < shape[1]) & (y < shape[0])
                np.add.at(total, (y[inside], x[inside]), value[inside])
                np.add.at(count, (y[inside], x[inside]), 1)
    strip = count > 0
    return strip, np.asarray(total / np.maximum(count, 1)[..., None], np.float32)
