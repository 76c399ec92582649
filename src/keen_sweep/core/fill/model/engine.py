"""The engine behind the method model: a generative model, and all that its output needs to fit a photograph."""

from __future__ import annotations

import time
from collections.abc import Iterator

import numpy as np

from keen_sweep.core.box import box_of, whole
from keen_sweep.core.fill.hole import hole_of
from keen_sweep.core.fill.model.context import context, context_box
from keen_sweep.core.fill.model.native import at_native
from keen_sweep.core.fill.model.port import Model, Wish
from keen_sweep.core.fill.patch import PartReport, Patch
from keen_sweep.core.fill.protocol import Order
from keen_sweep.core.photo.channels import to_eight_bit


class ModelEngine:
    """Fills masks by a model."""

    def __init__(self, model: Model) -> None:
        self.model = model
        self.name = f"model {model.name}"

    def fill(self, order: Order) -> Iterator[Patch]:
        """Yield takes, told apart by their seeds; see Engine. Raises BadMask, ModelTrouble."""
        hole = hole_of(order)
        tight = box_of(hole)
        box = context_box(tight, whole(order.below), self.model)
        seen = context(to_eight_bit(order.below), hole, box, self.model)
        scale = np.float32(255 / np.iinfo(order.below.dtype).max)
        native = order.below[box.slices].astype(np.float32) * scale
        gap = hole[box.slices]
        share = seen.size[0] / box.width
        why = f"painted at {seen.size[0]} x {seen.size[1]}" + (", detail from the picture" if share < 1 else "")
        for number in range(order.takes):
            clock = time.perf_counter()
            order.progress(number / order.takes, f"take {number + 1} of {order.takes}")
            wish = Wish(order.seed + number, order.hint, order.avoid)
            painted = self.model.paint(seen.shown, seen.hole, wish)[: seen.size[1], : seen.size[0]]
            filled = at_native(native, gap, painted, wish.seed) / scale
            inner = tight.relative_to(box).slices
            pixels = np.where(gap[inner][..., None], np.rint(filled[inner]), order.below[tight.slices])
            yield Patch(
                box=tight,
                pixels=pixels.astype(order.below.dtype),
                alpha=np.where(hole[tight.slices], order.mask[tight.slices], 0).astype(np.uint8),
                method="model",
                seed=wish.seed,
                seconds=time.perf_counter() - clock,
                parts=(PartReport("model", f"{self.model.name}: {why}", tight, int(hole.sum())),),
                parameters={"quality": order.quality, "model": self.model.name},
            )
