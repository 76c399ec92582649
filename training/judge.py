"""Fit the weights by which the wire scout judges curves: on drawn pictures, of which the network has seen the like.

python training/judge.py        (after training/wires.py; needs scikit-learn)
"""

from __future__ import annotations

import cv2
import numpy as np
from drawn import example, photographs
from sklearn.linear_model import LogisticRegression

from keen_sweep.core.scout.curves import curves_in
from keen_sweep.core.scout.networks.lines import wire_likelihood
from keen_sweep.core.scout.wires import MIN_LENGTH_SHARE, features_of

# Side of a picture, pixels, and how many of them.
SIDE = 768
PICTURES = 220


def main() -> None:
    random, photos = np.random.default_rng(77), photographs()
    rows, truths = [], []
    for _ in range(PICTURES):
        picture, truth = example(random, photos, SIDE)
        likelihood = wire_likelihood(picture)
        near = cv2.dilate((truth > 100).astype(np.uint8), np.ones((7, 7), np.uint8))
        curves = curves_in(likelihood)
        for curve, features in zip(curves, features_of(curves, likelihood), strict=True):
            if features.length < MIN_LENGTH_SHARE:
                continue
            places = np.clip(np.rint(curve.points(1.0)).astype(int), 0, SIDE - 1)
            rows.append(features.row)
            truths.append(float(near[places[:, 1], places[:, 0]].mean()) > 0.6)
    wires = int(sum(truths))
    print(f"{len(rows)} curves, {wires} of them wires")
    # False finds cost a photographer more than missed ones.
    model = LogisticRegression(fit_intercept=False, C=3.0, class_weight={False: 2.0, True: 1.0}, max_iter=5000)
    model.fit(np.stack(rows), truths)
    print("WEIGHTS =", tuple(round(float(w), 2) for w in model.coef_[0]))
    guess = model.predict(np.stack(rows))
    print("found", np.mean(guess[np.array(truths)]), "right", np.mean(np.array(truths)[guess]))


if __name__ == "__main__":
    main()
