"""What of a mask is to be filled."""

from __future__ import annotations

from keen_sweep.core.arrays import Bools
from keen_sweep.core.errors import BadMask
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.mask.check import check_mask
from keen_sweep.core.sentences import sentence


def hole_of(given: FillInput, may_be_all: bool = False) -> Bools:
    """Pixels to fill: masked and not guarded.

    Parameters
    ----------
    given : FillInput
        The fill's input.
    may_be_all : bool, optional
        Whether the mask may cover the whole picture.

    Returns
    -------
    (H, W) bool
        The pixels.

    Raises
    ------
    BadMask
        The mask does not fit the picture or leaves nothing to do.
    """
    check_mask(given.mask, given.below.shape[1], given.below.shape[0], may_be_all)
    hole = given.mask > 0
    if given.guard is not None:
        hole &= ~given.guard
    if not hole.any():
        raise BadMask(sentence("The mask lies entirely inside the guard: there is nothing to fill."))
    return hole
