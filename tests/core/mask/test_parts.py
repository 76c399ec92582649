"""Connected parts against scikit-image's labels and SciPy's distances."""

from typing import Any

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy import ndimage
from skimage.measure import label

from keen_sweep.core.mask.parts import parts_of, rejoined, sections

seeds = st.integers(0, 10_000)


def blobs(seed: int) -> NDArray[Any]:
    random = np.random.default_rng(seed)
    return np.where(ndimage.gaussian_filter(random.random((90, 110)), 3) > 0.51, 255, 0).astype(np.uint8)


@given(seeds)
def test_parts_are_the_labels_of_skimage(seed: int) -> None:
    mask = blobs(seed)
    labels = label(mask > 0, connectivity=2)
    parts = parts_of(mask)
    assert len(parts) == labels.max()
    together = np.zeros(mask.shape, bool)
    for part in parts:
        here = np.unique(labels[part.box.slices][part.inside])
        assert len(here) == 1
        assert part.area == (labels == here[0]).sum()
        assert not together[part.box.slices][part.inside].any()
        together[part.box.slices] |= part.inside
    assert np.array_equal(together, mask > 0)


@given(seeds)
def test_radius_is_the_largest_distance_to_the_outside(seed: int) -> None:
    for part in parts_of(blobs(seed)):
        expected = ndimage.distance_transform_edt(np.pad(part.inside, 1)).max()
        assert abs(part.radius - expected) < 1e-3


@given(seeds, st.integers(8, 40))
def test_sections_tile_a_part_and_rejoin_to_it(seed: int, length: int) -> None:
    for part in parts_of(blobs(seed)):
        bits = sections(part, length)
        assert sum(bit.area for bit in bits) == part.area
        back = rejoined(part, bits)
        assert len(back) == 1
        assert back[0].box == part.box
        assert np.array_equal(back[0].inside, part.inside)
