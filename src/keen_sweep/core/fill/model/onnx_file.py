"""A model in an ONNX file: a picture and a mask go in, a picture comes out.

Names, sizes, layout and kinds of numbers are read from the graph; what it does not say, from a file beside it (facts).
"""

from __future__ import annotations

import hashlib
from pathlib import Path

import numpy as np

from keen_sweep.core.arrays import Bools, EightBit, Floats
from keen_sweep.core.errors import ModelTrouble
from keen_sweep.core.fill.model.facts import Facts, read_facts
from keen_sweep.core.fill.model.port import ModelFacts, Paid, Painting, Wish, no_payment
from keen_sweep.core.network import Session, Tensor
from keen_sweep.core.progress import Progress, no_progress
from keen_sweep.core.sentences import sentence


def file_hash(path: Path) -> str:
    """SHA-256 of a file.

    Parameters
    ----------
    path : Path
        The file.

    Returns
    -------
    str
        Hexadecimal digits.
    """
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


class OnnxModel:
    """A model in an ONNX file.

    Parameters
    ----------
    path : Path
        The file.
    facts : Facts or None
        What it needs; None to read the file next to it.
    """

    def __init__(self, path: Path, facts: Facts | None = None) -> None:
        """told: what the file beside it says, or would."""
        import onnxruntime

        self.name = path.stem
        facts = facts or read_facts(path)
        try:
            self._session: Session = onnxruntime.InferenceSession(
                str(path), providers=onnxruntime.get_available_providers()
            )
        except Exception as error:  # the runtime has a family of its own, by no common name
            raise ModelTrouble(
                sentence("{name} cannot be loaded as an ONNX model: {error}", name=path.name, error=error)
            ) from error
        self.facts = ModelFacts(kind="onnx", sha256=file_hash(path))
        self._inputs = {each.name: each.shape for each in self._session.get_inputs()}
        self._kinds = {each.name: _kind_of(each.type) for each in self._session.get_inputs()}
        self._mask, self._picture = self._which()
        self.use(facts or self._likely())
        shape = self._inputs[self._picture]
        self._last = shape[-1] in (3, 4)
        sides = [side for side in (shape[1:3] if self._last else shape[2:4]) if isinstance(side, int) and side > 0]
        if len(sides) == 2 and sides[0] != sides[1]:
            raise ModelTrouble(
                sentence(
                    "{name} takes pictures of {width} x {height}: only square inputs are supported.",
                    name=path.name,
                    width=sides[1],
                    height=sides[0],
                )
            )
        self.side: int | None = sides[0] if sides else None

    def use(self, facts: Facts) -> None:
        """Take this for what the graph does not say."""
        self.told, self.multiple, self.most = facts, facts.multiple, facts.most

    def paint(
        self, picture: EightBit, hole: Bools, wish: Wish, tick: Progress = no_progress, paid: Paid = no_payment
    ) -> Painting:
        """See Model. The file knows no words and no chance: every wish is painted alike."""
        tick(0.0, "painting")
        out = self.answer(picture, hole)
        if not np.isfinite(out).all():
            raise ModelTrouble(sentence("{name} returned a picture with invalid pixels (NaN).", name=self.name))
        low, high = self.told.out
        return Painting(np.asarray(np.rint((out - low) / (high - low) * 255).clip(0, 255), np.uint8))

    def answer(self, picture: EightBit, hole: Bools) -> Floats:
        """What the graph says to a picture (h, w, 3) and a hole (h, w): (h, w, 3) in its own numbers. Raises
        ModelTrouble when it breaks off or gives no picture of that size."""
        low, high = self.told.into
        values = np.asarray(picture / 255 * (high - low) + low, np.float32)
        if self.told.blank:
            values[hole] = (low + high) / 2
        mask = np.where(hole, self.told.hole, self.told.kept).astype(np.float32)[..., None]
        given: dict[str, Floats] = {self._picture: values} if self._mask else {self._picture: np.dstack([values, mask])}
        if self._mask:
            given[self._mask] = mask
        feeds = {name: self._fed(name, array) for name, array in given.items()}
        try:
            found = self._session.run(None, feeds)
        except Exception as error:  # as above
            raise ModelTrouble(sentence("{name} broke off: {error}", name=self.name, error=error)) from error
        pictures = [each for each in map(_as_picture, found) if each is not None]
        if not pictures:
            raise ModelTrouble(sentence("{name} returned no picture.", name=self.name))
        out = next((each for each in pictures if each.shape == picture.shape), pictures[0])
        if out.shape != picture.shape:
            raise ModelTrouble(
                sentence(
                    "{name} gave a picture of {shape}, not of {picture_shape}.",
                    name=self.name,
                    shape=out.shape,
                    picture_shape=picture.shape,
                )
            )
        return out

    def _fed(self, name: str, array: Floats) -> Tensor:
        """An array (h, w, c) as an input takes it: with its channels where they belong, a batch of one."""
        kind = self._kinds[name]
        if kind.kind in "ui":
            array = np.rint(array).clip(np.iinfo(kind.name).min, np.iinfo(kind.name).max)
        if len(self._inputs[name]) == 3:
            return np.ascontiguousarray(array[None, ..., 0], kind)
        return np.ascontiguousarray((array if self._last else np.moveaxis(array, -1, 0))[None], kind)

    def _likely(self) -> Facts:
        """What is likely of a graph that nothing is told of: whole numbers are bytes."""
        changes: dict[str, float | tuple[float, float]] = {}
        if self._kinds[self._picture].kind in "ui":
            changes |= {"into": (0.0, 255.0)}
        if any(_kind_of(each.type).kind in "ui" for each in self._session.get_outputs()):
            changes |= {"out": (0.0, 255.0)}
        if self._mask and self._kinds[self._mask].kind in "ui":
            changes |= {"hole": 255.0}
        return Facts().model_copy(update=changes)

    def _which(self) -> tuple[str | None, str]:
        """The names of the mask's input, None if it is a fourth channel of the picture, and of the picture's."""

        def channels(name: str) -> set[int]:
            shape = self._inputs[name]
            if len(shape) == 3:
                return {1}
            return {shape[1], shape[-1]} if len(shape) == 4 else set()

        pictures = [name for name in self._inputs if 3 in channels(name)]
        masks = [name for name in self._inputs if 1 in channels(name) and name not in pictures]
        if len(pictures) == 1 and len(masks) == 1 and len(self._inputs) == 2:
            return masks[0], pictures[0]
        if len(self._inputs) == 1 and 4 in channels(next(iter(self._inputs))):
            return None, next(iter(self._inputs))
        shapes = ", ".join(f"{name} {shape}" for name, shape in self._inputs.items())
        raise ModelTrouble(
            sentence(
                "This model takes {shapes}; a picture (3 channels) and a mask (1), or both in 4, are wanted.",
                shapes=shapes,
            )
        )


def _kind_of(value: str) -> np.dtype[np.generic]:
    """The kind of numbers that a graph says, such as tensor(float16)."""
    name = value.removeprefix("tensor(").removesuffix(")")
    return np.dtype({"float": "float32", "double": "float64", "bool": "bool"}.get(name, name))


def _as_picture(answer: Tensor) -> Floats | None:
    """An answer as a picture (h, w, 3), if it is one, wherever its channels are."""
    found = np.asarray(answer, np.float32)
    if found.ndim == 4:
        found = found[0]
    if found.ndim != 3 or 3 not in (found.shape[0], found.shape[-1]):
        return None
    return found if found.shape[-1] == 3 else np.moveaxis(found, 0, -1)
