"""Pictures that were straightened and cropped, and how they lie on what they were made from."""

from typing import Any

import cv2
import numpy as np
from hypothesis import strategies as st
from numpy.typing import NDArray

from keen_sweep.core.series.similarity import Similarity

similarities = st.builds(
    lambda turn, scale, right, down: Similarity(
        along=scale * np.cos(turn), across=scale * np.sin(turn), right=right, down=down
    ),
    st.floats(-3, 3),
    st.floats(0.25, 4),
    st.floats(-500, 500),
    st.floats(-500, 500),
)


def straightened(pixels: NDArray[Any], turn: float, crop: float, scale: float = 1.0) -> tuple[NDArray[Any], Similarity]:
    """A picture turned clockwise about its middle, cropped by a share of its sides, scaled; and how it lies there."""
    height, width = pixels.shape[:2]
    size = round(width * (1 - crop) * scale), round(height * (1 - crop) * scale)
    along, across = scale * np.cos(np.radians(turn)), scale * np.sin(np.radians(turn))
    middle, there = np.array([width - 1, height - 1]) / 2, np.array([size[0] - 1, size[1] - 1]) / 2 + (2.3, -1.4)
    right, down = there - np.array([[along, -across], [across, along]]) @ middle
    lies = Similarity(along=along, across=across, right=right, down=down)
    return cv2.warpAffine(pixels, lies.matrix[:2], size, flags=cv2.INTER_CUBIC), lies
