"""The eight orientations of Exif (JEITA CP-3451, tag 0x0112) as array turns."""

from __future__ import annotations

from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

P = TypeVar("P", bound=NDArray[np.generic])


def upright(stored: P, orientation: int) -> P:
    """Turn stored pixels upright.

    Parameters
    ----------
    stored : (H, W, ...) array
        The pixels in the file's order.
    orientation : int
        Exif orientation, 1 to 8.

    Returns
    -------
    (H, W, ...) or (W, H, ...) array
        The upright pixels.
    """
    turned: P = {
        1: lambda a: a,
        2: lambda a: a[:, ::-1],
        3: lambda a: a[::-1, ::-1],
        4: lambda a: a[::-1],
        5: lambda a: a.swapaxes(0, 1),
        6: lambda a: a.swapaxes(0, 1)[:, ::-1],
        7: lambda a: a[::-1, ::-1].swapaxes(0, 1),
        8: lambda a: a.swapaxes(0, 1)[::-1],
    }[orientation](stored)
    return turned


def as_stored(shown: P, orientation: int) -> P:
    """The inverse of `upright`.

    Parameters
    ----------
    shown : (H, W, ...) array
        Upright pixels.
    orientation : int
        Exif orientation, 1 to 8.

    Returns
    -------
    (H, W, ...) or (W, H, ...) array
        The pixels in the file's order.
    """
    return upright(shown, {6: 8, 8: 6}.get(orientation, orientation))
