"""The demo shoot: frames, their clean twins and masks agree with each other as docs/demo.md promises."""

import io
from collections import defaultdict

import cv2
import numpy as np
import pytest
from PIL import Image, ImageCms

from keen_sweep.core.photo.read import read_picture
from keen_sweep.demo.geometry import seen_at
from keen_sweep.demo.shoot import PICTURES_FOLDER, clean_twin, distractions, facts, frames, mask_of

# Pixels past the masks where frame and twin may still differ.
REACH = 2
SIZES = {f"ov-04{k}": (2880, 1920) for k in (12, 13, 14, 15, 18)} | {"ov-0459": (6000, 4000)}


def test_the_shoot_is_complete() -> None:
    assert len(frames()) == 14
    kinds = {d.kind for frame in frames() for d in distractions(frame)}
    assert kinds == {
        "person", "wire", "pole", "litter", "hose", "reflection", "speck", "backdrop clutter", "thing"
    }  # fmt: skip
    assert sum(file.stat().st_size for file in PICTURES_FOLDER.iterdir()) < 80e6
    parts = {d.part for d in distractions("ov-0412")}
    assert {"object", "shadow"} <= parts


@pytest.mark.parametrize("frame", frames())
def test_a_pair(frame: str) -> None:
    shot, clean = clean_twin(frame)
    assert shot.shape == clean.shape
    if frame in SIZES:
        assert shot.shape[1::-1] == SIZES[frame]
    assert read_picture(PICTURES_FOLDER / facts(frame).frame).pixels.dtype == np.uint8
    with Image.open(PICTURES_FOLDER / facts(frame).frame) as image:
        assert image.format == "JPEG"
        profile = ImageCms.ImageCmsProfile(io.BytesIO(image.info["icc_profile"]))
        assert "sRGB" in ImageCms.getProfileDescription(profile)
    union = np.zeros(shot.shape[:2], np.uint8)
    for each in distractions(frame):
        area = mask_of(frame, each) > 0
        assert area.any(), each.name
        union |= area.astype(np.uint8)
        x, y, width, height = each.box
        change = np.abs(shot[y : y + height, x : x + width].astype(int) - clean[y : y + height, x : x + width])
        inside = change[area[y : y + height, x : x + width]]
        # It is there: its pixels differ, those of a body clearly.
        assert inside.mean() > (0.4 if each.part == "object" else 0.2), (each.name, each.part)
    near = cv2.dilate(union, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * REACH + 1, 2 * REACH + 1))) > 0
    assert np.array_equal(shot[~near], clean[~near])


def test_dust_is_at_the_same_places_of_the_sensor() -> None:
    places = defaultdict(set)
    for frame in ("ov-0412", "ov-0413", "ov-0414", "ov-0415", "ov-0418"):
        for each in distractions(frame):
            if each.kind == "speck":
                assert each.diameter is not None
                assert 5 < each.diameter < 41
                places[frame].add((each.x, each.y, each.diameter))
    first, *others = places.values()
    assert 15 <= len(first) <= 25
    assert all(other == first for other in others)


def test_people_are_of_many_sizes() -> None:
    heights = sorted(d.box[3] for d in distractions("ov-0431") if d.kind == "person" and d.part == "object")
    assert len(heights) == 6
    assert heights[0] < 80
    assert heights[-1] > 450
    width = read_picture(PICTURES_FOLDER / "ov-0431.jpg").pixels.shape[1]
    assert any(d.box[0] + d.box[2] == width for d in distractions("ov-0431"))


def test_the_reflection_alone_is_what_was_added() -> None:
    name = facts("ov-0446").reflection
    assert name is not None
    alone = np.asarray(read_picture(PICTURES_FOLDER / name).pixels, int)
    shot, clean = clean_twin("ov-0446")
    (where,) = [mask_of("ov-0446", d) > 200 for d in distractions("ov-0446")]
    added = (shot.astype(int) - clean)[where].mean(1)
    strength = alone[where].mean(1)
    assert added.mean() > 3
    assert np.corrcoef(added, strength)[0, 1] > 0.5


@pytest.mark.parametrize(("one", "other"), [("ov-0412", "ov-0414"), ("ov-0415", "ov-0412")])
def test_the_burst_shows_one_place_from_where_its_cameras_stood(one: str, other: str) -> None:
    """The renderer's geometry leads from frame to frame and back, and to pixels that look the same."""
    there, seen = seen_at(one, other)
    back, _ = seen_at(other, one)
    height, width = seen.shape
    assert seen.mean() > 0.8
    again = cv2.remap(back, (there[..., 0] + 0.5) / 4 - 0.5, (there[..., 1] + 0.5) / 4 - 0.5, cv2.INTER_NEAREST)
    x, y = np.meshgrid(np.arange(width) * 4 + 1.5, np.arange(height) * 4 + 1.5)
    assert np.median(np.hypot(again[..., 0] - x, again[..., 1] - y)[seen]) < 4
    pictures = [
        cv2.resize(clean_twin(frame)[1], (width, height), interpolation=cv2.INTER_AREA) for frame in (one, other)
    ]
    moved = cv2.remap(pictures[1], (there[..., 0] + 0.5) / 4 - 0.5, (there[..., 1] + 0.5) / 4 - 0.5, cv2.INTER_LINEAR)
    unlike = [np.abs(pictures[0].astype(int) - each)[seen].mean() for each in (moved, pictures[1])]
    assert unlike[0] < 0.6 * unlike[1]
