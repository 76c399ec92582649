"""Tones in their place: a fill of the right stuff in the wrong place is found out."""

import numpy as np

from keen_sweep.core.fill.weave.features import features_of, halve_known
from keen_sweep.core.fill.weave.tone import astray, tone_of


def test_tones_upside_down_are_farther_from_what_is_expected() -> None:
    lightness = np.repeat(np.linspace(20, 230, 96).astype(np.uint8)[:, None], 96, axis=1)
    picture = np.dstack([lightness] * 3)
    hole = np.zeros((96, 96), bool)
    hole[30:66, 30:66] = True
    features = features_of(picture, ~hole)
    coarse, coarse_hole = halve_known(features, hole)
    tone = tone_of(coarse, coarse_hole, ~coarse_hole, 1)
    right, wrong = features[..., :3].copy(), features[..., :3].copy()
    wrong[hole] = wrong[::-1][hole]
    assert astray(tone, right, hole, 0) + 1.5 < astray(tone, wrong, hole, 0)
    # The same fill is judged alike at both levels.
    half = coarse[..., :3].copy()
    half[coarse_hole] = right[::2, ::2][coarse_hole]
    assert abs(astray(tone, half, coarse_hole, 1) - astray(tone, right, hole, 0)) < 1.2


def test_what_was_in_the_hole_does_not_matter() -> None:
    picture = np.random.default_rng(0).integers(0, 255, (60, 60, 3), np.uint8)
    hole = np.zeros((60, 60), bool)
    hole[20:40, 15:45] = True
    other = picture.copy()
    other[hole] = 0
    tones = [tone_of(features_of(p, ~hole), hole, ~hole, 0) for p in (picture, other)]
    assert np.allclose(tones[0].expected[hole], tones[1].expected[hole], atol=1e-3)
