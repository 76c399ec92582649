"""The sliced Wasserstein distance (Rabin, Peyre, Delon & Bernot 2011) against SciPy's, and the laws of a distance."""

from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.stats import wasserstein_distance

from keen_sweep.core.methods.sliced_distance import patches, sliced_distance, unit_directions


def clouds(seed: int, first: int, second: int, dimensions: int = 5) -> tuple[NDArray[Any], NDArray[Any]]:
    random = np.random.default_rng(seed)
    a = random.normal(0, 1, (first, dimensions)).astype(np.float32)
    b = random.normal(0.4, 1.7, (second, dimensions)).astype(np.float32)
    return a, b


@pytest.mark.parametrize("seed", range(4))
def test_it_is_the_mean_of_scipys_distance_over_the_directions(seed: int) -> None:
    a, b = clouds(seed, 300, 300)
    across = unit_directions(5, 128)
    expected = np.mean([wasserstein_distance(a @ way, b @ way) for way in across.T])
    assert sliced_distance(a, b) == pytest.approx(expected, rel=1e-5)


def test_clouds_of_different_size_come_near_to_it() -> None:
    a, b = clouds(9, 2_000, 700)
    across = unit_directions(5, 128)
    expected = np.mean([wasserstein_distance(a @ way, b @ way) for way in across.T])
    assert sliced_distance(a, b) == pytest.approx(expected, rel=0.01)


def test_it_is_a_distance() -> None:
    a, b = clouds(2, 200, 200)
    c, _ = clouds(3, 200, 200)
    assert sliced_distance(a, a) == 0
    assert sliced_distance(a, b) == pytest.approx(sliced_distance(b, a), rel=1e-6)
    assert sliced_distance(a, b) <= sliced_distance(a, c) + sliced_distance(c, b) + 1e-6
    moved = a + np.float32(3)
    along = np.abs(unit_directions(5, 128).sum(axis=0)).mean()
    assert sliced_distance(a, moved) == pytest.approx(3 * along, rel=1e-4)


def test_patches_are_those_round_the_places_and_mirrored_at_the_edge() -> None:
    planes = np.random.default_rng(1).random((20, 24, 2)).astype(np.float32)
    where = np.zeros((20, 24), bool)
    where[10, 12] = where[0, 0] = True
    corner, middle = patches(planes, where).reshape(2, 2, 7, 7)
    assert np.array_equal(middle, planes[7:14, 9:16].transpose(2, 0, 1))
    mirrored = np.pad(planes, ((3, 0), (3, 0), (0, 0)), mode="reflect")[:7, :7]
    assert np.array_equal(corner, mirrored.transpose(2, 0, 1))
    everywhere = np.ones((20, 24), bool)
    assert np.array_equal(patches(planes, everywhere, 50), patches(planes, everywhere, 50))
    assert len(patches(planes, everywhere, 50)) == 50
