"""An alignment: where each place of one frame is seen in another, and how sure that is."""

from __future__ import annotations

import io
import zipfile
from dataclasses import dataclass, replace

import cv2
import numpy as np
import scipy

from keen_sweep.core.arrays import Doubles, Floats, Matrix, Numbers
from keen_sweep.core.box import Box
from keen_sweep.core.errors import LibraryTrouble
from keen_sweep.core.series.tones import IDENTITY_TONES, Tones


@dataclass(frozen=True)
class Alignment:
    """How one frame maps onto another.

    size and other: (width, height) of the two frames, pixels. homography (3, 3): places of the one, pixel centres at
    whole numbers, to those of the other. motion (h, w, 2) float32: what is added to that, pixels of the other frame, on
    a grid of cells spread evenly over the one, since things at different distances move differently when a camera
    does. sure (h, w) float32: how sure each cell is, 0 to 1. tones: what the other's numbers are in this frame. corner:
    where in the one points are counted from, if only a cut of it is looked at.
    """

    size: tuple[int, int]
    other: tuple[int, int]
    homography: Matrix
    motion: Floats
    sure: Floats
    tones: Tones = IDENTITY_TONES
    corner: tuple[int, int] = (0, 0)

    @property
    def still(self) -> bool:
        """Whether one homography says it all: nothing moved by itself, as when a camera only turned."""
        return not self.motion.any()

    def places(self, points: Numbers) -> Doubles:
        """Where points (n, 2) of the one, x and y, are seen in the other."""
        points = self._counted(points)
        flat = projected(self.homography, points)
        return flat + self._sampled(self.motion, points)

    def sureness(self, points: Numbers) -> Doubles:
        """How sure that is at each point, (n,) 0 to 1."""
        points = self._counted(points)
        return self._sampled(self.sure[..., None], points)[:, 0]

    def window(self, box: Box) -> Floats:
        """Where each pixel of a box is seen in the other frame, (h, w, 2): a map for cv2.remap."""
        x, y = np.meshgrid(
            np.arange(box.x, box.right) + float(self.corner[0]), np.arange(box.y, box.bottom) + float(self.corner[1])
        )
        flat = projected(self.homography, np.stack([x.ravel(), y.ravel()], 1)).reshape(box.height, box.width, 2)
        columns, rows = self._cells(x, y)
        added = cv2.remap(self.motion, columns, rows, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        return np.asarray(flat + added, np.float32)

    def cut(self, window: Box) -> Alignment:
        """The alignment of a cut of the one frame."""
        return replace(self, corner=(self.corner[0] + window.x, self.corner[1] + window.y))

    def cut_other(self, window: Box) -> Alignment:
        """The alignment to a cut of the other frame."""
        moved = np.array([[1, 0, -window.x], [0, 1, -window.y], [0, 0, 1]], np.float64)
        return replace(self, other=(window.width, window.height), homography=moved @ self.homography)

    def _counted(self, points: Numbers) -> Matrix:
        return np.asarray(points, np.float64).reshape(-1, 2) + self.corner

    def _cells(self, x: Doubles, y: Doubles) -> tuple[Floats, Floats]:
        rows, columns = self.motion.shape[:2]
        across = (x + 0.5) * columns / self.size[0] - 0.5
        down = (y + 0.5) * rows / self.size[1] - 0.5
        return across.astype(np.float32), down.astype(np.float32)

    def _sampled(self, grid: Floats, points: Doubles) -> Matrix:
        return sampled(grid, *self._cells(points[:, 0], points[:, 1]))


def sampled(grid: Floats, across: Numbers, down: Numbers) -> Matrix:
    """A grid (h, w, n) between its cells, and beyond the outermost as at them, (m, n)."""
    at = np.stack([down, across])
    planes = [scipy.ndimage.map_coordinates(grid[..., k], at, order=1, mode="nearest") for k in range(grid.shape[2])]
    return np.stack(planes, axis=1).astype(np.float64)


def projected(homography: Matrix, points: Doubles) -> Doubles:
    """Points (n, 2) through a homography (3, 3) (Hartley and Zisserman 2004, section 2.3)."""
    ends = points @ homography[:, :2].T + homography[:, 2]
    return np.asarray(ends[:, :2] / ends[:, 2:])


def alignment_to_bytes(alignment: Alignment) -> bytes:
    """An alignment as an .npz archive."""
    out = io.BytesIO()
    np.savez_compressed(
        out,
        size=np.array([*alignment.size, *alignment.other]),
        homography=alignment.homography,
        motion=alignment.motion,
        sure=alignment.sure,
        tones=np.stack([alignment.tones.before, alignment.tones.after]),
    )
    return out.getvalue()


def alignment_from_bytes(data: bytes) -> Alignment:
    """The inverse. Raises LibraryTrouble if damaged."""
    try:
        with np.load(io.BytesIO(data), allow_pickle=False) as archive:
            width, height, other_width, other_height = (int(each) for each in archive["size"])
            return Alignment(
                size=(width, height),
                other=(other_width, other_height),
                homography=archive["homography"],
                motion=archive["motion"],
                sure=archive["sure"],
                tones=Tones(*archive["tones"]),
            )
    except (ValueError, KeyError, OSError, EOFError, zipfile.BadZipFile) as error:
        raise LibraryTrouble("A stored alignment is damaged.") from error
