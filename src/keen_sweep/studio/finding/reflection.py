"""Reflections: is there one to be seen, and a sweep that takes it off."""

from __future__ import annotations

from dataclasses import dataclass
from uuid import uuid4

import numpy as np

from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.separation import EVIDENCE, evidence_of
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.mask import Mask
from keen_sweep.document.mark import Mark
from keen_sweep.document.stack import Stack, Sweep
from keen_sweep.store.library import Library
from keen_sweep.studio.history import change
from keen_sweep.studio.sitting import sit

# What evidence is looked for in, pixels; and the seconds that the best version takes for a million (docs/scouts.md).
LOOKED_AT, SECONDS = 1_500_000, 0.6


@dataclass(frozen=True)
class Answer:
    """Whether a reflection is to be seen, in words, the sweep that takes it off, the seconds of its best version."""

    found: bool
    text: str
    sweep_id: str | None
    seconds: float


def seek_reflection(library: Library, frame_id: int, sweep_id: str | None = None, anyway: bool = False) -> Answer:
    """Look for the soft light that glass adds, in what a sweep marks or the whole picture; where there is some, or
    anyway, the sweep becomes one that takes it off. Nothing is filled yet."""
    here = sit(library, frame_id)
    window = here.mask(sweep_id, free=True).box if sweep_id is not None else here.box
    below = here.stack.below(sweep_id) if sweep_id is not None else here.stack
    level = 0
    while window.area >> (2 * level) > LOOKED_AT:
        level += 1
    pixels = here.seen(window.reduced(level), level, below)
    evidence = evidence_of(pixels.astype(np.float32) / np.float32(np.iinfo(pixels.dtype).max))
    seconds = max(window.area / 1e6 * SECONDS, 0.5)
    found = evidence >= EVIDENCE
    if not found and not anyway:
        text = (
            "No reflection found: looked for soft light that lies over everything, as a pane adds it out of focus. "
            "One that is sharp, or very faint, is not seen."
        )
        return Answer(False, text, None, seconds)
    made = sweep_id or uuid4().hex
    whole = as_area(Mask(window, np.full((window.height, window.width), 255, np.uint8)), library.files.add)

    def edit(stack: Stack) -> Stack:
        if sweep_id is not None:
            return stack.changed(sweep_id, method=Method.REFLECTION, together=True)
        mark = Mark(shapes=(whole,))
        return stack.with_layer(Sweep(id=made, name="Reflection", mark=mark, method=Method.REFLECTION, together=True))

    change(library, frame_id, "take off a reflection", edit)
    text = f"A pane seems to add {evidence:.0%} of light." if found else "Little is to be seen of a reflection."
    return Answer(found, text, made, seconds)
