"""Mixing as a use case: a take of its own, picked, never the program's first choice."""

import numpy as np
import pytest

from keen_sweep.core.errors import BadRequest, NotFound
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio import desk
from keen_sweep.studio.choosing.mix import mix_takes
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.marking.draw import new_sweep
from tests.support.stacks import shown, take_of


def test_a_mix_is_a_take_that_is_picked(library: Library, frame: Frame) -> None:
    frame_id = frame.id or 0
    sweep_id, _ = new_sweep(library, frame_id, [Stroke(points=((30.0, 30.0),), size=12)])
    one, two = take_of(library, frame, sweep_id, 3), take_of(library, frame, sweep_id, 5)
    views = {}
    for take in (one, two):
        pick(library, frame_id, sweep_id, take)
        views[take] = shown(library, frame)[0]
    brush = Stroke(points=((20.0, 20.0),), size=18)
    made = mix_takes(library, frame_id, sweep_id, one, two, [brush])
    [sweep] = desk.desk(library, frame_id).sweeps
    assert [t.id for t in sweep.takes] == [one, two, made]
    assert (sweep.pick, sweep.takes[-1].method) == (made, "mix")
    assert sweep.best != made
    picture = shown(library, frame)[0]
    assert np.array_equal(picture[20, 20], views[two][20, 20])
    assert np.array_equal(picture[:, 32:], views[one][:, 32:])
    # The picture as shot is one of the two, and a mix can be mixed again.
    again = mix_takes(library, frame_id, sweep_id, made, 0, [Stroke(points=((12.0, 12.0),), size=6)])
    pick(library, frame_id, sweep_id, None)
    shot = shown(library, frame)[0]
    pick(library, frame_id, sweep_id, again)
    assert np.array_equal(shown(library, frame)[0][12, 12], shot[12, 12])
    assert np.array_equal(shown(library, frame)[0][20, 20], views[two][20, 20])


def test_senseless_mixes_are_refused(library: Library, frame: Frame) -> None:
    frame_id = frame.id or 0
    sweep_id, _ = new_sweep(library, frame_id, [Stroke(points=((30.0, 30.0),), size=12)])
    other, _ = new_sweep(library, frame_id, [Stroke(points=((90.0, 90.0),), size=12)])
    one, foreign = take_of(library, frame, sweep_id, 3), take_of(library, frame, other, 4)
    brush = [Stroke(points=((20.0, 20.0),), size=18)]
    with pytest.raises(BadRequest, match="two different"):
        mix_takes(library, frame_id, sweep_id, one, one, brush)
    with pytest.raises(NotFound):
        mix_takes(library, frame_id, sweep_id, one, foreign, brush)
    with pytest.raises(BadRequest, match="outside"):
        mix_takes(library, frame_id, sweep_id, one, 0, [Stroke(points=((190.0, 140.0),), size=8)])
