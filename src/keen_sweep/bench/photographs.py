"""Photographs in which something runs through the hole: a kerb, a plank, a horizon, a façade, a boat's side.

They come from Debian's packages of desktop pictures, of a planetarium's landscapes and of a game's textures, and from
frames of the demo shoot that no other case shows. The truth is the picture itself. Every second one is kept back:
nobody looks at its fills while the engine is being tuned.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from zipfile import ZipFile

import cv2
import imagecodecs
import numpy as np

from keen_sweep.bench.cases import COVER_COLOUR, Entry, blob, person, wire
from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.errors import BadPicture, BadRequest
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.photo.read import read_picture
from keen_sweep.demo.shoot import clean_twin

Shape = Callable[[EightBit], Bools]
# Debian packages that contain the pictures, bookworm.
DEBIAN_PACKAGES = (
    "plasma-workspace-wallpapers",
    "lomiri-wallpapers-16.04",
    "lomiri-wallpapers-20.04",
    "mate-backgrounds",
    "stellarium-data",
    "ufoai-textures",
)
PHOTOGRAPH_KIND = "photograph"
KEPT_BACK_KIND = "photograph, kept back"
PLASMA_PATH = "usr/share/wallpapers/{}/contents/images/2560x1600.jpg"
BACKGROUND_PATH = "usr/share/backgrounds/{}.jpg"


@dataclass(frozen=True)
class Photograph:
    """A case: where its picture is below the folder of Debian's packages, what of it is shown (left, top, right, bottom
    as shares of its sides), and what hides a part of that."""

    name: str
    file: str
    crop: tuple[float, float, float, float]
    hides: Shape


def _crop(picture: EightBit, shares: tuple[float, float, float, float]) -> EightBit:
    height, width = picture.shape[:2]
    left, top, right, bottom = (round(s * side) for s, side in zip(shares, (width, height) * 2, strict=True))
    return np.ascontiguousarray(picture[top:bottom, left:right])


def _read(root: Path, file: str) -> EightBit:
    """A picture of a package; of a panorama in pieces, the row of all of them; of an archive, what is in it."""
    if ":" in file:
        archive, inner = file.split(":")
        with ZipFile(root / archive) as pack:
            return np.array(imagecodecs.imread(pack.read(inner)), np.uint8)[..., :3].copy()
    if "[" in file:
        pieces = [to_eight_bit(read_picture(each).pixels) for each in sorted(root.glob(file))]
        if not pieces:
            raise FileNotFoundError(file)
        return np.ascontiguousarray(np.hstack(pieces))
    return to_eight_bit(read_picture(root / file).pixels)


def _in_perspective(flat: EightBit) -> EightBit:
    """A texture as a wall or a floor that runs away from who looks: 2000 x 1100, nothing of it twice."""
    side = float(flat.shape[0])
    seen_of_it = np.array([[0, 0.04], [1, 0.2], [1, 0.8], [0, 1]], np.float32) * side
    to = np.array([[0, 0], [2000, 0], [2000, 1100], [0, 1100]], np.float32)
    transform = cv2.getPerspectiveTransform(seen_of_it, to)
    return np.asarray(cv2.warpPerspective(flat, transform, (2000, 1100), flags=cv2.INTER_CUBIC), np.uint8)


def _make(which: Photograph, root: Path) -> tuple[EightBit, EightBit, Bools]:
    if which.file.startswith("ov-"):
        whole = clean_twin(which.file)[1]
    else:
        try:
            whole = _read(root, which.file)
        except (FileNotFoundError, BadPicture) as error:
            raise BadRequest(
                f"{which.file} is not below {root}: it comes with one of Debian's packages {', '.join(DEBIAN_PACKAGES)}."
            ) from error
    if ":" in which.file:
        whole = _in_perspective(whole)
    truth = _crop(whole, which.crop)
    mask = which.hides(truth)
    photo = truth.copy()
    photo[mask] = COVER_COLOUR
    return photo, truth, mask


ALL_PHOTOGRAPHS: tuple[Photograph, ...] = (
    Photograph("person on planks", PLASMA_PATH.format("BytheWater"), (0.2, 0.2, 1.0, 1.0), person(0.45, 0.97, 0.62)),
    Photograph("person on a pier", PLASMA_PATH.format("ColdRipple"), (0.1, 0.15, 0.9, 0.95), person(0.62, 0.9, 0.5)),
    Photograph("blob on cups", PLASMA_PATH.format("ColorfulCups"), (0.0, 0.0, 0.8, 0.8), blob(0.45, 0.5, 0.02, 3)),
    Photograph("person before boats", PLASMA_PATH.format("EveningGlow"), (0.0, 0.2, 0.8, 1.0), person(0.52, 0.9, 0.45)),
    Photograph("person before a facade", PLASMA_PATH.format("Grey"), (0.0, 0.2, 0.8, 1.0), person(0.5, 0.9, 0.55)),
    Photograph("person on a forest path", PLASMA_PATH.format("Path"), (0.1, 0.2, 0.9, 1.0), person(0.22, 0.95, 0.4)),
    Photograph("pole on a misty lake", PLASMA_PATH.format("DarkestHour"), (0.1, 0.2, 0.9, 1.0), wire([(0.5, 0.2), (0.52, 1.0)], 50)),
    Photograph("person at a shore", PLASMA_PATH.format("summer_1am"), (0.1, 0.2, 0.9, 1.0), person(0.7, 0.95, 0.4)),
    Photograph("blob on cables", BACKGROUND_PATH.format("Bridge_by_Sander_Klootwijk"), (0.35, 0.0, 0.85, 0.6), blob(0.42, 0.5, 0.012, 5)),
    Photograph("blob on a cabin", BACKGROUND_PATH.format("friends_by_Aitzol_Berasategi"), (0.0, 0.35, 1.0, 0.8), blob(0.72, 0.72, 0.02, 7)),
    Photograph("person in a stream", BACKGROUND_PATH.format("life_by_Aitzol_Berasategi"), (0.1, 0.25, 0.75, 0.9), person(0.5, 0.9, 0.45)),
    Photograph("pole before mountains", BACKGROUND_PATH.format("aitzgorri_by_Aitzol_Berasategi"), (0.15, 0.2, 0.85, 0.9), wire([(0.4, 0.0), (0.41, 1.0)], 40)),
    Photograph("person on a mountain path", BACKGROUND_PATH.format("picosdeeuropa_by_Aitzol_Berasategi"), (0.0, 0.35, 0.65, 1.0), person(0.42, 0.85, 0.4)),
    Photograph("blob on a clock", BACKGROUND_PATH.format("greentock_by_Peter_Nerlich"), (0.0, 0.1, 0.75, 0.85), blob(0.28, 0.45, 0.02, 9)),
    Photograph("blob on a bowl's rim", BACKGROUND_PATH.format("Picture_0B_by_freespace"), (0.1, 0.1, 0.9, 0.9), blob(0.16, 0.62, 0.02, 11)),
    Photograph("person at a tree", BACKGROUND_PATH.format("Kleiber_by_Lukas_Baubkus"), (0.05, 0.2, 0.55, 0.75), person(0.7, 0.95, 0.4)),
    Photograph("person at a guard rail", "usr/share/backgrounds/mate/nature/Storm.jpg", (0.0, 0.15, 1.0, 1.0), person(0.4, 0.95, 0.4)),
    Photograph("pole in a field", "usr/share/stellarium/landscapes/garching/garching-gl[1-4].png", (0.0, 0.0, 1.0, 1.0), wire([(0.36, 0.0), (0.36, 0.8)], 26)),
    Photograph("person at a brick wall", "usr/share/games/ufoai/base/0textures.pk3:textures/tex_mattn/wall_bricks006.png", (0.0, 0.0, 1.0, 1.0), person(0.45, 0.92, 0.62)),
    Photograph("person before a glasshouse", "ov-0413", (0.1, 0.2, 0.9, 1.0), person(0.35, 0.85, 0.35)),
    Photograph("pole between hedges", "ov-0431", (0.1, 0.1, 0.9, 1.0), wire([(0.45, 0.2), (0.46, 0.85)], 46)),
    Photograph("person at the shed", "ov-0459", (0.05, 0.3, 0.5, 0.8), person(0.5, 0.97, 0.6)),
)  # fmt: skip


def photographs(root: Path) -> Iterator[Entry]:
    """The cases below a folder into which Debian's packages were installed or unpacked; every second one is kept back.
    Loading one raises BadRequest where its package is not there."""
    for number, which in enumerate(ALL_PHOTOGRAPHS):
        public = which.file.startswith("ov-")
        yield Entry(which.name, KEPT_BACK_KIND if number % 2 else PHOTOGRAPH_KIND, partial(_make, which, root), public)
