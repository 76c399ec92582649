"""One weave of one part: from the coarsest scale to a field of offsets at full resolution."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Doubles, Features, Floats, Labels
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.fill.method import Quality
from keen_sweep.core.fill.weave.compositing import lay_offsets
from keen_sweep.core.fill.weave.features import colours_of
from keen_sweep.core.fill.weave.guide import Guide
from keen_sweep.core.fill.weave.incoherent import in_larger_pieces
from keen_sweep.core.fill.weave.kinds import Kind
from keen_sweep.core.fill.weave.scene import PATCH_RADIUS_PX, Ground, Level, Scene, hole_window, surroundings
from keen_sweep.core.fill.weave.start import TOTAL_TRIES, TRIES_PER_PIXEL, layers_of, peel_inwards
from keen_sweep.core.methods.offsets import best_shifts
from keen_sweep.core.methods.patchmatch import measure, scatter, search
from keen_sweep.core.methods.seam import STRIP_BITS
from keen_sweep.core.methods.setting import ContextFeatures
from keen_sweep.core.methods.votes import best_over, vote, weights_of
from keen_sweep.core.progress import Tick

Field = NDArray[np.int32]
Cost = NDArray[np.int32]
Strip = tuple[Bools, NDArray[np.int32]]
# Rounds of search and vote: at the coarsest level, then by the longer side of a level, pixels.
LEVEL_ROUNDS: dict[Quality, tuple[int, tuple[tuple[int, int], ...]]] = {
    Quality.FINE: (14, ((350, 8), (700, 5), (1 << 30, 2))),
    Quality.FAST: (8, ((350, 4), (700, 2), (1 << 30, 1))),
}
# Levels up to this length are searched everywhere, longer ones only locally.
GLOBAL_SEARCH_SIDE_PX = 700
LOCAL_SPAN_PX = 4
FIRST_SWEEPS = 5
FURTHER_SWEEPS = 2
# A level is finished when a round changes features by less than this on average, sixteenths of a unit.
MIN_CHANGE = 0.5
# How far a match that is not allowed at a finer level may be moved, pixels.
MAX_NUDGE_PX = 4
NEIGHBOUR_STEPS = ((0, 1), (0, -1), (1, 0), (-1, 0), (1, 1), (-1, -1), (1, -1), (-1, 1))
# A start begins with what bridges say where they pull at least this much.
MIN_START_PULL = 0.5
COARSEST_GUIDE_PULL = 1.0
GUIDE_PULL = 0.5
BRIDGE_PULL = 2.0


@dataclass
class Begun:
    """A weave at half resolution.

    Attributes
    ----------
    kind : Kind
        Its kind of start.
    number : int
        Index of its level.
    field : (h, w, 2) int32
        Its match field.
    cost : (h, w) int32
        Cost of each match.
    energy : float
        How well its patches fit; lower is better.
    filled : (n, 4) int16
        Features of the hole.
    origins : (n, 2) int32
        Source of each pixel of the hole.
    state : (1,) uint64
        State of the random generator.
    """

    kind: Kind
    number: int
    field: Field
    cost: Cost
    energy: float
    filled: NDArray[np.int16]
    origins: NDArray[np.int32]
    state: NDArray[np.uint64]


@dataclass(frozen=True)
class Woven:
    """A finished weave.

    Attributes
    ----------
    window : Box
        Its window in the picture.
    hole : (h, w) bool
        The hole.
    pixels : (h, w, 3) float32
        The filled pixels.
    offsets : (h, w, 2) int32
        dx and dy to the source of each pixel.
    loose : (h, w) bool or None
        Pixels that need not match what is beside the hole.
    pieces : (h, w) int32 or None
        Labels of stretches that are copied along drawn lines, 0 elsewhere.
    """

    window: Box
    hole: Bools
    pixels: Floats
    offsets: NDArray[np.int32]
    loose: Bools | None = None
    pieces: Labels | None = None


def begin(scene: Scene, kind: Kind, seed: int, quality: Quality, tick: Tick) -> Begun:
    """Weave from a coarse level to half resolution, or to the only level.

    The same arguments give exactly the same result.

    Parameters
    ----------
    scene : Scene
        The scene.
    kind : Kind
        Kind of start.
    seed : int
        Its seed.
    quality : Quality
        How carefully to fill.
    tick : Tick
        Called with the share that is done; may raise to stop.

    Returns
    -------
    Begun
        The weave.
    """
    state = np.array([(seed * 2 + 1) * 0x9E3779B97F4A7C15 % 2**64], np.uint64)
    first = _first_level(scene, kind)
    last = scene.half
    total = sum(len(level.inside) for level in scene.levels[last : first + 1])
    done = 0.0
    field, cost, canvas = _start(scene, first, kind, state, seed)
    for number in range(first, last - 1, -1):
        level = scene.levels[number]
        if number < first:
            field, cost, canvas = _finer(field, cost, scene.levels[number + 1], level, kind, state)
        share = len(level.inside) / total

        def level_tick(part: float, at: float = done, share: float = share) -> None:
            tick(at + share * part)

        guide = scene.guides.get(number) if kind.source == "lines" else None
        strip = scene.strip_at(number)
        follow_strip(level, canvas, strip)
        rounds = _rounds(level, number == first, quality)
        _improve(level, canvas, field, cost, kind, rounds, number == first, guide, strip, state, level_tick)
        done += share
    return Begun(
        kind=kind,
        number=last,
        field=field,
        cost=cost,
        energy=patch_fit(level, cost),
        filled=canvas[level.hole],
        origins=_origins(level, field, cost, kind)[level.hole],
        state=state,
    )


def finish(scene: Scene, begun: Begun, quality: Quality, tick: Tick) -> Woven:
    """Take a weave from half to full resolution.

    Parameters
    ----------
    scene : Scene
        The scene.
    begun : Begun
        The weave.
    quality : Quality
        How carefully to fill.
    tick : Tick
        Called with the share that is done; may raise to stop.

    Returns
    -------
    Woven
        The finished weave.
    """
    return lay(scene, source_places(scene, begun, quality, lambda share: tick(0.6 * share)), quality, tick)


def source_places(scene: Scene, begun: Begun, quality: Quality, tick: Tick) -> Field:
    """Source of each pixel of the hole at full resolution.

    Parameters
    ----------
    scene : Scene
        The scene.
    begun : Begun
        The weave.
    quality : Quality
        How carefully to fill.
    tick : Tick
        Called with the share that is done; may raise to stop.

    Returns
    -------
    (h, w, 2) int32
        Rows and columns of the scene, for the window of its finest level.
    """
    level = scene.levels[0]
    state = begun.state.copy()
    field, cost, kind = begun.field.copy(), begun.cost.copy(), begun.kind
    if begun.number:
        field, cost, canvas = _finer(field, cost, scene.levels[begun.number], level, kind, state)
    else:
        canvas = np.ascontiguousarray(level.there[level.window.slices]).copy()
        canvas[level.hole] = begun.filled
    rounds = 1 if quality == "fast" else 2
    chosen = np.zeros_like(field)
    strip = scene.strip_at(0)
    follow_strip(level, canvas, strip)
    for turn in range(rounds):
        _match(level, canvas, field, cost, kind, FURTHER_SWEEPS, state)
        weights = weights_of(cost, level.targets, level.confident, kind.softness)
        _choose(level, field, weights, chosen)
        if strip is not None:
            chosen[strip[0]] = strip[1]
        canvas[level.hole] = level.there[tuple(chosen[level.hole].T)]
        tick((turn + 1) / rounds)
    return chosen


def _match(
    level: Level, canvas: Features, field: Field, cost: Cost, kind: Kind, passes: int, state: NDArray[np.uint64]
) -> None:
    """Measure the field by what is here now, and better it; in place."""
    setting = _setting(level, kind)
    span = max(level.allowed.shape) // 2 if level.longest <= GLOBAL_SEARCH_SIDE_PX else LOCAL_SPAN_PX
    reach, features = PATCH_RADIUS_PX, level.there
    measure(canvas, features, level.targets, field, cost, reach, setting)
    for ground in level.grounds:
        search(canvas, features, ground.allowed, ground.targets, field, cost, reach, passes, span, state, setting)


def _choose(level: Level, field: Field, weights: Floats, chosen: Field) -> None:
    """Source of each pixel by the best patch over it, among those of its own cell; in place."""
    for ground in level.grounds:
        best_over(ground.inside, field, _own(level, ground, weights), PATCH_RADIUS_PX, chosen)


def _own(level: Level, ground: Ground, weights: Floats) -> Floats:
    """The weights of a cell's own patches."""
    if not level.cells:
        return weights
    out = np.full_like(weights, -1)
    out[tuple(ground.targets.T)] = weights[tuple(ground.targets.T)]
    return out


def _setting(level: Level, kind: Kind) -> ContextFeatures:
    return level.setting._replace(weight=kind.setting)


def patch_fit(level: Level, cost: Cost) -> float:
    """How well patches fit, to compare starts of one kind.

    Parameters
    ----------
    level : Level
        The level.
    cost : (h, w) int32
        Cost of each match.

    Returns
    -------
    float
        Lower is better.
    """
    distances = cost[tuple(level.targets.T)].astype(np.float64)
    high = float(np.percentile(distances, 75))
    return float(np.log(np.sqrt(distances).mean() + 1) + np.log(high + 0.02 * distances.mean() + 1))


def _first_level(scene: Scene, kind: Kind) -> int:
    if kind.source == "repeats" and scene.shifts is not None:
        return scene.shift_level
    if kind.source == "plane" and scene.flat is not None:
        return scene.flat_level
    wanted = int(np.ceil(np.log2(max(scene.radius, 1.0) / kind.radius)))
    return int(np.clip(wanted, scene.half, len(scene.levels) - 1))


def _rounds(level: Level, first: bool, quality: Quality) -> int:
    coarsest, others = LEVEL_ROUNDS[quality]
    return coarsest if first else next(count for longest, count in others if level.longest <= longest)


def _start(scene: Scene, number: int, kind: Kind, state: NDArray[np.uint64], seed: int) -> tuple[Field, Cost, Features]:
    level = scene.levels[number]
    canvas = np.ascontiguousarray(level.there[level.window.slices]).copy()
    field = np.zeros((*level.hole.shape, 2), np.int32)
    cost = np.full(level.hole.shape, -1, np.int32)
    for ground in level.grounds:
        scatter(ground.targets, ground.sources, field, state)
    random = np.random.Generator(np.random.PCG64(seed))
    sources = None
    if kind.source == "repeats" and scene.shifts is not None:
        corner = np.array([level.window.y, level.window.x])
        sources = level.inside + corner + best_shifts(scene.shifts, random)
    elif kind.source == "plane" and scene.flat is not None:
        sources = scene.flat.start_from(random)
    if sources is not None:
        _put(level, field, sources)
        canvas[level.hole] = level.there[tuple(field[level.hole].T)]
    else:
        seen, left = level.known.copy(), level.hole
        if kind.source == "lines" and number in scene.guides:
            guide = scene.guides[number]
            strip = level.hole & (guide.pull >= MIN_START_PULL)
            canvas[strip] = guide.values[strip]
            seen, left = seen | strip, level.hole & ~strip
        layers = layers_of(left)
        for ground in level.grounds:
            sources = ground.sources
            tries = int(np.clip(min(len(sources), TOTAL_TRIES // max(left.sum(), 1)), 150, TRIES_PER_PIXEL))
            own = layers
            if level.cells:
                cell = np.zeros_like(left)
                cell[tuple(ground.inside.T)] = True
                own = layers[cell[tuple(layers.T)]]
            peel_inwards(canvas, level.there, seen, own, sources, field, PATCH_RADIUS_PX, tries, state)
    measure(canvas, level.there, level.targets, field, cost, PATCH_RADIUS_PX, _setting(level, kind))
    return field, cost, canvas


def _put(level: Level, field: Field, sources: Doubles) -> None:
    """Set the field at the hole's pixels to sources (n, 2), rows and columns, where those may be drawn from."""
    good = np.asarray(np.isfinite(sources).all(axis=1), np.bool_)
    source_places = np.rint(np.where(good[:, None], sources, 0)).astype(np.int32)
    good &= (source_places >= 0).all(axis=1) & (source_places < level.allowed.shape).all(axis=1)
    good[good] = level.allowed[tuple(source_places[good].T)]
    field[tuple(level.inside[good].T)] = source_places[good]


def _improve(
    level: Level, canvas: Features, field: Field, cost: Cost, kind: Kind, rounds: int, coarsest: bool,
    guide: Guide | None, strip: Strip | None, state: NDArray[np.uint64], tick: Tick,
) -> None:  # fmt: skip
    """Rounds of search and vote; field, cost and what is here change in place."""
    pull = COARSEST_GUIDE_PULL if coarsest else GUIDE_PULL
    for turn in range(rounds):
        _match(level, canvas, field, cost, kind, FIRST_SWEEPS if turn == 0 else FURTHER_SWEEPS, state)
        weights = weights_of(cost, level.targets, level.confident, kind.softness)
        change = _vote(level, canvas, field, weights)
        if kind.guided:
            follow_guide(level, canvas, pull)
        if guide is not None and turn + 1 < rounds:
            follow_bridges(level, canvas, guide)
        follow_strip(level, canvas, strip)
        tick((turn + 1) / rounds)
        if change < MIN_CHANGE:
            break


def _vote(level: Level, canvas: Features, field: Field, weights: Floats) -> float:
    """Let the patches of each cell vote for its pixels, in place; how much that changed."""
    change = 0.0
    for ground in level.grounds:
        share = len(ground.inside) / max(len(level.inside), 1)
        own = _own(level, ground, weights)
        change += share * vote(canvas, level.there, ground.inside, field, own, PATCH_RADIUS_PX)
    return change


def follow_guide(level: Level, canvas: Features, pull: float) -> None:
    """Mix the smooth continuation into the hole's colours, in place.

    Parameters
    ----------
    level : Level
        The level.
    canvas : (h, w, 4) int16
        Features, changed in place.
    pull : float
        Weight of the continuation.
    """
    if level.guide is not None:
        now = canvas[level.hole][:, :3]
        canvas[level.hole, :3] = np.rint((now + pull * level.guide) / (1 + pull)).astype(np.int16)


def follow_strip(level: Level, canvas: Features, strip: Strip | None) -> None:
    """Put what is copied along drawn lines into the hole, in place.

    Parameters
    ----------
    level : Level
        The level.
    canvas : (h, w, 4) int16
        Features, changed in place.
    strip : tuple of (h, w) bool and (n, 2) int32, or None
        The strips as from `Scene.strip_at`.
    """
    if strip is not None:
        mask, sources = strip
        canvas[mask] = level.there[tuple(sources.T)]


def follow_bridges(level: Level, canvas: Features, guide: Guide) -> None:
    """Mix what bridges say into the hole's colours, in place.

    Parameters
    ----------
    level : Level
        The level.
    canvas : (h, w, 4) int16
        Features, changed in place.
    guide : Guide
        The guide.
    """
    pull = BRIDGE_PULL * guide.pull[level.hole][:, None]
    now = canvas[level.hole][:, :3]
    canvas[level.hole, :3] = np.rint((now + pull * guide.values[level.hole][:, :3]) / (1 + pull)).astype(np.int16)


def _origins(level: Level, field: Field, cost: Cost, kind: Kind) -> Field:
    chosen = np.zeros_like(field)
    _choose(level, field, weights_of(cost, level.targets, level.confident, kind.softness), chosen)
    return chosen


def _finer(
    field: Field, cost: Cost, coarse: Level, level: Level, kind: Kind, state: NDArray[np.uint64]
) -> tuple[Field, Cost, Features]:
    """Matches of a coarser level, doubled, and what they vote for; those that are not allowed here are moved a little,
    or start at random."""
    fine = np.zeros((*level.hole.shape, 2), np.int32)
    finer_cost = np.full(level.hole.shape, -1, np.int32)
    usual = int(np.percentile(cost[tuple(coarse.targets.T)], 90))
    for ground in level.grounds:
        scatter(ground.targets, ground.sources, fine, state)
        candidate, good, at = _doubled(field, cost, coarse, level, ground)
        fine[tuple(ground.targets[good].T)] = candidate[good]
        finer_cost[tuple(ground.targets.T)] = usual
        finer_cost[tuple(ground.targets[good].T)] = cost[tuple(at[good].T)]
    canvas = np.ascontiguousarray(level.there[level.window.slices]).copy()
    _vote(level, canvas, fine, weights_of(finer_cost, level.targets, level.confident, kind.softness))
    return fine, finer_cost, canvas


def _doubled(
    field: Field, cost: Cost, coarse: Level, level: Level, ground: Ground
) -> tuple[NDArray[np.int32], Bools, NDArray[np.int32]]:
    """Sources of a coarser level, doubled and where need be moved a little, for the targets of a ground; which of them
    may be copied; and the places of the coarser level that they are from."""
    corner = np.array([level.window.y, level.window.x])
    absolute = ground.targets + corner
    at = absolute // 2 - np.array([coarse.window.y, coarse.window.x])
    at = np.clip(at, 0, np.array(coarse.hole.shape) - 1)
    known = cost[tuple(at.T)] >= 0
    limit = np.array(ground.allowed.shape) - 1
    candidate = np.clip(2 * field[tuple(at.T)] + absolute % 2, 0, limit)
    good = known & ground.allowed[tuple(candidate.T)]
    for step in range(1, MAX_NUDGE_PX + 1):
        for move in step * np.array(NEIGHBOUR_STEPS):
            open_still = known & ~good
            if not open_still.any():
                break
            moved = np.clip(candidate[open_still] + move, 0, limit)
            found = ground.allowed[tuple(moved.T)]
            source_places = np.flatnonzero(open_still)[found]
            candidate[source_places] = moved[found]
            good[source_places] = True
    return candidate, good, at


def lay(scene: Scene, chosen: Field, quality: Quality, tick: Tick) -> Woven:
    """Copy pixels from their sources, joined to the rim and with matching grain.

    Parameters
    ----------
    scene : Scene
        The scene.
    chosen : (h, w, 2) int32
        Sources as from `source_places`.
    quality : Quality
        How carefully to fill.
    tick : Tick
        Called with the share that is done; may raise to stop.

    Returns
    -------
    Woven
        The weave.
    """
    window = hole_window(scene.hole)
    y, x = np.mgrid[window.slices]
    inner = chosen[window.relative_to(scene.levels[0].window).slices]
    offsets = np.stack([inner[..., 1] - x, inner[..., 0] - y], axis=2).astype(np.int32)
    hole = scene.hole[window.slices]
    offsets[~hole] = 0
    if quality == Quality.FINE:
        offsets = _in_larger_pieces(scene, offsets, window)
    woven = lay_along(scene, offsets, quality)
    tick(1.0)
    return woven


def _pieces(scene: Scene, window: Box) -> Labels | None:
    """Labels of strips and cells as `core.methods.seam.correction` takes them; None without either."""
    cells = scene.levels[0].cells
    if scene.strips is None and not cells:
        return None
    out = np.zeros((window.height, window.width), np.int32)
    inner = scene.levels[0].window.relative_to(window)
    for number, cell in enumerate(cells, start=1):
        out[cell.inside[:, 0] + inner.y, cell.inside[:, 1] + inner.x] = number << STRIP_BITS
    return out if scene.strips is None else out + scene.strips.pieces[window.slices]


def _in_larger_pieces(scene: Scene, offsets: NDArray[np.int32], window: Box) -> NDArray[np.int32]:
    """Offsets with incoherent places in larger pieces, each cell from its own ground; drawn strips stay."""
    level, hole = scene.levels[0], np.ascontiguousarray(scene.hole[window.slices])
    drawn = np.zeros(hole.shape, np.bool_) if scene.strips is None else scene.strips.mask[window.slices]
    colours, inner = colours_of(level.there), level.window.relative_to(window)
    for ground in level.grounds:
        fixed = drawn
        if level.cells:
            fixed = np.ones(hole.shape, np.bool_)
            fixed[ground.inside[:, 0] + inner.y, ground.inside[:, 1] + inner.x] = False
            fixed |= drawn
        offsets = in_larger_pieces(colours, hole, offsets, ground.allowed, (window.y, window.x), fixed)
    return offsets


def lay_along(scene: Scene, offsets: NDArray[np.int32], quality: Quality) -> Woven:
    """Copy pixels along given offsets.

    Parameters
    ----------
    scene : Scene
        The scene.
    offsets : (h, w, 2) int32
        dx and dy for the window around the scene's hole.
    quality : Quality
        How carefully to fill.

    Returns
    -------
    Woven
        The weave.
    """
    window = hole_window(scene.hole)
    hole = np.ascontiguousarray(scene.hole[window.slices])
    loose = None if scene.loose is None else np.ascontiguousarray(scene.loose[window.slices])
    pieces = _pieces(scene, window)
    ground = surroundings(box_of(scene.hole), whole(scene.pixels))
    pixels = lay_offsets(scene.pixels, scene.shown, hole, offsets, window, ground, scene.radius, quality, loose, pieces)
    return Woven(window.moved(scene.box.x, scene.box.y), hole, pixels, offsets, loose, pieces)
