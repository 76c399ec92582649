"""The demo shoot's frames, their clean twins and the masks of their distractions, as files tell them."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import Literal

import imagecodecs
import numpy as np
from pydantic import BaseModel, ConfigDict

from keen_sweep.core.arrays import Doubles, EightBit
from keen_sweep.core.photo.read import read_picture

PICTURES_FOLDER = Path(__file__).parent / "pictures"
Kind = Literal["person", "wire", "pole", "litter", "hose", "reflection", "speck", "backdrop clutter", "thing"]


class Distraction(BaseModel):
    """Something in a frame that should go: what part of it the mask shows, and the mask's file and box."""

    model_config = ConfigDict(frozen=True)

    name: str
    kind: Kind
    part: Literal["object", "shadow", "mirror"]
    mask: str
    box: tuple[int, int, int, int]
    # Of specks only: middle and diameter in pixels, and the share of light lost in the middle.
    x: float | None = None
    y: float | None = None
    diameter: float | None = None
    depth: float | None = None


Vector = tuple[float, float, float]


class Camera(BaseModel):
    """How a frame was taken: where from, towards what, what pointed up; fov: across, degrees."""

    model_config = ConfigDict(frozen=True)

    at: Vector
    look: Vector
    up: Vector
    fov: float

    @property
    def axes(self) -> tuple[Doubles, Doubles, Doubles]:
        """Unit vectors to the right, up and ahead in the picture."""
        ahead = np.subtract(self.look, self.at)
        ahead /= np.linalg.norm(ahead)
        right = np.cross(ahead, self.up)
        right /= np.linalg.norm(right)
        return right, np.cross(right, ahead), ahead


class Facts(BaseModel):
    """What the JSON beside a frame says; depth: the file that tells how far everything is, of a burst."""

    model_config = ConfigDict(frozen=True)

    frame: str
    clean: str
    distractions: tuple[Distraction, ...]
    reflection: str | None = None
    depth: str | None = None
    camera: Camera | None = None


def frames() -> list[str]:
    """The names of the frames in the order of the shoot."""
    return sorted(file.stem for file in PICTURES_FOLDER.glob("*.json"))


@cache
def facts(frame: str) -> Facts:
    """What is known of a frame."""
    return Facts.model_validate_json((PICTURES_FOLDER / f"{frame}.json").read_text())


def distractions(frame: str) -> tuple[Distraction, ...]:
    """What should go from a frame."""
    return facts(frame).distractions


def mask_of(frame: str, which: Distraction) -> EightBit:
    """How much of each pixel a distraction covers, (H, W), 0 to 255."""
    whole = np.asarray(imagecodecs.png_decode((PICTURES_FOLDER / which.mask).read_bytes()), np.uint8)
    x, y, width, height = which.box
    out = np.zeros_like(whole)
    out[y : y + height, x : x + width] = whole[y : y + height, x : x + width]
    return out


def clean_twin(frame: str) -> tuple[EightBit, EightBit]:
    """The frame as shot and its clean twin, both (H, W, 3) uint8.

    The twin is stored as an overlay, transparent where it equals the frame: beyond the touched area the two
    are the same to the bit.
    """
    known = facts(frame)
    shot = np.asarray(read_picture(PICTURES_FOLDER / known.frame).pixels, np.uint8)
    overlay = np.asarray(imagecodecs.png_decode((PICTURES_FOLDER / known.clean).read_bytes()), np.uint8)
    return shot, np.where(overlay[..., 3:] > 0, overlay[..., :3], shot)
