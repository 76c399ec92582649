"""Holes too long for one look are painted section by section; areas that lie apart on their own."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as some
from numpy.typing import NDArray

from keen_sweep.core.box import whole
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.model.engine import ModelEngine
from keen_sweep.core.fill.model.port import DEFAULT_MAX_SIDE_PX, ModelFacts, Paid, Painting, Wish, no_payment
from keen_sweep.core.fill.model.sections import ramp, sections_of, sizes_of
from keen_sweep.core.fill.patch import lay
from keen_sweep.core.progress import Progress, no_progress
from keen_sweep.studio.models.limited import Limited

pytestmark = pytest.mark.scenes


class Continuer:
    """A model that knows one thing: the picture is a plane of tones, fitted to what it is shown outside the hole."""

    name, most, multiple = "continuer", DEFAULT_MAX_SIDE_PX, 8

    def __init__(self, side: int | None = None) -> None:
        self.side = side
        self.facts = ModelFacts()
        self.shown: list[tuple[int, int, float]] = []
        self.steps: set[int] = set()

    def paint(
        self,
        picture: NDArray[Any],
        hole: NDArray[Any],
        wish: Wish,
        tick: Progress = no_progress,
        paid: Paid = no_payment,
    ) -> Painting:
        tick(0.5, "painting")
        self.steps.add(wish.knobs.steps)
        self.shown.append((picture.shape[1], picture.shape[0], float(hole.mean())))
        rows, columns = np.indices(hole.shape)
        table = np.stack([np.ones(hole.size), rows.ravel(), columns.ravel()], axis=1)
        known = ~hole.ravel()
        planes = [np.linalg.lstsq(table[known], picture[..., c].ravel()[known], rcond=None)[0] for c in range(3)]
        tones = np.stack([(table @ plane).reshape(hole.shape) for plane in planes], axis=2)
        return Painting(np.rint(tones).clip(0, 255).astype(np.uint8), 2.0, f"receipt {wish.seed}")


def plane(height: int, width: int) -> NDArray[Any]:
    rows, columns = np.indices((height, width))
    tones = 40 + 150 * columns / width + 40 * rows / height
    return np.repeat(tones[..., None], 3, axis=2).round().astype(np.uint8)


def filled(truth: NDArray[Any], hole: NDArray[Any], model: Continuer, **more: Any) -> tuple[NDArray[Any], Any]:
    photo = truth.copy()
    photo[hole] = (196, 40, 150)
    mask = np.where(hole, 255, 0).astype(np.uint8)
    (take,) = ModelEngine(model).fill(FillInput(below=photo, mask=mask, takes=1, **more))
    lay(photo, whole(photo), take)
    assert np.array_equal(photo[~hole], truth[~hole])
    return photo, take


def test_a_cable_across_a_large_picture_is_painted_in_sections_that_overlap() -> None:
    truth = plane(900, 3000)
    hole = np.zeros(truth.shape[:2], bool)
    hole[430:452, 60:2940] = True
    model = Continuer(512)
    after, take = filled(truth, hole, model)
    assert len(model.shown) == len(take.parts) >= 5
    assert {(wide, tall) for wide, tall, _ in model.shown} == {(512, 512)}
    assert np.abs(after.astype(int) - truth)[hole].mean() < 1.5
    assert take.provenance.credits == 2 * len(take.parts)
    assert len(take.provenance.receipts) == len(take.parts)
    # Nothing of the thing is left to be seen, at any joint.
    assert np.abs(after[hole].astype(int) - (196, 40, 150)).sum(axis=1).min() > 30


def test_a_round_hole_is_painted_at_once_unless_stages_are_asked_for() -> None:
    truth = plane(700, 800)
    hole = np.zeros(truth.shape[:2], bool)
    hole[150:550, 150:650] = True
    model = Continuer(256)
    filled(truth, hole, model)
    assert len(model.shown) == 1
    staged = Continuer(256)
    after, _ = filled(truth, hole, staged, staged=True)
    assert len(staged.shown) > 1
    assert np.abs(after.astype(int) - truth)[hole].mean() < 2.5


def test_areas_that_lie_apart_are_painted_on_their_own() -> None:
    truth = plane(600, 1600)
    hole = np.zeros(truth.shape[:2], bool)
    hole[100:140, 100:150] = True
    hole[400:450, 1300:1360] = True
    model = Continuer(256)
    _, take = filled(truth, hole, model)
    assert [part.area for part in take.parts] == [2000, 3000]
    assert all(share < 0.25 for *_, share in model.shown), "each sees far more than it paints"


def test_a_limit_of_the_user_makes_what_is_shown_smaller() -> None:
    truth = plane(1200, 1200)
    hole = np.zeros(truth.shape[:2], bool)
    hole[300:900, 300:900] = True
    model = Continuer()
    filled(truth, hole, model)
    inner = Continuer()
    limited = Limited(inner, "mine", 500)
    assert (limited.most, limited.name) == (496, "mine")
    mask = np.where(hole, 255, 0).astype(np.uint8)
    list(ModelEngine(limited).fill(FillInput(below=truth, mask=mask, takes=1)))
    assert max(model.shown[0][:2]) == 1024
    assert max(inner.shown[0][:2]) == 496


@given(
    some.integers(40, 2500), some.integers(8, 400), some.integers(8, 400), some.sampled_from([None, 256, 512]),
    some.booleans(),
)  # fmt: skip
def test_sections_cover_the_hole_once_and_are_shown_within_the_models_size(
    width: int, height: int, radius: int, side: int | None, staged: bool
) -> None:
    hole = np.zeros((600, 2600), bool)
    hole[50 : 50 + height, 20 : 20 + width] = True
    hole[50 + radius : 50 + height, 20 : 20 + width // 2] = False
    model = Continuer(side)
    sections = sections_of(hole, model, staged)
    count = np.zeros(hole.shape, int)
    for section in sections:
        count[section.part.box.slices] += section.part.inside
    assert np.array_equal(count, hole.astype(int))
    for w, h in sizes_of(sections, whole(hole), model):
        assert (w, h) == (side, side) if side else max(w, h) <= model.most
        assert w % model.multiple == h % model.multiple == 0


def test_a_ramp_is_whole_where_nothing_was_painted_and_falls_off_over_what_was() -> None:
    here = np.zeros((20, 40), bool)
    here[5:15, 20:35] = True
    over = np.zeros_like(here)
    over[5:15, 12:20] = True
    got = ramp(here, over, 8)
    assert (got[here] == 1).all()
    assert (got[~here & ~over] == 0).all()
    assert (np.diff(got[10, 12:21]) > 0).all()
    assert ramp(here, over, 0)[over].max() == 0


@pytest.mark.parametrize("seed", [0, 5])
def test_sections_have_seeds_of_their_own(seed: int) -> None:
    truth = plane(300, 2400)
    hole = np.zeros(truth.shape[:2], bool)
    hole[140:150, 100:2300] = True
    _, take = filled(truth, hole, Continuer(256), seed=seed)
    assert len(set(take.provenance.receipts)) == len(take.parts)
    assert take.seed == seed


def test_a_quick_look_takes_a_third_of_the_steps_and_the_ledger_says_so() -> None:
    truth = plane(200, 300)
    hole = np.zeros(truth.shape[:2], bool)
    hole[80:110, 100:140] = True
    for quality, steps in (("fine", 30), ("fast", 10)):
        model = Continuer(128)
        _, take = filled(truth, hole, model, quality=quality)
        assert model.steps == {steps}
        assert take.provenance.knobs.steps == steps
