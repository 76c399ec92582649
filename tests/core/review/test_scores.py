"""The scores against their definitions and against scikit-image where it has them."""

from typing import Any

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.signal import convolve2d
from scipy.stats import wasserstein_distance
from skimage import metrics

from keen_sweep.core.methods.sliced_distance import patches, sliced_distance, unit_directions
from keen_sweep.core.review import scores as s


@pytest.fixture(scope="module")
def pair(photograph: NDArray[Any]) -> tuple[NDArray[Any], NDArray[Any]]:
    truth = photograph[40:200, 100:300].copy()
    return cv2.GaussianBlur(truth, (0, 0), 1.4), truth


def hole(shape: tuple[int, ...]) -> NDArray[Any]:
    mask = np.zeros(shape[:2], bool)
    mask[50:110, 60:140] = True
    return mask


def test_nothing_to_choose_between_equal_pictures(pair: tuple[NDArray[Any], NDArray[Any]]) -> None:
    _, truth = pair
    found = s.scores(truth, truth, hole(truth.shape))
    assert found["swd"] == 0
    assert found["gmsd"] == 0
    assert found["sharp"] == found["seam"] == 1
    assert found["ssim"] == pytest.approx(1)


def test_psnr_and_ssim_agree_with_scikit_image(pair: tuple[NDArray[Any], NDArray[Any]]) -> None:
    blurred, truth = pair
    mask = hole(truth.shape)
    where = (slice(50, 110), slice(60, 140))
    expected = metrics.peak_signal_noise_ratio(truth[where], blurred[where], data_range=255)
    assert s.psnr(blurred, truth, mask) == pytest.approx(expected)
    _, full = metrics.structural_similarity(s.grey(truth), s.grey(blurred), data_range=255, full=True)
    assert s.ssim(blurred, truth, mask) == pytest.approx(full[where].mean(), abs=1e-5)


def test_gmsd_is_the_one_of_its_paper(pair: tuple[NDArray[Any], NDArray[Any]]) -> None:
    """Xue et al. 2014 write it so: 2 x 2 mean, every second pixel, Prewitt / 3, T = 170, standard deviation."""
    blurred, truth = pair
    maps = []
    for picture in (blurred, truth):
        mean = convolve2d(s.grey(picture).astype(float), np.full((2, 2), 0.25), mode="full")[1:, 1:]
        small = mean[::2, ::2]
        h = np.array([[1, 0, -1]] * 3) / 3
        maps.append(np.sqrt(convolve2d(small, h, "same") ** 2 + convolve2d(small, h.T, "same") ** 2))
    quality = (2 * maps[0] * maps[1] + 170) / (maps[0] ** 2 + maps[1] ** 2 + 170)
    everywhere = np.ones(truth.shape[:2], bool)
    assert s.gmsd(blurred, truth, everywhere) == pytest.approx(quality.std(), abs=2e-4)


def test_sliced_distance_is_the_mean_of_one_dimensional_ones() -> None:
    random = np.random.default_rng(4)
    a, b = random.normal(size=(300, 5)).astype(np.float32), random.normal(0.7, 1.5, size=(300, 5)).astype(np.float32)
    directions = np.random.default_rng(1).normal(size=(5, 128)).astype(np.float32)
    directions /= np.linalg.norm(directions, axis=0)
    each = [wasserstein_distance(a @ d, b @ d) for d in directions.T]
    assert sliced_distance(a, b) == pytest.approx(np.mean(each), rel=1e-4)
    assert sliced_distance(a, b[:150]) > 0


def test_scores_say_what_is_wrong(pair: tuple[NDArray[Any], NDArray[Any]]) -> None:
    blurred, truth = pair
    mask = hole(truth.shape)
    soft = np.where(mask[..., None], blurred, truth)
    lifted = truth.copy()
    lifted[mask] = np.clip(lifted[mask].astype(int) + 25, 0, 255)
    assert s.sharpness(soft, truth, mask) < 0.6
    assert s.seam(lifted, truth, mask) > 1.2
    assert s.swd(soft, truth, mask) < s.swd(lifted, truth, mask)
    # The same texture from elsewhere is nearer by swd than a flat tone is, whatever PSNR says.
    shuffled, flat = truth.copy(), truth.copy()
    shuffled[mask] = np.roll(truth, 7, axis=1)[mask]
    flat[mask] = truth[mask].mean(0)
    assert s.swd(shuffled, truth, mask) < s.swd(flat, truth, mask)


def test_what_stands_in_the_wrong_place_moves_lswd_and_not_swd() -> None:
    """Two halves of one hole, swapped: the same patches, elsewhere (but for those on the line between the halves)."""
    random = np.random.default_rng(2)
    truth = np.empty((160, 320, 3), np.uint8)
    truth[:, :160] = random.normal(70, 12, (160, 160, 3)).clip(0, 255)
    truth[:, 160:] = random.normal(170, 12, (160, 160, 3)).clip(0, 255)
    mask = np.zeros((160, 320), bool)
    mask[20:140, 30:290] = True
    swapped = truth[:, ::-1].copy()
    again = np.hstack([random.normal(tone, 12, (160, 160, 3)).clip(0, 255) for tone in (70, 170)]).astype(np.uint8)
    assert s.swd(swapped, truth, mask) < 1.5
    assert s.lswd(swapped, truth, mask) > 10
    assert s.lswd(swapped, truth, mask) > 8 * s.swd(swapped, truth, mask)
    # Texture may differ: the same tones in other grains.
    assert s.lswd(again, truth, mask) < 0.1 * s.lswd(swapped, truth, mask)
    assert s.lswd(truth, truth, mask) == 0


def test_lswd_is_the_mean_of_its_windows() -> None:
    """One window, one distance: the mask lies within the windows that swd would take as one."""
    random = np.random.default_rng(5)
    truth, fill = (random.integers(0, 255, (80, 80, 3), dtype=np.uint8) for _ in range(2))
    mask = np.zeros((80, 80), bool)
    mask[30:34, 30:34] = True
    across = unit_directions(147, s.PROJECTION_COUNT)
    a, b = (np.sort(patches(s.lab(p), mask) @ across, axis=0) for p in (fill, truth))
    assert s.lswd(fill, truth, mask) == pytest.approx(np.abs(a - b).mean(), rel=1e-4)


def test_large_pictures_are_judged_at_half_size() -> None:
    picture = np.zeros((600, 1200, 3), np.uint8)
    mask = np.zeros((600, 1200), bool)
    mask[100:200, 100:300] = True
    fill, _, inside = s.judged_size(picture, picture, mask)
    assert fill.shape == (300, 600, 3)
    assert inside.sum() == mask.sum() / 4
    assert s.judged_size(picture[:, :1100], picture[:, :1100], mask[:, :1100])[0].shape == (600, 1100, 3)
