"""The wire scout."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.photo.picture import Pixels
from keen_sweep.core.scout.find import Find


def find_wires(picture: Pixels, guard: NDArray[np.bool_] | None = None) -> list[Find]:
    return []
