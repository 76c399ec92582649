"""Reflections: how much soft light could be taken off, and a sweep that does it.

Whether it is a pane that adds the light cannot be told from a picture: mist and pale things look the same."""

from __future__ import annotations

from dataclasses import dataclass
from uuid import uuid4

import numpy as np

from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.separation import MIN_ADDED_LIGHT, evidence_of
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.sentences import sentence
from keen_sweep.document.mark import Mark
from keen_sweep.document.stack import Stack, Sweep
from keen_sweep.store.library import Library
from keen_sweep.studio.history import change
from keen_sweep.studio.open_frame import open_frame

# Working size when evidence is searched for, pixels.
EVIDENCE_PIXELS = 1_500_000
# Time the best version takes (docs/scouts.md).
SECONDS_PER_MEGAPIXEL = 0.6
# What works where this does not.
ALTERNATIVE_ADVICE = sentence("For a sharp reflection, mark it, and borrow from another frame or fill it.")


@dataclass(frozen=True)
class Answer:
    """Whether there is something to take off, in words, the sweep that does it, the seconds of its best version."""

    worth: bool
    text: str
    sweep_id: str | None
    seconds: float


def seek_reflection(library: Library, frame_id: int, sweep_id: str | None = None, anyway: bool = False) -> Answer:
    """See how much soft light such as glass adds lies over what a sweep marks or the whole picture; where there is
    some, or anyway, the sweep becomes one that takes it off. Nothing is filled yet."""
    current = open_frame(library, frame_id)
    window = current.mask(sweep_id, unguarded=True).box if sweep_id is not None else current.box
    below = current.stack.below(sweep_id) if sweep_id is not None else current.stack
    level = 0
    while window.area >> (2 * level) > EVIDENCE_PIXELS:
        level += 1
    pixels = current.seen(window.reduced(level), level, below)
    evidence = evidence_of(pixels.astype(np.float32) / np.float32(np.iinfo(pixels.dtype).max))
    seconds = max(window.area / 1e6 * SECONDS_PER_MEGAPIXEL, 0.5)
    worth = evidence >= MIN_ADDED_LIGHT
    if not worth and not anyway:
        text = sentence("No soft, even light was found. {alternative_advice}", alternative_advice=ALTERNATIVE_ADVICE)
        return Answer(False, text, None, seconds)
    made = sweep_id or uuid4().hex
    whole = as_area(Mask(window, np.full((window.height, window.width), 255, np.uint8)), library.files.add)

    def edit(stack: Stack) -> Stack:
        if sweep_id is not None:
            return stack.changed(sweep_id, method=Method.REFLECTION, together=True)
        mark = Mark(shapes=(whole,))
        return stack.with_layer(Sweep(id=made, name="Reflection", mark=mark, method=Method.REFLECTION, together=True))

    change(library, frame_id, sentence("remove a reflection"), edit)
    text = sentence(
        "About {evidence:.0%} of soft light can be removed. It may come from glass, but mist and pale things look the "
        "same. Compare, and press L to see what is removed. {alternative_advice}",
        evidence=evidence,
        alternative_advice=ALTERNATIVE_ADVICE,
    )
    return Answer(worth, text, made, seconds)
