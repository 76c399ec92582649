"""Marks: fitted by distances and Gaussians as SciPy has them, parts as scikit-image labels them."""

import hashlib

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy import ndimage
from skimage import measure

from keen_sweep.core.box import Box
from keen_sweep.core.errors import LibraryTrouble
from keen_sweep.core.mask.area import Area, area_from_bytes, area_to_bytes
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.fit import Fit, drop_small_parts, feather_mask, fill_holes, grow_mask
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.parts import parts_of
from keen_sweep.core.mask.rings import rings_of
from keen_sweep.core.mask.shape import guard_of, mask_of
from keen_sweep.core.mask.stroke import Stroke
from tests.support.shapes import HEIGHT, WIDTH, shapes

ALL = Box(x=0, y=0, width=WIDTH, height=HEIGHT)
fits = st.builds(
    Fit,
    margin=st.integers(-4, 8).map(float),
    feather=st.sampled_from([0.0, 1.5]),
    holes=st.booleans(),
    crumbs=st.sampled_from([0, 30]),
)


class Shelf:
    """A place for areas, as the library has one."""

    def __init__(self) -> None:
        self.files: dict[str, bytes] = {}

    def keep(self, data: bytes) -> str:
        name = hashlib.sha256(data).hexdigest()
        self.files[name] = data
        return name

    def load(self, name: str) -> bytes:
        return self.files[name]


def blobs(seed: int) -> NDArray[np.uint8]:
    noise = ndimage.gaussian_filter(np.random.default_rng(seed).normal(size=(HEIGHT, WIDTH)), 3)
    return np.where(noise > 0.09, 255, 0).astype(np.uint8)


@pytest.mark.parametrize("seed", range(4))
@pytest.mark.parametrize("by", [1, 2.5, 7, 20])
def test_growing_and_shrinking_are_euclidean_distances(seed: int, by: float) -> None:
    mask = blobs(seed)
    outside = ndimage.distance_transform_edt(mask == 0)
    assert np.array_equal(grow_mask(mask, by) > 0, outside <= by)
    inside = ndimage.distance_transform_edt(mask > 0)
    assert np.array_equal(grow_mask(mask, -by) > 0, inside > by)


@pytest.mark.parametrize("sigma", [0.7, 2.0, 6.5])
def test_feathering_is_a_gaussian(sigma: float) -> None:
    mask = blobs(1)
    expected = ndimage.gaussian_filter(mask.astype(np.float64), sigma, mode="nearest", truncate=4)
    assert np.abs(feather_mask(mask, sigma) - expected).max() <= 2


@pytest.mark.parametrize("seed", range(6))
def test_holes_crumbs_and_parts_are_those_of_scipy_and_skimage(seed: int) -> None:
    mask = blobs(seed)
    assert np.array_equal(fill_holes(mask) > 0, ndimage.binary_fill_holes(mask > 0))
    labels = measure.label(mask > 0, connectivity=2)
    large = [region.label for region in measure.regionprops(labels) if region.area >= 40]
    assert np.array_equal(drop_small_parts(mask, 40) > 0, np.isin(labels, large))
    parts = parts_of(mask)
    assert len(parts) == labels.max()
    assert sorted(part.area for part in parts) == sorted(int(r.area) for r in measure.regionprops(labels))


@settings(max_examples=60)
@given(st.lists(shapes, max_size=5), fits)
def test_the_mask_lies_in_its_box_and_guards_hold(many: list[Stroke | Outline], fit: Fit) -> None:
    guard = np.zeros((HEIGHT, WIDTH), bool)
    guard[20:40, 30:60] = True
    free, kept = mask_of(many, ALL, fit), mask_of(many, ALL, fit, guard=guard)
    assert not kept.full(WIDTH, HEIGHT)[guard].any()
    assert np.array_equal(kept.full(WIDTH, HEIGHT)[~guard], free.full(WIDTH, HEIGHT)[~guard])


@settings(max_examples=60)
@given(st.lists(shapes, min_size=1, max_size=5), st.floats(0, 12))
def test_a_picture_made_larger_shows_the_same_mask_and_what_was_cut_off(
    many: list[Stroke | Outline], margin: float
) -> None:
    fit = Fit(margin=margin)
    room = Box(x=0, y=0, width=WIDTH + 60, height=HEIGHT + 60)
    larger = mask_of(many, room, fit).full(room.width, room.height)[:HEIGHT, :WIDTH]
    small = mask_of(many, ALL, fit).full(WIDTH, HEIGHT)
    assert (larger >= small).all()
    # What more there is grew in from what was cut off: it is near the edges that moved.
    reach = int(margin) + 3
    assert np.array_equal(larger[: HEIGHT - reach, : WIDTH - reach], small[: HEIGHT - reach, : WIDTH - reach])


def test_what_was_taken_away_stays_away_when_the_rest_grows() -> None:
    line = Stroke(points=((10.0, 35.0), (80.0, 35.0)), size=10)
    cut = Stroke(points=((45.0, 20.0), (45.0, 50.0)), size=8, erase=True)
    mask = mask_of([line, cut], ALL, Fit(margin=6)).full(WIDTH, HEIGHT)
    assert mask[35, 45] == 0
    assert mask[35, 60] == 255
    assert mask[25, 60] == 255
    back = Stroke(points=((45.0, 35.0),), size=4)
    mask = mask_of([line, cut, back], ALL, Fit(margin=6)).full(WIDTH, HEIGHT)
    assert mask[35, 45] == 255


def test_an_area_is_kept_exactly_and_damage_is_said() -> None:
    shelf = Shelf()
    cover = np.random.default_rng(0).integers(0, 256, (12, 17), np.uint8)
    area = as_area(Mask(Box(x=5, y=-3, width=17, height=12), cover), shelf.keep)
    window = Box(x=0, y=0, width=40, height=30)
    assert np.array_equal(area.cover(window, shelf.load)[:9, 5:22], cover[3:])
    assert np.array_equal(area_from_bytes(area_to_bytes(cover)), cover)
    with pytest.raises(LibraryTrouble):
        area.model_copy(update={"box": Box(x=0, y=0, width=3, height=3)}).cover(window, shelf.load)
    with pytest.raises(LibraryTrouble):
        Area(file="x", box=area.box).cover(window, lambda name: b"no picture")


def test_guard_is_what_any_of_it_covers() -> None:
    soft = Stroke(points=((40.0, 30.0),), size=20, softness=1.0)
    guard = guard_of([soft], ALL)
    assert guard is not None
    assert np.array_equal(guard, mask_of([soft], ALL).full(WIDTH, HEIGHT) > 0)
    assert guard_of([], ALL) is None


@pytest.mark.parametrize("seed", range(5))
def test_rings_show_the_mask_to_within_a_pixel(seed: int) -> None:
    mask = np.pad(blobs(seed)[4:-4, 4:-4], 4)
    rings = rings_of(Mask(ALL, mask))
    drawn = np.zeros((HEIGHT, WIDTH), bool)
    for ring in rings:
        points = np.array(ring).reshape(-1, 2)
        if len(points) >= 3:
            drawn ^= Outline(points=tuple(map(tuple, points.tolist()))).cover(ALL) > 0
    inside, outside = ndimage.distance_transform_edt(mask > 0), ndimage.distance_transform_edt(mask == 0)
    assert drawn[inside > 2].all()
    assert not drawn[outside > 1.5].any()


def test_what_was_half_taken_away_stays_half_away_under_a_margin() -> None:
    """A soft eraser leaves shades; a margin that grows over them gives back no more than they left."""
    rod = Stroke(points=((20.0, 35.0), (70.0, 35.0)), size=12)
    soft = Stroke(points=((45.0, 50.0), (45.0, 20.0)), size=14, softness=1.0, erase=True)
    taken = mask_of([soft.model_copy(update={"erase": False})], ALL).full(WIDTH, HEIGHT).astype(int)
    assert ((taken > 0) & (taken < 255)).sum() > 100
    grown_over = mask_of([rod, soft], ALL, Fit(margin=9)).full(WIDTH, HEIGHT).astype(int)
    assert (grown_over <= 255 - taken).all()
    # Where the margin reaches in full it gives back just so much.
    within = mask_of([rod], ALL, Fit(margin=2)).full(WIDTH, HEIGHT) == 255
    shades = within & (taken > 0) & (taken < 120)
    assert shades.sum() > 20
    assert np.array_equal(grown_over[shades], 255 - taken[shades])


@pytest.mark.parametrize(("margin", "feather", "far"), [(0, 0, 1), (3, 0, 4), (3, 2, 12), (-5, 1.5, 7), (2.5, 0.1, 4)])
def test_how_far_a_mask_may_come(margin: float, feather: float, far: int) -> None:
    """The margin, four standard deviations of the feather, and a pixel."""
    assert Fit(margin=margin, feather=feather).reach == far
