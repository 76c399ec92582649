"""Reflections: the published closed form, mixtures whose truth is known, and pictures without one."""

from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy import sparse
from scipy.sparse.linalg import spsolve
from skimage import data

from keen_sweep.bench.drawn import reflected
from keen_sweep.bench.scouts import gains_of
from keen_sweep.core.errors import BadMask
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.fill.separation import (
    MIN_ADDED_LIGHT,
    PICTURE_WEIGHT,
    added_light,
    evidence_of,
    without_soft_gradients,
)

EightBit = NDArray[np.uint8]
Floats = NDArray[np.float32]


def floats(picture: EightBit) -> Floats:
    return (picture / 255).astype(np.float32)


@pytest.fixture(scope="module")
def mixture(photograph: EightBit) -> tuple[Floats, Floats]:
    """A coffee cup behind glass that reflects a temple, and without."""
    truth = np.ascontiguousarray(data.coffee())
    return floats(reflected(truth, photograph, 0.3)), floats(truth)


def test_the_closed_form_solves_its_equation() -> None:
    """Yang et al. 2019: (L L + e) T = L div(kept gradients) + e Y, solved directly here with a sparse Laplacian."""
    random = np.random.default_rng(0)
    height, width, threshold = 14, 17, 0.3
    picture = random.random((height, width, 3)).astype(np.float32)
    second = sparse.lil_array(np.eye(width, k=-1) - 2 * np.eye(width) + np.eye(width, k=1))
    second[0, 0] = second[-1, -1] = -1
    down = sparse.lil_array(np.eye(height, k=-1) - 2 * np.eye(height) + np.eye(height, k=1))
    down[0, 0] = down[-1, -1] = -1
    laplacian = (sparse.kron(sparse.eye_array(height), second) + sparse.kron(down, sparse.eye_array(width))).tocsc()
    across, along = np.zeros_like(picture), np.zeros_like(picture)
    across[:, :-1] = np.diff(picture, axis=1)
    along[:-1] = np.diff(picture, axis=0)
    kept = ((across**2 + along**2).mean(axis=2) >= threshold**2)[..., None]
    across, along = across * kept, along * kept
    divergence = across + along
    divergence[:, 1:] -= across[:, :-1]
    divergence[1:] -= along[:-1]
    system = (laplacian @ laplacian + PICTURE_WEIGHT * sparse.eye_array(height * width)).tocsc()
    found = without_soft_gradients(picture, threshold)
    for channel in range(3):
        right = laplacian @ divergence[..., channel].ravel() + PICTURE_WEIGHT * picture[..., channel].ravel()
        direct = spsolve(system, right).reshape(height, width)
        # The mean is held by e alone, which single precision knows only roughly.
        assert np.allclose(found[..., channel] - found[..., channel].mean(), direct - direct.mean(), atol=2e-3)


def test_mixtures_come_nearer_to_their_truth_than_a_black_level_brings_them(photograph: EightBit) -> None:
    pictures = [np.ascontiguousarray(p) for p in (data.astronaut(), data.coffee(), data.chelsea(), data.rocket())]
    pairs = [(reflected(pictures[k], pictures[(k + 1) % 4], 0.3), pictures[k]) for k in range(4)]
    for fine, more in ((False, 0.2), (True, 0.5)):
        gains = []
        for photo, truth in pairs:
            seen = floats(photo)
            gains.append(gains_of(seen, seen - added_light(seen, fine), floats(truth)))
        raw, black, matched, alike = np.mean(gains, axis=0)
        assert raw > black + more
        assert matched > 0.1, "else it is only a black level"
        assert alike > 0.02


def test_light_is_never_more_than_there_is(mixture: tuple[Floats, Floats]) -> None:
    light = added_light(mixture[0])
    assert light.shape == mixture[0].shape
    assert light.min() >= 0
    assert (light <= mixture[0]).all()
    large = np.repeat(np.repeat(mixture[0], 4, axis=0), 4, axis=1)
    assert np.abs(added_light(large, fine=False)[::4, ::4] - added_light(mixture[0], fine=False)).mean() < 0.03


def test_evidence_tells_mixtures_from_clean_pictures(mixture: tuple[Floats, Floats], photograph: EightBit) -> None:
    assert evidence_of(mixture[0]) > MIN_ADDED_LIGHT
    clean = [np.ascontiguousarray(p) for p in (data.astronaut(), data.coffee(), data.rocket())]
    assert max(evidence_of(floats(p)) for p in [*clean, photograph]) < MIN_ADDED_LIGHT


@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
def test_only_what_is_marked_changes_and_takes_differ(mixture: tuple[Floats, Floats], dtype: type) -> None:
    top = np.iinfo(dtype).max
    below: NDArray[Any] = np.rint(mixture[0] * top).astype(dtype)
    mask = np.zeros(below.shape[:2], np.uint8)
    mask[40:300, 100:500] = 255
    guard = np.zeros(mask.shape, bool)
    guard[200:] = True
    takes = list(
        engine_for(Method.REFLECTION).fill(
            FillInput(below=below, mask=mask, takes=3, guard=guard, quality=Quality.FAST)
        )
    )
    assert len(takes) == 3
    for take in takes:
        assert take.pixels.dtype == dtype
        assert take.box.bottom == 200
        assert (take.pixels <= below[take.box.slices]).all(), "light is only ever taken off"
        laid = np.zeros(mask.shape, bool)
        laid[take.box.slices] = take.alpha > 0
        assert not (laid & (guard | (mask == 0))).any(), "nothing beside the mask, nothing under the guard"
        assert laid.sum() > 0.9 * ((mask > 0) & ~guard).sum()
    assert not np.array_equal(takes[0].pixels, takes[1].pixels)
    again = next(
        iter(
            engine_for(Method.REFLECTION).fill(
                FillInput(below=below, mask=mask, takes=1, guard=guard, quality=Quality.FAST)
            )
        )
    )
    assert np.array_equal(again.pixels, takes[0].pixels)


def test_the_whole_picture_may_be_marked_but_not_guarded(mixture: tuple[Floats, Floats]) -> None:
    below = np.rint(mixture[0] * 255).astype(np.uint8)
    everything = np.full(below.shape[:2], 255, np.uint8)
    [take] = engine_for(Method.REFLECTION).fill(FillInput(below=below, mask=everything, takes=1, quality=Quality.FAST))
    assert take.alpha.min() == 255
    with pytest.raises(BadMask, match="inside the guard"):
        list(engine_for(Method.REFLECTION).fill(FillInput(below=below, mask=everything, guard=everything > 0)))
