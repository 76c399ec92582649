"""The silhouette of whoever is in a box, asked for by several at once: a hand that clings while scouts look."""

from concurrent.futures import ThreadPoolExecutor
from itertools import pairwise

import numpy as np
from skimage import data

from keen_sweep.core.scout.networks.silhouette import silhouette


def test_those_who_ask_at_once_get_their_own_answers() -> None:
    picture = np.ascontiguousarray(data.astronaut())
    boxes = [(20.0 + 12 * k, 10.0, 330.0 + 12 * k, 500.0) for k in range(8)]
    alone = [silhouette(picture, box)[1] for box in boxes]
    assert not any(np.array_equal(one, other) for one, other in pairwise(alone))
    with ThreadPoolExecutor(8) as people:
        together = list(people.map(lambda box: silhouette(picture, box)[1], boxes * 3))
    for found, wanted in zip(together, alone * 3, strict=True):
        assert np.array_equal(found, wanted)
