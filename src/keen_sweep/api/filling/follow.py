"""Fills that follow a newer version of the picture."""

from __future__ import annotations

from keen_sweep.api.desk.schemas import desk_of
from keen_sweep.api.filling.schemas import FollowedOut, Following
from keen_sweep.store.library import Library
from keen_sweep.studio.filling import lay_again


def followed(library: Library, frame_id: int, how: Following) -> FollowedOut:
    """See the request of that name."""
    if how == "drop":
        dropped = lay_again.let_go(library, frame_id)
        return FollowedOut(done=dropped, left=[], desk=desk_of(library, frame_id))
    done = (lay_again.lay_again if how == "lay" else lay_again.fill_anew)(library, frame_id)
    left = [f"{name}: {why}" for name, why in done.left]
    return FollowedOut(done=done.done, left=left, desk=desk_of(library, frame_id))
