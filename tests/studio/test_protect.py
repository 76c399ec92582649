"""Who stays is safe: strokes that run into somebody are told, and what is protected stays to the bit."""

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from keen_sweep.core.box import Box
from keen_sweep.core.errors import NotFound
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.scout.found import FindKind, Found
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio import history
from keen_sweep.studio.filling.takes import takes_of
from keen_sweep.studio.finding.finds import finds, keep_found
from keen_sweep.studio.finding.protect import protect
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.marking.straying import strays_of
from keen_sweep.studio.open_frame import open_frame
from tests.support.runs import fill_now

# Somebody who stands in the middle of the picture of 200 x 150: a head, a body, two legs.
BOX = Box(x=80, y=30, width=40, height=100)


def body() -> NDArray[np.uint8]:
    shape = np.zeros((BOX.height, BOX.width), np.uint8)
    cv2.circle(shape, (20, 10), 9, 255, -1)
    cv2.ellipse(shape, (20, 42), (15, 24), 0, 0, 360, 255, -1)
    for x in (13, 27):
        cv2.line(shape, (x, 60), (x, 97), 255, 9)
    return shape


@pytest.fixture
def person(library: Library, frame: Frame) -> int:
    found = Found(FindKind.PEOPLE, "Person 1", Mask(BOX, body()), 0.9, "upright")
    with library.session() as session:
        keep_found(library, session, frame, FindKind.PEOPLE, [found])
    return finds(library, frame.id)[0].find.id


def reaching(seed: int, by: float) -> Stroke:
    """A stroke beside the person whose edge reaches so many pixels over the side of their body, or ends before it."""
    random = np.random.default_rng(seed)
    y = BOX.y + random.uniform(30, 54)
    on_left = bool(random.integers(2))
    half = np.sqrt(max(1 - ((y - BOX.y - 42) / 24) ** 2, 0)) * 15
    side = BOX.x + 20 + (-half if on_left else half)
    size = random.uniform(8, 16)
    end = side + (by - size / 2) * (1 if on_left else -1)
    start = 20.0 if on_left else 180.0
    return Stroke(points=((start, float(y)), (float(end), float(y))), size=float(size))


def test_strokes_that_stray_into_somebody_are_told_and_others_are_not(
    library: Library, frame: Frame, person: int
) -> None:
    told = false = 0
    for k in range(20):
        inside, _ = new_sweep(library, frame.id, [reaching(k, 5 + k * 20 / 19)])
        told += [each.find for each in strays_of(library, frame.id, inside)] == [person]
        history.undo(library, frame.id)
        beside, _ = new_sweep(library, frame.id, [reaching(100 + k, -3 - k / 2)])
        false += bool(strays_of(library, frame.id, beside))
        history.undo(library, frame.id)
    assert told >= 18
    assert false <= 2


def test_a_mark_of_somebody_is_no_straying_one(library: Library, frame: Frame, person: int) -> None:
    whole, _ = new_sweep(library, frame.id, [Stroke(points=((100.0, 40.0), (100.0, 128.0)), size=36)])
    assert strays_of(library, frame.id, whole) == []


def test_what_is_protected_stays_to_the_bit_in_every_take(library: Library, frame: Frame, person: int) -> None:
    protect(library, frame.id, person)
    assert finds(library, frame.id) == []
    sweep, _ = new_sweep(library, frame.id, [reaching(3, 14)])
    assert strays_of(library, frame.id, sweep) == []
    fill_now(library, frame, sweep, takes=3)
    here = open_frame(library, frame.id)
    inside = np.zeros((frame.height, frame.width), bool)
    inside[BOX.slices] = body() > 0
    for take in (each.patch for each in takes_of(library, sweep)):
        stack = here.stack.changed(sweep, pick=take)
        assert np.array_equal(here.seen(stack=stack)[inside], here.pyramid.window(here.box)[inside])
        assert not (here.shelf.patch(take).alpha[inside[here.shelf.patch(take).box.slices]] > 0).any()
    history.undo(library, frame.id)
    history.undo(library, frame.id)
    assert [each.find.id for each in finds(library, frame.id)] == [person]


def test_a_find_of_another_frame_cannot_be_protected(library: Library, frame: Frame, person: int) -> None:
    with pytest.raises(NotFound):
        protect(library, frame.id, person + 1)
