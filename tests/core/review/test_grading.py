"""What shows only once a client has graded the picture is listed with its grading, and nothing where no fault is."""

from dataclasses import replace
from functools import cache

import cv2
import numpy as np
import pytest

from keen_sweep.bench.cases import ALL_CASES, Case
from keen_sweep.bench.graded import planted_for_grading, small
from keen_sweep.bench.planted import clean
from keen_sweep.core.review.grading import brightened, graded
from keen_sweep.core.review.judge import review_and_rank
from keen_sweep.core.review.review import review, with_gradings
from keen_sweep.core.review.snag import Grading, Laid

pytestmark = pytest.mark.scenes


@cache
def case(name: str) -> Case:
    return small(next(entry for entry in ALL_CASES if entry.name == name).load(), 250_000)


@pytest.mark.parametrize("name", ["person beside a cup", "tissue"])
def test_faults_that_only_grading_raises_are_listed_with_it(name: str) -> None:
    planted = planted_for_grading(case(name))
    assert planted, "there is room for at least one"
    for grading, fault in planted:
        plain = review(fault.scene)
        assert not [snag for snag in plain if snag.kind == fault.kind]
        raised = with_gradings(fault.scene, plain)[len(plain) :]
        met = [snag for snag in raised if snag.kind == fault.kind and (fault.place[snag.box.slices] & snag.place).any()]
        assert met, f"{fault.kind} shows only when {grading}"
        assert all(snag.grading is not None for snag in raised)
        assert all(snag.place.shape == (snag.box.height, snag.box.width) for snag in raised)


@pytest.mark.parametrize("name", ["blob among stars", "tissue", "blob on a table"])
def test_the_truth_shows_next_to_nothing_after_grading(name: str) -> None:
    laid = clean(case(name))
    snags, _ = review_and_rank(laid)
    assert sum(snag.grading is not None for snag in snags) <= 1


def test_two_stops_are_four_times_the_light() -> None:
    # Code 188 is half of the light of 255, 137 a quarter (IEC 61966-2-1).
    assert brightened(np.full((1, 1, 3), 137, np.uint8)).tolist() == [[[255] * 3]]
    assert brightened(np.full((1, 1, 3), 188, np.uint8), 0.5).tolist() == [[[137] * 3]]


@pytest.mark.parametrize("grading", list(Grading))
def test_a_flat_picture_stays_flat_and_the_hole_stays_where_it_is(grading: Grading) -> None:
    hole = np.zeros((60, 80), np.bool_)
    hole[20:40, 30:50] = True
    flat = np.full((60, 80, 3), 90, np.uint8)
    done = graded(Laid(flat, flat, hole), grading)
    assert np.ptp(done.after.reshape(-1, 3), axis=0).max() == 0
    back = cv2.resize(done.hole.astype(np.uint8), (80, 60), interpolation=cv2.INTER_AREA) > 0
    assert np.array_equal(back, hole)
    assert with_gradings(replace(done, hole=done.hole), []) == []
