"""The starts of a piece, and the weaves that are made of the best of them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from keen_sweep.core.fill.protocol import Quality
from keen_sweep.core.fill.weave.choice import Judged, judged
from keen_sweep.core.fill.weave.kinds import HOME, LINES, PLANE, REPEATS, SHARP, SHARPER, SOFT, Kind
from keen_sweep.core.fill.weave.mending import mended
from keen_sweep.core.fill.weave.scene import Scene
from keen_sweep.core.fill.weave.synthesis import Woven, begin, finish

# From so many pixels at half size on a hole gets fewer starts: they begin to cost, and differ less.
LARGE = 20_000


@dataclass(frozen=True)
class Finished:
    """A weave and how bad it looks."""

    woven: Woven
    bad: float


def starts_of(scene: Scene, takes: int, quality: Quality) -> list[Kind]:
    """The kinds of the starts to be made for so many takes, each to be begun with a seed of its own."""
    if quality == "fast":
        return [SOFT] * takes
    more = max(takes - 3, 0)
    if scene.guided:
        return [SOFT] * (2 + more) + [HOME] * 2 + [SHARP] * 2 + [SHARPER] * 2
    if scene.flat is not None:
        # Where a plane rules, its own order beats bridges between single joints.
        return [SOFT] * (1 + more) + [HOME] + [SHARP] + [PLANE] * 4
    large = len(scene.levels[scene.half].inside) > LARGE
    kinds = [SOFT] * ((1 if large else 2) + more) + [HOME] * (1 if large else 2) + [SHARP] * (1 if large else 2)
    if not large:
        kinds.append(SHARPER)
    if scene.guides:
        kinds += [LINES] * (1 if large else 2)
    if scene.shifts is not None:
        kinds += [REPEATS] * (1 if large else 2)
    return kinds


def started(scene: Scene, kind: Kind, seed: int, quality: Quality, tick: Callable[[float], None]) -> Judged:
    """A begun weave and how bad it looks; a rough one, how badly its patches fit."""
    begun = begin(scene, kind, seed, quality, tick)
    return Judged(begun, begun.energy) if quality == "fast" else judged(scene, begun)


def finished(scene: Scene, start: Judged, quality: Quality, seed: int, tick: Callable[[float], None]) -> Finished:
    """A begun weave, finished; a fine one with its worst place mended."""
    woven = finish(scene, start.begun, quality, tick)
    if quality == "fast":
        return Finished(woven, start.begun.energy)
    woven, seen = mended(scene, woven, seed, quality, lambda share: tick(1.0))
    return Finished(woven, seen.badness + start.begun.kind.toll)
