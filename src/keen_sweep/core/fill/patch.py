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

from keen_sweep.core.arrays import Bools, EightBit, Labels, Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.errors import LibraryTrouble
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.provenance import EMPTY_PROVENANCE, Provenance
from keen_sweep.core.photo.channels import in_depth_of
from keen_sweep.core.sentences import sentence

DAMAGED_MESSAGE = sentence("A stored take is damaged and cannot be shown.")


@dataclass(frozen=True)
class PartReport:
    """How one connected part was filled.

    Attributes
    ----------
    method : str
        The method or methods.
    why : str
        The reason in one sentence.
    box : Box
        Box of the part.
    area : int
        Pixels of the part.
    """

    method: str
    why: str
    box: Box
    area: int


@dataclass(frozen=True)
class Patch:
    """A take, or the result of a touch-up stroke.

    Attributes
    ----------
    box : Box
        Its box in the picture.
    pixels : (h, w, 3) uint8 or uint16
        Its pixels in the picture's dtype.
    alpha : (h, w) uint8
        0 where the picture stays.
    method : StrEnum
        What made it: MadeBy, or the brush.
    seed : int
        Its seed.
    offsets : (h, w, 2) int32 or None
        dx and dy to the source of each copied pixel; 0, 0 elsewhere.
    loose : (h, w) bool or None
        Pixels that need not match what is beside the hole.
    pieces : (h, w) int32 or None
        Labels of stretches that are copied along drawn lines, 0 elsewhere.
    energy : float
        Ranks takes of one sweep; lower is better.
    seconds : float
        Time it took.
    parts : tuple of PartReport
        How its parts were filled.
    provenance : Provenance
        How it was made.
    """

    box: Box
    pixels: Pixels
    alpha: EightBit
    method: StrEnum
    seed: int
    offsets: NDArray[np.int32] | None = None
    loose: Bools | None = None
    pieces: Labels | None = None
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
    """Blend a patch into pixels, in place.

    Where alpha is 0 nothing changes; where it is 255 and the amount 100 the patch is exact.

    Parameters
    ----------
    pixels : (H, W, 3) uint8 or uint16
        Pixels of the box `at`, changed in place.
    at : Box
        Box of these pixels in the picture.
    patch : Patch
        The patch.
    amount : int, optional
        Opacity, 0 to 100.
    """
    common = patch.box.intersect(at)
    if common.empty:
        return
    inside = common.relative_to(patch.box).slices
    laid = in_depth_of(patch.pixels[inside], pixels)
    _lay(pixels[common.relative_to(at).slices], laid, patch.alpha[inside], amount)


def lay_alpha(alpha: Pixels, at: Box, patch: Patch, amount: int = 100) -> None:
    """Make transparency opaque where a patch is laid, in place (source over destination).

    Where the patch's alpha is 0 nothing changes.

    Parameters
    ----------
    alpha : (H, W) uint8 or uint16
        Transparency of the box `at`, changed in place.
    at : Box
        Box of these pixels in the picture.
    patch : Patch
        The patch.
    amount : int, optional
        Opacity, 0 to 100.

    References
    ----------
    Porter and Duff 1984, "Compositing digital images".
    """
    common = patch.box.intersect(at)
    if common.empty:
        return
    top = np.float64(np.iinfo(alpha.dtype).max)
    below = alpha[common.relative_to(at).slices]
    cover = patch.alpha[common.relative_to(patch.box).slices] * (amount / 100 / 255)
    below[...] = np.where(cover > 0, np.rint(below + cover * (top - below)), below).astype(alpha.dtype)


def patch_to_bytes(patch: Patch) -> bytes:
    """Encode a patch as an .npz archive; the same patch always gives the same bytes.

    Parameters
    ----------
    patch : Patch
        The patch.

    Returns
    -------
    bytes
        The archive.
    """
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
    if patch.pieces is not None:
        arrays["pieces"] = patch.pieces
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        for name, array in arrays.items():
            member = io.BytesIO()
            np.lib.format.write_array(member, np.ascontiguousarray(array), allow_pickle=False)
            archive.writestr(zipfile.ZipInfo(f"{name}.npy"), member.getvalue(), zipfile.ZIP_DEFLATED, 1)
    return buffer.getvalue()


def patch_from_bytes(data: bytes, with_offsets: bool = True) -> Patch:
    """Decode a patch; the seconds are not stored.

    Parameters
    ----------
    data : bytes
        The archive.
    with_offsets : bool, optional
        Whether to read the offsets, which are the larger half and not needed for display.

    Returns
    -------
    Patch
        The patch.

    Raises
    ------
    LibraryTrouble
        The archive is damaged.
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
                pieces=archive["pieces"] if with_offsets and "pieces" in archive else None,
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
