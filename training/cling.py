"""Train the network that says which pixels belong to the thing that a scribble or an outline means.

It sees the surroundings of the mark as core.mask.likely gives them: colours, the mark, how its colours compare with
those of what is far from it, and which kind of mark it is. A U-shaped network (Ronneberger et al. 2015) with
residual, dilated layers (Yu & Koltun 2016) at its bottom; the loss is cross entropy with the soft Dice loss
(Milletari et al. 2016).
"""

from __future__ import annotations

import argparse
from collections.abc import Iterator
from pathlib import Path

import cv2
import numpy as np
from learning import Seer, learn, seer_as_onnx
from marks import box_about, outline, scribble
from things import LONG, Random, Sources, light, scene

from keen_sweep.core.mask.likely import SIDE, seen_by_network

# Sides of the pictures that things are laid on, before their surroundings are cut out: what is large is seen shrunk and
# sharp, what is small swollen and soft. How often a thing is mirrored below its feet; how many marks a thing is given.
SIDES, WET, MARKS, FEWEST = (140, 560), 0.1, 3, 100
MAKERS = (scribble, scribble, scribble, outline, outline, box_about)


def examples(random: Random, made_of: Sources) -> Iterator[tuple[np.ndarray, np.ndarray]]:
    """What the network sees, (channels, SIDE, SIDE), and the truth, (1, SIDE, SIDE), 0 to 1: marks over one thing
    after another."""
    while True:
        side = int(np.exp(random.uniform(*np.log(SIDES))))
        made = scene(random, made_of, (side, side), _somewhere(random, side), light(random), wet=random.random() < WET)
        truth = made.cover > 0.5
        if truth.sum() < FEWEST:
            continue
        for _ in range(MARKS):
            mark = MAKERS[int(random.integers(len(MAKERS)))]
            near = mark(random, truth) > 0
            if not near.any() or not (near & truth).any():
                continue
            box, given = seen_by_network(made.picture, near, "scribble" if mark is scribble else "outline")
            wanted = cv2.resize(made.cover[box.slices], (SIDE, SIDE), interpolation=cv2.INTER_AREA)[None].clip(0, 1)
            if random.random() < 0.5:
                given, wanted = given[..., ::-1], wanted[..., ::-1]
            yield given, wanted


def _somewhere(random: Random, side: int) -> tuple[int, int, int, int]:
    """A box (left, top, width, height) for a thing in a square picture: long and thin ones for pipes among them."""
    area = (side * random.uniform(0.16, 0.5)) ** 2
    long = np.exp(random.uniform(-0.9, 1.5)) if random.random() < 0.75 else np.exp(random.uniform(1.6, 3.4))
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
    parser.add_argument("--out", type=Path, required=True)
    parser.add_argument("--minutes", type=float, default=45)
    parser.add_argument("--seed", type=int, default=0)
    parser.add_argument("--start", type=Path, help="carry on from this file (.pt)")
    given = parser.parse_args()
    learn(Seer(6, 1), examples, seer_as_onnx, given)


if __name__ == "__main__":
    main()
