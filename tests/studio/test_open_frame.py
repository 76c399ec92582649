"""One frame open for one use case: read once, and nobody waits for another's picture."""

import threading

import numpy as np
import pytest

from keen_sweep.core.box import Box
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.photo.picture import Picture
from keen_sweep.document.stack import Stack
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio import history
from keen_sweep.studio.look import Look, look
from keen_sweep.studio.marking.draw import add_shapes, new_sweep
from keen_sweep.studio.marking.guarding import guard
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.originals import Originals, originals_of
from keen_sweep.studio.stacks import _kept
from tests.support.masks import mask_of_strokes

DOT = Stroke(points=((60.0, 50.0),), size=20)
OVER = Stroke(points=((66.0, 50.0),), size=8)


def test_a_mask_is_asked_for_with_and_without_the_guard_and_with_any_fit(library: Library, frame: Frame) -> None:
    sweep, _ = new_sweep(library, frame.id, [DOT])
    guard(library, frame.id, [OVER])
    here = open_frame(library, frame.id)
    plain = mask_of_strokes([DOT], frame.width, frame.height)
    kept = mask_of_strokes([OVER], frame.width, frame.height) > 0
    assert np.array_equal(here.full(here.mask(sweep, unguarded=True)), plain)
    assert np.array_equal(here.full(here.mask(sweep)) > 0, (plain > 0) & ~kept)
    assert here.mask(sweep, Fit(margin=5)).pixels.sum() > here.mask(sweep).pixels.sum()
    assert here.mask(sweep) is here.mask(sweep), "it is made once"


def test_a_stack_is_read_once_for_each_revision(
    library: Library, frame: Frame, monkeypatch: pytest.MonkeyPatch
) -> None:
    sweep, first = new_sweep(library, frame.id, [DOT])
    add_shapes(library, frame.id, sweep, [OVER])
    _kept.clear()
    read: list[int] = []
    whole = Stack.model_validate

    def noted(document: object) -> Stack:
        read.append(1)
        return whole(document)

    monkeypatch.setattr(Stack, "model_validate", noted)
    window = Box(x=0, y=0, width=60, height=60)
    for _ in range(5):
        look(library, frame.id, Look(revision=first.id), window, 0)
        look(library, frame.id, Look(), window, 0)
    assert len(read) == 2
    history.undo(library, frame.id)
    assert open_frame(library, frame.id).stack == open_frame(library, frame.id, first.id).stack
    assert len(read) == 2


def test_a_revision_that_was_taken_back_is_not_remembered(library: Library, frame: Frame) -> None:

    def fail_after_all() -> None:
        with library.together():
            new_sweep(library, frame.id, [DOT], "gone")
            assert open_frame(library, frame.id).stack.sweeps[0].name == "gone"
            raise KeyError

    with pytest.raises(KeyError):
        fail_after_all()
    assert open_frame(library, frame.id).stack.sweeps == ()
    new_sweep(library, frame.id, [OVER], "here")
    assert [sweep.name for sweep in open_frame(library, frame.id).stack.sweeps] == ["here"]


def test_a_cold_picture_holds_up_nobody_who_wants_another(
    library: Library, frame: Frame, monkeypatch: pytest.MonkeyPatch
) -> None:
    originals = Originals(library)
    reading, go_on = threading.Event(), threading.Event()
    opened = Originals.keep

    def slowly(self: Originals, original: str, picture: object) -> None:
        reading.set()
        assert go_on.wait(30)
        opened(self, original, picture)  # type: ignore[arg-type]

    monkeypatch.setattr(Originals, "keep", slowly)
    for file in (library.views / frame.original).iterdir():
        file.unlink()
    cold = threading.Thread(target=originals.pyramid, args=(frame.original,))
    cold.start()
    assert reading.wait(30)
    # Another picture, whose views are there, is opened meanwhile.
    monkeypatch.setattr(Originals, "keep", opened)
    other = originals_of(library)
    warm = "0" * 64
    folder = library.views / warm
    other.keep(warm, Picture(pixels=np.zeros((10, 20, 3), np.uint8), format="png"))
    assert folder.is_dir()
    assert originals.pyramid(warm).box.width == 20
    assert cold.is_alive()
    go_on.set()
    cold.join(timeout=30)
    assert originals.pyramid(frame.original).box.width == frame.width


def test_a_stack_that_was_just_made_is_not_read_at_all(
    library: Library, frame: Frame, monkeypatch: pytest.MonkeyPatch
) -> None:
    sweep, _ = new_sweep(library, frame.id, [DOT])

    def never(document: object) -> Stack:
        raise AssertionError("it was read")

    monkeypatch.setattr(Stack, "model_validate", never)
    add_shapes(library, frame.id, sweep, [OVER])
    assert len(open_frame(library, frame.id).stack.sweeps[0].mark.shapes) == 2
    look(library, frame.id, Look(), Box(x=0, y=0, width=40, height=40), 0)
