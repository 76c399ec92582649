"""The layers of a frame's layered file: a sweep's pick each, and what the touch-ups between two of them changed."""

from __future__ import annotations

from itertools import groupby

from keen_sweep.core.deliver.layers import Layer, layer_of_change
from keen_sweep.document.stack import Sweep
from keen_sweep.document.touch import Touch
from keen_sweep.studio.open_frame import OpenFrame

TOUCH_UP_NAME = "Touch-up"


def layers_of(current: OpenFrame) -> list[Layer]:
    """From bottom to top; what is switched off is there, hidden. Sweeps without a pick have nothing to show."""
    out: list[Layer] = []
    below: tuple[Sweep | Touch, ...] = ()
    touched = 0
    for is_sweep, group in groupby(current.stack.layers, key=lambda layer: isinstance(layer, Sweep)):
        own = tuple(group)
        if is_sweep:
            out += [
                made for layer in own if isinstance(layer, Sweep) and (made := _of_sweep(current, layer)) is not None
            ]
        else:
            touched += 1
            states = [current.stack.model_copy(update={"layers": each}) for each in (below, below + own)]
            before, after = (current.seen(stack=each) for each in states)
            change = layer_of_change(f"{TOUCH_UP_NAME} {touched}", before, after)
            out += [change] if change is not None else []
        below += own
    return out


def _of_sweep(current: OpenFrame, sweep: Sweep) -> Layer | None:
    if sweep.pick is None:
        return None
    patch = current.shelf.patch(sweep.pick)
    return Layer(sweep.name, patch.box, patch.pixels, patch.alpha, sweep.amount / 100, sweep.shown)
