"""Train the network that proposes the shadow and the mirror image of a marked thing.

It sees the thing with as much round it as its shadow may reach (core.mask.cast): colours, the mask, how light each
place is against what is round it, and, where a sun is known from another thing, where that throws it. Shadows of other
things, stains and dark ground are in the pictures as well.
"""

from __future__ import annotations

import argparse
from pathlib import Path

import cv2
import numpy as np
from learning import Seer, learn, seer_as_onnx
from things import Light, Random, Sources, light, scene

from keen_sweep.core.mask.cast import TALL, WIDE, seen_by_network
from keen_sweep.core.mask.sun import Sun

# The picture that a thing is laid on, before its surroundings are cut out.
ACROSS, DOWN = 380, 280
# How often there is a sun, a mirror below, and a sun known beforehand.
SUNNY, WET, KNOWN = 0.9, 0.25, 0.5
# What is fainter than this is not to be found.
FAINT = 0.78
# Nor a shadow on ground that is as good as black, levels of 255.
DARK = 12


def example(random: Random, made_of: Sources) -> tuple[np.ndarray, np.ndarray]:
    """What the network sees, (6, TALL, WIDE), and the truth, (2, TALL, WIDE), 0 or 1: shadow, mirror image."""
    while True:
        tall = int(DOWN * random.uniform(0.18, 0.5))
        wide = int(np.clip(tall * np.exp(random.uniform(-1.3, 0.7)), 0.06 * ACROSS, 0.4 * ACROSS))
        left, top = int(random.uniform(0.1, 0.9) * (ACROSS - wide)), int(random.uniform(0.15, 0.9) * (DOWN - tall))
        at = sun_of(random)
        made = scene(random, made_of, (ACROSS, DOWN), (left, top, wide, tall), at, wet=random.random() < WET)
        thing, shaded = made.cover > 0.5, made.shadow > 0.4
        if thing.sum() < 100 or (shaded.any() and made.picture[shaded].mean() < DARK):
            continue
        # As marked: by a pixel or two too much or too little.
        by = int(random.integers(-2, 4))
        kernel = np.ones((abs(by) + 1,) * 2, np.uint8)
        grown = (cv2.dilate if by > 0 else cv2.erode)(thing.astype(np.uint8), kernel) > 0
        if not grown.any():
            continue
        box, given = seen_by_network(made.picture, grown, _known(random, at))
        faint = at is not None and at.left.mean() > FAINT
        truth = np.stack([np.where(grown, 0, each) for each in (made.shadow * (not faint), made.mirror)], 2)
        padded = np.zeros((box.height, box.width, 2), np.float32)
        inside = box.intersect(type(box)(x=0, y=0, width=ACROSS, height=DOWN))
        padded[inside.relative_to(box).slices] = truth[inside.slices]
        wanted = cv2.resize(padded, (WIDE, TALL), interpolation=cv2.INTER_AREA)
        return given, (wanted.transpose(2, 0, 1) > 0.4).astype(np.float32)


def sun_of(random: Random) -> Light | None:
    """A light as often as the network should see one."""
    if random.random() > SUNNY:
        return None
    while True:
        at = light(random)
        if at is not None:
            return at


def _known(random: Random, at: Light | None) -> Sun | None:
    """What another thing of the frame said of the sun: nearly right, or of a sun that does not shine here."""
    if random.random() > KNOWN:
        return None
    if at is None:
        return Sun(float(random.uniform(-2, 2)), float(random.uniform(-0.6, 0.6)))
    across, down = at.sun
    return Sun(float(across + random.normal(0, 0.08)), float(down + random.normal(0, 0.03)))


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--root", type=Path, required=True, help="where Debian's packages are unpacked")
    parser.add_argument("--out", type=Path, required=True)
    parser.add_argument("--minutes", type=float, default=45)
    parser.add_argument("--seed", type=int, default=0)
    parser.add_argument("--start", type=Path, help="carry on from this file (.pt)")
    given = parser.parse_args()
    learn(Seer(6, 2), example, seer_as_onnx, given, weight=3.0)


if __name__ == "__main__":
    main()
