"""Continue the surroundings smoothly into a hole.

Small holes: (L L + e L) u = 0 with L the graph Laplacian, which carries slopes as well as tones across
(biharmonic with a little tension: a thin plate that is also a drum), by a sparse direct solution.
Large holes: the same on a coarser grid, then made to meet the rim exactly by a harmonic correction.
"""

from __future__ import annotations

import cv2
import numpy as np
import scipy

from keen_sweep.core.arrays import Bools, Floats
from keen_sweep.core.methods.seam import membrane

PLATE_TENSION = 0.05
MAX_DIRECT_PIXELS = 40_000


def continuation(values: Floats, hole: Bools) -> Floats:
    """Continue values smoothly into a hole (thin plate with tension).

    Parameters
    ----------
    values : (h, w, C) float32
        Values; those in the hole are not read. At least one pixel must be known, and two rows around the hole
        for correct slopes.
    hole : (h, w) bool
        The hole.

    Returns
    -------
    (h, w, C) float32
        The values with the hole filled.
    """
    if hole.sum() <= MAX_DIRECT_PIXELS:
        return _direct(values, hole)
    coarse_values, coarse_hole = _half(values, hole)
    coarse = continuation(coarse_values, coarse_hole)
    guess = cv2.resize(coarse, (hole.shape[1], hole.shape[0]), interpolation=cv2.INTER_CUBIC)
    out = values.copy()
    for channel in range(values.shape[2]):
        difference = membrane(values[..., channel] - guess[..., channel], hole)
        out[..., channel] = np.where(hole, guess[..., channel] + difference, values[..., channel])
    return out


def _half(values: Floats, hole: Bools) -> tuple[Floats, Bools]:
    height, width = hole.shape
    odd = ((0, height % 2), (0, width % 2))
    known = np.pad(~hole, odd).astype(np.float32)
    padded = np.pad(values, (*odd, (0, 0)))
    blocks = (known.shape[0] // 2, 2, known.shape[1] // 2, 2)
    count = known.reshape(blocks).sum(axis=(1, 3))
    sums = (padded * known[..., None]).reshape(*blocks, -1).sum(axis=(1, 3))
    return sums / np.maximum(count, 1)[..., None], count < 1


def _direct(values: Floats, hole: Bools) -> Floats:
    height, width = hole.shape
    near = cv2.dilate(hole.astype(np.uint8), np.ones((5, 5), np.uint8)).astype(bool)
    number = np.full((height, width), -1, np.int64)
    number[near] = np.arange(near.sum())
    pairs = []
    for first, second in (
        (number[:, :-1], number[:, 1:]),
        (number[:-1], number[1:]),
    ):
        both = (first >= 0) & (second >= 0)
        pairs.append(np.stack([first[both], second[both]]))
    edges = np.concatenate(pairs, axis=1)
    count = int(near.sum())
    ones = np.ones(edges.shape[1])
    one_way = scipy.sparse.coo_array((ones, (edges[0], edges[1])), shape=(count, count))
    adjacency = (one_way + one_way.T).tocsr()
    laplacian = scipy.sparse.diags_array(np.asarray(adjacency.sum(axis=1), np.float64).ravel()) - adjacency
    system = (laplacian @ laplacian + PLATE_TENSION * laplacian).tocsr()
    unknown = hole[near]
    inner = system[unknown][:, unknown].tocsc()
    rim = system[unknown][:, ~unknown]
    # Positive definite: pivots off the diagonal would undo the order that keeps a long wire's factors small.
    solver = scipy.sparse.linalg.splu(
        inner + 1e-9 * scipy.sparse.eye_array(inner.shape[0], format="csc"),
        permc_spec="MMD_AT_PLUS_A",
        diag_pivot_thresh=0.0,
        options={"SymmetricMode": True},
    )
    out = values.copy()
    known = values[near][~unknown].astype(np.float64)
    out[hole] = solver.solve(-(rim @ known)).astype(np.float32)
    return out
