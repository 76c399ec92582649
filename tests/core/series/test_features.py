"""Matching of features, against the matcher that OpenCV has."""

import cv2
import numpy as np
from skimage import data

from keen_sweep.core.series.features import MAX_DISTANCE_RATIO, features_of, nearest
from keen_sweep.core.series.view import view_of
from tests.support.pairs import pair


def test_the_nearest_are_those_that_a_matcher_finds_pair_by_pair() -> None:
    known = pair(data.astronaut(), 3)
    _, told = features_of(view_of(known.one))
    _, theirs = features_of(view_of(known.other))
    assert told is not None
    assert theirs is not None
    mine, their = nearest(told, theirs)
    pairs = cv2.BFMatcher(cv2.NORM_L2).knnMatch(told, theirs, k=2)
    good = {(a.queryIdx, a.trainIdx) for a, b in pairs if a.distance < MAX_DISTANCE_RATIO * b.distance}
    assert len(good) > 100
    # Two that are equally near to the last digit may be told apart either way.
    assert len(good ^ set(zip(mine.tolist(), their.tolist(), strict=True))) <= 0.002 * len(good)


def test_one_that_has_no_rival_far_off_is_not_taken() -> None:
    told = np.zeros((2, 128), np.float32)
    told[1] = 9
    theirs = np.stack([np.full(128, 0.1), np.full(128, 0.11), np.full(128, 9)]).astype(np.float32)
    mine, their = nearest(told, theirs)
    assert mine.tolist() == [1]
    assert their.tolist() == [2]
