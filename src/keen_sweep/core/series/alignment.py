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
from keen_sweep.core.sentences import sentence
from keen_sweep.core.series.tones import IDENTITY_TONES, Tones


@dataclass(frozen=True)
class Alignment:
    """How one frame maps to another.

    Attributes
    ----------
    size : tuple of 2 int
        Width and height of the first frame, pixels.
    other : tuple of 2 int
        Width and height of the second frame, pixels.
    homography : (3, 3) float64
        From the first frame to the second; pixel centres are whole numbers.
    motion : (h, w, 2) float32
        Added to the homography on a grid of cells over the first frame, pixels of the second: parallax.
    sure : (h, w) float32
        Certainty of each cell, 0 to 1.
    tones : Tones
        Tone curves from the second frame to the first.
    corner : tuple of 2 int
        Origin in the first frame if only a crop of it is used.
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
        flat = map_by_homography(self.homography, points)
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
        flat = map_by_homography(self.homography, np.stack([x.ravel(), y.ravel()], 1)).reshape(box.height, box.width, 2)
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
        return sample_grid(grid, *self._cells(points[:, 0], points[:, 1]))


def sample_grid(grid: Floats, across: Numbers, down: Numbers) -> Matrix:
    """Interpolate a grid bilinearly; beyond the outermost cells their values are used.

    Parameters
    ----------
    grid : (h, w, n) float32
        The grid.
    across : (m,)
        Columns.
    down : (m,)
        Rows.

    Returns
    -------
    (m, n) float64
        The values.
    """
    at = np.stack([down, across])
    planes = [scipy.ndimage.map_coordinates(grid[..., k], at, order=1, mode="nearest") for k in range(grid.shape[2])]
    return np.stack(planes, axis=1).astype(np.float64)


def map_by_homography(homography: Matrix, points: Doubles) -> Doubles:
    """Map points by a homography (Hartley and Zisserman 2004, section 2.3).

    Parameters
    ----------
    homography : (3, 3) float64
        The homography.
    points : (n, 2) float64
        x and y.

    Returns
    -------
    (n, 2) float64
        The mapped points.
    """
    ends = points @ homography[:, :2].T + homography[:, 2]
    return np.asarray(ends[:, :2] / ends[:, 2:])


def alignment_to_bytes(alignment: Alignment) -> bytes:
    """Encode an alignment as an .npz archive.

    Parameters
    ----------
    alignment : Alignment
        The alignment.

    Returns
    -------
    bytes
        The archive.
    """
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
    """Decode an alignment.

    Parameters
    ----------
    data : bytes
        The archive.

    Returns
    -------
    Alignment
        The alignment.

    Raises
    ------
    LibraryTrouble
        The archive is damaged.
    """
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
        raise LibraryTrouble(sentence("A stored alignment is damaged.")) from error
