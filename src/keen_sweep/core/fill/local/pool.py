"""The starts of a cluster, and the weaves that are made of the best of them."""

from __future__ import annotations

from dataclasses import dataclass

from keen_sweep.core.fill.method import Quality
from keen_sweep.core.fill.weave.assessment import judge_woven
from keen_sweep.core.fill.weave.choice import Judged, judge_start
from keen_sweep.core.fill.weave.kinds import (
    HOME_KIND,
    LED_KINDS,
    LINES_KIND,
    PLANE_KIND,
    REPEATS_KIND,
    SHARP_KIND,
    SHARPER_KIND,
    SOFT_KIND,
    Kind,
)
from keen_sweep.core.fill.weave.mending import mend_worst
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
# Starts along drawn lines.
LED_STARTS = 6


@dataclass(frozen=True)
class Finished:
    """A finished weave.

    Attributes
    ----------
    woven : Woven
        The weave.
    bad : float
        Its badness.
    """

    woven: Woven
    bad: float


def first_starts(scene: Scene, takes: int, quality: Quality) -> list[Kind]:
    """Kinds of starts that need only the scene's levels.

    Parameters
    ----------
    scene : Scene
        The scene.
    takes : int
        Number of takes.
    quality : Quality
        How carefully to fill.

    Returns
    -------
    list of Kind
        The kinds, in order.
    """
    if scene.lead and not (quality == "fast" and scene.levels[0].cells):
        return [LED_KINDS[k % len(LED_KINDS)] for k in range(takes if quality == "fast" else max(takes, LED_STARTS))]
    # Cells lead by themselves: what else could go on in them is not looked for in a hurry.
    if quality == "fast":
        return [SOFT_KIND] * takes
    more = [SOFT_KIND] * max(takes - 3, 0)
    if scene.guided:
        each = 1 if len(scene.levels[scene.half].inside) > LONG_HOLE_PIXELS else 2
        return [SOFT_KIND, HOME_KIND, SHARP_KIND, SHARPER_KIND] * each + more
    return [SOFT_KIND, HOME_KIND, SHARP_KIND, *more]


def more_starts(scene: Scene, quality: Quality) -> list[Kind]:
    """Kinds of starts that need the scene's structure (`prepare_structure`).

    Parameters
    ----------
    scene : Scene
        The scene.
    quality : Quality
        How carefully to fill.

    Returns
    -------
    list of Kind
        The kinds, in order.
    """
    if quality == "fast" or scene.guided or scene.lead:
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


def prepare_structure(scene: Scene, what: str, tick: Tick) -> None:
    """Find one kind of structure and keep it with the scene.

    Parameters
    ----------
    scene : Scene
        The scene.
    what : str
        One of STRUCTURE_NAMES.
    tick : Tick
        Called with the share that is done.
    """
    tick(0.0)
    getattr(scene, what)
    tick(1.0)


def start_weave(scene: Scene, kind: Kind, seed: int, quality: Quality, clear: bool, tick: Tick) -> Judged:
    """Begin a weave and judge it. A fast one is judged by the fit of its patches.

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
    clear : bool
        Whether regions that stand out are excluded.
    tick : Tick
        Called with the share that is done.

    Returns
    -------
    Judged
        The begun weave and its badness.
    """
    scene = scene.cleared if clear else scene
    begun = begin(scene, kind, seed, quality, tick)
    return Judged(begun, begun.energy, scene) if quality == "fast" else judge_start(scene, begun)


def finish_weave(start: Judged, quality: Quality, seed: int, tick: Tick) -> Finished:
    """Finish a weave; a fine one has its worst place mended.

    Parameters
    ----------
    start : Judged
        The begun weave.
    quality : Quality
        How carefully to fill.
    seed : int
        Seed of the finish.
    tick : Tick
        Called with the share that is done.

    Returns
    -------
    Finished
        The finished weave.
    """
    return _finished(start.scene, start.begun, quality, seed, tick)


def weave_at_once(scene: Scene, kind: Kind, seed: int, quality: Quality, tick: Tick) -> tuple[Begun, Finished]:
    """Begin and finish a weave without comparing it to others and without mending.

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
        Called with the share that is done.

    Returns
    -------
    tuple of (Begun, Finished)
        The begun and the finished weave.
    """
    begun = begin(scene, kind, seed, quality, lambda share: tick(share / 2))
    woven = finish(scene, begun, quality, lambda share: tick((1 + share) / 2))
    return begun, Finished(woven, judge_woven(scene, woven).badness + kind.toll)


def mend_first(scene: Scene, first: Finished, toll: float, seed: int, quality: Quality, tick: Tick) -> Finished | None:
    """Mend the worst place of a weave that was finished at once.

    Parameters
    ----------
    scene : Scene
        The scene.
    first : Finished
        The weave.
    toll : float
        Toll of its kind.
    seed : int
        Seed of the mend.
    quality : Quality
        How carefully to fill.
    tick : Tick
        Called with the share that is done.

    Returns
    -------
    Finished or None
        The mended weave; None where it is no better.
    """
    woven, seen = mend_worst(scene, first.woven, seed, quality, lambda share: tick(1.0))
    return None if woven is first.woven else Finished(woven, seen.badness + toll)


def judge_first(scene: Scene, begun: Begun, tick: Tick) -> Judged:
    """Judge a weave that was finished at once, so that it can be compared with others.

    Parameters
    ----------
    scene : Scene
        The scene.
    begun : Begun
        The begun weave.
    tick : Tick
        Called with the share that is done.

    Returns
    -------
    Judged
        The begun weave and its badness.
    """
    tick(0.0)
    return judge_start(scene, begun)


def _finished(scene: Scene, begun: Begun, quality: Quality, seed: int, tick: Tick) -> Finished:
    woven = finish(scene, begun, quality, tick)
    if quality == "fast":
        return Finished(woven, begun.energy)
    woven, seen = mend_worst(scene, woven, seed, quality, lambda share: tick(1.0))
    return Finished(woven, seen.badness + begun.kind.toll)
