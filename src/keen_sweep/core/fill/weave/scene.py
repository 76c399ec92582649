"""Everything about one part that does not depend on the start: its surroundings, at every scale."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Features, Floats, Pixels
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.errors import BadMask
from keen_sweep.core.fill.lead import LeadLine
from keen_sweep.core.fill.weave.cells import cells_of
from keen_sweep.core.fill.weave.context_features import context_of
from keen_sweep.core.fill.weave.features import colours_of, features_of, halve_known
from keen_sweep.core.fill.weave.guide import Guide, bridged
from keen_sweep.core.fill.weave.halves import any_of_four
from keen_sweep.core.fill.weave.lead_images import images_of, over
from keen_sweep.core.fill.weave.lead_stretches import Stretch, stretches_of
from keen_sweep.core.fill.weave.lead_strips import Strips, strips_of
from keen_sweep.core.fill.weave.mismatch import Judge
from keen_sweep.core.methods.offsets import FlatShifts, Shifts, flat_shifts_of, shifts_of
from keen_sweep.core.methods.planes import Families, families_of
from keen_sweep.core.methods.setting import NO_SETTING, ContextFeatures
from keen_sweep.core.methods.thin_plate import continuation
from keen_sweep.core.methods.votes import confidence
from keen_sweep.core.sentences import sentence
from keen_sweep.core.shared_property import shared_property

PATCH_RADIUS_PX = 3  # patches are 7 x 7
# Margin of a scene around a part, share of the part's longer side.
MARGIN_SHARE = 0.9
MIN_MARGIN_PX = 90
MAX_MARGIN_PX = 600
# Holes up to this radius are woven along their smooth continuation, pixels.
GUIDED_RADIUS_PX = 16.0
COARSEST_RADIUS_PX = 3.5
MIN_SIDE_PX = 26
# Fewest patch centres to copy from.
MIN_SOURCES = 16
# Grounds of cells are told at the finest level no longer than this, pixels.
GROUND_SIDE_PX = 260
# Planes are searched for at the finest level, half size at most, that is no longer than this, pixels.
PLANE_SIDE_PX = 900
# Bridges are searched for at the finest level whose hole has no larger radius than this, pixels.
BRIDGE_RADIUS_PX = 48.0
# The same level is no longer than this, pixels.
BRIDGE_SIDE_PX = 900
# Half the width of a strip along a drawn line, share of the hole's radius.
STRIP_SHARE = 0.15
# Its bounds, pixels.
MIN_STRIP_PX = 4.0
MAX_STRIP_PX = 12.0
# Repeats are searched for at the finest level no longer than this, pixels.
REPEAT_SIDE_PX = 400


@dataclass(frozen=True)
class Ground:
    """Part of a hole at one scale, and what may be copied into it.

    Attributes
    ----------
    allowed : (H, W) bool
        Patch centres that may be copied.
    sources : (k, 2) int32
        Their rows and columns.
    targets : (n, 2) int32
        Rows and columns in the level's window of the patches that are matched with them.
    inside : (m, 2) int32
        Pixels of the hole that are copied from there.
    """

    allowed: Bools
    sources: NDArray[np.int32]
    targets: NDArray[np.int32]
    inside: NDArray[np.int32]

    def without(self, barred: Bools) -> Ground:
        """The same without some sources, unless hardly any others are left.

        Parameters
        ----------
        barred : (H, W) bool
            Patch centres that should not be copied.

        Returns
        -------
        Ground
            The ground.
        """
        allowed = self.allowed & ~barred
        sources = _places(allowed)
        return self if len(sources) < MIN_SOURCES else replace(self, allowed=allowed, sources=sources)


@dataclass(frozen=True)
class Level:
    """A scene at one scale.

    Attributes
    ----------
    there : (H, W, 4) int16
        Features that are copied from.
    allowed : (H, W) bool
        Patch centres that may be copied.
    window : Box
        Part with the hole and all patches that reach into it.
    hole : (h, w) bool
        The hole, in the window.
    known : (h, w) bool
        Known pixels, in the window.
    targets : (n, 2) int32
        Rows and columns in the window of all patches that reach into the hole, in scan order.
    confident : (n,) float32
        Weight of each target by its distance from known pixels.
    inside : (m, 2) int32
        Pixels of the hole.
    sources : (k, 2) int32
        Rows and columns of allowed patch centres.
    guide : (m, 3) float32 or None
        For narrow holes: smooth continuation of the colours at the hole's pixels.
    setting : ContextFeatures
        Features of the context.
    cells : tuple of Ground
        Parts of the hole that draw from grounds of their own; none where all of it draws from everywhere.
    """

    there: Features
    allowed: Bools
    window: Box
    hole: Bools
    known: Bools
    targets: NDArray[np.int32]
    confident: Floats
    inside: NDArray[np.int32]
    sources: NDArray[np.int32]
    guide: Floats | None
    setting: ContextFeatures = NO_SETTING
    cells: tuple[Ground, ...] = ()

    @property
    def grounds(self) -> tuple[Ground, ...]:
        """What each part of the hole may copy: its cells, or all of it from everywhere."""
        return self.cells or (Ground(self.allowed, self.sources, self.targets, self.inside),)

    @property
    def longest(self) -> int:
        return int(max(self.allowed.shape))


@dataclass(frozen=True)
class Scene:
    """A part and its surroundings at all scales.

    Attributes
    ----------
    box : Box
        Its box in the picture.
    pixels : (h, w, 3) uint8 or uint16
        Its pixels.
    hole : (h, w) bool
        The hole.
    known : (h, w) bool
        Pixels that the fill follows.
    shown : (h, w) bool
        Pixels that are picture, followed or not.
    radius : float
        Radius of the largest disc in the hole, pixels.
    guided : bool
        Whether the hole is narrow enough for a guide.
    levels : tuple of Level
        Levels, fine to coarse.
    shift_level : int
        Level at which repeats are searched for.
    flat_level : int
        Level at which planes are searched for.
    loose : (h, w) bool or None
        Pixels that need not match what is beside the hole.
    strays : (h, w) bool or None
        Regions that stand out and should not be copied.
    lead : tuple of LeadLine
        Lines that the photographer drew, in pixels of the scene.
    stretches : tuple of Stretch
        Where exactly those of them lie that carry an edge on.
    uncleared : Scene or None
        The same scene in which these may be copied.
    """

    box: Box
    pixels: Pixels
    hole: Bools
    known: Bools
    shown: Bools
    radius: float
    guided: bool
    levels: tuple[Level, ...]
    shift_level: int
    flat_level: int
    loose: Bools | None = None
    strays: Bools | None = None
    lead: tuple[LeadLine, ...] = ()
    stretches: tuple[Stretch, ...] = ()
    # The scene as it was, if this one is cleared: what does not depend on where is drawn from is worked out there.
    uncleared: Scene | None = None

    @property
    def edges(self) -> tuple[LeadLine, ...]:
        """Drawn lines that carry an edge on."""
        return tuple(line for line in self.lead if line.brings == "edge")

    @shared_property
    def cleared(self) -> Scene:
        """The scene without its strays: nothing is drawn from them. Itself where there are none, or nothing else."""
        if self.strays is None:
            return self
        levels: list[Level] = []
        strays = self.strays
        for level in self.levels:
            if levels:
                strays = any_of_four(strays)
            near = cv2.dilate(strays.astype(np.uint8), np.ones((2 * PATCH_RADIUS_PX + 1,) * 2, np.uint8)) > 0
            allowed = level.allowed & ~near
            sources = _places(allowed)
            if len(sources) < MIN_SOURCES:
                return self
            cells = tuple(cell.without(near) for cell in level.cells)
            levels.append(replace(level, allowed=allowed, sources=sources, cells=cells))
        return replace(self, levels=tuple(levels), strays=None, uncleared=self)

    @shared_property
    def shifts(self) -> Shifts | None:
        """The picture's repeats, at shift_level."""
        level = self.levels[self.shift_level]
        return None if self.guided else shifts_of(level.there, *_whole(level), level.allowed)

    @shared_property
    def families(self) -> Families | None:
        """The two families of lines of what was built, at flat_level."""
        if self.guided:
            return None
        level = self.levels[self.flat_level]
        _, known = _whole(level)
        luma = np.clip(colours_of(level.there)[..., 0] * 2.55, 0, 255).astype(np.uint8)
        luma[~known] = int(luma[known].mean())
        return families_of(luma, known)

    @shared_property
    def flat(self) -> FlatShifts | None:
        """The repeats of the plane they lie in, at flat_level."""
        if self.families is None:
            return None
        level = self.levels[self.flat_level]
        return flat_shifts_of(level.there, *_whole(level), level.allowed, self.families)

    @shared_property
    def guides(self) -> dict[int, Guide]:
        """What bridges say of the hole, by level."""
        if self.uncleared is not None:
            return self.uncleared.guides
        return {} if self.guided else _guides(self.levels, self.radius, self.edges)

    @shared_property
    def strips(self) -> Strips | None:
        """What is copied along drawn lines, and over drawn axes and rows."""
        if self.uncleared is not None:
            return self.uncleared.strips
        if not self.lead:
            return None
        half_width = float(np.clip(STRIP_SHARE * self.radius, MIN_STRIP_PX, MAX_STRIP_PX))
        colours = colours_of(self.levels[0].there)
        along = strips_of(self.stretches, colours, self.hole, self.known, half_width) if self.stretches else None
        return over(along, images_of(self.lead, colours, self.hole, self.known))

    def strip_at(self, number: int) -> tuple[Bools, NDArray[np.int32]] | None:
        """Drawn strips at one level.

        Parameters
        ----------
        number : int
            The level, 0 the finest.

        Returns
        -------
        tuple of (h, w) bool and (n, 2) int32, or None
            Which pixels of the level's window they cover, and the row and column that each of them copies, in scan
            order; None without strips.
        """
        if self.strips is None:
            return None
        level, step = self.levels[number], 2**number
        window = level.window
        rows = np.minimum((np.arange(window.y, window.bottom) * step + step // 2), self.hole.shape[0] - 1)
        columns = np.minimum((np.arange(window.x, window.right) * step + step // 2), self.hole.shape[1] - 1)
        places = np.ix_(rows, columns)
        sources = self.strips.sources[places] // step
        inside = (sources < np.array(level.allowed.shape)).all(axis=2)
        mask = self.strips.mask[places] & level.hole & inside
        return mask, np.ascontiguousarray(sources[mask])

    @shared_property
    def judge(self) -> Judge:
        """What fills of the hole are judged by, at half size."""
        if self.uncleared is not None:
            return self.uncleared.judge
        level = self.levels[self.half]
        hole, known = _whole(level)
        return Judge(colours_of(level.there), hole, known)

    @property
    def half(self) -> int:
        """The level to which all starts are taken before some are chosen: half size, or the only one there is."""
        return min(1, len(self.levels) - 1)


def surroundings(part: Box, picture: Box) -> Box:
    """Box that a part is filled from: margins of nearly its own length, within bounds.

    Parameters
    ----------
    part : Box
        Box of the part.
    picture : Box
        Box of the picture.

    Returns
    -------
    Box
        The box.
    """
    margin = int(np.clip(MARGIN_SHARE * max(part.width, part.height), MIN_MARGIN_PX, MAX_MARGIN_PX))
    return part.grow(margin, picture)


def make_scene(
    pixels: Pixels,
    box: Box,
    hole: Bools,
    unknown: Bools,
    barred: Bools,
    radius: float,
    foreign: Bools | None = None,
    at_home: bool = True,
    halo: Bools | None = None,
    strays: Bools | None = None,
    lead: tuple[LeadLine, ...] = (),
) -> Scene:
    """Prepare the surroundings of a part.

    Parameters
    ----------
    pixels : (h, w, 3) uint8 or uint16
        The surroundings.
    box : Box
        Their box in the picture.
    hole : (h, w) bool
        The hole.
    unknown : (h, w) bool
        Other holes.
    barred : (h, w) bool
        Pixels that may be read but not copied.
    radius : float
        Radius of the largest disc in the hole, pixels.
    foreign : (h, w) bool or None, optional
        Pixels of another kind than the fill, which it need not match.
    at_home : bool, optional
        Whether the fill should come from places with a similar context.
    halo : (h, w) bool or None, optional
        What is left of the thing around the hole: neither followed nor copied.
    strays : (h, w) bool or None, optional
        Regions that half of the starts do not copy.
    lead : tuple of LeadLine, optional
        Lines that the photographer drew, in pixels of the picture.

    Returns
    -------
    Scene
        The scene.

    Raises
    ------
    BadMask
        No complete patch is left to copy.
    """
    shown = ~(hole | unknown)
    known = shown if halo is None else shown & ~halo
    count = max(int(np.ceil(np.log2(max(radius, 1) / COARSEST_RADIUS_PX))), 0)
    features = features_of(pixels, known, max(3, (1 << count) // 2))
    _cover(features, known, ~known & ~hole)
    guided = radius <= GUIDED_RADIUS_PX and not lead
    levels = [_level(features, hole, known, barred, guided, finest=True)]
    if not len(levels[0].sources):
        raise BadMask(sentence("There is too little picture around the mask to copy from: mark less."))
    inside, seen, kept = hole, known, barred
    while len(levels) <= count and min(inside.shape) // 2 >= MIN_SIDE_PX:
        features, seen = halve_known(features, seen)
        inside, kept = any_of_four(inside) & ~seen, any_of_four(kept)
        if not inside.any():
            break
        level = _level(features, inside, seen, kept, guided, finest=False)
        if len(level.sources) < MIN_SOURCES:
            break
        levels.append(level)
    if at_home:
        levels = _set(levels)
    lead = tuple(line.moved(-box.x, -box.y) for line in lead)
    stretches = _stretches(levels[0], lead, hole, known)
    if lead:
        levels = _with_cells(levels, stretches, [line for line in lead if line.brings == "ground"], hole)
    return Scene(
        box=box,
        pixels=pixels,
        hole=hole,
        known=known,
        shown=shown,
        radius=radius,
        guided=guided,
        levels=tuple(levels),
        shift_level=_no_longer(levels, REPEAT_SIDE_PX),
        flat_level=_no_longer(levels, PLANE_SIDE_PX),
        strays=strays if strays is not None and strays.any() else None,
        lead=lead,
        stretches=stretches,
        loose=None if foreign is None or not (foreign & ~hole).any() else hole & _beside(foreign & ~hole),
    )


def _no_longer(levels: list[Level], side: int) -> int:
    """The finest level, half size at most, whose longer side is no longer than that; else the coarsest."""
    at = next((k for k, level in enumerate(levels) if level.longest <= side), len(levels) - 1)
    return max(at, min(1, len(levels) - 1))


def _stretches(level: Level, lead: tuple[LeadLine, ...], hole: Bools, known: Bools) -> tuple[Stretch, ...]:
    """Where the lines lie that carry an edge on."""
    edges = [line.xy for line in lead if line.brings == "edge"]
    if not edges:
        return ()
    colours = colours_of(level.there)
    return tuple(
        stretch
        for k, edge in enumerate(edges)
        for stretch in stretches_of(edge, colours, hole, known, [*edges[:k], *edges[k + 1 :]])
    )


def _with_cells(
    levels: list[Level], stretches: tuple[Stretch, ...], arrows: list[LeadLine], hole: Bools
) -> list[Level]:
    """The levels with the cells that lines and arrows make of the hole, and with what each cell may copy."""
    at = next((k for k, level in enumerate(levels) if level.longest <= GROUND_SIDE_PX), len(levels) - 1)
    coarse_hole, known = _whole(levels[at])
    cells = cells_of(stretches, arrows, levels[at].there, hole, known & ~coarse_hole, 2**at)
    if not cells:
        return levels
    out = []
    masks, grounds = [cell.mask for cell in cells], [cell.ground for cell in cells]
    for number, level in enumerate(levels):
        if number:
            grounds = [~any_of_four(~ground) for ground in grounds]
        window, step = level.window, 2**number
        rows = np.minimum(np.arange(window.y, window.bottom) * step + step // 2, hole.shape[0] - 1)
        columns = np.minimum(np.arange(window.x, window.right) * step + step // 2, hole.shape[1] - 1)
        own = [mask[np.ix_(rows, columns)] for mask in masks]
        out.append(replace(level, cells=tuple(map(partial(_ground, level), own, grounds))))
    return out


def _ground(level: Level, cell: Bools, ground: Bools) -> Ground:
    """What a cell (h, w) of a level's window copies from a ground (H, W): whole patches of it where there are enough,
    else those in its midst, else anything."""
    square = np.ones((2 * PATCH_RADIUS_PX + 1,) * 2, np.uint8)
    fitting = cv2.erode(ground.astype(np.uint8), square, borderValue=0) > 0
    choices = (level.allowed & fitting, level.allowed & ground, level.allowed)
    allowed = next((each for each in choices if np.count_nonzero(each) >= MIN_SOURCES), level.allowed)
    targets, inside = level.targets, level.inside
    return Ground(
        allowed=allowed,
        sources=_places(allowed),
        targets=np.ascontiguousarray(targets[cell[tuple(targets.T)]]),
        inside=np.ascontiguousarray(inside[cell[tuple(inside.T)]]),
    )


def _set(levels: list[Level]) -> list[Level]:
    """The levels with the setting of their places, told at the coarsest of them."""
    last = levels[-1]
    values = context_of(last.there, *_whole(last))
    shifts = range(len(levels) - 1, -1, -1)
    return [
        replace(level, setting=ContextFeatures(values, shift, level.window.y, level.window.x))
        for level, shift in zip(levels, shifts, strict=True)
    ]


def _cover(features: Features, known: Bools, others: Bools) -> None:
    """Give other holes and slivers (h, w) the features of the known pixel nearest to each, in place: patches over the
    hole reach into them, and what is to go must not be matched."""
    if not others.any() or not known.any():
        return
    _, nearest = cv2.distanceTransformWithLabels(
        (~known).astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
    )
    rows, columns = np.nonzero(known)
    place = np.zeros(int(nearest.max()) + 1, np.intp)
    place[nearest[rows, columns]] = np.arange(len(rows))
    at = place[nearest[others]]
    features[others] = features[rows[at], columns[at]]


def _guides(levels: tuple[Level, ...], radius: float, lead: tuple[LeadLine, ...]) -> dict[int, Guide]:
    """The guide by bridges for the level at which they are looked for and for all coarser ones; none without
    bridges."""
    at = next(
        (k for k, level in enumerate(levels) if radius / 2**k <= BRIDGE_RADIUS_PX and level.longest <= BRIDGE_SIDE_PX),
        len(levels) - 1,
    )
    found = bridged(
        levels[at].there, *_whole(levels[at]), [line.reduced(2**at).xy for line in lead], bool(levels[at].cells)
    )
    if found is None:
        return {}
    window = levels[at].window
    guides = {at: Guide(found.values[window.slices], found.pull[window.slices])}
    for k in range(at + 1, len(levels)):
        fine, level = levels[k - 1].window, levels[k]
        guides[k] = guides[k - 1].halved((fine.y, fine.x), level.hole.shape, (level.window.y, level.window.x))
    return guides


def _whole(level: Level) -> tuple[Bools, Bools]:
    """The hole and what is known, (H, W) of the whole level; other holes far off count as known."""
    hole = np.zeros(level.allowed.shape, np.bool_)
    hole[level.window.slices] = level.hole
    known = ~hole
    known[level.window.slices] = level.known
    return hole, known


def _beside(area: Bools) -> Bools:
    """An area and the pixels beside it."""
    cross = cv2.getStructuringElement(cv2.MORPH_CROSS, (3, 3))
    return np.asarray(cv2.dilate(area.astype(np.uint8), cross) > 0)


def _level(
    features: Features,
    hole: Bools,
    known: Bools,
    barred: Bools,
    guided: bool,
    finest: bool,
) -> Level:
    square = np.ones((2 * PATCH_RADIUS_PX + 1, 2 * PATCH_RADIUS_PX + 1), np.uint8)
    # At full size the seam asks for the slope at the rim of a patch too.
    wide = np.ones((2 * PATCH_RADIUS_PX + (3 if finest else 1),) * 2, np.uint8)
    touched = cv2.dilate((~known).astype(np.uint8), wide, borderType=cv2.BORDER_CONSTANT, borderValue=0) > 0
    # Of a barred place no pixel is copied.
    kept = cv2.dilate(barred.astype(np.uint8), square, borderType=cv2.BORDER_CONSTANT, borderValue=0) > 0
    allowed = ~(touched | kept)
    # A patch that is drawn from lies wholly inside.
    allowed[:PATCH_RADIUS_PX] = allowed[-PATCH_RADIUS_PX:] = False
    allowed[:, :PATCH_RADIUS_PX] = allowed[:, -PATCH_RADIUS_PX:] = False
    window = hole_window(hole, 2 * PATCH_RADIUS_PX)
    hole_here = np.ascontiguousarray(hole[window.slices])
    reach = cv2.dilate(hole_here.astype(np.uint8), square, borderType=cv2.BORDER_CONSTANT, borderValue=0)
    targets = np.argwhere(reach).astype(np.int32)
    seen = np.ascontiguousarray(known[window.slices])
    return Level(
        there=features,
        allowed=allowed,
        window=window,
        hole=hole_here,
        known=seen,
        targets=targets,
        confident=confidence(hole_here, targets),
        inside=np.argwhere(hole_here).astype(np.int32),
        sources=_places(allowed),
        guide=_guide(features[window.slices], hole_here, ~seen) if guided else None,
    )


def _places(allowed: Bools, most: int = 200_000) -> NDArray[np.int32]:
    """Rows and columns (n, 2) of the allowed pixels, in scan order; of very many an even selection."""
    flat = np.flatnonzero(allowed)
    flat = flat[:: max(len(flat) // most, 1)]
    return np.stack(np.divmod(flat, allowed.shape[1]), 1).astype(np.int32)


def _guide(features: Features, hole: Bools, unknown: Bools) -> Floats | None:
    if unknown.all():
        return None
    smooth = continuation(features[..., :3].astype(np.float32), unknown)
    return smooth[hole]


def hole_window(hole: Bools, spare: int = 1) -> Box:
    """Box of a hole with a margin where the array has room for it.

    Parameters
    ----------
    hole : (h, w) bool
        The hole.
    spare : int, optional
        Margin, pixels.

    Returns
    -------
    Box
        The box.
    """
    return box_of(hole).grow(spare, whole(hole))
