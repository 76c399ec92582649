"""The local engine's takes: the first as soon as it is ready, a plainly worse one replaced."""

import threading
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray

from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.local import engine
from keen_sweep.core.fill.local.pool import Finished, finish_weave
from keen_sweep.core.fill.local.seeds import start_seed
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.weave.choice import PLAINLY_WORSE

PLACES = {start_seed(0, 0, 128 + n): n for n in range(12)}


@pytest.fixture
def given(photograph: NDArray[Any]) -> FillInput:
    below = np.ascontiguousarray(photograph[150:300, 200:400])
    mask = np.zeros(below.shape[:2], np.uint8)
    mask[60:96, 80:116] = 255
    return FillInput(below=below, mask=mask)


def test_the_first_take_does_not_wait_for_the_others(given: FillInput, monkeypatch: pytest.MonkeyPatch) -> None:
    seen = threading.Event()
    waited: list[bool] = []

    def held_up(start: Any, quality: Any, seed: int, tick: Any) -> Finished:
        if PLACES[seed]:
            waited.append(seen.wait(60))
        return finish_weave(start, quality, seed, tick)

    monkeypatch.setattr(engine, "finish_weave", held_up)
    takes = engine_for(Method.WEAVE).fill(given)
    next(takes)
    seen.set()
    assert len(list(takes)) == 2
    assert waited
    assert all(waited)


@pytest.mark.parametrize("worse", [PLAINLY_WORSE / 2, PLAINLY_WORSE + 1])
def test_a_take_that_turns_out_plainly_worse_is_replaced(
    given: FillInput, monkeypatch: pytest.MonkeyPatch, worse: float
) -> None:
    """Every weave looks as bad as the first, but for the second, which looks worse."""
    asked: list[int] = []

    def told(start: Any, quality: Any, seed: int, tick: Any) -> Finished:
        asked.append(PLACES[seed])
        return replace(finish_weave(start, quality, seed, tick), bad=1.0 + worse * (PLACES[seed] == 1))

    monkeypatch.setattr(engine, "finish_weave", told)
    takes = list(engine_for(Method.WEAVE).fill(given))
    assert sorted(asked) == ([0, 1, 2] if worse < PLAINLY_WORSE else [0, 1, 2, 3])
    assert [take.energy for take in takes] == [1.0, 1.0 if worse > PLAINLY_WORSE else 1.0 + worse, 1.0]


def test_the_same_order_gives_the_same_takes_to_the_bit(given: FillInput) -> None:
    a, b = (list(engine_for(Method.WEAVE).fill(given)) for _ in range(2))
    assert [x.pixels.tobytes() for x in a] == [x.pixels.tobytes() for x in b]
    assert len({x.pixels.tobytes() for x in a}) == 3, "takes differ"
