"""What is asked of a network's runtime, which tells no types of its own."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

Tensor = NDArray[np.generic]


class End(Protocol):
    """Input or output of a graph.

    Attributes
    ----------
    name : str
        Its name.
    type : str
        Its element type.
    shape : sequence of int or str or None
        Its sides; a word stands for any size.
    """

    name: str
    type: str
    shape: Sequence[int | str | None]


class Session(Protocol):
    """A loaded graph (ONNX Runtime)."""

    def get_inputs(self) -> Sequence[End]: ...

    def get_outputs(self) -> Sequence[End]: ...

    def run(self, names: Sequence[str] | None, feeds: Mapping[str, Tensor]) -> Sequence[Tensor]:
        """The outputs of these names, None for all."""


class Interpreter(Protocol):
    """A loaded graph (LiteRT); tensors by index."""

    def set_tensor(self, index: int, value: Tensor) -> None: ...

    def invoke(self) -> None: ...

    def get_tensor(self, index: int) -> Tensor: ...
