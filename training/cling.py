"""Train the network that says which pixels belong to the thing that a scribble or an outline means.

It sees the surroundings of the mark as core.mask.likely gives them: colours, the mark, how its colours compare with
those of what is far from it, and which kind of mark it is. A U-shaped network (Ronneberger et al. 2015) with
residual, dilated layers (Yu & Koltun 2016) at its bottom; the loss is cross entropy with the soft Dice loss
(Milletari et al. 2016).
"""

from __future__ import annotations

import argparse
from pathlib import Path

import numpy as np
from learning import Seer, learn, seer_as_onnx
from things import Random, Sources, light, outline, scene, scribble

from keen_sweep.core.box import box_of
from keen_sweep.core.mask.likely import SIDE, seen_by_network

# The picture that a thing is laid on, before its surroundings are cut out; how often it is mirrored below its feet.
LARGE, WET = 240, 0.12


def example(random: Random, made_of: Sources) -> tuple[np.ndarray, np.ndarray]:
    """What the network sees, (channels, SIDE, SIDE), and the truth, (1, SIDE, SIDE), 0 to 1."""
    while True:
        wide = int(LARGE * random.uniform(0.12, 0.55))
        tall = int(np.clip(wide * np.exp(random.uniform(-0.9, 1.6)), 0.12 * LARGE, 0.66 * LARGE))
        left, top = (int(random.uniform(0.1, 0.9) * (LARGE - side)) for side in (wide, tall))
        box = (left, top, wide, tall)
        made = scene(random, made_of, (LARGE, LARGE), box, light(random), wet=random.random() < WET)
        truth = made.cover > 0.5
        if truth.sum() < 150:
            continue
        how = "scribble" if random.random() < 0.6 else "outline"
        near = (scribble(random, truth) if how == "scribble" else outline(random, truth)) > 0
        if not near.any() or not (near & truth).any():
            continue
        box, given = seen_by_network(made.picture, near, how)
        import cv2

        wanted = cv2.resize(made.cover[box.slices], (SIDE, SIDE), interpolation=cv2.INTER_AREA)
        assert box.intersect(box_of(near)) == box_of(near)
        return given, wanted[None].clip(0, 1)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--root", type=Path, required=True, help="where Debian's packages are unpacked")
    parser.add_argument("--out", type=Path, required=True)
    parser.add_argument("--minutes", type=float, default=45)
    parser.add_argument("--seed", type=int, default=0)
    parser.add_argument("--start", type=Path, help="carry on from this file (.pt)")
    given = parser.parse_args()
    learn(Seer(6, 1), example, seer_as_onnx, given)


if __name__ == "__main__":
    main()
