"""Reflections in a library: sought, taken off by an amount, shown alone."""

from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray
from skimage import data

from keen_sweep.bench.drawn import reflected
from keen_sweep.core.box import Box
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.write import encode_picture
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio import desk, history
from keen_sweep.studio.choosing.arrange import set_amount
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.delivering.deliver import deliver
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.finding.reflection import seek_reflection
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.gathering.shoots import make_shoot
from keen_sweep.studio.look import Look, alone_look, look
from keen_sweep.studio.marking.draw import new_sweep
from tests.support.runs import fill_now

WINDOW = Box(x=0, y=0, width=600, height=400)


@pytest.fixture
def pane(library: Library, photograph: NDArray[Any]) -> Frame:
    shoot = make_shoot(library, "Panes")
    pixels = reflected(np.ascontiguousarray(data.coffee()), photograph, 0.3)
    incoming = library.incoming / "pane"
    incoming.write_bytes(encode_picture(Picture(pixels=pixels, format="png"), "png"))
    return add_frame(library, shoot.id or 0, "pane.png", incoming)


def shown(library: Library, frame: Frame, at: Look | None = None) -> NDArray[Any]:
    return look(library, frame.id or 0, at or Look(), WINDOW, 0).pixels.astype(int)


def test_a_reflection_is_a_sweep_with_an_amount(library: Library, pane: Frame) -> None:
    frame_id = pane.id or 0
    answer = seek_reflection(library, frame_id)
    assert answer.worth
    assert "% of soft light can be removed" in answer.text
    # Glass is never claimed: a pale subject looks the same.
    assert "mist and pale things look the same" in answer.text
    assert answer.sweep_id is not None
    before = shown(library, pane)
    fill_now(library, pane, answer.sweep_id, takes=1)
    [sweep] = desk.desk(library, frame_id).sweeps
    pick(library, frame_id, answer.sweep_id, sweep.best)
    clean = shown(library, pane)
    assert clean.mean() < before.mean() - 3
    set_amount(library, frame_id, answer.sweep_id, 50)
    half = shown(library, pane)
    assert np.abs(half - (before + clean) / 2).max() <= 1
    set_amount(library, frame_id, answer.sweep_id, 0)
    assert np.array_equal(shown(library, pane), before)
    history.undo(library, frame_id)
    assert np.array_equal(shown(library, pane), half)
    assert deliver(library, frame_id).data
    alone = alone_look(library, frame_id, Look(sweep=answer.sweep_id, take=sweep.best), WINDOW, 0)
    assert np.array_equal(alone, np.clip((before - half) * 2, 0, 255))


def test_a_mark_is_looked_at_alone(library: Library, pane: Frame) -> None:
    frame_id = pane.id or 0
    glass = Outline(points=((50, 50), (550, 50), (550, 350), (50, 350)))
    sweep_id, _ = new_sweep(library, frame_id, [glass])
    answer = seek_reflection(library, frame_id, sweep_id)
    assert answer.sweep_id == sweep_id
    assert desk.desk(library, frame_id).sweeps[0].sweep.method == "reflection"
    fill_now(library, pane, sweep_id, takes=1)
    best = desk.desk(library, frame_id).sweeps[0].best
    changed = shown(library, pane, Look(sweep=sweep_id, take=best)) != shown(library, pane, Look(as_shot=True))
    assert changed[60:340, 60:540].any()
    assert not changed[:48].any()
    assert not changed[:, :48].any()


def test_nothing_found_is_said_and_can_be_overruled(library: Library, frame: Frame) -> None:
    frame_id = frame.id or 0
    answer = seek_reflection(library, frame_id)
    assert (answer.worth, answer.sweep_id) == (False, None)
    assert answer.text.startswith("No soft, even light")
    assert desk.desk(library, frame_id).sweeps == []
    forced = seek_reflection(library, frame_id, anyway=True)
    assert forced.sweep_id is not None
    assert ask_fill(library, frame_id, forced.sweep_id, Fill(takes=1)).state == "waiting"
