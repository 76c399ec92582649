"""The field bench's own scores and hands, against what they are by definition."""

import numpy as np
import pytest
from numpy.typing import NDArray

from keen_sweep.bench.field.hands import GESTURES_BY_HAND, correction
from keen_sweep.bench.field.photographs import OUTLINES_FILE, FieldThing
from keen_sweep.bench.field.removal import Removal, removal
from keen_sweep.core.box import box_of, whole
from keen_sweep.core.mask.shape import mask_of

Bools = NDArray[np.bool_]


def block(top: int, left: int, low: int, right: int) -> Bools:
    out = np.zeros((200, 300), bool)
    out[top:low, left:right] = True
    return out


THING = block(50, 100, 150, 200)
NOTHING = np.zeros_like(THING)


def test_the_thing_itself_is_ready() -> None:
    assert removal(THING, THING, NOTHING) == Removal(0.0, 0.0)
    assert removal(THING, THING, NOTHING).ready


def test_a_rim_of_two_pixels_is_not_left_out() -> None:
    # But for its corners.
    assert removal(block(52, 102, 148, 198), THING, NOTHING).left_out < 0.002
    left = removal(block(50, 100, 150, 180), THING, NOTHING).left_out
    assert left == pytest.approx(0.18, abs=0.005), "twenty columns of a hundred, two of them near the mask"


def test_a_margin_of_a_twenty_fifth_is_not_too_much() -> None:
    assert removal(block(46, 96, 154, 204), THING, NOTHING).too_much < 0.004
    more = removal(block(50, 100, 150, 240), THING, NOTHING)
    assert more.too_much == pytest.approx(0.36, abs=0.005)
    assert not more.ready


def test_what_belongs_to_it_may_go() -> None:
    shadow = block(50, 200, 150, 240)
    assert removal(THING | shadow, THING, shadow).too_much == 0


@pytest.mark.parametrize("hand", list(GESTURES_BY_HAND))
def test_every_hand_marks_the_thing_and_not_much_else(hand: str) -> None:
    how, make = GESTURES_BY_HAND[hand]
    for seed in range(3):
        shape = make(THING, np.random.default_rng(seed))
        marked = mask_of([shape], whole(THING)).full(300, 200) > 0
        inside = (marked & THING).sum()
        assert inside > 0
        assert inside > (0.5 if how == "outline" else 0.75) * marked.sum()
        if hand == "click":
            assert marked.sum() < 0.01 * THING.sum()
        if hand in ("zigzag", "stroke"):
            assert box_of(marked).height > 60


def test_a_correction_lies_on_what_is_wrong() -> None:
    wrong = block(50, 100, 150, 112) | block(20, 20, 24, 24)
    marked = mask_of([correction(wrong)], whole(wrong)).full(300, 200) > 0
    assert (marked & block(50, 100, 150, 112)).sum() > 0.5 * 1200
    assert not marked[:30, :40].any(), "the smaller part waits"


def test_a_ring_within_a_ring_is_a_hole() -> None:
    outer = [[1000, 1000], [9000, 1000], [9000, 9000], [1000, 9000]]
    inner = [[4000, 4000], [6000, 4000], [6000, 6000], [4000, 6000]]
    thing = FieldThing("p", "t", False, np.zeros((100, 100, 3), np.uint8), [outer, inner], [])
    assert thing.truth[20, 20]
    assert not thing.truth[50, 50]
    assert not thing.belongs.any()


def test_half_of_the_photographs_is_kept_back() -> None:
    import json

    listed = json.loads(OUTLINES_FILE.read_text())
    kept = sum(len(each["things"]) for each in listed if each["kept_back"])
    every = sum(len(each["things"]) for each in listed)
    assert len(listed) >= 25
    assert every >= 40
    assert 0.4 < kept / every < 0.6
