"""Bridges along lines that the photographer drew: coarse guides, from the profile across each line outside the hole."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from keen_sweep.core.arrays import Bools, Doubles, Floats
from keen_sweep.core.fill.weave.bridges import Bridge
from keen_sweep.core.fill.weave.ends import PROFILE_RADIUS_PX, End
from keen_sweep.core.fill.weave.lead_stretches import Stretch, is_set, stretches_of

# Length of the stretch outside the hole over which a profile is averaged, pixels.
PROFILE_LENGTH_PX = 20
# Fewest known pixels from which a profile is averaged at one distance from the line.
MIN_PROFILE_PIXELS = 3


def lead_bridges(lines: Sequence[Doubles], planes: Floats, hole: Bools, known: Bools) -> list[Bridge]:
    """Make bridges of drawn lines.

    Parameters
    ----------
    lines : sequence of (n, 2) float64
        x and y of each line's points.
    planes : (H, W, C) float32
        The picture, L*a*b* first.
    hole : (H, W) bool
        The hole.
    known : (H, W) bool
        Known pixels.

    Returns
    -------
    list of Bridge
        One bridge for each stretch of a line in the hole; none for a line that shows nothing outside.
    """
    stretches = [each for line in lines for each in stretches_of(line, planes, hole, known)]
    return [bridge for each in stretches if (bridge := _bridge(each, planes, known)) is not None]


def _bridge(stretch: Stretch, planes: Floats, known: Bools) -> Bridge | None:
    inside = stretch.inside
    first = _end(inside, stretch.before, planes, known)
    second = _end(inside[::-1], stretch.after, planes, known)
    if first is None and second is None:
        return None
    # Where it ends in the hole, nothing changes on the way.
    first = first or _turned(second, inside[0])
    return Bridge(inside, first, second or _turned(first, inside[-1]), 0.0)


def _turned(end: End | None, at: Doubles) -> End:
    assert end is not None
    return End(at=at, inwards=-end.inwards, bend=0.0, length=0.0, profile=np.ascontiguousarray(end.profile[::-1]))


def _end(inside: Doubles, outside: Doubles, planes: Floats, known: Bools) -> End | None:
    """What a line continues; None where too little of it is known."""
    outside = outside[: 2 * PROFILE_LENGTH_PX]
    if len(outside) < 2:
        return None
    ahead = outside[0] - outside[-1]
    length = float(np.hypot(*ahead))
    if length == 0:
        return None
    inwards = ahead / length
    side = np.array([-inwards[1], inwards[0]])
    profile = []
    for k in range(-PROFILE_RADIUS_PX, PROFILE_RADIUS_PX + 1):
        places = outside + k * side
        places = places[is_set(places, known)]
        if len(places) < MIN_PROFILE_PIXELS:
            return None
        x, y = np.rint(places).astype(int).T
        profile.append(np.median(planes[y, x], axis=0))
    return End(at=inside[0], inwards=inwards, bend=0.0, length=0.0, profile=np.asarray(profile, np.float32))
