"""Fit the weights by which suns are judged: on made pictures of things with one sun each, and in shade.

python training/suns.py --root /tmp/pictures        (needs scikit-learn)
"""

from __future__ import annotations

import argparse
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray
from sklearn.linear_model import LogisticRegression
from sklearn.metrics import roc_auc_score
from sklearn.model_selection import GroupKFold, cross_val_predict
from sklearn.pipeline import make_pipeline
from sklearn.preprocessing import StandardScaler
from things import Light, Random, Sources, light, scene, sources

from keen_sweep.core.box import box_of
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.shadow import ShadowEvidence, shadow_evidence
from keen_sweep.core.mask.sun_projection import SUN_CANDIDATES, projected_outline

# Sides of a picture, pixels.
ACROSS = 380
DOWN = 280
# One picture in so many lies in shade.
SHADE = 3
# A sun leaves no more of the light than this where it throws a shadow.
DARK = 0.75
# A shadow with more light than this, of 255, is seen; what is darker is black anyway.
SEEN = 12
# A sun is right where the outline that it throws overlaps the shadow by this share of both.
RIGHT = 0.35
# So many suns are looked at in a picture.
LOOKED_AT = 6


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--root", type=Path, required=True, help="where Debian's packages are unpacked")
    parser.add_argument("--pictures", type=int, default=330)
    parser.add_argument("--seed", type=int, default=12)
    given = parser.parse_args()
    random, made_of = np.random.default_rng(given.seed), sources(given.root)
    rows, truths, groups = [], [], []
    for number in range(given.pictures):
        throws, shadow = example(random, made_of, in_sun=number % SHADE > 0)
        for k in likeliest(throws):
            thrown = projected_outline(SUN_CANDIDATES[k], throws.body) & ~throws.body
            rows.append(_heard(throws, k))
            truths.append((thrown & shadow).sum() > RIGHT * max((thrown | shadow).sum(), 1))
            groups.append(number)
    seen, right = np.stack(rows), np.array(truths)
    model = make_pipeline(StandardScaler(), LogisticRegression())
    guess = cross_val_predict(model, seen, right, groups=groups, cv=GroupKFold(5), method="predict_proba")[:, 1]
    area = roc_auc_score(right, guess)
    print(f"{len(right)} suns, {right.sum()} right; area under the curve, pictures apart: {area:.3f}")
    model.fit(seen, right)
    scale, fitted = model[0], model[1]
    weights = fitted.coef_[0] / scale.scale_
    print(
        "CONSTANT, WEIGHTS =",
        round(float(fitted.intercept_[0] - weights @ scale.mean_), 2),
        tuple(float(w) for w in weights.round(2)),
    )


def example(random: Random, made_of: Sources, in_sun: bool) -> tuple[ShadowEvidence, NDArray[Any]]:
    """What is known of a thing's surroundings, and its shadow at their size; as marked, by some pixels too much."""
    while True:
        tall = int(DOWN * random.uniform(0.25, 0.5))
        wide = int(np.clip(tall * np.exp(random.uniform(-1.3, 0.3)), 0.06 * ACROSS, 0.4 * ACROSS))
        box = (int(random.uniform(0.25, 0.75) * (ACROSS - wide)), int(random.uniform(0.3, 0.8) * (DOWN - tall)))
        at = sun_of(random) if in_sun else None
        made = scene(random, made_of, (ACROSS, DOWN), (*box, wide, tall), at, wet=False)
        thing = made.cover > 0.5
        shadow = (made.shadow > 0.4) & ~thing
        if thing.sum() < 100 or (in_sun and (shadow.sum() < 40 or made.picture[shadow].mean() <= SEEN)):
            continue
        side = 2 * int(random.integers(0, 4)) + 1
        grown = cv2.dilate(thing.astype(np.uint8), np.ones((side, side), np.uint8)) > 0
        tight = box_of(grown)
        throws = shadow_evidence(made.picture, Mask(tight, np.where(grown[tight.slices], 255, 0).astype(np.uint8)))
        if throws is None:
            continue
        part = shadow[throws.box.slices].astype(np.float32) * in_sun
        size = throws.body.shape[::-1]
        return throws, cv2.resize(part, size, interpolation=cv2.INTER_AREA) > 0.5


def sun_of(random: Random) -> Light:
    """A light that throws a shadow which is seen."""
    while True:
        at = light(random)
        if at is not None and at.left.mean() <= DARK:
            return at


def _heard(throws: ShadowEvidence, k: int) -> NDArray[np.float64]:
    """The signs of a sun that has some."""
    signs = throws.signs[k]
    assert signs is not None
    return signs


def likeliest(throws: ShadowEvidence) -> Iterator[int]:
    """Suns that speak for themselves, no two alike, the loudest first."""
    signs = throws.signs
    order = sorted((k for k, each in enumerate(signs) if each is not None), key=lambda k: -_heard(throws, k)[0])
    taken: list[int] = []
    for k in order:
        if len(taken) < LOOKED_AT and not any(SUN_CANDIDATES[k].like(SUN_CANDIDATES[j]) for j in taken):
            taken.append(k)
            yield k


if __name__ == "__main__":
    main()
