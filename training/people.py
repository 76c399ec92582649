"""Photographs of people and who is in them, for the network of marks: silhouettes by what the scout looks through.

They come out of registry packages that no bench shows (README). A silhouette serves where it looks right: which ones
do was decided by eye.
"""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.scout.networks.detector import detect
from keen_sweep.core.scout.people import silhouettes

# A package's folder, its pictures, and of the people found in each, surest first, those whose silhouettes are right.
KIT = "material-kit-2.0.4/package/assets/img/faces"
FACES = "vladmandic-face-api-1.7.15/package/demo"
SYSTEM = "soft-ui-design-system-1.0.4/package/assets/img"
RIGHT: dict[str, tuple[int, ...]] = {
    f"{KIT}/avatar.jpg": (0,),
    f"{KIT}/camp.jpg": (0,),
    f"{KIT}/card-profile4-square.jpg": (0,),
    f"{KIT}/card-profile1-square.jpg": (0,),
    f"{KIT}/christian.jpg": (0,),
    f"{SYSTEM}/brooke.jpg": (0,),
    f"{SYSTEM}/kal-visuals.jpg": (0,),
    "startbootstrap-resume-7.0.6/package/dist/assets/img/profile.jpg": (0,),
    "tracking-1.1.3/package/test/assets/faces.png": (1,),
    f"{FACES}/sample1.jpg": (0, 1),
    f"{FACES}/sample2.jpg": (1,),
    f"{FACES}/sample3.jpg": (1,),
    f"{FACES}/sample4.jpg": (0,),
    f"{FACES}/sample5.jpg": (1, 2),
}
LONGEST = 1400


@dataclass(frozen=True)
class Portrayed:
    """A photograph (H, W, 3) uint8 and somebody in it, (H, W) of 0 to 1."""

    picture: NDArray[np.uint8]
    cover: NDArray[np.float32]

    @property
    def cutout(self) -> NDArray[np.uint8]:
        """Who it is, cut out: (h, w, 4)."""
        rows, columns = np.nonzero(self.cover > 0.5)
        box = np.s_[rows.min() : rows.max() + 1, columns.min() : columns.max() + 1]
        alpha = np.rint(cv2.GaussianBlur(self.cover, (0, 0), 0.8)[box] * 255).astype(np.uint8)
        return np.ascontiguousarray(np.dstack([self.picture[box], alpha]))


def people(root: Path) -> list[Portrayed]:
    """Everybody whose silhouette is right, from packages unpacked below root."""
    out = []
    for name, right in RIGHT.items():
        picture = np.asarray(cv2.imread(str(root / name)), np.uint8)[..., ::-1]
        small = min(LONGEST / max(picture.shape[:2]), 1.0)
        picture = np.ascontiguousarray(cv2.resize(picture, None, fx=small, fy=small, interpolation=cv2.INTER_AREA))
        found = silhouettes(picture, detect(picture, 0.5, ("person",)))
        for number in right:
            box, hard = found[number]
            cover = np.zeros(picture.shape[:2], np.float32)
            cover[box.slices] = hard
            out.append(Portrayed(picture, cover))
    return out
