"""Lay a take again on another development of its picture, without new synthesis."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from keen_sweep.core.arrays import Pixels
from keen_sweep.core.box import whole
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.fill.local.laying_out import close_all, clusters_of, put_closed, put_values, with_closed
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.fill.weave.compositing import lay_offsets
from keen_sweep.core.fill.weave.scene import hole_window, surroundings
from keen_sweep.core.mask.slivers import slivers_of
from keen_sweep.core.sentences import sentence


def lay_take_again(take: Patch, picture: Pixels) -> Patch:
    """Lay a take again on a re-graded picture of the same geometry.

    Woven pixels are copied from the same places; closed parts are continued anew with grain of the same seed.
    On the picture that the take was made for, the result is exactly the take.

    Parameters
    ----------
    take : Patch
        The take.
    picture : (H, W, 3) uint8 or uint16
        The re-graded picture.

    Returns
    -------
    Patch
        The new take.

    Raises
    ------
    BadRequest
        The picture has another size, or the take was not made from the picture itself.
    """
    if take.method not in (MadeBy.AUTO, MadeBy.CLOSE, MadeBy.WEAVE):
        raise BadRequest(sentence("This take was not copied from the picture itself, so it cannot be laid again."))
    if take.provenance.staged:
        raise BadRequest(sentence("A take made in stages cannot be laid again: fill it again."))
    if take.provenance.lent:
        raise BadRequest(sentence("A take copied from another picture cannot be laid again: fill it again."))
    quality = take.provenance.quality
    box = take.box
    if box != box.intersect(whole(picture)):
        raise BadRequest(
            sentence("The take reaches beyond this picture. It can only be laid on the same picture in other tones.")
        )
    hole = np.zeros(picture.shape[:2], bool)
    hole[box.slices] = take.alpha > 0
    woven = np.zeros_like(hole)
    offsets = np.zeros((*hole.shape, 2), np.int32)
    if take.offsets is not None:
        woven[box.slices] = (take.offsets != 0).any(axis=2)
        offsets[box.slices] = take.offsets
    loose = np.zeros_like(hole)
    if take.loose is not None:
        loose[box.slices] = take.loose
    pieces = None
    if take.pieces is not None:
        pieces = np.zeros(hole.shape, np.int32)
        pieces[box.slices] = take.pieces
    known = ~(hole | slivers_of(hole))
    closed = close_all(picture, hole & ~woven, known)
    below = with_closed(picture, closed)
    pixels = np.array(picture[box.slices])
    put_closed(pixels, box, closed, take.seed)
    for cluster in clusters_of(woven):
        inside = np.zeros_like(hole)
        inside[cluster.box.slices] = cluster.inside
        window = hole_window(inside)
        inner = window.slices
        places = np.where(inside[inner][..., None], offsets[inner], 0)
        ground = surroundings(cluster.box, whole(below))
        own_pieces = None if pieces is None else pieces[inner]
        laid = lay_offsets(
            below, known, inside[inner], places, window, ground, cluster.radius, quality, loose[inner], own_pieces
        )
        put_values(pixels, box, window, laid, inside[inner])
    return replace(take, pixels=pixels, energy=take.energy)
