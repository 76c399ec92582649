"""The continuation of close against functions known in closed form and SciPy; display against Pillow."""

from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms
from scipy import ndimage, sparse
from scipy.sparse.linalg import spsolve

from keen_sweep.core.methods.grain import smooth_known
from keen_sweep.core.methods.thin_plate import PLATE_TENSION, continuation
from keen_sweep.core.photo.display import for_screen


def disc(radius: int, size: int = 90) -> NDArray[Any]:
    y, x = np.mgrid[:size, :size]
    return np.asarray((y - size // 2) ** 2 + (x - size // 2) ** 2 < radius**2)


def test_planes_are_continued_exactly() -> None:
    y, x = np.mgrid[:90, :90].astype(np.float32)
    plane = np.stack([10 + x, 5 + 0.5 * x - 0.25 * y, 100 - y], axis=2)
    hole = disc(20)
    got = continuation(np.where(hole[..., None], 0, plane).astype(np.float32), hole)
    assert np.abs(got - plane).max() < 0.01


def test_the_solution_is_that_of_the_whole_system() -> None:
    """(L L + e L) u = 0 in the hole, with L from scipy.sparse over the whole array."""
    size, hole = 40, disc(9, 40)
    values = np.random.default_rng(2).random((size, size, 1)).astype(np.float32) * 100
    path = sparse.csr_array(np.eye(size, k=-1) + np.eye(size, k=1))
    adjacency = sparse.kron(path, sparse.eye_array(size)) + sparse.kron(sparse.eye_array(size), path)
    laplacian = sparse.csr_array(np.diag(np.asarray(adjacency.sum(axis=1)).ravel())) - adjacency
    system = sparse.csr_array(laplacian @ laplacian + PLATE_TENSION * laplacian)
    inside = hole.ravel()
    right = -system[inside][:, ~inside] @ values[..., 0].ravel()[~inside]
    expected = spsolve(system[inside][:, inside].tocsc(), right)
    got = continuation(values, hole)[..., 0].ravel()[inside]
    assert np.abs(got - expected).max() < 0.01


def test_large_holes_meet_their_rim_and_stay_close_to_the_truth() -> None:
    y, x = np.mgrid[:420, :420].astype(np.float32)
    truth = (120 + 60 * np.sin(x / 160) + 40 * np.cos(y / 190))[..., None]
    hole = disc(150, 420)
    assert hole.sum() > 40_000
    got = continuation(np.where(hole[..., None], 0, truth).astype(np.float32), hole)
    rim = hole & ~ndimage.binary_erosion(hole)
    assert np.abs(got - truth)[rim].max() < 1.5
    assert np.abs(got - truth).max() < 15  # of a range of 200


def test_the_smooth_version_of_known_pixels_is_scipys_normalised_gaussian() -> None:
    values = np.random.default_rng(5).random((60, 70, 3)).astype(np.float32)
    known = ~disc(12, 60)[:, :60]
    known = np.pad(known, ((0, 0), (0, 10)), constant_values=True)
    weight = ndimage.gaussian_filter(known.astype(float), 1.2, mode="mirror", truncate=4)
    for channel in range(3):
        total = ndimage.gaussian_filter(values[..., channel] * known, 1.2, mode="mirror", truncate=4)
        expected = total / np.maximum(weight, 1e-6)
        assert np.abs(smooth_known(values, known, 1.2)[..., channel] - expected)[known].max() < 5e-3


def test_another_profile_is_converted_for_the_screen_as_pillow_does() -> None:
    lab = ImageCms.ImageCmsProfile(ImageCms.createProfile("LAB")).tobytes()
    srgb = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    pixels = np.random.default_rng(1).integers(0, 255, (20, 30, 3), np.uint8)
    assert np.abs(for_screen(pixels, srgb).astype(int) - pixels).max() <= 1
    assert np.array_equal(for_screen(pixels, lab), pixels)  # not a profile for RGB: not believed
    assert np.array_equal(for_screen(pixels, b"nonsense"), pixels)
    assert np.array_equal(for_screen((pixels.astype(np.uint16) * 257), None), pixels)
    assert Image.fromarray(for_screen(pixels, srgb)).size == (30, 20)
