"""The cases: a picture, what hides a part of it, and the truth behind.

Pictures come from packages that every installation of the extra "bench" has (scikit-image, scikit-learn), where
the truth is the picture itself, and from the demo shoot, where it is the rendered clean twin.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from importlib.util import find_spec
from pathlib import Path
from typing import Any

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.photo.read import read_picture
from keen_sweep.demo.shoot import clean_twin, distractions, mask_of

# A colour that no picture contains: what is left of it shows through.
COVER_COLOUR = (196, 40, 150)


@dataclass(frozen=True)
class Case:
    """photo (H, W, 3) uint8 as it is given to the methods, truth the same without the distraction, mask (H, W)."""

    name: str
    kind: str
    photo: EightBit
    truth: EightBit
    mask: Bools


@dataclass(frozen=True)
class Entry:
    """A case that is made when asked for. public: its picture may be shown in our documents."""

    name: str
    kind: str
    make: Callable[[], tuple[EightBit, EightBit, Bools]]
    public: bool = False

    def load(self) -> Case:
        photo, truth, mask = self.make()
        return Case(self.name, self.kind, photo, truth, mask)


def _home(package: str) -> Path:
    """Where an installed package lies, without importing it."""
    found = find_spec(package)
    if found is None or not found.submodule_search_locations:
        raise BadRequest(f"The benchmark takes pictures from {package}: install the extra keen-sweep[bench].")
    return Path(found.submodule_search_locations[0])


def package_picture(name: str) -> EightBit:
    """A picture that scikit-image or scikit-learn ship, (H, W, 3) uint8."""
    if name in ("china.jpg", "flower.jpg"):
        folder = _home("sklearn") / "datasets" / "images"
    else:
        folder = _home("skimage") / "data"
    return to_eight_bit(read_picture(folder / name).pixels)


def _painted(shape: tuple[int, ...], draw: Callable[[Any], Any]) -> Bools:
    canvas = np.zeros(shape[:2], np.uint8)
    draw(canvas)
    return canvas > 0


def _covered(name: str, mask_for: Callable[[EightBit], Bools]) -> tuple[EightBit, EightBit, Bools]:
    """A package's picture with a flat thing in a colour of its own over the mask: it must not shine through."""
    truth = package_picture(name)
    mask = mask_for(truth)
    photo = truth.copy()
    photo[mask] = COVER_COLOUR
    return photo, truth, mask


def wire(points: list[tuple[float, float]], width: int) -> Callable[[EightBit], Bools]:
    """A line through points given as shares of the picture's sides."""

    def mask(picture: EightBit) -> Bools:
        size = np.array(picture.shape[1::-1])
        path = np.rint(np.array(points) * size).astype(np.int32)
        return _painted(picture.shape, lambda canvas: cv2.polylines(canvas, [path], False, 255, width))

    return mask


def person(x: float, foot: float, height: float) -> Callable[[EightBit], Bools]:
    """The outline of somebody standing: place of the feet and height as shares of the picture's sides."""

    def mask(picture: EightBit) -> Bools:
        h, w = picture.shape[:2]
        tall = height * h
        cx, top = x * w, foot * h - tall

        def draw(canvas: Any) -> None:
            def at(dx: float, dy: float) -> tuple[int, int]:
                return round(cx + dx * tall), round(top + dy * tall)

            cv2.circle(canvas, at(0, 0.08), round(0.075 * tall), 255, -1)
            body = np.array([at(-0.13, 0.18), at(0.13, 0.18), at(0.15, 0.52), at(-0.15, 0.52)])
            cv2.fillPoly(canvas, [body], 255)
            for side in (-1, 1):
                leg = np.array([at(side * 0.02, 0.5), at(side * 0.14, 0.5), at(side * 0.13, 1.0), at(side * 0.02, 1.0)])
                cv2.fillPoly(canvas, [leg], 255)
            cv2.line(canvas, at(0, 0.12), at(0, 0.2), 255, max(round(0.08 * tall), 1))

        return _painted(picture.shape, draw)

    return mask


def specks(count: int, seed: int, smallest: float, largest: float) -> Callable[[EightBit], Bools]:
    """Round specks all over the picture, radii in pixels."""

    def mask(picture: EightBit) -> Bools:
        random = np.random.default_rng(seed)
        h, w = picture.shape[:2]

        def draw(canvas: Any) -> None:
            for _ in range(count):
                centre = (int(random.integers(12, w - 12)), int(random.integers(12, h - 12)))
                cv2.circle(canvas, centre, round(random.uniform(smallest, largest)), 255, -1)

        return _painted(picture.shape, draw)

    return mask


def blob(x: float, y: float, share: float, seed: int = 0) -> Callable[[EightBit], Bools]:
    """A lumpy patch of a share of the picture's area."""

    def mask(picture: EightBit) -> Bools:
        h, w = picture.shape[:2]
        random = np.random.default_rng(seed)
        yy, xx = np.mgrid[0:h, 0:w]
        angle = np.arctan2(yy - y * h, xx - x * w)
        rim = np.ones_like(angle)
        for k in range(2, 6):
            rim += 0.09 * np.cos(k * angle + random.uniform(0, 6.28))
        radius = np.hypot(yy - y * h, xx - x * w) / rim
        limit = float(np.quantile(radius, share))
        return np.asarray(radius <= limit)

    return mask


def _demo(frame: str, names: tuple[str, ...], parts: tuple[str, ...], margin: int) -> tuple[EightBit, EightBit, Bools]:
    """Distractions of a demo frame, masks grown by a margin as a hand would; the others are taken out already."""
    photo, truth = clean_twin(frame)
    wanted = np.zeros(photo.shape[:2], np.uint8)
    for entry in distractions(frame):
        if entry.name.startswith(names) and entry.part in parts:
            wanted |= (mask_of(frame, entry) > (0 if entry.part == "object" else FAINT_ALPHA)).astype(np.uint8)
    grown = cv2.dilate(wanted, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * margin + 1, 2 * margin + 1))) > 0
    return np.where(grown[..., None], photo, truth), truth, grown


def _on_clean(frame: str, mask_for: Callable[[EightBit], Bools]) -> tuple[EightBit, EightBit, Bools]:
    truth = clean_twin(frame)[1]
    mask = mask_for(truth)
    photo = truth.copy()
    photo[mask] = COVER_COLOUR
    return photo, truth, mask


# Fainter shadows and mirror images would not be marked, of 255.
FAINT_ALPHA = 48
ALL_PARTS = ("object", "shadow", "mirror")


def _package(name: str, kind: str, file: str, mask: Callable[[EightBit], Bools]) -> Entry:
    return Entry(name, kind, partial(_covered, file, mask))


def _shoot(
    name: str, kind: str, frame: str, names: tuple[str, ...], margin: int = 4, parts: tuple[str, ...] = ALL_PARTS
) -> Entry:
    return Entry(name, kind, partial(_demo, frame, names, parts, margin), public=True)


ALL_CASES: tuple[Entry, ...] = (
    _package("wire on sky", "wire", "rocket.jpg", wire([(0.05, 0.1), (0.5, 0.19), (0.98, 0.14)], 4)),
    _package("wires on a temple", "wire", "china.jpg", wire([(0.0, 0.30), (0.5, 0.40), (1.0, 0.36)], 7)),
    _package("strand on fur", "wire", "chelsea.png", wire([(0.2, 0.02), (0.42, 0.45), (0.5, 0.98)], 5)),
    _package("pole on sky and grass", "wire", "camera.png", wire([(0.82, 0.0), (0.80, 1.0)], 14)),
    _package("dust on a rocket", "specks", "rocket.jpg", specks(24, 3, 3, 11)),
    _package("dust on an eye", "specks", "retina.jpg", specks(30, 5, 4, 20)),
    _package("specks on a cat", "specks", "chelsea.png", specks(18, 7, 3, 9)),
    _package("person on grass", "person", "grass.png", person(0.45, 0.85, 0.55)),
    _package("person on gravel", "person", "gravel.png", person(0.55, 0.8, 0.5)),
    _package("person on brick", "person", "brick.png", person(0.5, 0.9, 0.6)),
    _package("person before a temple", "person", "china.jpg", person(0.32, 0.95, 0.42)),
    _package("person beside a cup", "person", "coffee.png", person(0.86, 0.95, 0.5)),
    _package("bar over a fence", "person", "motorcycle_left.png", wire([(0.02, 0.25), (0.22, 0.97)], 14)),
    _package("blob on petals", "blob", "flower.jpg", blob(0.38, 0.22, 0.02, 2)),
    _package("twelve per cent of a wall", "large", "brick.png", blob(0.4, 0.5, 0.12, 4)),
    _package("blob on a table", "large", "coffee.png", blob(0.13, 0.62, 0.035, 4)),
    _package("blob among stars", "blob", "hubble_deep_field.jpg", blob(0.5, 0.5, 0.025, 6)),
    _package("tissue", "blob", "ihc.png", blob(0.45, 0.55, 0.05, 8)),
    _package("several on a portrait", "several", "astronaut.png", specks(9, 11, 4, 9)),
    _shoot("cables over the glasshouse", "wire", "ov-0412", ("cable",), 3),
    _shoot("visitors on the path", "person", "ov-0412", ("visitor",)),
    _shoot("hose and litter", "several", "ov-0412", ("hose", "crumpled", "small", "cup")),
    _shoot("visitors between hedges", "person", "ov-0431", ("visitor in",)),
    _shoot("drainpipe", "wire", "ov-0458", ("drainpipe",)),
    _shoot("bicycle at the wall", "large", "ov-0458", ("bicycle",)),
    # Its shadows are too soft for anybody to mark.
    _shoot(
        "studio clutter", "several", "ov-0521", ("light stand", "tape", "left clamp", "right clamp"), parts=("object",)
    ),
    Entry("600 x 900 in 24 MP", "huge", partial(_on_clean, "ov-0459", blob(0.62, 0.72, 0.0178, 9)), public=True),
)
