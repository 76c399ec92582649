"""Fit what the terms weigh by which fills are judged (core/fill/weave/mismatch.py).

    python training/fills.py --root / --out /tmp/fills --count 1500
    python training/judge_fills.py --fills /tmp/fills          (needs scikit-learn)

Pairs of fills of one hole, told apart by lswd against what was there; two thirds of the holes to fit on, the rest to
try it.
"""

from __future__ import annotations

import argparse
from concurrent.futures import ProcessPoolExecutor
from itertools import permutations
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray
from sklearn.linear_model import LogisticRegression

from keen_sweep.core.fill.weave.mismatch import Judge
from keen_sweep.core.review.scores import lab, lswd

TERMS = ("fine", "coarse", "unlike", "other kind")
# Pairs nearer to each other than this, as logarithms, say nothing.
APART = 0.03


def rows_of(file: Path) -> tuple[NDArray[Any], NDArray[Any]]:
    """The terms of every fill of an example, (n, 4), and its lswd, (n,)."""
    cv2.setNumThreads(1)
    with np.load(file) as found:
        truth, hole, fills = found["truth"], found["hole"], found["fills"]

    def halved(picture: NDArray[Any]) -> NDArray[Any]:
        return np.asarray(cv2.resize(picture, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA))

    small = halved(hole.astype(np.float32)) > 0
    judge = Judge(lab(halved(truth)), small, ~small)
    rows = []
    for k, fill in enumerate(fills):
        seen = judge.look(lab(halved(fill)))
        bad = [float(np.log(each.bad + 1)) for each in seen.scales]
        rows.append([bad[0], bad[-1], seen.unlike, float(k > 0)])
    return np.array(rows), np.array([lswd(fill, truth, hole) for fill in fills])


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--fills", required=True)
    asked = parser.parse_args()
    files = sorted(Path(asked.fills).glob("*.npz"))
    with ProcessPoolExecutor(2) as processes:
        examples = [each for each in processes.map(rows_of, files, chunksize=8) if len(each[1]) > 1]
    held = examples[::3]
    differences, worse = [], []
    for rows, off in (each for k, each in enumerate(examples) if k % 3):
        for i, j in permutations(range(len(off)), 2):
            if abs(np.log(off[i] + 0.1) - np.log(off[j] + 0.1)) > APART:
                differences.append(rows[i] - rows[j])
                worse.append(off[i] > off[j])
    scale = np.std(differences, axis=0)
    fitted = LogisticRegression(fit_intercept=False).fit(np.array(differences) / scale, worse)
    weights = fitted.coef_[0] / scale
    print(dict(zip(TERMS, np.round(weights / weights[0], 2).tolist(), strict=True)))
    picked = np.mean([off[int((rows @ weights).argmin())] for rows, off in held])
    mean, best = (np.mean([how(off) for _, off in held]) for how in (np.mean, np.min))
    print(f"held out: picked {picked:.3f}, mean {mean:.3f}, best {best:.3f}")


if __name__ == "__main__":
    main()
