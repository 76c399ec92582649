"""A take as data: a patch of pixels with a soft edge, and where each of them was copied from."""

from __future__ import annotations

import io
import json
import zipfile
from dataclasses import dataclass, replace
from enum import StrEnum

import numba
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, EightBit, Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.errors import LibraryTrouble
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.provenance import EMPTY_PROVENANCE, Provenance
from keen_sweep.core.photo.channels import as_deep

DAMAGED_MESSAGE = "A stored take is damaged and cannot be shown."


@dataclass(frozen=True)
class PartReport:
    """How one connected part was filled: by which method or methods, and why in a sentence."""

    method: str
    why: str
    box: Box
    area: int


@dataclass(frozen=True)
class Patch:
    """One candidate fill, or what a touch-up's brush lays. method: what made it (MadeBy), or which brush.

    pixels (h, w, 3) in the picture's dtype and alpha (h, w) uint8 cover box; alpha is 0 wherever the picture
    stays as it is. offsets (h, w, 2) int32, if any, hold dx, dy from each filled pixel to the one it was
    copied from, 0, 0 where it was not copied. loose (h, w) bool, if any: pixels that need not meet what is beside the
    hole. energy ranks takes of one sweep made alike: lower is better.
    """

    box: Box
    pixels: Pixels
    alpha: EightBit
    method: StrEnum
    seed: int
    offsets: NDArray[np.int32] | None = None
    loose: Bools | None = None
    energy: float = 0.0
    seconds: float = 0.0
    parts: tuple[PartReport, ...] = ()
    provenance: Provenance = EMPTY_PROVENANCE

    def moved(self, x: int, y: int) -> Patch:
        """The patch of a cut of a picture, in the picture itself: so many pixels to the right and down."""
        parts = tuple(replace(part, box=part.box.moved(x, y)) for part in self.parts)
        return replace(self, box=self.box.moved(x, y), parts=parts)


@numba.njit(cache=True, nogil=True)
def _lay(below: Pixels, pixels: Pixels, alpha: EightBit, amount: int) -> None:
    for y in range(alpha.shape[0]):
        for x in range(alpha.shape[1]):
            # Weights in 255 times 100 steps: those of 255 alone would be too coarse for 16 bit.
            a = np.uint32(alpha[y, x]) * np.uint32(amount)
            if a == 0:
                continue
            for c in range(below.shape[2]):
                mixed = a * np.uint32(pixels[y, x, c]) + (np.uint32(25_500) - a) * np.uint32(below[y, x, c])
                below[y, x, c] = (mixed + np.uint32(12_750)) // np.uint32(25_500)


def lay(pixels: Pixels, at: Box, patch: Patch, amount: int = 100) -> None:
    """Lay a patch onto (H, W, 3) pixels that show the box at of the picture, in place; amount: how much, 0 to 100.

    Where alpha is 0 nothing changes to the bit, where it is 255 and the amount 100 the patch stands as it is.
    """
    common = patch.box.intersect(at)
    if common.empty:
        return
    inside = common.relative_to(patch.box).slices
    laid = as_deep(patch.pixels[inside], pixels)
    _lay(pixels[common.relative_to(at).slices], laid, patch.alpha[inside], amount)


def lay_alpha(alpha: Pixels, at: Box, patch: Patch, amount: int = 100) -> None:
    """Make the transparency of a picture opaque where a patch is laid on it, in place: source over destination (Porter
    and Duff, Compositing Digital Images, 1984).

    alpha (H, W) uint8 or uint16 of the box at of the picture; amount: how much of the patch shows, 0 to 100. Where the
    patch's own alpha is 0 nothing changes to the bit.
    """
    common = patch.box.intersect(at)
    if common.empty:
        return
    top = np.float64(np.iinfo(alpha.dtype).max)
    below = alpha[common.relative_to(at).slices]
    cover = patch.alpha[common.relative_to(patch.box).slices] * (amount / 100 / 255)
    below[...] = np.where(cover > 0, np.rint(below + cover * (top - below)), below).astype(alpha.dtype)


def patch_to_bytes(patch: Patch) -> bytes:
    """A patch as an .npz archive (arrays, and the rest as JSON). The same patch gives the same bytes."""
    facts = {
        "box": patch.box.model_dump(),
        "method": patch.method,
        "seed": patch.seed,
        "energy": patch.energy,
        "parts": [{**vars(part), "box": part.box.model_dump()} for part in patch.parts],
        "parameters": patch.provenance.as_json(),
    }
    arrays: dict[str, NDArray[np.generic]] = {
        "pixels": patch.pixels,
        "alpha": patch.alpha,
        "facts": np.frombuffer(json.dumps(facts, sort_keys=True).encode(), np.uint8),
    }
    if patch.offsets is not None:
        arrays["offsets"] = patch.offsets
    if patch.loose is not None:
        arrays["loose"] = patch.loose
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        for name, array in arrays.items():
            member = io.BytesIO()
            np.lib.format.write_array(member, np.ascontiguousarray(array), allow_pickle=False)
            archive.writestr(zipfile.ZipInfo(f"{name}.npy"), member.getvalue(), zipfile.ZIP_DEFLATED, 1)
    return buffer.getvalue()


def patch_from_bytes(data: bytes, with_offsets: bool = True) -> Patch:
    """The inverse of patch_to_bytes (the seconds are not part of it). Raises LibraryTrouble if damaged.

    Whoever only wants to show the patch can leave the offsets unread: they are its larger half.
    """
    try:
        with np.load(io.BytesIO(data), allow_pickle=False) as archive:
            facts = json.loads(archive["facts"].tobytes())
            patch = Patch(
                box=Box(**facts["box"]),
                pixels=archive["pixels"],
                alpha=archive["alpha"],
                offsets=archive["offsets"] if with_offsets and "offsets" in archive else None,
                loose=archive["loose"] if with_offsets and "loose" in archive else None,
                method=MadeBy(facts["method"]),
                seed=facts["seed"],
                energy=facts["energy"],
                parts=tuple(PartReport(**{**part, "box": Box(**part["box"])}) for part in facts["parts"]),
                provenance=Provenance.model_validate(facts["parameters"]),
            )
    except Exception as error:  # archives, packing, arrays and JSON have each their own for damaged data
        raise LibraryTrouble(DAMAGED_MESSAGE) from error
    size = patch.box.height, patch.box.width
    if patch.pixels.shape != (*size, 3) or patch.alpha.shape != size or patch.pixels.dtype not in (np.uint8, np.uint16):
        raise LibraryTrouble(DAMAGED_MESSAGE)
    return patch
