"""What cling is measured on: marks as careless as they say, and a table that counts right."""

from typing import Any

import numpy as np
import pytest

from keen_sweep.bench.cling import Outcome, grabcut, table
from keen_sweep.bench.scribbles import hull_of, outline_round, scribble_over, things
from keen_sweep.core.box import whole
from keen_sweep.core.mask.shape import mask_of


@pytest.fixture(scope="module")
def some() -> list[Any]:
    return [thing for thing in things() if thing.kind in ("coin", "litter")][:8]


def test_scribbles_cover_a_part_and_stray_a_little(some: list[Any]) -> None:
    for number, thing in enumerate(some):
        stroke = scribble_over(thing.truth, np.random.default_rng(number))
        cover = mask_of([stroke], whole(thing.picture)).full(*thing.picture.shape[1::-1]) > 0
        assert 0.18 <= (cover & thing.truth).sum() / thing.truth.sum() <= 0.65
        assert 0.03 <= (cover & ~thing.truth).sum() / cover.sum() <= 0.25
        hull = hull_of(stroke, whole(thing.picture))
        assert (hull >= cover).all()


def test_outlines_go_round_the_whole_thing(some: list[Any]) -> None:
    for number, thing in enumerate(some):
        outline = outline_round(thing.truth, np.random.default_rng(number))
        inside = mask_of([outline], whole(thing.picture)).full(*thing.picture.shape[1::-1]) > 0
        assert inside[thing.truth].mean() > 0.97
        assert 1.05 < inside.sum() / thing.truth.sum() < 6


def test_grabcut_alone_finds_a_coin(some: list[Any]) -> None:
    coin = next(thing for thing in some if thing.kind == "coin")
    found = grabcut(coin.picture, coin.truth)
    assert (found & coin.truth).sum() / (found | coin.truth).sum() > 0.7


def test_the_table_has_means_and_percentiles_by_kind() -> None:
    found = [Outcome(f"t{k}", "coin", "scribble", k / 10, 0.5, 0.4, 0.1) for k in range(11)]
    found.append(Outcome("x", "pole", "outline", 0.3, 0.2, 0.6, 0.3))
    rows = table(found).splitlines()
    assert "| scribble | coin | 11 | 0.50 | 0.20 | 0.50 | 0.40 | 4 | 0.10 |" in rows
    assert "| outline | all | 1 | 0.30 | 0.30 | 0.20 | 0.60 | 1 | 0.30 |" in rows
