"""The starts of a cluster, and the weaves that are made of the best of them."""

from __future__ import annotations

from dataclasses import dataclass

from keen_sweep.core.fill.method import Quality
from keen_sweep.core.fill.weave.assessment import look_at
from keen_sweep.core.fill.weave.choice import Judged, judged
from keen_sweep.core.fill.weave.kinds import (
    HOME_KIND,
    LINES_KIND,
    PLANE_KIND,
    REPEATS_KIND,
    SHARP_KIND,
    SHARPER_KIND,
    SOFT_KIND,
    Kind,
)
from keen_sweep.core.fill.weave.mending import mended
from keen_sweep.core.fill.weave.scene import Scene
from keen_sweep.core.fill.weave.synthesis import Begun, Woven, begin, finish
from keen_sweep.core.progress import Tick

# From this size at half resolution on, a hole gets fewer starts: they cost more and differ less.
LARGE_HOLE_PIXELS = 20_000
# Up to this size at half resolution, one start of each kind is enough.
SMALL_HOLE_PIXELS = 5_000
# The same limit for long narrow holes, which start at half size.
LONG_HOLE_PIXELS = 1_500
# Starts that repeat along a plane; each leaves out other repeats.
PLANE_STARTS = 3


@dataclass(frozen=True)
class Finished:
    """A weave and how bad it looks."""

    woven: Woven
    bad: float


def first_starts(scene: Scene, takes: int, quality: Quality) -> list[Kind]:
    """The kinds of starts that need nothing but the scene's levels, for so many takes."""
    if quality == "fast":
        return [SOFT_KIND] * takes
    more = [SOFT_KIND] * max(takes - 3, 0)
    if scene.guided:
        each = 1 if len(scene.levels[scene.half].inside) > LONG_HOLE_PIXELS else 2
        return [SOFT_KIND, HOME_KIND, SHARP_KIND, SHARPER_KIND] * each + more
    return [SOFT_KIND, HOME_KIND, SHARP_KIND, *more]


def more_starts(scene: Scene, quality: Quality) -> list[Kind]:
    """The kinds of those that follow, once it is known what runs through the scene (prepared)."""
    if quality == "fast" or scene.guided:
        return []
    inside = len(scene.levels[scene.half].inside)
    kinds = [SOFT_KIND, HOME_KIND, SHARP_KIND] if SMALL_HOLE_PIXELS < inside <= LARGE_HOLE_PIXELS else []
    each = 2 if SMALL_HOLE_PIXELS < inside <= LARGE_HOLE_PIXELS else 1
    # Where a wall rules, its own order beats bridges between single joints.
    ruled = scene.families is not None and scene.families.rule
    if scene.guides and not ruled:
        kinds += [LINES_KIND] * each
    if scene.shifts is not None:
        kinds.append(REPEATS_KIND)
    if scene.flat is not None:
        kinds += [PLANE_KIND] * (PLANE_STARTS if inside > SMALL_HOLE_PIXELS else 1)
    return kinds


# Structure searched for beside the first starts: bridges, repeats, planes.
STRUCTURE_NAMES = ("guides", "shifts", "flat")


def prepared(scene: Scene, what: str, tick: Tick) -> None:
    """Look for one of them now: it is kept with the scene."""
    tick(0.0)
    getattr(scene, what)
    tick(1.0)


def started(scene: Scene, kind: Kind, seed: int, quality: Quality, clear: bool, tick: Tick) -> Judged:
    """A begun weave and how bad it looks; a rough one, how badly its patches fit. clear: made of nothing that stands
    apart."""
    scene = scene.cleared if clear else scene
    begun = begin(scene, kind, seed, quality, tick)
    return Judged(begun, begun.energy, scene) if quality == "fast" else judged(scene, begun)


def finished(start: Judged, quality: Quality, seed: int, tick: Tick) -> Finished:
    """A begun weave, finished; a fine one with its worst place mended."""
    return _finished(start.scene, start.begun, quality, seed, tick)


def at_once(scene: Scene, kind: Kind, seed: int, quality: Quality, tick: Tick) -> tuple[Begun, Finished]:
    """A weave begun and finished in one go, without a look at others and without its worst place mended."""
    begun = begin(scene, kind, seed, quality, lambda share: tick(share / 2))
    woven = finish(scene, begun, quality, lambda share: tick((1 + share) / 2))
    return begun, Finished(woven, look_at(scene, woven).badness + kind.toll)


def mended_later(
    scene: Scene, first: Finished, toll: float, seed: int, quality: Quality, tick: Tick
) -> Finished | None:
    """A weave that was finished at once, with its worst place mended; None where that makes it no better. toll: of its
    kind."""
    woven, seen = mended(scene, first.woven, seed, quality, lambda share: tick(1.0))
    return None if woven is first.woven else Finished(woven, seen.badness + toll)


def looked_at(scene: Scene, begun: Begun, tick: Tick) -> Judged:
    """A weave that was begun and finished at once, judged as it was begun, to be compared with others."""
    tick(0.0)
    return judged(scene, begun)


def _finished(scene: Scene, begun: Begun, quality: Quality, seed: int, tick: Tick) -> Finished:
    woven = finish(scene, begun, quality, tick)
    if quality == "fast":
        return Finished(woven, begun.energy)
    woven, seen = mended(scene, woven, seed, quality, lambda share: tick(1.0))
    return Finished(woven, seen.badness + begun.kind.toll)
