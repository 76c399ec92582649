"""Lead lines: what is drawn to say how a sweep's fill goes on."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.fill.lead import LeadLine, check_lead, simplified
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.sentences import sentence
from keen_sweep.document.stack import Stack
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.studio.history import change
from keen_sweep.studio.open_frame import open_frame

# How far a stored line may lie from the drawn one, pixels.
TOLERANCE_PX = 0.7
# Places of a mask whose mirror images are looked at, about.
MIRRORED_PLACES = 500
# From this share of images within the mask itself on, the axis mirrors nothing into it.
MAX_SELF_MIRRORED = 0.9


def set_lead(library: Library, frame_id: int, sweep_id: str, lines: Sequence[LeadLine]) -> Revision:
    """Give a sweep other lines and arrows that lead its fill; none takes them all away.

    Raises BadRequest for too many lines, and for one that is too short or too long, does not cross the mask or shows
    nothing outside of it, for an arrow that does not lead into it and an axis that mirrors it onto itself; NotFound."""
    current = open_frame(library, frame_id)
    sweep = current.stack.sweep(sweep_id)
    mask = current.mask(sweep_id, unguarded=True)
    check_lead(lines, current.frame.width, current.frame.height)
    for line in lines:
        # The mask may have changed since the others were drawn.
        if line not in sweep.lead:
            _check_against(mask, line)
    lead = tuple(_stored(line) for line in lines)

    def edit(stack: Stack) -> Stack:
        return stack.changed(sweep_id, lead=lead)

    more = len(lead) > len(sweep.lead)
    return change(library, frame_id, sentence("draw a line") if more else sentence("remove a line"), edit)


def _stored(line: LeadLine) -> LeadLine:
    """A line without points that say nothing: only an edge may bend."""
    return simplified(line, TOLERANCE_PX) if line.brings == "edge" else line.through(line.xy[[0, -1]])


def _check_against(mask: Mask, line: LeadLine) -> None:
    if line.brings == "mirror":
        if not _mirrors(mask, line):
            raise BadRequest(
                sentence("Mirrored over this axis the mask meets only itself. Draw the axis of what is symmetrical.")
            )
        return
    inside = [_covered(mask, x, y) for x, y in line.places(1.0)]
    if line.brings == "ground":
        if inside[0] or not inside[-1]:
            raise BadRequest(
                sentence("Begin the arrow outside the mask, on the ground that goes on, and end it inside.")
            )
        return
    if not any(inside):
        raise BadRequest(sentence("This line does not cross the mask. Draw it through what is removed."))
    if inside[0] and inside[-1] and line.brings == "repeat":
        raise BadRequest(sentence("Draw the row longer: over what repeats outside the mask."))
    if inside[0] and inside[-1]:
        raise BadRequest(
            sentence("Begin or end the line outside the mask, on the edge that goes on: its look is taken from there.")
        )


def _mirrors(mask: Mask, line: LeadLine) -> bool:
    """Whether enough of a mask has a mirror image outside of it."""
    rows, columns = np.nonzero(mask.pixels)
    every = max(len(rows) // MIRRORED_PLACES, 1)
    places = np.stack([columns[::every] + mask.box.x, rows[::every] + mask.box.y], 1).astype(np.float64)
    covered = [_covered(mask, x, y) for x, y in line.mirrored(places)]
    return float(np.mean(covered)) < MAX_SELF_MIRRORED


def _covered(mask: Mask, x: float, y: float) -> bool:
    column, row = round(x) - mask.box.x, round(y) - mask.box.y
    inside = 0 <= row < mask.pixels.shape[0] and 0 <= column < mask.pixels.shape[1]
    return bool(inside and mask.pixels[row, column])
