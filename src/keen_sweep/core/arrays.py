"""The kinds of arrays that pass between the parts of core; shapes are told where they are used."""

from __future__ import annotations

from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

# A picture's pixels as they came, (H, W, 3) uint8 or uint16.
Pixels = NDArray[np.unsignedinteger[Any]]
# Eight bits: pictures for the screen and for networks, and masks that cover in part (0 to 255).
EightBit = NDArray[np.uint8]
# Where something is.
Bools = NDArray[np.bool_]
# Values of a picture that is worked on; single precision, as exact as a picture asks for.
Floats = NDArray[np.float32]
# What the search compares: colour, and how rough it is, in fine steps; see fill.weave.features.
Features = NDArray[np.int16]
# Rows and columns of a picture, or steps from one place to another.
Places = NDArray[np.int32]
# Which of several parts each pixel belongs to, 0 where none.
Labels = NDArray[np.int32]
# Numbers of any kind, as the image library takes them.
Numbers = NDArray[np.integer[Any] | np.floating[Any]]
# Geometry, statistics and sums over many pixels.
Doubles = NDArray[np.float64]
# A homography, (3, 3), or an affine map, (2, 3): x, y in pixels.
Matrix = NDArray[np.float64]
# A plane that comes back as the kind that it was.
Plane = TypeVar("Plane", Pixels, EightBit, Floats)
