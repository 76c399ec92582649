"""The cheapest border round what a mark means, by colours alone.

The surroundings are cut into superpixels (SLIC, Achanta et al. 2012); each is judged by its colours, by how much of it
was scribbled on and by how far it lies from the scribble; a minimum cut (Boykov & Jolly 2001) finds the cheapest
border, colours are learned anew from the result and the cut is made again.
"""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
import scipy
import skimage
from numpy.typing import ArrayLike, NDArray

from keen_sweep.core.arrays import Bools, Doubles, Floats
from keen_sweep.core.mask.colours import Colours
from keen_sweep.core.mask.mark_kind import How
from keen_sweep.core.mask.working_area import Surroundings

SEGMENT_COUNT = 1200
SEGMENT_COMPACTNESS = 12.0
# Weight of a border in the graph cut.
BORDER_WEIGHT = 0.25
# Weight of the share of a segment that the mark covers.
COVERED_WEIGHT = 1.2
# Weight of a segment's depth in the mark.
DEPTH_WEIGHT = 1.5
# Weight of the distance from the mark, in lengths of the mark.
DISTANCE_WEIGHT = 2.5
# Farther segments never belong to the thing, lengths of the mark.
MAX_DISTANCE = 0.7
# Farther segments teach the colours of the background, lengths of the mark.
BACKGROUND_DISTANCE = 0.6
CUT_ROUNDS = 2


def cut_out(ground: Surroundings, how: How) -> Bools:
    """Segment a marked thing with a graph cut on superpixels.

    Parameters
    ----------
    ground : Surroundings
        The surroundings of the mark at working size.
    how : How
        The gesture.

    Returns
    -------
    (h, w) bool
        The thing.
    """
    near = ground.near
    pieces = np.asarray(
        skimage.segmentation.slic(
            ground.lab, SEGMENT_COUNT, SEGMENT_COMPACTNESS, max_num_iter=6, convert2lab=False, start_label=0, sigma=0
        ),
        np.int64,
    )
    count = int(pieces.max()) + 1
    area = np.bincount(pieces.ravel(), minlength=count).astype(np.float64)

    def mean(plane: ArrayLike) -> Doubles:
        summed = np.bincount(pieces.ravel(), np.asarray(plane, np.float64).ravel(), minlength=count)
        return np.asarray(summed / area, np.float64)

    length = float(np.sqrt(near.sum()))
    away = cv2.distanceTransform((~near).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    depth = cv2.distanceTransform(np.pad(near.astype(np.uint8), 1), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)[1:-1, 1:-1]
    deep = depth / max(float(depth.max()), 1e-6)
    colours = Colours(ground.lab)
    behind = ~near if how == "outline" else away > BACKGROUND_DISTANCE * length
    if behind.sum() < 80:
        behind = ~near
    first, back = near * (0.3 + deep), behind.astype(np.float64)
    inside, outside = colours.share(first), colours.share(back)
    covered, distance, middle = mean(near), mean(away) / length, mean(deep)
    barred = mean(ground.barred) > 0.5
    pairs, borders = _borders(pieces, ground.lab, count)
    chosen = covered > 0.5
    for _ in range(CUT_ROUNDS):
        colour = np.clip(mean(np.log(inside / outside)[colours.bins]), -3, 3)
        if how != "outline":
            liking = (
                colour
                + 2 * COVERED_WEIGHT * covered
                + DEPTH_WEIGHT * middle * (covered > 0.5)
                - DISTANCE_WEIGHT * distance
            )
            liking[distance > MAX_DISTANCE] = -10
        else:
            liking = colour + DEPTH_WEIGHT * (middle - 0.25)
            liking[covered < 0.5] = -10
        liking[barred] = -10
        chosen = _cheapest(liking * np.sqrt(area) / 2, pairs, BORDER_WEIGHT * borders)
        thing = chosen[pieces]
        if not thing.any():
            break
        inside = colours.share(thing + 0.5 * first)
        outside = colours.share(~thing * (away < 1.2 * length) + 0.3 * back)
    return np.asarray(chosen[pieces])


def _borders(pieces: NDArray[np.int64], lab: Floats, count: int) -> tuple[NDArray[np.int64], Doubles]:
    """Neighbours (2, n) and the length of their common border, which counts less where the colours differ."""
    found, steps = [], []
    for first, second in ((np.s_[:, :-1], np.s_[:, 1:]), (np.s_[:-1], np.s_[1:])):
        differ = pieces[first] != pieces[second]
        found.append(np.stack([pieces[first][differ], pieces[second][differ]]))
        steps.append(((lab[first][differ] - lab[second][differ]) ** 2).sum(1))
    pairs, step = np.concatenate(found, 1), np.concatenate(steps)
    weight = np.exp(-step / (2 * float(step.mean()) + 1e-6))
    keys, inverse = np.unique(pairs.min(0) * count + pairs.max(0), return_inverse=True)
    ends = np.stack([keys // count, keys % count]).astype(np.int64)
    return ends, np.bincount(inverse, weight).astype(np.float64)


def _cheapest(liking: Doubles, pairs: NDArray[np.int64], borders: Doubles) -> Bools:
    """The minimum cut: (n,) true for those on the side of what is liked (positive)."""
    count = len(liking)
    source, sink = count, count + 1
    every = np.arange(count)
    rows = np.concatenate([np.full(count, source), every, pairs[0], pairs[1]])
    columns = np.concatenate([every, np.full(count, sink), pairs[1], pairs[0]])
    values = np.concatenate([np.maximum(liking, 0), np.maximum(-liking, 0), borders, borders])
    whole_numbers = np.minimum(values * 1000, 1e8).astype(np.int32)
    shape = (count + 2, count + 2)
    graph: Any = scipy.sparse.coo_array((whole_numbers, (rows, columns)), shape=shape).tocsr().astype(np.int32)
    left: Any = graph - scipy.sparse.csgraph.maximum_flow(graph, source, sink).flow
    left.data[left.data < 0] = 0
    left.eliminate_zeros()
    reached = scipy.sparse.csgraph.breadth_first_order(left, source, return_predecessors=False)
    out = np.zeros(count + 2, bool)
    out[reached] = True
    return out[:count]
