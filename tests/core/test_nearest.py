"""PatchMatch (Barnes et al. 2009) against exhaustive search."""

import numpy as np

from keen_sweep.core.box import whole
from keen_sweep.core.fill.weave.features import features_of, halve_known
from keen_sweep.core.fill.weave.nearest import measure, patch_distance, scatter, search
from keen_sweep.core.fill.weave.scene import REACH, make_scene


def test_the_field_comes_close_to_exhaustive_search(photograph: np.ndarray) -> None:
    pixels = np.ascontiguousarray(photograph[200:296, 60:180])
    hole = np.zeros(pixels.shape[:2], bool)
    hole[40:56, 50:68] = True
    scene = make_scene(pixels, whole(pixels), hole, np.zeros_like(hole), np.zeros_like(hole), 4.0)
    level = scene.levels[0]
    # An arbitrary content of the hole will do: both searches match the same patches.
    features = level.features

    def vectors(places: np.ndarray) -> np.ndarray:
        around = np.arange(-REACH, REACH + 1)
        rows, columns = places[:, 0, None, None] + around[:, None], places[:, 1, None, None] + around
        return features[rows, columns].reshape(len(places), -1).astype(np.float64)

    a, b = vectors(level.targets), vectors(level.sources)
    least = ((a**2).sum(1)[:, None] + (b**2).sum(1)[None] - 2 * a @ b.T).min(axis=1)
    field = np.zeros((*hole.shape, 2), np.int32)
    cost = np.full(hole.shape, -1, np.int32)
    state = np.array([12345], np.uint64)
    scatter(level.targets, level.sources, field, state)
    measure(features, level.targets, field, cost, REACH)
    shares = []
    for _ in range(8):
        search(features, level.allowed, level.targets, field, cost, REACH, 1, 120, state)
        found = cost[tuple(level.targets.T)]
        assert (found >= least).all()
        shares.append(float(np.mean(found == least)))
    # A small hole on texture is a hard case: few neighbours to learn from, many patches nearly as good.
    assert shares == sorted(shares)
    assert shares[0] < 0.15
    assert shares[-1] > 0.35
    assert found.mean() < 1.15 * least.mean()


def test_distance_is_the_sum_of_squares_and_stops_early(photograph: np.ndarray) -> None:
    features = features_of(photograph, np.ones(photograph.shape[:2], bool))
    a, b = features[97:104, 47:54].astype(int), features[197:204, 147:154].astype(int)
    exact = int(((a - b) ** 2).sum())
    assert patch_distance(features, 100, 50, 200, 150, 3, 2**31 - 1) == exact
    assert exact // 4 <= patch_distance(features, 100, 50, 200, 150, 3, exact // 4) <= exact
    # A patch that leaves the picture counts only what lies inside.
    corner = int(((features[0:4, 0:4].astype(int) - features[200:204, 150:154].astype(int)) ** 2).sum())
    assert patch_distance(features, 0, 0, 200, 150, 3, 2**31 - 1) == corner


def test_halving_looks_only_at_known_pixels() -> None:
    features = np.full((4, 4, 4), 10, np.uint8)
    features[0, 0] = 200
    hole = np.zeros((4, 4), bool)
    hole[0, 0] = True
    coarse, coarse_hole = halve_known(features, hole)
    assert (coarse == 10).all()
    assert coarse_hole.tolist() == [[True, False], [False, False]]
