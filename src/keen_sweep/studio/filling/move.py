"""Move: a sweep somewhere else, filled again there if it had been filled."""

from __future__ import annotations

from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.filling.takes import takes_of
from keen_sweep.studio.marking.draw import move_sweep


def move(library: Library, frame_id: int, sweep_id: str, across: float, down: float) -> Revision:
    """A sweep's mark shifted by so many pixels; one that has takes waits to be filled again.

    Both happen or neither: a sweep that is being filled (Conflict) stays where it is.
    """
    with library.together():
        revision = move_sweep(library, frame_id, sweep_id, across, down)
        if takes_of(library, sweep_id):
            ask_fill(library, frame_id, sweep_id)
        return revision
