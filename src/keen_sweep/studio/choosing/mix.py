"""Mix takes: paint which of two shows where; the mix is a take like any other."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from keen_sweep.core.errors import BadRequest, Conflict, NotFound
from keen_sweep.core.fill.mix import blend_takes, mix_box
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.mask.shape import Shape, compose
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Take
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.filling.below import takes_below
from keen_sweep.studio.filling.takes import MadeFor, keep_take
from keen_sweep.studio.open_frame import OpenFrame, open_frame


def mix_takes(
    library: Library,
    frame_id: int,
    sweep_id: str,
    under: int,
    over: int,
    shapes: Sequence[Shape],
) -> int:
    """A new take that shows one take, and another where shapes cover; 0 is as shot. It is picked; its number.

    Raises NotFound for takes of another sweep, BadRequest when nothing would change.
    """
    if under == over:
        raise BadRequest(sentence("Choose two different takes to mix."))
    current = open_frame(library, frame_id)
    bottom, top = (_patch(current, sweep_id, take) for take in (under, over))
    box = mix_box(bottom, top)
    cover, _ = compose(shapes, box, library.files.read)
    if not cover.any():
        raise BadRequest(sentence("This stroke lies outside both takes."))
    patch = blend_takes(current.below(sweep_id, box), bottom, top, cover)
    patch = replace(patch, provenance=patch.provenance.but(of=tuple(take for take in (under, over) if take)))
    made_for = MadeFor(current.frame.original, takes_below(current.stack, sweep_id))
    with library.together():
        made = keep_take(library, frame_id, sweep_id, 0, patch, made_for)
        pick(library, frame_id, sweep_id, made)
        return made


def _patch(current: OpenFrame, sweep_id: str, take: int) -> Patch | None:
    if take == 0:
        return None
    with current.library.session() as session:
        row = session.get(Take, take)
    if row is None or row.sweep_id != sweep_id or row.frame_id != current.frame.id:
        raise NotFound(sentence("This take does not belong to this sweep."))
    if row.original != current.frame.original:
        raise Conflict(sentence("This take was made for another version of the picture. Lay it again first."))
    return current.shelf.patch(row.patch)
