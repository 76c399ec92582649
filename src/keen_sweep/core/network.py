"""What is asked of a network's runtime, which tells no types of its own."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

Tensor = NDArray[np.generic]


class End(Protocol):
    """What goes into a graph or comes out of it; shape: a word stands for a side that may be any."""

    name: str
    type: str
    shape: Sequence[int | str | None]


class Session(Protocol):
    """A graph that is loaded (ONNX Runtime)."""

    def get_inputs(self) -> Sequence[End]: ...

    def get_outputs(self) -> Sequence[End]: ...

    def run(self, names: Sequence[str] | None, feeds: Mapping[str, Tensor]) -> Sequence[Tensor]:
        """The outputs of these names, None for all."""


class Interpreter(Protocol):
    """A graph that is loaded (LiteRT); tensors by their index."""

    def set_tensor(self, index: int, value: Tensor) -> None: ...

    def invoke(self) -> None: ...

    def get_tensor(self, index: int) -> Tensor: ...
