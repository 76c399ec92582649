"""Train the network that proposes the shadow and the mirror image of a marked thing.

It sees the thing with as much round it as its shadow may reach (core.mask.cast): colours, the mask, and how light each
place is against what is round it. Shadows of other things, stains and dark ground are in the pictures as well.
"""

from __future__ import annotations

import argparse
from pathlib import Path

import cv2
import numpy as np
from learning import Seer, learn, seer_as_onnx
from things import Random, Sources, scene

from keen_sweep.core.mask.cast import SIDE, seen_by_network

# The picture that a thing is laid on, before its surroundings are cut out.
LARGE = 320


def example(random: Random, made_of: Sources) -> tuple[np.ndarray, np.ndarray]:
    """What the network sees, (channels, SIDE, SIDE), and the truth, (2, SIDE, SIDE), 0 to 1: shadow, mirror image."""
    while True:
        tall = int(LARGE * random.uniform(0.14, 0.4))
        wide = int(np.clip(tall * np.exp(random.uniform(-1.3, 0.7)), 0.05 * LARGE, 0.4 * LARGE))
        left, top = int(random.uniform(0.15, 0.85) * (LARGE - wide)), int(random.uniform(0.25, 0.75) * (LARGE - tall))
        made = scene(random, made_of, LARGE, LARGE, (left, top, wide, tall))
        thing = made.cover > 0.5
        if thing.sum() < 100:
            continue
        # As marked: by a pixel or two too much or too little.
        by = int(random.integers(-2, 5))
        kernel = np.ones((abs(by) + 1,) * 2, np.uint8)
        grown = (cv2.dilate if by > 0 else cv2.erode)(thing.astype(np.uint8), kernel) > 0
        if not grown.any():
            continue
        box, given = seen_by_network(made.picture, grown)
        truth = np.stack([np.where(grown, 0, each)[box.slices] for each in (made.shadow, made.mirror)], 2)
        wanted = cv2.resize(truth.astype(np.float32), (SIDE, SIDE), interpolation=cv2.INTER_AREA)
        # What is hardly there is not to be found.
        return given, (wanted.transpose(2, 0, 1) > 0.4).astype(np.float32)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--root", type=Path, required=True, help="where Debian's packages are unpacked")
    parser.add_argument("--out", type=Path, required=True)
    parser.add_argument("--minutes", type=float, default=45)
    parser.add_argument("--seed", type=int, default=0)
    parser.add_argument("--start", type=Path, help="carry on from this file (.pt)")
    given = parser.parse_args()
    learn(Seer(5, 2), example, seer_as_onnx, given)


if __name__ == "__main__":
    main()
