"""Render: the only way from an original and a stack to pixels.

Tiles on screen, what an engine sees and what is delivered all come from it. Touch-ups are worked out in blocks, each
from the picture below it, so that a window costs what it shows and nothing depends on the order of looking.
"""

from __future__ import annotations

import hashlib
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.box import Box, whole
from keen_sweep.core.errors import LibraryTrouble
from keen_sweep.core.fill.patch import Patch, lay, lay_alpha
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.photo.pyramid import Pyramid, halve
from keen_sweep.core.sentences import sentence
from keen_sweep.core.touch.paint import paint_patch
from keen_sweep.core.touch.source import source_box
from keen_sweep.document.shelf import Shelf
from keen_sweep.document.stack import Stack, Sweep
from keen_sweep.document.touch import Touch

# Side of the blocks in which a picture is composited and touch-ups are applied, pixels.
BLOCK_SIDE_PX = 256


def render(original: Pyramid, stack: Stack, shelf: Shelf, window: Box | None = None, level: int = 0) -> Pixels:
    """The pixels (h, w, 3) of a window of a pyramid level, in the original's dtype.

    window is in pixels of that level (each halves the sides, rounding up); None means all of it. Whatever
    level and window, the result equals the full-size render halved level times and cut. Raises NotFound or
    LibraryTrouble through the shelf when a file is gone or damaged.
    """
    pixels = original.level(level)
    window = whole(pixels) if window is None else window.intersect(whole(pixels))
    out = original.window(window, level)
    if window.empty:
        return out
    seen = window.enlarged(level).intersect(original.box)
    layings = _layings(original, stack, shelf, seen)
    side = max(BLOCK_SIDE_PX, 1 << level)
    for cell in _cells([laying.box.intersect(seen) for laying in layings], side, original.box):
        # Whole blocks of 2 ** level pixels: a level's pixel is made of all that lies under it.
        region = cell.intersect(seen)
        part = _composed(original, layings, region)
        for _ in range(level):
            part = halve(part)
        place = region.reduced(level).intersect(window)
        inner = place.relative_to(region.reduced(level))
        out[place.relative_to(window).slices] = part[inner.slices]
    return out


def render_alpha(alpha: Pixels, stack: Stack, shelf: Shelf) -> Pixels:
    """The transparency (H, W) of a picture with the takes of a stack laid on it: opaque where a take lies, elsewhere to
    the bit what it was. Raises NotFound or LibraryTrouble through the shelf."""
    out = alpha.copy()
    for sweep in stack.sweeps:
        if sweep.shown and sweep.pick is not None:
            lay_alpha(
                out, Box(x=0, y=0, width=out.shape[1], height=out.shape[0]), shelf.patch(sweep.pick), sweep.amount
            )
    return out


@dataclass
class _Laying:
    """What one layer does to one box: a take's patch, or a block of a touch-up that is still to be worked out.

    reads: what of the picture below it has to be known. key names what comes of it: equal keys, equal patches.
    """

    layer: int
    box: Box
    key: str
    amount: int = 100
    patch: Patch | None = None
    touch: Touch | None = None
    stroke: Stroke | None = None
    reads: tuple[Box, ...] = ()


def _layings(original: Pyramid, stack: Stack, shelf: Shelf, seen: Box) -> list[_Laying]:
    """All that has to be laid so that a box is right, from bottom to top, each with its patch."""
    wanted, needs = [], _Boxes([seen])
    for number, layer in reversed(list(enumerate(stack.layers))):
        if not layer.shown:
            continue
        if isinstance(layer, Sweep):
            if layer.pick is None:
                continue
            patch = shelf.patch(layer.pick)
            if needs.meet(patch.box).any():
                key = f"{layer.pick} {layer.amount}"
                wanted.append(_Laying(number, patch.box, key, layer.amount, patch))
            continue
        reach = layer.reach(original.box)
        if reach.empty or not needs.meet(reach).any():
            continue
        stroke = _stroke(shelf, layer)
        found = [box for box in _blocks(layer, stroke, reach) if needs.meet(box).any()]
        key = layer.model_dump_json(exclude={"id", "shown"})
        for box in found:
            reads = _reads(layer, box, original.box)
            wanted.append(_Laying(number, box, key, touch=layer, stroke=stroke, reads=reads))
        needs.add([read for laying in wanted[len(wanted) - len(found) :] for read in laying.reads])
    wanted.reverse()
    _work_out(original, wanted, shelf)
    return wanted


def _work_out(original: Pyramid, layings: list[_Laying], shelf: Shelf) -> None:
    """Give every block of a touch-up its patch, from bottom to top."""
    boxes = _Boxes([laying.box for laying in layings])
    for laying in layings:
        if laying.touch is None or laying.stroke is None:
            continue
        under = np.zeros(len(layings), np.bool_)
        for read in laying.reads:
            under |= boxes.meet(read)
        beneath = [layings[k] for k in np.flatnonzero(under) if layings[k].layer < laying.layer]
        # The picture's size, because where the source runs out of it decides too.
        facts = [original.name, laying.key, *(box.model_dump_json() for box in (laying.box, original.box))]
        facts += [each.key for each in beneath]
        laying.key = hashlib.sha256("\n".join(facts).encode()).hexdigest()
        below = partial(_composed, original, beneath)
        make = partial(paint_patch, laying.touch, laying.stroke, laying.box, original.box, below, original.window)
        laying.patch = shelf.made(laying.key, make)


def _composed(original: Pyramid, layings: Sequence[_Laying], box: Box) -> Pixels:
    """A box of the picture with layings laid on it in their order."""
    part = original.window(box)
    for laying in layings:
        assert laying.patch is not None
        lay(part, box, laying.patch, laying.amount)
    return part


def _blocks(touch: Touch, stroke: Stroke, reach: Box) -> list[Box]:
    """The parts in which a touch-up can be worked out by itself: blocks that the stroke may touch; a heal in one, for
    its tone is carried over all of it."""
    if touch.brush == "heal":
        return [reach]
    path = stroke.path
    first, last = path[: max(len(path) - 1, 1)], path[1:] if len(path) > 1 else path
    rim = stroke.size / 2 + 1
    # Only blocks of the picture: what a stroke does beyond it is not seen.
    most = ((reach.right - 1) // BLOCK_SIDE_PX, (reach.bottom - 1) // BLOCK_SIDE_PX)
    low = np.floor((np.minimum(first, last) - rim) / BLOCK_SIDE_PX).astype(np.int64).clip((0, 0), most)
    high = np.floor((np.maximum(first, last) + rim) / BLOCK_SIDE_PX).astype(np.int64).clip((0, 0), most)
    cells = set()
    # Segments that reach into the same blocks count once: four numbers of 16 bit each are one of 64.
    coded = np.unique(np.hstack([low, high]) @ (1 << np.array([0, 16, 32, 48])))
    for x0, y0, x1, y1 in ((code >> np.array([0, 16, 32, 48])) & 0xFFFF for code in coded):
        cells |= {(x, y) for x in range(x0, x1 + 1) for y in range(y0, y1 + 1)}
    boxes = (
        Box(x=x * BLOCK_SIDE_PX, y=y * BLOCK_SIDE_PX, width=BLOCK_SIDE_PX, height=BLOCK_SIDE_PX).intersect(reach)
        for x, y in sorted(cells)
    )
    return [box for box in boxes if not box.empty]


def _stroke(shelf: Shelf, touch: Touch) -> Stroke:
    drawing = shelf.drawing(touch.stroke)
    if not isinstance(drawing, Stroke):
        raise LibraryTrouble(sentence("A stored stroke is damaged and cannot be shown."))
    return drawing


def _reads(touch: Touch, box: Box, picture: Box) -> tuple[Box, ...]:
    if touch.source is None:
        return (box,)
    source = source_box(touch.source, box).intersect(picture)
    return (box,) if source.empty else (box, source)


def _cells(boxes: Sequence[Box], side: int, picture: Box) -> Iterator[Box]:
    """The cells of a grid that boxes reach into, cut to the picture."""
    cells = set()
    for box in boxes:
        if not box.empty:
            cells |= {
                (x, y)
                for x in range(box.x // side, (box.right - 1) // side + 1)
                for y in range(box.y // side, (box.bottom - 1) // side + 1)
            }
    for x, y in sorted(cells):
        yield Box(x=x * side, y=y * side, width=side, height=side).intersect(picture)


class _Boxes:
    """Many boxes, asked at once which of them a box meets."""

    def __init__(self, boxes: Sequence[Box]) -> None:
        self._edges: NDArray[np.int64] = np.zeros((0, 4), np.int64)
        self.add(boxes)

    def add(self, boxes: Sequence[Box]) -> None:
        edges = [(box.x, box.y, box.right, box.bottom) for box in boxes]
        self._edges = np.concatenate([self._edges, np.array(edges, np.int64).reshape(-1, 4)])

    def meet(self, box: Box) -> Bools:
        """(n,): whether they share a pixel."""
        left, top, right, bottom = self._edges.T
        return np.asarray((left < box.right) & (top < box.bottom) & (right > box.x) & (bottom > box.y))
