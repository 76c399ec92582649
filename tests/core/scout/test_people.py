"""The people scout: the demo's visitors, a portrait, and pictures without anybody."""

import numpy as np
import pytest
from numpy.typing import NDArray
from skimage import data

from keen_sweep.core.box import Box, box_of
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.scout.found import Found
from keen_sweep.core.scout.networks.detector import Seen, detect, drop_duplicates
from keen_sweep.core.scout.people import find_people, person_in
from keen_sweep.core.scout.things import find_things
from keen_sweep.core.scout.tiles import tiles_of
from keen_sweep.demo.shoot import clean_twin, distractions, mask_of

pytestmark = pytest.mark.scenes

Bools = NDArray[np.bool_]


def placed(mask: Mask, picture: NDArray[np.uint8]) -> Bools:
    return mask.full(picture.shape[1], picture.shape[0]) > 0


def best_overlap(finds: list[Found], truth: Bools, picture: NDArray[np.uint8]) -> float:
    """The largest intersection over union of the finds with a truth."""
    return max(
        (float((m & truth).sum() / (m | truth).sum()) for m in (placed(f.mask, picture) for f in finds)), default=0
    )


@pytest.mark.parametrize("frame", ["ov-0413", pytest.param("ov-0431", marks=pytest.mark.slow)])
def test_all_visitors_over_sixty_pixels_are_found_with_tiles(frame: str) -> None:
    picture, clean = clean_twin(frame)
    told: list[float] = []
    finds = find_people(picture, small=True, also=False, progress=lambda share, doing: told.append(share))
    visitors = [d for d in distractions(frame) if d.kind == "person" and d.part == "object" and d.box[3] >= 60]
    overlaps = [best_overlap(finds, mask_of(frame, d) > 127, picture) for d in visitors]
    assert min(overlaps) > 0.65, dict(zip([d.name for d in visitors], overlaps, strict=True))
    assert len(finds) == len(visitors)
    assert told == sorted(told)
    assert told[-1] == 1.0
    assert find_people(clean, small=True, also=False) == []


def test_two_who_walk_together_are_told_apart() -> None:
    picture, _ = clean_twin("ov-0412")
    assert len(find_people(picture, small=True, also=False)) == 2


def test_the_portrait_is_the_subject_and_bystanders_are_not() -> None:
    [portrait] = find_people(np.ascontiguousarray(data.astronaut()))
    assert portrait.subject
    assert "perhaps the subject" in portrait.reason
    assert portrait.also == ()
    picture, _ = clean_twin("ov-0431")
    finds = find_people(picture, also=False)
    assert [f.subject for f in finds].count(True) == 1
    assert finds[0].name == "Person 1"


def test_nobody_where_nobody_is(photograph: NDArray[np.uint8], gravel: NDArray[np.uint8]) -> None:
    for picture in (photograph, gravel, np.ascontiguousarray(data.coffee()), np.full((40, 60, 3), 90, np.uint8)):
        assert find_people(picture, small=True) == []


def test_a_box_by_hand_gives_who_is_in_it_and_nobody_on_grass() -> None:
    picture, _ = clean_twin("ov-0431")
    visitor = next(d for d in distractions("ov-0431") if d.name == "visitor in blue" and d.part == "object")
    x, y, width, height = visitor.box
    mask = person_in(picture, Box(x=x - 4, y=y - 4, width=width + 8, height=height + 8))
    assert mask is not None
    truth = mask_of("ov-0431", visitor) > 127
    found = placed(mask, picture)
    assert (found & truth).sum() / truth.sum() > 0.9
    assert person_in(picture, Box(x=200, y=1300, width=100, height=250)) is None


def test_masks_keep_out_of_the_guard_and_sixteen_bit_is_the_same() -> None:
    picture, _ = clean_twin("ov-0431")
    guard = np.zeros(picture.shape[:2], bool)
    guard[:, 1150:] = True
    finds = find_people(picture, guard, also=False)
    assert finds
    assert not any((placed(f.mask, picture) & guard).any() for f in finds)
    deep = find_people(picture.astype(np.uint16) * 257, also=False)
    plain = find_people(picture, also=False)
    assert [f.mask.box for f in deep] == [f.mask.box for f in plain]


def test_shadows_come_with_people_who_throw_one() -> None:
    picture, _ = clean_twin("ov-0431")
    also = [a for f in find_people(picture) for a in f.also]
    assert also
    assert {a.kind for a in also} <= {"shadow", "mirror"}
    for each in also:
        assert not box_of(each.mask.pixels > 0).empty


def test_things_are_named_by_kind_and_large_ones_are_subjects() -> None:
    [cat] = find_things(np.ascontiguousarray(data.chelsea()))
    assert (cat.kind, cat.name, cat.subject) == ("things", "Cat 1", True)
    assert find_things(np.ascontiguousarray(data.rocket())) == []


def test_boxes_of_the_same_thing_are_one_and_others_stay() -> None:
    seen = [
        Seen("person", 0.6, (10, 10, 50, 110)),
        Seen("person", 0.9, (12, 8, 52, 108)),
        Seen("person", 0.7, (60, 10, 100, 110)),
        Seen("dog", 0.5, (12, 8, 52, 108)),
        Seen("person", 0.55, (20, 20, 40, 60)),
    ]
    assert [(s.kind, s.score) for s in drop_duplicates(seen)] == [("person", 0.9), ("person", 0.7), ("dog", 0.5)]


def test_tiles_cover_the_picture_and_overlap() -> None:
    room = Box(x=0, y=0, width=2880, height=1920)
    tiles = tiles_of(room)
    for side in {t.width for t in tiles}:
        covered = np.zeros((1920, 2880), np.uint8)
        for tile in tiles:
            if tile.width == side:
                assert tile.intersect(room) == tile
                covered[tile.slices] += 1
        assert covered.min() >= 1
        assert covered.max() >= 2
    assert tiles_of(Box(x=0, y=0, width=600, height=400)) == []


def test_boxes_lie_in_the_picture_and_follow_its_scale() -> None:
    portrait = np.ascontiguousarray(data.astronaut())
    [small] = detect(portrait[::2, ::2].copy(), 0.5, ["person"])
    [large] = detect(portrait, 0.5, ["person"])
    assert np.allclose(np.array(small.box) * 2, large.box, atol=25)
    assert min(large.box) >= 0
    assert max(large.box) <= 512
