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
    """Close every part of a mask (H, W) bool; known (H, W) bool is what may be looked at."""
    return [close_part(below, part, known) for part in parts_of(closed.astype(np.uint8))]


def put_closed(pixels: Pixels, box: Box, closed: Sequence[Closed], seed: int) -> None:
    """Put closed parts, with the grain of a take's seed, into pixels that show the box."""
    for k, done in enumerate(closed):
        put(pixels, box, done.box, done.with_grain(grain_seed(seed, k)), done.hole)


def with_closed(below: Pixels, closed: list[Closed]) -> Pixels:
    """The picture with parts closed, without their grain: what a weave beside them sees."""
    if closed:
        below = below.copy()
        for done in closed:
            put(below, whole(below), done.box, done.smooth, done.hole)
    return below


def clusters_of(woven: Bools) -> list[Part]:
    """The clusters of a mask (H, W) bool: parts that lie close to each other, found on a grid of eighths, each
    group as one part whose radius is of its largest disc."""
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
    """A cluster cut across its longer side into sections of about so many pixels, in the order in which to fill
    them: from both ends, whose surroundings are known on three sides, to the middle."""
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


def put(pixels: Pixels, at: Box, box: Box, values: Floats, inside: Bools) -> None:
    """Round float values of a box into pixels that show the box at, where inside is true."""
    common = box.intersect(at)
    source = common.relative_to(box).slices
    target = pixels[common.relative_to(at).slices]
    chosen = inside[source]
    top = np.iinfo(pixels.dtype).max
    target[chosen] = np.clip(np.rint(values[source][chosen]), 0, top).astype(pixels.dtype)
