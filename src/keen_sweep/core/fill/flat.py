"""An engine that fills with one colour in milliseconds, for tests and for trying out what is not about filling."""

from __future__ import annotations

from collections.abc import Iterator

import cv2
import numpy as np

from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.errors import BadMask
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.fill_region import hole_of
from keen_sweep.core.fill.method import MadeBy, Method
from keen_sweep.core.fill.patch import PartReport, Patch
from keen_sweep.core.fill.provenance import Provenance
from keen_sweep.core.sentences import sentence

# Width of the rim whose mean colour is used, pixels.
RIM_PX = 4
# How much darker each further take is than the one before, as a share of the rim's mean.
STEP_SHARE = 0.06


class FlatEngine:
    """Engine for tests: fills a hole with the mean colour of its rim, each further take a little darker.

    Parameters
    ----------
    method : Method
        Method whose name it takes.
    """

    def __init__(self, method: Method) -> None:
        self.name: str = method
        self._made_by = MadeBy(method)

    def near(self, window: Box) -> FlatEngine:
        """See NearSighted."""
        return self

    def fill(self, given: FillInput) -> Iterator[Patch]:
        """Yield the takes of a fill; see Engine. Raises BadMask when no pixel lies outside the hole."""
        hole = hole_of(given)
        box = box_of(hole)
        window = box.grow(RIM_PX, whole(given.below))
        kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * RIM_PX + 1, 2 * RIM_PX + 1))
        near = cv2.dilate(hole[window.slices].astype(np.uint8), kernel) > 0
        rim = near & ~hole[window.slices]
        if not rim.any():
            raise BadMask(sentence("The mask covers the whole picture: there is nothing to take a colour from."))
        mean = given.below[window.slices][rim].mean(0)
        for number in range(given.takes):
            given.progress(
                number / given.takes, sentence("take {number} of {takes}", number=number + 1, takes=given.takes)
            )
            seed = given.seed + number
            pixels = np.array(given.below[box.slices])
            pixels[hole[box.slices]] = mean * (1 - STEP_SHARE * (seed % 8))
            yield Patch(
                box=box,
                pixels=pixels,
                alpha=np.where(hole, given.mask, 0).astype(np.uint8)[box.slices],
                method=self._made_by,
                seed=seed,
                energy=float(seed),
                parts=(PartReport(self.name, sentence("one flat colour"), box, int(hole.sum())),),
                provenance=Provenance(quality=given.quality, hint=given.words.hint, avoid=given.words.avoid),
            )
