"""The port through which a generative model is used, whatever it is."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True)
class Wish:
    """What should be seen there and what must not, in words, and the seed of one take."""

    seed: int = 0
    hint: str = ""
    avoid: str = ""


class Model(Protocol):
    """Something that paints what a hole could show.

    side: of the square pictures that it works on, pixels; None if any size will do, in steps of multiple.
    """

    name: str
    side: int | None
    multiple: int

    def paint(self, picture: NDArray[np.uint8], hole: NDArray[np.bool_], wish: Wish) -> NDArray[np.uint8]:
        """(h, w, 3) with the hole (h, w) painted; the rest may differ from the picture. Raises ModelTrouble."""
        ...
