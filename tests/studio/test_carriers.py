"""Carriers: rows are handed out, come back, and are lost neither with a process nor with the server."""

from collections.abc import Callable
from concurrent.futures import BrokenExecutor, Executor, Future, ThreadPoolExecutor
from typing import Any

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.write import encode_picture
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Carrying, Frame
from keen_sweep.store.words import RunState
from keen_sweep.studio.carrying.ask import ask_carry
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.gathering.shoots import make_shoot
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.running.carriers import MAX_ATTEMPTS, Carriers, carry_out
from tests.support.waiting import until


class Dies(Executor):
    """A process that dies whatever it is given."""

    def submit(self, work: Callable[..., Any], /, *given: Any, **named: Any) -> Future[Any]:
        out: Future[Any] = Future()
        out.set_exception(BrokenExecutor())
        return out


@pytest.fixture
def asked(library: Library, photograph: NDArray[Any]) -> Carrying:
    """A rod to be carried from one frame to the next."""
    shoot = make_shoot(library, "Roofs").id
    with_rod = photograph.copy()
    cv2.line(with_rod, (340, 220), (430, 244), (25, 20, 30), 7)
    ids = []
    for k, (x, y) in enumerate(((40, 20), (54, 29))):
        file = library.incoming / f"roof-{k}.png"
        pixels = np.ascontiguousarray(with_rod[y : y + 360, x : x + 520])
        file.write_bytes(encode_picture(Picture(pixels=pixels, format="png"), "png"))
        ids.append(add_frame(library, shoot, file.name, file).id)
    new_sweep(library, ids[0], [Stroke(points=((300, 200), (390, 224)), size=17)], "Rod")
    (row,) = ask_carry(library, ids[0], [], [])
    return row


def _state(library: Library, row: Carrying) -> Carrying:
    with library.session() as session:
        return session.get_one(Carrying, row.id)


def _until(library: Library, row: Carrying, *states: RunState) -> Carrying:
    until(lambda: _state(library, row).state in states)
    return _state(library, row)


def test_what_was_asked_for_is_carried(library: Library, asked: Carrying) -> None:
    carriers = Carriers(library, executor=ThreadPoolExecutor)
    carriers.start()
    try:
        done = _until(library, asked, RunState.DONE, RunState.FAILED)
    finally:
        carriers.stop()
    assert (done.state, done.attempts) == (RunState.DONE, 1)
    assert [each["verdict"] for each in done.landed] == ["landed"]
    assert [sweep.name for sweep in open_frame(library, asked.to_id).stack.sweeps] == ["Rod"]


def test_a_process_that_dies_is_tried_again_and_then_given_up(library: Library, asked: Carrying) -> None:
    carriers = Carriers(library, executor=lambda _: Dies())
    carriers.start()
    try:
        failed = _until(library, asked, RunState.FAILED)
    finally:
        carriers.stop()
    assert failed.attempts == MAX_ATTEMPTS
    assert "broke off" in (failed.error or "")
    assert open_frame(library, asked.to_id).stack.sweeps == ()


def test_what_a_killed_server_left_is_begun_again(library: Library, asked: Carrying) -> None:
    with library.session() as session:
        row = session.get_one(Carrying, asked.id)
        row.state, row.attempts = RunState.RUNNING, 1
        session.add(row)
    carriers = Carriers(library, executor=ThreadPoolExecutor)
    carriers.start()
    try:
        done = _until(library, asked, RunState.DONE, RunState.FAILED)
    finally:
        carriers.stop()
    assert (done.state, done.attempts) == (RunState.DONE, 2)
    # It is marked once.
    assert len(open_frame(library, asked.to_id).stack.sweeps) == 1


def test_nothing_is_made_of_a_row_that_is_done_or_gone(library: Library, asked: Carrying) -> None:
    carry_out(library, asked.id)  # it waits still: nobody handed it out
    assert _state(library, asked).state is RunState.WAITING
    with library.session() as session:
        session.delete(session.get_one(Frame, asked.to_id))
    carry_out(library, asked.id)
    with library.session() as session:
        assert session.get(Carrying, asked.id) is None
