"""The speck scout: discs of known place, size and depth on sky; the demo's dust; pictures without any."""

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from skimage import data

from keen_sweep.bench.cases import package_picture
from keen_sweep.bench.drawn import dust_hits, sky, with_dust
from keen_sweep.core.scout.specks import find_specks, specks_in
from keen_sweep.demo.shoot import clean_twin, distractions
from tests.support.sure import sure

pytestmark = pytest.mark.scenes


def test_dust_on_sky_is_found_and_little_else() -> None:
    all_hits: list[bool] = []
    clear_hits: list[bool] = []
    false = total = 0
    for seed in range(4):
        picture, drawn = with_dust(sky(seed), seed)
        found = specks_in(picture)
        hit = dust_hits(found, drawn)
        all_hits += hit
        clear_hits += [h for h, (_, _, d, depth) in zip(hit, drawn, strict=True) if 12 <= d <= 24 and depth >= 0.05]
        total += len(found)
        false += sum(not any(np.hypot(s.x - x, s.y - y) < max(d, 6) for x, y, d, _ in drawn) for s in found)
    assert np.mean(all_hits) >= 0.75
    assert np.mean(clear_hits) >= 0.9
    assert false <= 0.05 * total


def test_size_and_contrast_are_measured() -> None:
    picture, drawn = with_dust(sky(9), 9)
    measured = 0
    for speck in specks_in(picture):
        match = [(d, depth) for x, y, d, depth in drawn if np.hypot(speck.x - x, speck.y - y) < max(0.6 * d, 4)]
        if match and match[0][1] > 0.1 and match[0][0] > 12:
            assert 0.5 < speck.diameter / match[0][0] < 1.6
            assert 0.5 < speck.contrast / match[0][1] < 1.4
            measured += 1
    assert measured >= 3


def test_clean_pictures_have_none(photograph: NDArray[np.uint8], gravel: NDArray[np.uint8]) -> None:
    stars = np.ascontiguousarray(data.hubble_deep_field())
    grass = np.ascontiguousarray(np.repeat(data.grass()[..., None], 3, axis=2))
    assert [len(specks_in(p)) for p in (gravel, grass, stars)] == [0, 0, 0]
    assert len(specks_in(photograph)) <= 1
    assert len(specks_in(sky(5))) == 0
    assert specks_in(np.full((20, 20, 3), 90, np.uint8)) == []


@pytest.mark.parametrize("name", ["moon.png", "retina.jpg"])
def test_craters_and_vessels_are_no_dust(name: str) -> None:
    """Pictures of scikit-image: texture has bright spots as well as dark ones."""
    assert len(specks_in(package_picture(name))) <= 3


def test_lines_and_edges_are_no_specks() -> None:
    picture = sky(6)
    cv2.line(picture, (0, 200), (999, 260), (60, 60, 60), 5)
    picture[500:, 300:] = (90, 90, 95)
    assert specks_in(picture) == []


@pytest.mark.parametrize("frame", ["ov-0418"])
def test_the_demo_dust_in_the_sky_is_found(frame: str) -> None:
    picture, _ = clean_twin(frame)
    dust = [d for d in distractions(frame) if d.kind == "speck"]
    found = specks_in(picture)
    hit = [
        any(np.hypot(s.x - sure(d.x), s.y - sure(d.y)) < max(0.6 * sure(d.diameter), 4) for s in found) for d in dust
    ]
    assert np.mean(hit) >= 0.75
    assert len(found) <= sum(hit) + 2


def test_finds_have_masks_that_cover_the_speck_and_keep_out_of_the_guard() -> None:
    picture, drawn = with_dust(sky(2), 2)
    guard = np.zeros(picture.shape[:2], bool)
    guard[:, 500:] = True
    finds = find_specks(picture, guard)
    assert finds
    assert [find.name for find in finds[:2]] == ["Speck 1", "Speck 2"]
    held = 0
    for find in finds:
        assert find.mask.box.x < 500
        assert "%" in find.reason
        middle = find.mask.box.x + find.mask.box.width / 2, find.mask.box.y + find.mask.box.height / 2
        match = [d for x, y, d, _ in drawn if np.hypot(middle[0] - x, middle[1] - y) < max(0.6 * d, 4)]
        if match and find.confidence > 0.5:
            assert find.mask.box.width > 0.6 * match[0]
            held += 1
    assert held >= 3
    assert len(finds) < len(find_specks(picture))


def test_sixteen_bit_and_large_pictures() -> None:
    picture, drawn = with_dust(sky(3), 3)
    deep = picture.astype(np.uint16) * 257
    assert np.mean(dust_hits(specks_in(deep), drawn)) >= 0.7
    large = cv2.resize(picture, None, fx=3.2, fy=3.2, interpolation=cv2.INTER_CUBIC).astype(np.uint8)
    scaled = [(3.2 * x, 3.2 * y, 3.2 * d, depth) for x, y, d, depth in drawn if d < 12]
    assert np.mean(dust_hits(specks_in(large), scaled)) >= 0.7
