"""A sister frame that may be borrowed from."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.photo.picture import Pixels
from keen_sweep.core.series.alignment import Alignment


@dataclass(frozen=True)
class Sister:
    """pixels (H', W', 3): the frame as it was shot; alignment: from the frame that is filled to it; barred (H', W')
    bool or None: what is not to be borrowed, such as people and what is marked there."""

    name: str
    pixels: Pixels
    alignment: Alignment
    barred: NDArray[np.bool_] | None = None
