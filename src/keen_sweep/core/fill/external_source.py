"""Ground lent by another picture: a patch of a sister frame, laid beside the hole's surroundings to be drawn from."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import TypeVar

import numpy as np

from keen_sweep.core.arrays import Bools, EightBit, Pixels
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.fill.engine import NO_WORDS, FillInput, Sources
from keen_sweep.core.fill.fill_region import hole_of
from keen_sweep.core.fill.local.engine import ByPart
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.fill.weave.scene import PATCH_RADIUS_PX, surroundings
from keen_sweep.core.photo.channels import in_depth_of
from keen_sweep.core.sentences import sentence

# What is laid beside each other is of one kind.
Beside = TypeVar("Beside", Pixels, EightBit, Bools)
# Shorter side of the smallest usable source, pixels: it must hold some patches.
MIN_SOURCE_SIDE_PX = 24


class ExternalSource:
    """Engine that weaves from a patch of another picture.

    Parameters
    ----------
    lent : (h, w, 3) uint8 or uint16
        The patch.
    """

    name = "weave"

    def __init__(self, lent: Pixels) -> None:
        if min(lent.shape[:2]) < MIN_SOURCE_SIDE_PX:
            raise BadRequest(
                sentence(
                    "The area to copy from is too small: it needs at least {side} x {side} px.",
                    side=MIN_SOURCE_SIDE_PX,
                )
            )
        self._lent = lent

    def near(self, window: Box) -> ExternalSource:
        """See NearSighted."""
        return self

    def fill(self, given: FillInput) -> Iterator[Patch]:
        """See Engine. Such a take cannot be laid again on another development: its source lies elsewhere."""
        hole = hole_of(given)
        box = surroundings(box_of(hole), whole(given.below))
        lent = in_depth_of(self._lent, given.below)
        height = max(box.height, lent.shape[0])

        def beside(own: Beside | None, other: Beside | None) -> Beside:
            kind: Beside = next(each for each in (own, other) if each is not None)
            out = np.zeros((height, box.width + lent.shape[1], *kind.shape[2:]), kind.dtype)
            if own is not None:
                out[: box.height, : box.width] = own[box.slices]
            if other is not None:
                out[: lent.shape[0], box.width :] = other
            return out

        source = np.zeros(lent.shape[:2], np.bool_)
        rim = PATCH_RADIUS_PX + 1
        source[rim:-rim, rim:-rim] = True
        # What lies below or above the shorter of the two is nothing that may be looked at.
        nothing = np.ones((height, box.width + lent.shape[1]), np.bool_)
        nothing[: box.height, : box.width] = nothing[: lent.shape[0], box.width :] = False
        guard = nothing | np.asarray(beside(given.guard, None), np.bool_) if given.guard is not None else nothing
        inner = replace(
            given,
            below=beside(given.below, lent),
            mask=beside(given.mask, None),
            guard=guard,
            sources=Sources(draw_from=beside(None, source)),
            words=NO_WORDS,
            lead=tuple(line.moved(-box.x, -box.y) for line in given.lead),
        )
        for take in ByPart(Method.WEAVE).fill(inner):
            placed = take.moved(box.x, box.y)
            yield replace(placed, offsets=None, provenance=take.provenance.but(lent=True))
