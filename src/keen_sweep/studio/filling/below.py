"""What a take was filled on: the takes that stood below it, and whether others stand there now."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from keen_sweep.core.box import Box
from keen_sweep.document.stack import Stack, Sweep
from keen_sweep.store.tables import Take

# A take meets another one where their boxes come this near to each other, pixels.
NEAR_PX = 8


def takes_below(stack: Stack, sweep_id: str) -> dict[str, str]:
    """The patches that are seen below a sweep, by the ids of their sweeps. Raises NotFound."""
    return {sweep.id: sweep.pick for sweep in stack.below(sweep_id).sweeps if sweep.shown and sweep.pick is not None}


def is_below_changed(stack: Stack, sweep: Sweep, takes: Sequence[Take], picture: Box) -> bool:
    """Whether the take that stands in a sweep was filled on other takes than stand near it now.

    Parameters
    ----------
    stack
        As it is seen, with provisional takes.
    takes
        All takes of the frame.
    picture
        The whole picture.
    """
    by_patch = {take.patch: take for take in takes}
    own = by_patch.get(sweep.pick or "")
    if own is None or own.below is None:
        return False
    then, now = own.below, takes_below(stack, sweep.id)
    differing = {patch for each in {*then, *now} if then.get(each) != now.get(each) for patch in _both(each, then, now)}
    near = _box(own).grow(NEAR_PX, picture)
    return any(not _box(by_patch[patch]).intersect(near).empty for patch in differing if patch in by_patch)


def _both(sweep_id: str, then: Mapping[str, str], now: Mapping[str, str]) -> list[str]:
    return [patches[sweep_id] for patches in (then, now) if sweep_id in patches]


def _box(take: Take) -> Box:
    return Box(x=take.x, y=take.y, width=take.width, height=take.height)
