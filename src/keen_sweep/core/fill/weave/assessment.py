"""How a weave looks, begun or finished: its worst places, told without the truth."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Floats
from keen_sweep.core.fill.weave.features import colours_of
from keen_sweep.core.fill.weave.halves import halve_planes
from keen_sweep.core.fill.weave.mismatch import Seen
from keen_sweep.core.fill.weave.scene import Scene, hole_window
from keen_sweep.core.fill.weave.synthesis import Begun, Woven


def judge_begun(scene: Scene, begun: Begun) -> Seen:
    """Judge a begun weave by the pixels that it would copy, at half size.

    Parameters
    ----------
    scene : Scene
        The scene.
    begun : Begun
        The weave.

    Returns
    -------
    Seen
        The judgement.
    """
    level = scene.levels[begun.number]
    colours = colours_of(level.there)
    window = colours[level.window.slices]
    window[level.hole] = colours[tuple(begun.origins.T)]
    return scene.judge.look(colours)


def judge_woven(scene: Scene, woven: Woven) -> Seen:
    """Judge a finished weave at half size.

    Parameters
    ----------
    scene : Scene
        The scene.
    woven : Woven
        The weave.

    Returns
    -------
    Seen
        The judgement.
    """
    level = scene.levels[scene.half]
    colours = colours_of(level.there)
    near = hole_window(scene.hole, 2)
    # The window at half size, from an even corner on.
    top, left = near.y // 2 * 2, near.x // 2 * 2
    rows, columns = slice(top, near.bottom), slice(left, near.right)
    canvas = filled_pixels(scene, woven)[rows, columns]
    lab = np.asarray(cv2.cvtColor(canvas, cv2.COLOR_RGB2LAB), np.float32)
    if scene.half:
        lab = halve_planes(lab)
        top, left = top // 2, left // 2
    hole = np.zeros(level.allowed.shape, np.bool_)
    hole[level.window.slices] = level.hole
    inside = hole[top : top + lab.shape[0], left : left + lab.shape[1]]
    colours[top : top + lab.shape[0], left : left + lab.shape[1]][inside] = lab[inside]
    return scene.judge.look(colours)


def filled_pixels(scene: Scene, woven: Woven) -> Floats:
    """Pixels of a scene with its weave.

    Parameters
    ----------
    scene : Scene
        The scene.
    woven : Woven
        The weave.

    Returns
    -------
    (h, w, 3) float32
        The pixels, 0 to 1.
    """
    top = np.iinfo(scene.pixels.dtype).max
    canvas = scene.pixels.astype(np.float32) / np.float32(top)
    window = hole_window(scene.hole).slices
    canvas[window][woven.hole] = (np.rint(woven.pixels[woven.hole]) / top).clip(0, 1)
    return canvas
