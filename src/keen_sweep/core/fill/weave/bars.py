"""Bars that a hole interrupts: glazing bars, rails, poles, tubes, wires between posts; both rims of one go on together.

A bar is a pair of straight edges (LSD, von Gioi et al. 2010) with the dark on opposite sides. One that leads into the
hole goes on to a bar like it that leads into it from the other side; or, where its other end is hidden, to what its
family is seen to end at: glazing bars at a sill, in whose line the bars beside the hole end too; or to where the hole
ends in its own colour, at a frame.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Doubles, Floats
from keen_sweep.core.fill.weave.bridges import MIN_INSIDE_SHARE, Bridge, crosses, share_inside, straight
from keen_sweep.core.fill.weave.ends import End

# Bounds of the width of a bar, pixels.
MIN_BAR_WIDTH_PX = 2.0
MAX_BAR_WIDTH_PX = 14.0
MIN_EDGE_LENGTH_PX = 8.0
# Largest angle between the two edges of a bar, radians.
MAX_EDGE_ANGLE_RAD = 0.10
# Colour distance between a bar and what is beside it, L*a*b*.
MIN_BAR_CONTRAST = 18.0
# Number of places at which a bar's profile is read.
PROFILE_SAMPLES = 24
# Length for which other bars may cover a bar before the hole begins, pixels.
MAX_COVERED_PX = 24
# Largest angle between two bars that continue each other, radians.
MAX_JOIN_ANGLE_RAD = 0.06
# Largest colour distance between them, L*a*b*.
MAX_COLOUR_DISTANCE = 14.0
# Largest ratio of their widths.
MAX_WIDTH_RATIO = 1.6
# Length of a bar with a free end that must be visible, pixels.
MIN_SEEN_LENGTH_PX = 16.0
# It is extended by this multiple of the visible length at most.
MAX_EXTENSION_RATIO = 2.0
# How far behind the hole a bar is looked for that ends in its own colour, pixels.
END_SEARCH_PX = 5
# Largest angle between two members of a family, radians.
MAX_FAN_ANGLE_RAD = 0.15
# Distance from a bridge's line within which a bar may end, pixels.
MAX_END_DISTANCE_PX = 6.0
# Distance beside the bridge, in lengths of the bridge.
MAX_SIDE_RATIO = 1.5
# Bars that end at one line and make a family.
MIN_FAMILY_MEMBERS = 3
# Smallest angle between a bar and what it ends at, radians.
MIN_MEETING_ANGLE_RAD = 0.5


@dataclass(frozen=True)
class Bar:
    """A bar: two parallel edges.

    Attributes
    ----------
    one : (2,) float64
        x and y of one end.
    other : (2,) float64
        x and y of the other end.
    width : float
        Its width, pixels.
    profile : (2 n + 1, C) float32
        Colours across it, from left to right as seen from `one` to `other`.
    """

    one: Doubles
    other: Doubles
    width: float
    profile: Floats

    @property
    def along(self) -> Doubles:
        way = self.other - self.one
        return np.asarray(way / max(float(np.linalg.norm(way)), 1e-9))

    @property
    def turned(self) -> Bar:
        return Bar(self.other, self.one, self.width, np.asarray(self.profile[::-1]))

    @property
    def colour(self) -> Floats:
        return np.asarray(self.profile[len(self.profile) // 2, :3])


@dataclass(frozen=True)
class _Bars:
    """Bars, both ways round each, and their ends and directions (n, 2)."""

    all: list[Bar]
    one: Doubles
    other: Doubles
    along: Doubles


def bar_bridges(planes: Floats, bridges: list[Bridge], hole: Bools, known: Bools) -> list[Bridge]:
    """Bridges along bars that lead into a hole.

    Parameters
    ----------
    planes : (H, W, C) float32
        The picture, L*a*b* first.
    bridges : list of Bridge
        Bridges of single edges.
    hole : (H, W) bool
        The hole.
    known : (H, W) bool
        Known pixels.

    Returns
    -------
    list of Bridge
        The bridges.
    """
    both = [each for bar in bars_of(planes, known) for each in (bar, bar.turned)]
    if not both:
        return []
    leading = [(bar, end) for bar in both if (end := _end(bar, hole, known)) is not None]
    joined, free = _joined(leading, hole)
    bars = _Bars(both, *(np.array(each) for each in zip(*((b.one, b.other, b.along) for b in both), strict=True)))
    ended: list[Bridge] = []
    for _, end in free:
        parts = _ended(end, [*bridges, *joined], bars, hole) or _run_out(end, planes, hole, known)
        if not any(_alongside(part, other) for part in parts for other in ended):
            ended += parts
    return joined + ended


def _alongside(one: Bridge, other: Bridge) -> bool:
    """Whether two bars would run into each other: they may cross, but not at a small angle."""
    return abs(_cross(one.first.inwards, other.first.inwards)) < np.sin(MIN_MEETING_ANGLE_RAD) and crosses(one, other)


def bars_of(planes: Floats, known: Bools) -> list[Bar]:
    """Find the bars of a picture.

    Parameters
    ----------
    planes : (H, W, C) float32
        The picture, L*a*b* first.
    known : (H, W) bool
        Known pixels.

    Returns
    -------
    list of Bar
        The bars.
    """
    grey = np.clip(planes[..., 0] * 2.55, 0, 255).astype(np.uint8)
    grey[~known] = int(np.median(grey[known]))
    found = cv2.createLineSegmentDetector().detect(grey)[0]
    if found is None:
        return []
    lines = np.asarray(found.reshape(-1, 4), np.float64)
    # What runs along the hole is its own rim.
    beside = cv2.dilate((~known).astype(np.uint8), np.ones((7, 7), np.uint8)) > 0
    length = np.hypot(lines[:, 2] - lines[:, 0], lines[:, 3] - lines[:, 1])
    lines = lines[(length >= MIN_EDGE_LENGTH_PX) & ~_at(beside, (lines[:, :2] + lines[:, 2:]) / 2)]
    other_rim = _other_rims(lines)
    out: list[Bar] = []
    for k, j in enumerate(other_rim):
        # Each the nearest to the other, so that a bar is found once.
        if j > k and other_rim[j] == k:
            bar = _bar(lines[k], lines[j], planes, known)
            if bar is not None:
                out.append(bar)
    return out


@numba.njit(cache=True, nogil=True)
def _other_rims(lines: Doubles) -> NDArray[np.int64]:
    """For each of some lines (n, 4) x, y, x, y the one that would be the other rim of the narrowest bar, -1 for none.

    It runs the other way, for the detector has the brighter side always on the same hand.
    """
    out = np.full(len(lines), -1, np.int64)
    for k in range(len(lines)):
        ax, ay, bx, by = lines[k]
        length = np.hypot(bx - ax, by - ay)
        wx, wy = (bx - ax) / length, (by - ay) / length
        narrowest = MAX_BAR_WIDTH_PX
        for j in range(len(lines)):
            cx, cy, dx, dy = lines[j]
            # How far its ends are to the side.
            near = wx * (cy - ay) - wy * (cx - ax)
            if j == k or abs(near) > MAX_BAR_WIDTH_PX + 2:
                continue
            far = wx * (dy - ay) - wy * (dx - ax)
            width = abs(near + far) / 2
            if abs(near - far) > 2 or width < MIN_BAR_WIDTH_PX or width > narrowest:
                continue
            along = wx * (dx - cx) + wy * (dy - cy)
            if along > -np.cos(MAX_EDGE_ANGLE_RAD) * np.hypot(dx - cx, dy - cy):
                continue
            begins = max(wx * (dx - ax) + wy * (dy - ay), 0.0)
            ends = min(wx * (cx - ax) + wy * (cy - ay), length)
            if ends - begins >= MIN_EDGE_LENGTH_PX:
                narrowest, out[k] = width, j
    return out


def _bar(rim: Doubles, back: Doubles, planes: Floats, known: Bools) -> Bar | None:
    """The bar between two rims (4,) that run opposite ways, as long as both together."""
    ends = np.array([rim[:2], rim[2:], back[2:], back[:2]])
    way = (ends[1] - ends[0]) / np.linalg.norm(ends[1] - ends[0]) + (ends[3] - ends[2]) / np.linalg.norm(
        ends[3] - ends[2]
    )
    way /= np.linalg.norm(way)
    side = np.array([-way[1], way[0]])
    along, across = ends @ way, ends @ side
    width = abs(float(across[:2].mean() - across[2:].mean()))
    one, other = (at * way + across.mean() * side for at in (along.min(), along.max()))
    profile = _profile(planes, known, one, other, side, width)
    return None if profile is None else Bar(one, other, width, profile)


def _profile(planes: Floats, known: Bools, one: Doubles, other: Doubles, side: Doubles, width: float) -> Floats | None:
    """Medians across a bar; None where it is not plainly unlike what is on both sides of it."""
    half = int(np.ceil(width / 2)) + 1
    points = straight(one, other)
    points = points[:: max(len(points) // PROFILE_SAMPLES, 1)]
    places = points[None] + np.arange(-half, half + 1)[:, None, None] * side
    visible = _at(known, places.reshape(-1, 2)).reshape(places.shape[:2])
    if visible.sum(axis=1).min() < 3:
        return None
    x, y = np.rint(places).astype(int).clip(0, np.array(known.shape[::-1]) - 1).transpose(2, 0, 1)
    values = np.where(visible[..., None], planes[y, x], np.nan)
    out = np.median(values, axis=1) if visible.all() else np.nanmedian(values, axis=1)
    if min(float(np.linalg.norm(out[half, :3] - beside[:3])) for beside in (out[0], out[-1])) < MIN_BAR_CONTRAST:
        return None
    return np.asarray(out[1:-1], np.float32)


def _end(bar: Bar, hole: Bools, known: Bools) -> End | None:
    """Where a bar leads into the hole, going from one to other."""
    places = bar.other + np.arange(MAX_COVERED_PX + 1)[:, None] * bar.along
    entered = np.flatnonzero(_at(hole, places))
    if not len(entered) or not _at(known, places[: entered[0]]).all():
        return None
    length = float(np.linalg.norm(bar.other - bar.one))
    return End(at=places[entered[0]], inwards=bar.along, bend=0.0, length=length, profile=bar.profile)


def _joined(leading: list[tuple[Bar, End]], hole: Bools) -> tuple[list[Bridge], list[tuple[Bar, End]]]:
    """Bars that go on in each other across the hole, and those that are left."""
    found: list[tuple[float, int, int, Bridge]] = []
    for i, (bar, first) in enumerate(leading):
        for j in range(i + 1, len(leading)):
            mate, second = leading[j]
            chord = second.at - first.at
            length = float(np.linalg.norm(chord))
            if length < 4 or not 1 / MAX_WIDTH_RATIO < bar.width / mate.width < MAX_WIDTH_RATIO:
                continue
            chord = chord / length
            off = max(abs(_angle(first.inwards, chord)), abs(_angle(chord, -second.inwards)))
            colour_distance = float(np.linalg.norm(bar.colour - mate.colour))
            if off > MAX_JOIN_ANGLE_RAD or colour_distance > MAX_COLOUR_DISTANCE:
                continue
            points = straight(first.at, second.at)
            if share_inside(points, hole) < MIN_INSIDE_SHARE:
                continue
            misfit = off / MAX_JOIN_ANGLE_RAD + colour_distance / MAX_COLOUR_DISTANCE
            found.append((misfit, i, j, Bridge(points, first, _as_wide(second, first), misfit)))
    joined: list[Bridge] = []
    used: set[int] = set()
    for _, i, j, bridge in sorted(found, key=lambda each: each[:3]):
        if not used & {i, j}:
            used |= {i, j}
            joined.append(bridge)
    return joined, [each for k, each in enumerate(leading) if k not in used]


def _as_wide(end: End, other: End) -> End:
    """An end with as many colours across as another."""
    if len(end.profile) == len(other.profile):
        return end
    at = np.linspace(0, len(end.profile) - 1, len(other.profile)).round().astype(int)
    return End(end.at, end.inwards, end.bend, end.length, end.profile[at])


def _ended(end: End, bridges: list[Bridge], bars: _Bars, hole: Bools) -> list[Bridge]:
    """A bar from its end to the nearest bridge that its family ends at; in two parts where it crosses another line
    before, since beyond that other things may lie beside it: there it looks as its family does."""
    met = [(*_meeting(end, bridge), bridge) for bridge in bridges]
    crossed = 0.0
    for at, way, bridge in sorted((each for each in met if np.isfinite(each[0])), key=lambda each: each[0]):
        if abs(_cross(end.inwards, way)) < np.sin(MIN_MEETING_ANGLE_RAD):
            continue
        family, going_on = _members(end, bridge, bars)
        if min(len(family), going_on) >= MIN_FAMILY_MEMBERS:
            crossed = at
        if len(family) < MIN_FAMILY_MEMBERS + going_on:
            continue
        inwards = _fanned(end, bars.other[family], bars.along[family])
        far, _ = _meeting(End(end.at, inwards, 0.0, end.length, end.profile), bridge)
        if not np.isfinite(far) or share_inside(straight(end.at, end.at + far * inwards), hole) < MIN_INSIDE_SHARE:
            return []
        parts = [(0.0, crossed, end.profile), (crossed, far, _usual(end.profile, [bars.all[k] for k in family]))]
        if not 0 < crossed < far:
            parts = [(0.0, far, end.profile)]
        return [_piece(end, end.at + a * inwards, end.at + b * inwards, look, bridge.misfit) for a, b, look in parts]
    return []


def _piece(end: End, one: Doubles, other: Doubles, profile: Floats, misfit: float) -> Bridge:
    """A bridge that is a straight bar from one place to another."""
    way = (other - one) / max(float(np.linalg.norm(other - one)), 1e-9)
    first = End(one, way, 0.0, end.length, profile)
    return Bridge(straight(one, other), first, End(other, -way, 0.0, end.length, np.asarray(profile[::-1])), misfit)


def _usual(profile: Floats, family: list[Bar]) -> Floats:
    """What bars as wide as one with this profile look like in a family."""
    like = [bar.profile for bar in family if len(bar.profile) == len(profile)]
    return np.asarray(np.median(like, axis=0), np.float32) if like else profile


def _run_out(end: End, planes: Floats, hole: Bools, known: Bools) -> list[Bridge]:
    """A bar that goes on straight as long as the hole does and comes out in its own colour: at a frame or a post."""
    most = int(np.hypot(*hole.shape))
    points = end.at + np.arange(most)[:, None] * end.inwards
    inside = _at(hole, points)
    gone = np.flatnonzero(~inside)
    # Slips of what is known may lie between.
    last = next((k for k in gone if not inside[k : k + MAX_COVERED_PX].any()), None)
    if last is None or last < MIN_EDGE_LENGTH_PX or end.length < max(MIN_SEEN_LENGTH_PX, last / MAX_EXTENSION_RATIO):
        return []
    beyond = points[last + 1 : last + 1 + END_SEARCH_PX]
    if not _at(known, beyond).all():
        return []
    x, y = np.rint(beyond).astype(int).T
    colour = end.profile[len(end.profile) // 2, :3]
    if np.linalg.norm(np.median(planes[y, x, :3], axis=0) - colour) > MAX_COLOUR_DISTANCE:
        return []
    points = straight(end.at, points[last])
    if share_inside(points, hole) < MIN_INSIDE_SHARE:
        return []
    return [_piece(end, end.at, points[-1], end.profile, 1.0)]


def _meeting(end: End, bridge: Bridge) -> tuple[float, Doubles]:
    """How far an end goes on until it meets a bridge, infinite if it does not; and the bridge's direction there."""
    off = bridge.points - end.at
    side = _cross(end.inwards, off)
    ahead = off @ end.inwards
    turns = np.flatnonzero((side[:-1] * side[1:] <= 0) & (ahead[:-1] > 2))
    if not len(turns):
        return np.inf, np.zeros(2)
    first = turns[np.argmin(ahead[turns])]
    way = bridge.points[first + 1] - bridge.points[first]
    return float(ahead[first]), way / max(float(np.linalg.norm(way)), 1e-9)


def _members(end: End, bridge: Bridge, bars: _Bars) -> tuple[NDArray[np.intp], int]:
    """Which bars of an end's family end at a bridge's line, outside of the hole, and how many go on behind it, as
    glazing bars do behind a transom."""
    most = MAX_SIDE_RATIO * float(np.linalg.norm(bridge.points[-1] - bridge.points[0])) + MIN_EDGE_LENGTH_PX
    like = np.abs(_angles(end.inwards, bars.along)) <= MAX_FAN_ANGLE_RAD
    ends, begins = np.zeros(len(like), np.bool_), np.zeros(len(like), np.bool_)
    for at, way in ((bridge.first.at, -bridge.first.inwards), (bridge.second.at, -bridge.second.inwards)):
        for places, found in ((bars.other, ends), (bars.one, begins)):
            off = places - at
            out = off @ way
            found[:] |= like & (np.abs(_cross(way, off)) <= MAX_END_DISTANCE_PX) & (out > 0) & (out <= most)
    return np.flatnonzero(ends), int((begins & ~ends).sum())


def _fanned(end: End, feet: Doubles, along: Doubles) -> Doubles:
    """The direction that an end's place in its family asks for: turned in proportion to how far it is to the side.
    feet and along (n, 2): where the family's bars end, and which way they go."""
    side = np.array([-end.inwards[1], end.inwards[0]])
    place = (feet - end.at) @ side
    turn = _angles(end.inwards, along)
    if len(place) > MIN_FAMILY_MEMBERS and np.ptp(place) > 40:
        _, angle = np.polyfit(place, turn, 1)
    else:
        angle = float(np.median(turn))
    cos, sin = np.cos(angle), np.sin(angle)
    return np.array([cos * end.inwards[0] - sin * end.inwards[1], sin * end.inwards[0] + cos * end.inwards[1]])


def _angles(one: Doubles, others: Doubles) -> Doubles:
    """The signed angles from a vector to others (n, 2)."""
    return np.asarray(np.arctan2(_cross(one, others), others @ one))


def _angle(one: Doubles, other: Doubles) -> float:
    return float(np.arctan2(_cross(one, other), np.dot(one, other)))


def _inside(plane: Bools, points: Doubles) -> Bools:
    x, y = np.rint(points).astype(int).T
    return np.asarray((x >= 0) & (y >= 0) & (x < plane.shape[1]) & (y < plane.shape[0]))


def _at(plane: Bools, points: Doubles) -> Bools:
    """What a plane is at points (n, 2), x and y; false outside."""
    out = _inside(plane, points)
    x, y = np.rint(points[out]).astype(int).T
    out[out] = plane[y, x]
    return out


def _cross(one: Doubles, other: Doubles) -> Doubles:
    return np.asarray(one[..., 0] * other[..., 1] - one[..., 1] * other[..., 0])
