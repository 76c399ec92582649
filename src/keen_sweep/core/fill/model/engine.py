"""The engine behind the method model: a generative model, and all that its output needs to fit a photograph."""

from __future__ import annotations

import time
from collections.abc import Iterator

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit, Floats, Pixels
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.fill_region import hole_of
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.model.context import Context, context, context_box
from keen_sweep.core.fill.model.native import fill_at_full_size
from keen_sweep.core.fill.model.port import Model, Wish
from keen_sweep.core.fill.model.sections import Section, ramp, sections_of
from keen_sweep.core.fill.patch import PartReport, Patch
from keen_sweep.core.fill.provenance import Provenance
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.sentences import sentence

# Distance between the seeds of the sections of one take.
SECTION_SEED_STRIDE = 7_919


class ModelEngine:
    """Engine that fills masks with a generative model.

    Parameters
    ----------
    model : Model
        The model.
    """

    def __init__(self, model: Model) -> None:
        self.model = model
        self.name = f"model {model.name}"

    def fill(self, given: FillInput) -> Iterator[Patch]:
        """Yield takes, told apart by their seeds; see Engine. Raises BadMask, ModelTrouble."""
        hole = hole_of(given)
        tight = box_of(hole)
        sections = sections_of(hole, self.model, given.staged)
        total = given.takes * len(sections)
        # A quick look is a rough one: a third of the steps.
        steps = given.knobs.steps if given.quality == "fine" else max(round(given.knobs.steps / 3), 1)
        knobs = given.knobs.model_copy(update={"steps": steps})
        for number in range(given.takes):
            clock = time.perf_counter()
            canvas = given.below.copy()
            left = hole.copy()
            receipts: dict[str, float] = {}
            reports = []
            for k, section in enumerate(sections):
                done = number * len(sections) + k

                def tick(share: float, doing: str, done: int = done, number: int = number) -> None:
                    given.progress(
                        (done + share) / total,
                        sentence(
                            "take {number} of {takes}, {doing}", number=number + 1, takes=given.takes, doing=doing
                        ),
                    )

                tick(0.0, "starting")
                wish = Wish(given.seed + number + k * SECTION_SEED_STRIDE, given.words.hint, given.words.avoid, knobs)
                box, gap, show = _place(section, left, hole, canvas, self.model)
                seen = context(to_eight_bit(canvas[box.slices]), gap, box, self.model)
                painting = self.model.paint(seen.shown, seen.hole, wish, tick, given.paid)
                if painting.credits:
                    receipts[painting.receipt] = painting.credits
                painted = painting.pixels[: seen.size[1], : seen.size[0]]
                _lay(canvas, box, gap, show, painted, wish.seed)
                left[section.part.box.slices] &= ~section.part.inside
                reports.append(PartReport(MadeBy.MODEL, self._why(seen), section.part.box, section.part.area))
            yield Patch(
                box=tight,
                pixels=np.where(hole[tight.slices][..., None], canvas[tight.slices], given.below[tight.slices]),
                alpha=np.where(hole[tight.slices], given.mask[tight.slices], 0).astype(np.uint8),
                method=MadeBy.MODEL,
                seed=given.seed + number,
                seconds=time.perf_counter() - clock,
                parts=tuple(reports),
                provenance=Provenance(
                    quality=given.quality,
                    model=self.model.facts.model_copy(update={"name": self.model.name}),
                    hint=given.words.hint,
                    avoid=given.words.avoid,
                    knobs=knobs,
                    credits=sum(receipts.values()),
                    receipts=receipts,
                ),
            )

    def _why(self, seen: Context) -> str:
        width, height = seen.size
        detail = sentence(", detail from the picture") if width < seen.box.width else ""
        return sentence(
            "{name}: painted at {width} x {height}{detail}",
            name=self.model.name,
            width=width,
            height=height,
            detail=detail,
        )


def _place(section: Section, left: Bools, hole: Bools, canvas: Pixels, model: Model) -> tuple[Box, Bools, Floats]:
    """The box that is shown for a section; what of it the model has to paint, whatever of the thing is still there; and
    how much of the painting shows."""
    box = context_box(section.part.box.grow(section.overlap, whole(canvas)), whole(canvas), model)
    inside = np.zeros((box.height, box.width), np.bool_)
    inside[section.part.box.relative_to(box).slices] = section.part.inside
    open_yet = left[box.slices]
    over = np.zeros_like(inside)
    if section.overlap:
        size = 2 * section.overlap + 1
        near = cv2.dilate(inside.astype(np.uint8), cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))) > 0
        over = near & hole[box.slices] & ~open_yet
    return box, open_yet | over, ramp(inside, over, section.overlap)


def _lay(
    canvas: Pixels,
    box: Box,
    gap: Bools,
    show: Floats,
    painted: EightBit,
    seed: int,
) -> None:
    """Lay a painting of a box onto the canvas, in place."""
    top = np.iinfo(canvas.dtype).max
    scale = np.float32(255 / top)
    native = canvas[box.slices].astype(np.float32) * scale
    filled = fill_at_full_size(native, gap, painted, seed)
    mixed = native + show[..., None] * (filled - native)
    chosen = show > 0
    canvas[box.slices][chosen] = np.rint(mixed[chosen] / scale).clip(0, top).astype(canvas.dtype)
