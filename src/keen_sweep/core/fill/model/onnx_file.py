"""A model in an ONNX file: a picture and a mask go in, a picture comes out.

Names, sizes and layout are read from the graph. What a graph does not say is told by a JSON file of the same name
beside it: the range of its numbers, whether the hole is one or nought, and whether its pixels are to be blanked.
"""

from __future__ import annotations

import hashlib
from pathlib import Path
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from keen_sweep.core.arrays import Bools, EightBit, Floats
from keen_sweep.core.errors import ModelTrouble
from keen_sweep.core.fill.model.port import LARGEST, ModelFacts, Painting, Wish
from keen_sweep.core.progress import Progress, unwatched

# The steps in which the sides of pictures come for a graph that takes any, pixels.
MULTIPLE = 8


class Facts(BaseModel):
    """What the file beside a graph may say. range: of its pictures' numbers; hole: what the mask says where it is to be
    painted; blank: the hole's pixels are set to the middle of the range before; most: the longest side of a graph that
    takes any."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    range: tuple[float, float] = (0.0, 1.0)
    hole: Literal[0, 1] = 1
    blank: bool = False
    multiple: int = Field(default=MULTIPLE, ge=1, le=256)
    most: int = Field(default=LARGEST, ge=64, le=8192)


def file_hash(path: Path) -> str:
    """The SHA-256 of a file, hexadecimal."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


class OnnxModel:
    """A model in a file. Raises ModelTrouble when it cannot be loaded or is of another shape."""

    def __init__(self, path: Path) -> None:
        import onnxruntime

        self.name = path.stem
        beside = path.with_suffix(".json")
        try:
            self._facts = Facts.model_validate_json(beside.read_text()) if beside.is_file() else Facts()
        except (OSError, ValidationError) as error:
            raise ModelTrouble(f"{beside.name} does not say what this model needs: {error}") from error
        try:
            self._session: Any = onnxruntime.InferenceSession(
                str(path), providers=onnxruntime.get_available_providers()
            )
        except Exception as error:  # the runtime has a family of its own, by no common name
            raise ModelTrouble(f"{path.name} cannot be loaded as an ONNX model: {error}") from error
        self.multiple = self._facts.multiple
        self.most = self._facts.most
        self.facts = ModelFacts(kind="onnx", sha256=file_hash(path))
        self._inputs = {each.name: each.shape for each in self._session.get_inputs()}
        self._mask, self._picture = self._which()
        shape = self._inputs[self._picture]
        self._last = shape[-1] in (3, 4)
        sides = [side for side in (shape[1:3] if self._last else shape[2:4]) if isinstance(side, int) and side > 0]
        if len(sides) == 2 and sides[0] != sides[1]:
            raise ModelTrouble(f"{path.name} takes pictures of {sides[1]} x {sides[0]}: only square ones are used.")
        self.side: int | None = sides[0] if sides else None

    def paint(self, picture: EightBit, hole: Bools, wish: Wish, tick: Progress = unwatched) -> Painting:
        """See Model. The file knows no words and no chance: every wish is painted alike."""
        tick(0.0, "painting")
        low, high = self._facts.range
        values = picture.astype(np.float32) / 255 * (high - low) + low
        if self._facts.blank:
            values[hole] = (low + high) / 2
        mask = (hole if self._facts.hole else ~hole).astype(np.float32)[..., None]
        given: dict[str, NDArray[Any]] = (
            {self._picture: values} if self._mask else {self._picture: np.dstack([values, mask])}
        )
        if self._mask:
            given[self._mask] = mask
        feeds = {name: self._batched(array) for name, array in given.items()}
        try:
            (out, *_) = self._session.run(None, feeds)
        except Exception as error:  # as above
            raise ModelTrouble(f"{self.name} broke off: {error}") from error
        out = np.asarray(out, np.float32)[0]
        out = out if out.shape[-1] == 3 else np.moveaxis(out, 0, -1)
        if out.shape != picture.shape:
            raise ModelTrouble(f"{self.name} gave a picture of {out.shape}, not of {picture.shape}.")
        if not np.isfinite(out).all():
            raise ModelTrouble(f"{self.name} gave a picture with holes in it: numbers that are none.")
        return Painting(np.asarray(np.rint((out - low) / (high - low) * 255).clip(0, 255), np.uint8))

    def _batched(self, array: NDArray[Any]) -> Floats:
        return np.ascontiguousarray((array if self._last else np.moveaxis(array, -1, 0))[None], np.float32)

    def _which(self) -> tuple[str | None, str]:
        """The names of the mask's input, None if it is a fourth channel of the picture, and of the picture's."""

        def channels(name: str) -> set[int]:
            shape = self._inputs[name]
            return {shape[1], shape[-1]} if len(shape) == 4 else set()

        pictures = [name for name in self._inputs if 3 in channels(name)]
        masks = [name for name in self._inputs if 1 in channels(name) and name not in pictures]
        if len(pictures) == 1 and len(masks) == 1 and len(self._inputs) == 2:
            return masks[0], pictures[0]
        if len(self._inputs) == 1 and 4 in channels(next(iter(self._inputs))):
            return None, next(iter(self._inputs))
        told = ", ".join(f"{name} {shape}" for name, shape in self._inputs.items())
        raise ModelTrouble(f"This model takes {told}; a picture (3 channels) and a mask (1), or both in 4, are wanted.")
