"""Touch up: strokes that clone, heal or bring back the original, on top of the stack."""

from __future__ import annotations

from collections.abc import Sequence
from uuid import uuid4

import numpy as np

from keen_sweep.core.arrays import Bools
from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadRequest, NotFound
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.sentences import sentence
from keen_sweep.core.touch.caution import Caution, cautions
from keen_sweep.core.touch.dab import Brush, Source
from keen_sweep.core.touch.propose import DISTANCE_RATIOS, propose
from keen_sweep.core.touch.source import source_box
from keen_sweep.document.mark import drawing_to_bytes
from keen_sweep.document.stack import Stack
from keen_sweep.document.touch import Touch
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.studio.history import change
from keen_sweep.studio.open_frame import OpenFrame, open_frame

MAX_TOUCHES = 2_000


def touch_up(
    library: Library, frame_id: int, brush: Brush, stroke: Stroke, strength: int = 100, source: Source | None = None
) -> tuple[Touch, Revision]:
    """A stroke on top of everything. A heal without a source gets one near by. Raises BadRequest for a clone without
    a source, or a stroke outside the picture."""
    current = open_frame(library, frame_id)
    stroke = stroke.model_copy(update={"erase": False})
    box = stroke.box.intersect(current.box)
    if box.empty:
        raise BadRequest(sentence("This stroke lies outside the picture."))
    if brush is Brush.CLONE and source is None:
        raise BadRequest(sentence("Set a source first: hold C and click where to copy from."))
    if not brush.copies:
        source = None
    elif source is None:
        source = _near_by(current, stroke)
    touch = Touch(
        id=uuid4().hex,
        brush=brush,
        stroke=library.files.add(drawing_to_bytes(stroke)),
        box=box,
        strength=strength,
        source=source,
    )

    def edit(stack: Stack) -> Stack:
        if len(stack.touches) >= MAX_TOUCHES:
            raise BadRequest(
                sentence("A picture holds at most {max_touches} touch-up strokes.", max_touches=MAX_TOUCHES)
            )
        return stack.with_layer(touch)

    return touch, change(library, frame_id, brush, edit)


def cautions_for(library: Library, frame_id: int, touch_id: str) -> list[Caution]:
    """What to point out about a stroke. Raises NotFound."""
    current = open_frame(library, frame_id)
    touch = _touch(current.stack, touch_id)
    if touch.source is None:
        return []
    window = source_box(touch.source, touch.box).union(touch.box).grow(8, current.box)
    at = current.stack.layers.index(touch)
    below = current.stack.model_copy(update={"layers": current.stack.layers[:at]})
    above = current.stack.model_copy(update={"layers": current.stack.layers[: at + 1]})
    stroke = current.shelf.drawing(touch.stroke)
    assert isinstance(stroke, Stroke)
    return cautions(
        _seen_from(window, touch),
        _stroke_from(window, stroke),
        current.seen(window, stack=below),
        current.seen(window, stack=above),
        _things(current, below, window),
        [_seen_from(window, each) for each in below.touches if each.shown],
    )


def show_touches(library: Library, frame_id: int, touch_ids: Sequence[str], shown: bool) -> Revision:
    """Switch touch-ups on or off. Raises NotFound."""

    def edit(stack: Stack) -> Stack:
        for touch_id in touch_ids:
            stack = stack.with_layer(_touch(stack, touch_id).model_copy(update={"shown": shown}))
        return stack

    return change(library, frame_id, sentence("touch-ups {state}", state="on" if shown else "off"), edit)


def delete_touches(library: Library, frame_id: int, touch_ids: Sequence[str]) -> Revision:
    """Take touch-ups out of the stack; undo brings them back. Raises NotFound."""

    def edit(stack: Stack) -> Stack:
        gone = {_touch(stack, touch_id).id for touch_id in touch_ids}
        return stack.model_copy(update={"layers": tuple(each for each in stack.layers if each.id not in gone)})

    return change(library, frame_id, sentence("delete touch-ups"), edit)


def _touch(stack: Stack, touch_id: str) -> Touch:
    for touch in stack.touches:
        if touch.id == touch_id:
            return touch
    raise NotFound(sentence("This touch-up is not in the picture any more: it was deleted or undone."))


def _near_by(current: OpenFrame, stroke: Stroke) -> Source:
    window = stroke.box.grow(round((DISTANCE_RATIOS[-1] + 1) * stroke.size), current.box)
    found = propose(_stroke_from(window, stroke), current.seen(window), _things(current, current.stack, window))
    return _moved(found, window.x, window.y)


def _things(current: OpenFrame, below: Stack, window: Box) -> Bools:
    """Where in a window something that is marked can still be seen: nothing was picked for it below the touch-up."""
    out = np.zeros((window.height, window.width), np.bool_)
    gone = {sweep.id for sweep in below.sweeps if sweep.shown and sweep.pick}
    for sweep in current.stack.sweeps:
        if sweep.id in gone or not sweep.shown or sweep.reach(current.box).intersect(window).empty:
            continue
        mask = current.mask(sweep.id, unguarded=True)
        common = mask.box.intersect(window)
        out[common.relative_to(window).slices] |= mask.pixels[common.relative_to(mask.box).slices] > 0
    return out


def _seen_from(window: Box, touch: Touch) -> Touch:
    source = touch.source and _moved(touch.source, -window.x, -window.y)
    return touch.model_copy(update={"box": touch.box.relative_to(window), "source": source})


def _stroke_from(window: Box, stroke: Stroke) -> Stroke:
    points = tuple((x - window.x, y - window.y) for x, y in stroke.points)
    return stroke.model_copy(update={"points": points})


def _moved(source: Source, across: float, down: float) -> Source:
    return source.model_copy(
        update={
            "at": (source.at[0] + across, source.at[1] + down),
            "to": (source.to[0] + across, source.to[1] + down),
        }
    )
