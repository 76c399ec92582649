"""What is filled in one go: parts that are closed one by one, and parts that are woven together.

Which they are follows from two masks alone, so that a take can be laid again on another development of the
picture (relay) in the very same clusters.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Floats, Pixels
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.fill.closing import Closed, close_part
from keen_sweep.core.fill.local.seeds import grain_seed
from keen_sweep.core.mask.parts import Part, parts_of

# Parts closer than this are woven together: patches of one would reach into the other.
JOIN_DISTANCE_PX = 48


def close_all(below: Pixels, closed: Bools, known: Bools) -> list[Closed]:
    """Close all parts of a mask.

    Parameters
    ----------
    below : (H, W, 3) uint8 or uint16
        The picture.
    closed : (H, W) bool
        The mask.
    known : (H, W) bool
        Pixels that may be read.

    Returns
    -------
    list of Closed
        The closed parts.
    """
    return [close_part(below, part, known) for part in parts_of(closed.astype(np.uint8))]


def put_closed(pixels: Pixels, box: Box, closed: Sequence[Closed], seed: int) -> None:
    """Lay closed parts with grain, in place.

    Parameters
    ----------
    pixels : (h, w, 3) uint8 or uint16
        Pixels of the box, changed in place.
    box : Box
        Box of these pixels in the picture.
    closed : sequence of Closed
        The closed parts.
    seed : int
        Seed of the take.
    """
    for k, done in enumerate(closed):
        put_values(pixels, box, done.box, done.with_grain(grain_seed(seed, k)), done.hole)


def with_closed(below: Pixels, closed: list[Closed]) -> Pixels:
    """The picture with closed parts, without grain, for a weave beside them.

    Parameters
    ----------
    below : (H, W, 3) uint8 or uint16
        The picture.
    closed : list of Closed
        The closed parts.

    Returns
    -------
    (H, W, 3) of the same dtype
        The picture with the parts.
    """
    if closed:
        below = below.copy()
        for done in closed:
            put_values(below, whole(below), done.box, done.smooth, done.hole)
    return below


def clusters_of(woven: Bools) -> list[Part]:
    """Groups of parts that lie close to each other, found on a grid of eighths.

    Parameters
    ----------
    woven : (H, W) bool
        The mask.

    Returns
    -------
    list of Part
        Each group as one part, with the radius of its largest disc.
    """
    parts = parts_of(woven.astype(np.uint8))
    if not parts:
        return []
    step = 8
    height, width = woven.shape
    grid = np.zeros((-(-height // step), -(-width // step)), np.uint8)
    for part in parts:
        rows, columns = np.nonzero(part.inside)
        grid[(rows + part.box.y) // step, (columns + part.box.x) // step] = 1
    reach = JOIN_DISTANCE_PX // step
    near = cv2.dilate(grid, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach + 1, reach + 1)))
    _, labels = cv2.connectedComponents(near, connectivity=8)
    groups: dict[int, list[Part]] = {}
    for part in parts:
        row, column = np.argwhere(part.inside)[0]
        groups.setdefault(int(labels[(row + part.box.y) // step, (column + part.box.x) // step]), []).append(part)
    clusters = []
    for group in groups.values():
        box = group[0].box
        for part in group[1:]:
            box = box.union(part.box)
        inside = np.zeros((box.height, box.width), bool)
        for part in group:
            inside[part.box.relative_to(box).slices] |= part.inside
        clusters.append(Part(box=box, inside=inside, radius=max(part.radius for part in group)))
    return clusters


def stages_of(cluster: Part, length: int) -> list[Part]:
    """Cut a cluster across its longer side into sections, in the order in which to fill them: from both ends,
    whose surroundings are known on three sides, to the middle.

    Parameters
    ----------
    cluster : Part
        The cluster.
    length : int
        Approximate length of a section, pixels.

    Returns
    -------
    list of Part
        The sections.
    """
    upright = cluster.box.height >= cluster.box.width
    along = cluster.box.height if upright else cluster.box.width
    count = max(round(along / length), 1)
    edges = [round(k * along / count) for k in range(count + 1)]
    out = []
    for first, last in pairwise(edges):
        cut = cluster.inside[first:last] if upright else cluster.inside[:, first:last]
        tight = box_of(cut)
        if tight.empty:
            continue
        x, y = (cluster.box.x, cluster.box.y + first) if upright else (cluster.box.x + first, cluster.box.y)
        box = tight.moved(x, y)
        out.append(Part(box=box, inside=cut[tight.slices], radius=min(cluster.radius, length / 2)))
    order = sorted(range(len(out)), key=lambda k: (min(k, len(out) - 1 - k), k))
    return [out[k] for k in order]


def put_values(pixels: Pixels, at: Box, box: Box, values: Floats, inside: Bools) -> None:
    """Round values into pixels, in place.

    Parameters
    ----------
    pixels : (H, W, 3) uint8 or uint16
        Pixels of the box `at`, changed in place.
    at : Box
        Box of these pixels in the picture.
    box : Box
        Box of the values.
    values : (h, w, 3) float32
        The values.
    inside : (h, w) bool
        Where they are used.
    """
    common = box.intersect(at)
    source = common.relative_to(box).slices
    target = pixels[common.relative_to(at).slices]
    chosen = inside[source]
    top = np.iinfo(pixels.dtype).max
    target[chosen] = np.clip(np.rint(values[source][chosen]), 0, top).astype(pixels.dtype)
