"""Cling: a careless scribble over a thing, or a loose outline round it, becomes the mask of the thing.

A network of our own says how likely each pixel belongs to it (likely), and is held against a cut: the surroundings
are cut into superpixels (SLIC, Achanta et al. 2012); each is judged by its colours, by how much of it was scribbled on
and by how far it lies from the scribble; a minimum cut (Boykov & Jolly 2001) finds the cheapest border, colours are
learned anew from the result and the cut is made again. GrabCut (Rother et al. 2004) then works over a narrow band of
single pixels along the rim of what the two say.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import sparse
from scipy.sparse import csgraph
from skimage.segmentation import slic

from keen_sweep.core.box import Box
from keen_sweep.core.mask.colours import Colours, lab_of
from keen_sweep.core.mask.likely import How, likely, surroundings
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.photo.picture import Pixels

Bools = NDArray[np.bool_]
Floats = NDArray[np.float64]

# How many pixels of the surroundings are looked at.
WORKING = 320 * 320
SEGMENTS, COMPACTNESS = 1200, 12.0
# The cut: weight of a border, of colour, of what was scribbled on, of distance in lengths of the scribble.
BORDER, COVERED, DEEP, DISTANCE = 0.25, 1.2, 1.5, 2.5
FARTHEST, FAR = 0.7, 0.6
ROUNDS = 2
# Half the width of the band in which the rim is found again, in pixels of surroundings of the full working size; less
# in smaller ones, where so many would be much of a thing.
BAND = 3.0
# What the network says counts for so much, the cut for the rest; a part must hold such a share of the mark.
LEARNED, TOUCHED = 0.85, 0.03


@dataclass(frozen=True)
class Surroundings:
    """What is looked at: the box in the picture, Lab (h, w, 3) float32 and 8-bit pixels at a working size, and
    the mark there."""

    box: Box
    pixels: NDArray[np.uint8]
    lab: NDArray[np.float32]
    near: Bools
    barred: Bools


def cling(picture: Pixels, near: Bools, how: How = "scribble", guard: Bools | None = None) -> Mask:
    """The thing that a mark means.

    picture (H, W, 3) uint8 or uint16, near (H, W) bool: what the scribble covers or the outline holds; at least
    one pixel. guard (H, W) bool is never part of it. If nothing can be told apart the mark itself comes back.
    """
    ground = _ground(picture, near, guard)
    told = likely(picture, near, how)
    size = (ground.near.shape[1], ground.near.shape[0])
    chance = LEARNED * cv2.resize(told, size, interpolation=cv2.INTER_LINEAR) + (1 - LEARNED) * _cut(ground, how)
    thing = _touched(_banded(ground, np.asarray(chance > 0.5) & ~ground.barred), ground.near)
    if not thing.any():
        thing = ground.near
    shape = (ground.box.height, ground.box.width)
    if thing.shape != shape:
        soft = cv2.resize(thing.astype(np.float32), shape[::-1], interpolation=cv2.INTER_LINEAR)
        thing = soft > 0.5
    if guard is not None:
        thing = thing & ~guard[ground.box.slices]
    return Mask(ground.box, np.where(thing, 255, 0).astype(np.uint8))


def _ground(picture: Pixels, near: Bools, guard: Bools | None) -> Surroundings:
    box = surroundings(near)
    pixels = to_eight_bit(np.ascontiguousarray(picture[box.slices]))
    marked = near[box.slices].astype(np.uint8) * 255
    barred = np.zeros_like(marked) if guard is None else guard[box.slices].astype(np.uint8) * 255
    scale = min(1.0, np.sqrt(WORKING / box.area))
    if scale < 1:
        size = (max(round(box.width * scale), 8), max(round(box.height * scale), 8))
        pixels, marked, barred = (
            np.asarray(cv2.resize(plane, size, interpolation=cv2.INTER_AREA), np.uint8)
            for plane in (pixels, marked, barred)
        )
    lab = lab_of(pixels)
    hit = marked > 127
    if not hit.any():
        hit = marked == marked.max()
    return Surroundings(box, pixels, lab, hit, barred > 127)


def _cut(ground: Surroundings, how: How) -> Bools:
    near = ground.near
    pieces = np.asarray(
        slic(ground.lab, SEGMENTS, COMPACTNESS, max_num_iter=6, convert2lab=False, start_label=0, sigma=0), np.int64
    )
    count = int(pieces.max()) + 1
    area = np.bincount(pieces.ravel(), minlength=count).astype(np.float64)

    def mean(plane: NDArray[Any]) -> Floats:
        summed = np.bincount(pieces.ravel(), np.asarray(plane, np.float64).ravel(), minlength=count)
        return np.asarray(summed / area, np.float64)

    length = float(np.sqrt(near.sum()))
    away = cv2.distanceTransform((~near).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    depth = cv2.distanceTransform(np.pad(near.astype(np.uint8), 1), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)[1:-1, 1:-1]
    deep = depth / max(float(depth.max()), 1e-6)
    colours = Colours(ground.lab)
    behind = (away > FAR * length) if how == "scribble" else ~near
    if behind.sum() < 80:
        behind = ~near
    first, back = near * (0.3 + deep), behind.astype(np.float64)
    inside, outside = colours.share(first), colours.share(back)
    covered, distance, middle = mean(near), mean(away) / length, mean(deep)
    barred = mean(ground.barred) > 0.5
    pairs, borders = _borders(pieces, ground.lab, count)
    chosen = covered > 0.5
    for _ in range(ROUNDS):
        colour = np.clip(mean(np.log(inside / outside)[colours.bins]), -3, 3)
        if how == "scribble":
            liking = colour + 2 * COVERED * covered + DEEP * middle * (covered > 0.5) - DISTANCE * distance
            liking[distance > FARTHEST] = -10
        else:
            liking = colour + DEEP * (middle - 0.25)
            liking[covered < 0.5] = -10
        liking[barred] = -10
        chosen = _cheapest(liking * np.sqrt(area) / 2, pairs, BORDER * borders)
        thing = chosen[pieces]
        if not thing.any():
            break
        inside = colours.share(thing + 0.5 * first)
        outside = colours.share(~thing * (away < 1.2 * length) + 0.3 * back)
    return np.asarray(chosen[pieces])


def _borders(pieces: NDArray[np.int64], lab: NDArray[np.float32], count: int) -> tuple[NDArray[np.int64], Floats]:
    """Neighbours (2, n) and the length of their common border, which counts less where the colours differ."""
    found, steps = [], []
    for here, there in ((np.s_[:, :-1], np.s_[:, 1:]), (np.s_[:-1], np.s_[1:])):
        differ = pieces[here] != pieces[there]
        found.append(np.stack([pieces[here][differ], pieces[there][differ]]))
        steps.append(((lab[here][differ] - lab[there][differ]) ** 2).sum(1))
    pairs, step = np.concatenate(found, 1), np.concatenate(steps)
    weight = np.exp(-step / (2 * float(step.mean()) + 1e-6))
    keys, inverse = np.unique(pairs.min(0) * count + pairs.max(0), return_inverse=True)
    ends = np.stack([keys // count, keys % count]).astype(np.int64)
    return ends, np.bincount(inverse, weight).astype(np.float64)


def _cheapest(liking: Floats, pairs: NDArray[np.int64], borders: Floats) -> Bools:
    """The minimum cut: (n,) true for those on the side of what is liked (positive)."""
    count = len(liking)
    source, sink = count, count + 1
    every = np.arange(count)
    rows = np.concatenate([np.full(count, source), every, pairs[0], pairs[1]])
    columns = np.concatenate([every, np.full(count, sink), pairs[1], pairs[0]])
    values = np.concatenate([np.maximum(liking, 0), np.maximum(-liking, 0), borders, borders])
    whole_numbers = np.minimum(values * 1000, 1e8).astype(np.int32)
    shape = (count + 2, count + 2)
    graph: Any = sparse.coo_array((whole_numbers, (rows, columns)), shape=shape).tocsr().astype(np.int32)
    left: Any = graph - csgraph.maximum_flow(graph, source, sink).flow
    left.data[left.data < 0] = 0
    left.eliminate_zeros()
    reached = csgraph.breadth_first_order(left, source, return_predecessors=False)
    out = np.zeros(count + 2, bool)
    out[reached] = True
    return out[:count]


def _banded(ground: Surroundings, thing: Bools) -> Bools:
    """The border found again among the pixels of a narrow band."""
    if not thing.any() or thing.all():
        return thing
    within = cv2.distanceTransform(thing.astype(np.uint8), cv2.DIST_L2, 3)
    beyond = cv2.distanceTransform((~thing).astype(np.uint8), cv2.DIST_L2, 3)
    band = max(BAND * np.sqrt(thing.size / WORKING), 1.0)
    labels = np.where(thing, cv2.GC_PR_FGD, cv2.GC_PR_BGD).astype(np.uint8)
    labels[within > band] = cv2.GC_FGD
    labels[(beyond > band) | ground.barred] = cv2.GC_BGD
    cv2.setRNGSeed(0)
    inner, outer = np.zeros((1, 65)), np.zeros((1, 65))
    try:
        cv2.grabCut(ground.pixels, labels, (0, 0, 1, 1), outer, inner, 2, cv2.GC_INIT_WITH_MASK)
    except cv2.error:  # one of the two sides has too few pixels to learn from
        return thing
    return np.asarray((labels == cv2.GC_FGD) | (labels == cv2.GC_PR_FGD))


def _touched(thing: Bools, near: Bools) -> Bools:
    """Without parts that the mark hardly touches."""
    count, labels = cv2.connectedComponents(thing.astype(np.uint8), connectivity=8)
    touched = np.bincount(labels[near], minlength=count) >= TOUCHED * near.sum()
    touched[0] = False
    return np.asarray(touched[labels])
