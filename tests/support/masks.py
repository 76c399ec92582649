"""Masks drawn in code."""

from collections.abc import Sequence
from typing import Any

from numpy.typing import NDArray

from keen_sweep.core.box import Box
from keen_sweep.core.mask.shape import mask_of
from keen_sweep.core.mask.stroke import Stroke


def mask_of_strokes(strokes: Sequence[Stroke], width: int, height: int) -> NDArray[Any]:
    """(height, width) uint8 of what strokes cover."""
    return mask_of(strokes, Box(x=0, y=0, width=width, height=height)).full(width, height)
