"""Cut: as much of a picture as a fill looks at, so that no more has to be sent to another machine."""

from __future__ import annotations

from dataclasses import replace
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.fill.closing import SURROUNDINGS
from keen_sweep.core.fill.order import Engine, NearSighted, Order
from keen_sweep.core.fill.weave.scene import surroundings

A = TypeVar("A", bound=NDArray[np.generic])
# Cuts begin at pixels that divide by this, so that what is done on coarser grids falls on the same ones.
STEP = 64


def cut(engine: Engine, order: Order) -> tuple[Engine, Order, Box]:
    """An order with no more of its picture than the engine looks at, the engine for that, and the box of the picture it
    is: filled in the cut, the takes are the same to the bit. Who looks at all of it, as do words, has all of it."""
    worded = (order.hint or order.avoid) and order.draw_from is None
    if not isinstance(engine, NearSighted) or worded or not order.mask.any():
        return engine, order, whole(order.below)
    window = looked_at(order)
    return engine.near(window), within(order, window), window


def looked_at(order: Order) -> Box:
    """The surroundings of what is masked, as far as a fill looks at them."""
    all_of_it, tight = whole(order.below), box_of(order.mask)
    seen = surroundings(tight, all_of_it).union(tight.grow(SURROUNDINGS + STEP, all_of_it))
    if order.draw_from is not None and order.draw_from.any():
        seen = seen.union(box_of(order.draw_from))
    x, y = seen.x // STEP * STEP, seen.y // STEP * STEP
    return Box(x=x, y=y, width=seen.right - x, height=seen.bottom - y)


def within(order: Order, window: Box) -> Order:
    """An order for a cut of its picture."""

    def part(plane: A) -> A:
        return np.ascontiguousarray(plane[window.slices])  # type: ignore[return-value]

    planes = ("guard", "barred", "draw_from", "foreign", "things")
    there = {name: part(plane) for name in planes if (plane := getattr(order, name)) is not None}
    return replace(order, below=part(order.below), mask=part(order.mask), **there)
