"""The Poisson equation on a hole of any shape: conjugate gradients with a multigrid V-cycle as preconditioner (flexible
variant, Notay 2000)."""

from __future__ import annotations

import numba
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats


@numba.njit(cache=True, nogil=True)
def _apply(x: Floats, hole: Bools, degree: Floats, out: Floats) -> None:
    height, width = x.shape
    for i in range(height):
        for j in range(width):
            if not hole[i, j]:
                out[i, j] = 0.0
                continue
            total = degree[i, j] * x[i, j]
            if i > 0:
                total -= x[i - 1, j]
            if i + 1 < height:
                total -= x[i + 1, j]
            if j > 0:
                total -= x[i, j - 1]
            if j + 1 < width:
                total -= x[i, j + 1]
            out[i, j] = total


@numba.njit(cache=True, nogil=True)
def _relax(x: Floats, b: Floats, hole: Bools, degree: Floats, colour: int) -> None:
    """One half of a pass of red-black Gauss-Seidel."""
    height, width = x.shape
    for i in range(height):
        for j in range((i + colour) % 2, width, 2):
            if not hole[i, j] or degree[i, j] == 0:
                continue
            total = b[i, j]
            if i > 0:
                total += x[i - 1, j]
            if i + 1 < height:
                total += x[i + 1, j]
            if j > 0:
                total += x[i, j - 1]
            if j + 1 < width:
                total += x[i, j + 1]
            x[i, j] = total / degree[i, j]


@numba.njit(cache=True, nogil=True)
def _restrict(fine: Floats, out: Floats) -> None:
    """Sums of 2 x 2: the five-point stencil on cells twice as large wants four times the density."""
    out[:] = 0.0
    for i in range(fine.shape[0]):
        for j in range(fine.shape[1]):
            out[i // 2, j // 2] += fine[i, j]


@numba.njit(cache=True, nogil=True)
def _prolong_add(coarse: Floats, hole: Bools, x: Floats) -> None:
    """Add the coarse correction, bilinear between cell centres; the known surroundings count as zero."""
    height, width = coarse.shape
    for i in range(x.shape[0]):
        ci = i // 2
        ni = ci + (1 if i % 2 else -1)
        for j in range(x.shape[1]):
            if not hole[i, j]:
                continue
            cj = j // 2
            nj = cj + (1 if j % 2 else -1)
            inside_i, inside_j = 0 <= ni < height, 0 <= nj < width
            total = 9.0 * coarse[ci, cj]
            if inside_i:
                total += 3.0 * coarse[ni, cj]
            if inside_j:
                total += 3.0 * coarse[ci, nj]
            if inside_i and inside_j:
                total += coarse[ni, nj]
            x[i, j] += total / 16.0


def _degree(hole: Bools, inside: Bools) -> Floats:
    """Number of neighbours of each pixel that are inside the picture."""
    padded = np.pad(inside, 1).astype(np.float32)
    degree: Floats = padded[:-2, 1:-1] + padded[2:, 1:-1] + padded[1:-1, :-2] + padded[1:-1, 2:]
    return np.where(hole, degree, np.float32(0))


class Domain:
    """A hole and its coarser versions, computed once and used for each channel.

    Every side of the array that is not the picture's edge needs at least one pixel outside the hole.

    Parameters
    ----------
    hole : (h, w) bool
        The hole.
    inside : (h, w) bool
        Pixels that belong to the picture; beyond them no slope is prescribed.
    """

    def __init__(self, hole: Bools, inside: Bools) -> None:
        self.levels: list[tuple[Bools, Floats]] = []
        while True:
            self.levels.append((np.ascontiguousarray(hole), _degree(hole, inside)))
            if hole.sum() <= 64 or min(hole.shape) <= 4:
                return
            hole, inside = _coarser(hole, 3), _coarser(inside, 1)
            if not hole.any():
                return

    def cycle(self, b: Floats, level: int = 0) -> Floats:
        """One V-cycle for A x = b from zero."""
        hole, degree = self.levels[level]
        x = np.zeros_like(b)
        passes = 2 if level + 1 < len(self.levels) else 40
        for _ in range(passes):
            _relax(x, b, hole, degree, 0)
            _relax(x, b, hole, degree, 1)
        if level + 1 < len(self.levels):
            residual = np.empty_like(b)
            _apply(x, hole, degree, residual)
            np.subtract(b, residual, out=residual)
            residual[~hole] = 0
            coarse = np.empty(self.levels[level + 1][0].shape, np.float32)
            _restrict(residual, coarse)
            coarse[~self.levels[level + 1][0]] = 0
            _prolong_add(self.cycle(coarse, level + 1), hole, x)
            for _ in range(passes):
                _relax(x, b, hole, degree, 1)
                _relax(x, b, hole, degree, 0)
        return x

    def solve(self, b: Floats, tolerance: float = 1e-5, most: int = 60) -> Floats:
        """x with sum over neighbours of (x_p - x_q) = b_p in the hole and x = 0 on the known pixels.

        (h, w) float32 in and out; stops when the residual is tolerance times the right side, in the 2-norm.
        """
        hole, degree = self.levels[0]
        b = np.where(hole, b, np.float32(0)).astype(np.float32)
        x = np.zeros_like(b)
        residual = b.copy()
        goal = tolerance * _norm(b)
        if goal == 0:
            return x
        direction: Floats | None = None
        image = np.empty_like(b)
        for _ in range(most):
            z = self.cycle(residual)
            if direction is None:
                direction = z
            else:  # make it conjugate to the last direction
                beta = _dot(z, image) / _dot(direction, image)
                direction = z - np.float32(beta) * direction
            _apply(direction, hole, degree, image)
            curvature = _dot(direction, image)
            if curvature <= 0:
                break
            step = np.float32(_dot(direction, residual) / curvature)
            x += step * direction
            residual -= step * image
            if _norm(residual) <= goal:
                break
        return x


def _coarser(mask: Bools, least: int) -> Bools:
    """Cells of 2 x 2 with at least so many true children."""
    padded = np.pad(mask, ((0, mask.shape[0] % 2), (0, mask.shape[1] % 2)))
    height, width = padded.shape
    count: NDArray[np.int64] = padded.reshape(height // 2, 2, width // 2, 2).sum(axis=(1, 3))
    return count >= least


def _dot(a: Floats, b: Floats) -> float:
    return float(np.einsum("ij,ij->", a, b, dtype=np.float64))


def _norm(a: Floats) -> float:
    return float(np.sqrt(_dot(a, a)))
