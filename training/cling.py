"""Train the network that says which pixels belong to the thing that a mark means.

It sees the surroundings of the mark as core.mask.likely gives them (colours, the mark, how its colours compare with
those of what is far from it, which kind of mark it is), and what the detector's trunk sees there, as it is: that
knows everyday things, which are never drawn well enough. A U-shaped network (Ronneberger et al. 2015) with residual,
dilated layers (Yu & Koltun 2016) at its bottom. The loss is cross entropy in which a pixel that is left out costs
more than one that is too much, with the Tversky loss (Salehi et al. 2017), which does the same for whole things.
"""

from __future__ import annotations

import argparse
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from learning import Knower, knower_as_onnx, learn, taught_by
from marks import MAKERS
from numpy.typing import NDArray
from people import Portrayed, people
from things import LONG, Random, Sources, light, scene, sources

from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.mask.mark_kind import How
from keen_sweep.core.mask.pixel_likelihood import INPUT_PLANES, NETWORK_SIDE_PX, input_planes, surroundings_box
from keen_sweep.core.scout.networks.trunk import features_of

# Sides of the pictures that things are laid on, before their surroundings are cut out, pixels: what is large is seen
# shrunk and sharp, what is small swollen and soft.
SIDES = (140, 560)
# How often a thing is mirrored below its feet.
WET = 0.1
# How many marks a thing is given.
MARKS = 4
# A thing of fewer pixels is left out.
FEWEST = 100
# How often a photograph of people is taken as it is.
AS_TAKEN = 0.12
# How often the detector sees the thing.
SEEN = 0.6
Example = tuple[tuple[NDArray[Any], ...], NDArray[Any]]


def examples(random: Random, root: Path, packages: Path) -> Iterator[Example]:
    """What the network sees, (channels, SIDE, SIDE) and the trunk's features, and the truth, (1, SIDE, SIDE), 0 to 1:
    marks over one thing after another."""
    everybody = people(packages)
    made_of = sources(root)
    made_of = Sources(made_of.grounds, made_of.textures, made_of.cutouts, tuple(each.cutout for each in everybody))
    while True:
        picture, cover = _as_taken(random, everybody) if random.random() < AS_TAKEN else _made(random, made_of)
        truth = cover > 0.5
        if truth.sum() < FEWEST:
            continue
        marks = [(how, near) for _ in range(MARKS) for how, near in [_marked(random, truth)] if (near & truth).any()]
        if not marks:
            continue
        box = _jittered(random, surroundings_box(marks[0][1]), truth)
        pixels = np.ascontiguousarray(picture[box.slices])
        wanted = cv2.resize(cover[box.slices], (NETWORK_SIDE_PX, NETWORK_SIDE_PX), interpolation=cv2.INTER_AREA)[
            None
        ].clip(0, 1)
        turned = random.random() < 0.5
        if turned:
            pixels, wanted = np.ascontiguousarray(pixels[:, ::-1]), wanted[..., ::-1]
        known = features_of(pixels)
        for how, near in marks:
            there = near[box.slices]
            if there.any():
                seen = _as_detected(random, wanted[0] > 0.5, pixels.shape) if random.random() < SEEN else None
                yield (input_planes(pixels, there[:, ::-1] if turned else there, how, seen), *known), wanted


def _as_detected(random: Random, truth: NDArray[Any], shape: tuple[int, ...]) -> Box:
    """The box in which the detector sees a thing, as wrong as it is: its sides off by a few per cent, at times more."""
    box = box_of(truth) if truth.any() else whole(truth)
    spread = 0.04 if random.random() < 0.8 else 0.15
    left, right = (each + random.normal(0, spread) * box.width for each in (box.x, box.right))
    top, low = (each + random.normal(0, spread) * box.height for each in (box.y, box.bottom))
    across, down = shape[1] / NETWORK_SIDE_PX, shape[0] / NETWORK_SIDE_PX
    x, y = round(left * across), round(top * down)
    return Box(x=x, y=y, width=max(round(right * across) - x, 1), height=max(round(low * down) - y, 1))


def _marked(random: Random, truth: NDArray[Any]) -> tuple[How, NDArray[Any]]:
    how, maker = MAKERS[int(random.integers(len(MAKERS)))]
    return how, maker(random, truth) > 0


def _made(random: Random, made_of: Sources) -> tuple[NDArray[Any], NDArray[Any]]:
    side = int(np.exp(random.uniform(*np.log(SIDES))))
    made = scene(random, made_of, (side, side), _somewhere(random, side), light(random), wet=random.random() < WET)
    return made.picture, made.cover


def _as_taken(random: Random, everybody: list[Portrayed]) -> tuple[NDArray[Any], NDArray[Any]]:
    """A photograph of people, smaller and in other tones."""
    each = everybody[int(random.integers(len(everybody)))]
    scale = float(np.exp(random.uniform(np.log(0.3), 0.0)))
    picture, cover = (
        cv2.resize(plane, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
        for plane in (each.picture, each.cover)
    )
    toned = 255 * (picture / 255.0) ** random.uniform(0.6, 1.5) * random.uniform(0.8, 1.15, 3)
    return toned.clip(0, 255).astype(np.uint8), cover


def _jittered(random: Random, box: Box, truth: NDArray[Any]) -> Box:
    """The surroundings of a mark, larger or smaller, and somewhat aside; most of the thing stays in it."""
    scale, room = float(np.exp(random.uniform(-0.15, 0.35))), whole(truth)
    wide, tall = max(int(box.width * scale), 16), max(int(box.height * scale), 16)
    x = box.x + (box.width - wide) // 2 + int(random.normal(0, 0.06) * box.width)
    y = box.y + (box.height - tall) // 2 + int(random.normal(0, 0.06) * box.height)
    out = Box(x=x, y=y, width=wide, height=tall).intersect(room)
    if out.empty or truth[out.slices].sum() < 0.8 * truth.sum():
        return surroundings_box(truth)
    return out


def _somewhere(random: Random, side: int) -> tuple[int, int, int, int]:
    """A box (left, top, width, height) for a thing in a square picture: long and thin ones for pipes among them."""
    area = (side * random.uniform(0.16, 0.5)) ** 2
    long = np.exp(random.uniform(-0.9, 1.5)) if random.random() < 0.8 else np.exp(random.uniform(1.6, 3.4))
    if long > LONG and random.random() < 0.3:
        long = 1 / long
    if long > LONG or long < 1 / LONG:
        area *= random.uniform(0.15, 0.6)
    tall, wide = np.sqrt(area * long), np.sqrt(area / long)
    fits = min(1.0, 0.85 * side / max(tall, wide))
    tall, wide = max(int(tall * fits), 5), max(int(wide * fits), 5)
    left, top = (int(random.uniform(0.04, 0.96) * (side - each)) for each in (wide, tall))
    if random.random() < 0.12:  # part of it is beyond the picture's edge
        left = int(random.choice([-0.4 * wide, side - 0.6 * wide]))
    return left, top, wide, tall


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--root", type=Path, required=True, help="where Debian's packages are unpacked")
    parser.add_argument("--packages", type=Path, required=True, help="where packages of the npm registry are unpacked")
    parser.add_argument("--out", type=Path, required=True)
    parser.add_argument("--minutes", type=float, default=45)
    parser.add_argument("--seed", type=int, default=0)
    parser.add_argument(
        "--start", type=Path, help="carry on from this file (.pt), or from a network without a trunk (.onnx)"
    )
    given = parser.parse_args()
    network = Knower(INPUT_PLANES, 1)
    if given.start and given.start.suffix == ".onnx":
        taught_by(network, given.start)
        given.start = None
    learn(network, lambda random: examples(random, given.root, given.packages), knower_as_onnx, given)


if __name__ == "__main__":
    main()
