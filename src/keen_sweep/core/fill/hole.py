"""What of an order's mask is to be filled."""

from __future__ import annotations

from keen_sweep.core.arrays import Bools
from keen_sweep.core.errors import BadMask
from keen_sweep.core.fill.order import Order
from keen_sweep.core.mask.check import check_mask


def hole_of(order: Order, may_be_all: bool = False) -> Bools:
    """The masked pixels that are not guarded, (H, W) bool; may_be_all: the mask may cover the whole picture.

    Raises BadMask when the mask does not fit the picture or leaves nothing to do.
    """
    check_mask(order.mask, order.below.shape[1], order.below.shape[0], may_be_all)
    hole = order.mask > 0
    if order.guard is not None:
        hole &= ~order.guard
    if not hole.any():
        raise BadMask("The mask lies wholly on guarded ground: there is nothing to fill.")
    return hole
