"""Masks as tests need them."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.mask.shape import mask_of
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.document.mark import Mark


def mask_of_strokes(strokes: Sequence[Stroke], width: int, height: int) -> NDArray[np.uint8]:
    """The mask of strokes at a picture's size, (height, width)."""
    return mask_of(Mark(shapes=tuple(strokes)), width, height).full(width, height)
