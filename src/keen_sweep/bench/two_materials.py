"""Holes that lie on two materials, with where each of them is: does a hint get what it asks for?"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.bench.cases import package_picture
from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.fill.engine import FillInput, Sources
from keen_sweep.core.fill.local.engine import ByPart
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.fill.words.understood import check_words
from keen_sweep.demo.shoot import clean_twin

# Corners as shares of the picture's sides.
Corners = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Border:
    """A picture, where two materials are in it (several areas each), and a disc on or near their border to be filled:
    middle and radius as shares of the picture's sides and of the longer one."""

    picture: str
    areas: dict[str, tuple[Corners, ...]]
    hole: tuple[float, float, float]

    @property
    def name(self) -> str:
        return f"{' and '.join(self.areas)}, {self.picture}"

    def load(self) -> tuple[EightBit, Bools, dict[str, Bools]]:
        """The picture with the hole in flat magenta, the hole, and where each material is."""
        whole = clean_twin(self.picture)[1] if self.picture.startswith("ov-") else package_picture(self.picture)
        photo = np.ascontiguousarray(whole)
        height, width = photo.shape[:2]
        x, y, radius = self.hole
        hole = np.zeros((height, width), np.uint8)
        cv2.circle(hole, (round(x * width), round(y * height)), round(radius * max(width, height)), 1, -1)
        photo = photo.copy()
        photo[hole > 0] = (196, 40, 150)
        truth = {}
        for material, areas in self.areas.items():
            canvas = np.zeros((height, width), np.uint8)
            for corners in areas:
                cv2.fillPoly(canvas, [np.rint(np.array(corners) * (width, height)).astype(np.int32)], 1)
            truth[material] = canvas > 0
        # What rough corners claim for both counts for neither.
        both = np.logical_and.reduce(list(truth.values()))
        return photo, hole > 0, {material: area & ~both for material, area in truth.items()}


def _box(x0: float, y0: float, x1: float, y1: float) -> Corners:
    return ((x0, y0), (x1, y0), (x1, y1), (x0, y1))


MATERIAL_BORDERS: tuple[Border, ...] = (
    Border(
        "ov-0431",
        {"gravel": (_box(0, 0.76, 1, 1),), "foliage": (_box(0, 0.2, 0.42, 0.74), _box(0.62, 0.2, 1, 0.74))},
        (0.8, 0.74, 0.04),
    ),
    Border(
        "ov-0458",
        {"brick": (_box(0.19, 0.13, 0.77, 0.8), _box(0.19, 0.62, 1, 0.8)), "stone": (_box(0, 0.84, 1, 1),)},
        (0.5, 0.82, 0.04),
    ),
    Border(
        "ov-0459",
        {"brick": (_box(0.2, 0.15, 0.8, 0.85), _box(0.2, 0.62, 1, 0.85)), "stone": (_box(0, 0.87, 1, 1),)},
        (0.62, 0.83, 0.03),
    ),
    Border(
        "ov-0458",
        {"brick": (_box(0.19, 0.13, 0.77, 0.8), _box(0.19, 0.62, 1, 0.8)), "tiles": (_box(0, 0, 1, 0.14),)},
        (0.45, 0.16, 0.03),
    ),
    Border(
        "ov-0521",
        {
            "plaster": (_box(0, 0, 0.31, 0.68), _box(0.7, 0, 1, 0.68)),
            "wood": (((0, 0.78), (0.3, 0.76), (0.2, 1), (0, 1)), ((0.7, 0.76), (1, 0.78), (1, 1), (0.8, 1))),
        },
        (0.9, 0.76, 0.035),
    ),
    Border(
        "ov-0418",
        {
            "sky": (((0, 0), (1, 0), (1, 0.45), (0.42, 0.45), (0.3, 0.57), (0, 0.57)),),
            "foliage": (_box(0, 0.58, 0.34, 0.82), _box(0.74, 0.6, 1, 0.86)),
        },
        (0.27, 0.6, 0.04),
    ),
    Border(
        "ov-0412",
        {
            "grass": (_box(0, 0.8, 0.5, 1), _box(0.33, 0.72, 0.5, 1), _box(0.5, 0.85, 1, 1)),
            "foliage": (_box(0.13, 0.55, 0.31, 0.79), _box(0, 0.15, 0.4, 0.42), _box(0.62, 0.2, 1, 0.45)),
        },
        (0.3, 0.75, 0.03),
    ),
    Border(
        "china.jpg",
        {
            "sky": (_box(0, 0, 1, 0.44),),
            "foliage": (_box(0.6, 0.5, 1, 1), _box(0, 0.55, 0.25, 1), _box(0.85, 0.3, 1, 1)),
        },
        (0.84, 0.42, 0.05),
    ),
)


def share_of(border: Border, material: str, other: str, seed: int = 0) -> float:
    """How much of a hole is filled with what was asked for, 0 to 1: the share of its pixels that were copied from where
    the material is. The other one is to be avoided."""
    photo, hole, truth = border.load()
    found = check_words(photo, hole, material, other)
    given = FillInput(
        below=photo,
        mask=np.where(hole, 255, 0).astype(np.uint8),
        takes=1,
        seed=seed,
        quality=Quality.FAST,
        sources=Sources(draw_from=found.draw_from, barred=found.barred, foreign=found.foreign),
    )
    (take,) = ByPart(Method.WEAVE).fill(given)
    assert take.offsets is not None
    rows, columns = np.nonzero(take.alpha)
    dx, dy = take.offsets[rows, columns].T
    return float(truth[material][rows + take.box.y + dy, columns + take.box.x + dx].mean())


def run_two_materials() -> str:
    """A table of all cases, both ways round."""
    lines = ["| hole on | asked for | of the hole |", "|---|---|---|"]
    for border in MATERIAL_BORDERS:
        first, second = border.areas
        for material, other in ((first, second), (second, first)):
            lines.append(f"| {border.name} | {material} | {share_of(border, material, other):.2f} |")
    return "\n".join(lines)
