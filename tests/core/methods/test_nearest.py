"""PatchMatch (Barnes et al. 2009) against exhaustive search."""

from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray
from skimage.color import rgb2lab

from keen_sweep.core.box import whole
from keen_sweep.core.fill.weave.features import FEATURE_STEPS, TEXTURE_WEIGHT, colours_of, features_of, halve_known
from keen_sweep.core.fill.weave.scene import PATCH_RADIUS_PX, make_scene
from keen_sweep.core.methods.patchmatch import NO_BOUND, measure, patch_distance, scatter, search
from keen_sweep.core.methods.setting import NO_SETTING


def test_the_field_comes_close_to_exhaustive_search(photograph: NDArray[Any]) -> None:
    pixels = np.ascontiguousarray(photograph[200:296, 60:180])
    hole = np.zeros(pixels.shape[:2], bool)
    hole[40:56, 50:68] = True
    scene = make_scene(pixels, whole(pixels), hole, np.zeros_like(hole), np.zeros_like(hole), 4.0)
    level = scene.levels[0]
    # An arbitrary content of the hole will do: both searches match the same patches.
    there = level.there
    here = np.ascontiguousarray(there[level.window.slices])
    corner = np.array([level.window.y, level.window.x])

    def vectors(places: NDArray[Any]) -> NDArray[Any]:
        around = np.arange(-PATCH_RADIUS_PX, PATCH_RADIUS_PX + 1)
        rows, columns = places[:, 0, None, None] + around[:, None], places[:, 1, None, None] + around
        return there[rows, columns].reshape(len(places), -1).astype(np.float64)

    a, b = vectors(level.targets + corner), vectors(level.sources)
    least = ((a**2).sum(1)[:, None] + (b**2).sum(1)[None] - 2 * a @ b.T).min(axis=1)
    field = np.zeros((*here.shape[:2], 2), np.int32)
    cost = np.full(here.shape[:2], -1, np.int32)
    state = np.array([12345], np.uint64)
    scatter(level.targets, level.sources, field, state)
    measure(here, there, level.targets, field, cost, PATCH_RADIUS_PX, NO_SETTING)
    shares = []
    for _ in range(8):
        search(here, there, level.allowed, level.targets, field, cost, PATCH_RADIUS_PX, 1, 120, state, NO_SETTING)
        found = cost[tuple(level.targets.T)]
        assert (found >= least - 0.5).all()
        assert level.allowed[tuple(field[tuple(level.targets.T)].T)].all()
        shares.append(float(np.mean(found <= least + 0.5)))
    # A small hole on texture is a hard case: few neighbours to learn from, many patches nearly as good.
    assert shares == sorted(shares)
    assert shares[0] < 0.2
    assert shares[-1] > 0.3
    assert found.mean() < 1.35 * least.mean()


def test_distance_is_the_sum_of_squares_and_stops_early(photograph: NDArray[Any]) -> None:
    there = features_of(photograph, np.ones(photograph.shape[:2], bool))
    here = np.ascontiguousarray(there[60:140, 20:90])  # its corner at (60, 20)
    a, b = there[97:104, 47:54].astype(int), there[197:204, 147:154].astype(int)
    exact = int(((a - b) ** 2).sum())
    assert patch_distance(here, there, 40, 30, 200, 150, 3, NO_BOUND) == exact
    assert exact // 4 <= patch_distance(here, there, 40, 30, 200, 150, 3, exact // 4) <= exact
    # A patch that leaves the window counts only what lies inside; so does one of another size.
    corner = int(((here[0:4, 0:4].astype(int) - there[200:204, 150:154].astype(int)) ** 2).sum())
    assert patch_distance(here, there, 0, 0, 200, 150, 3, NO_BOUND) == corner
    small = int(((here[38:43, 28:33].astype(int) - there[198:203, 148:153].astype(int)) ** 2).sum())
    assert patch_distance(here, there, 40, 30, 200, 150, 2, NO_BOUND) == small


def test_features_are_lab_and_the_slope_of_luma(photograph: NDArray[Any]) -> None:
    known = np.ones(photograph.shape[:2], bool)
    found = features_of(photograph, known)
    lab = rgb2lab(photograph)
    # Between scikit-image and OpenCV lie the last digits of the white point.
    assert np.abs(colours_of(found) - lab).max() < 0.5
    y, x = np.mgrid[:40, :50]
    ramp = np.repeat((3 * x + 2 * y)[..., None], 3, axis=2).astype(np.uint8)
    slope = features_of(ramp, np.ones(ramp.shape[:2], bool))[20, 25, 3] / FEATURE_STEPS / TEXTURE_WEIGHT
    assert slope == pytest.approx(np.hypot(3, 2), abs=0.1)
    deep = features_of(photograph.astype(np.uint16) * 257, known)
    assert np.abs(deep.astype(int) - found).max() <= 4


def test_halving_looks_only_at_known_pixels() -> None:
    features = np.full((4, 4, 4), 10, np.int16)
    known = np.ones((4, 4), bool)
    features[0, 0], known[0, 0] = 200, False
    features[2:, 2:], known[2:, 2:] = 300, False
    coarse, coarse_known = halve_known(features, known)
    assert (coarse[coarse_known] == 10).all()
    assert coarse_known.tolist() == [[True, True], [True, False]]
