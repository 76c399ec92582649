"""Looking: what a window of a frame shows, at any state of its history, with any take in place."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from sqlmodel import col, select

from keen_sweep.core.arrays import EightBit
from keen_sweep.core.box import Box, whole
from keen_sweep.core.photo.display import Screen, display_space, for_screen
from keen_sweep.core.scout.harsh import GROUND_SIGMA_PX, harsh, shrunk
from keen_sweep.document.stack import Stack
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Take
from keen_sweep.studio.history import frame_of
from keen_sweep.studio.open_frame import OpenFrame, open_frame

# Levels of the pyramid by which the harsh-light view looks closer than the screen.
FINER_LEVELS = 2
# Factor by which a difference is amplified.
DIFFERENCE_GAIN = 4


@dataclass(frozen=True)
class Look:
    """What to look at: a revision (None is the present one); as shot throughout; or one sweep with another
    take in place of its pick, where take 0 is as shot; or several takes, each in its own sweep; or without some
    sweeps. provisional: of the frame, when it was last heard of."""

    revision: int | None = None
    as_shot: bool = False
    sweep: str | None = None
    take: int | None = None
    takes: tuple[int, ...] = ()
    without: tuple[str, ...] = ()
    provisional: int = 0


@dataclass(frozen=True)
class Shown:
    """What a screen is to show: pixels (h, w, 3), and the profile of their colours, None for sRGB."""

    pixels: EightBit
    profile: bytes | None


def stays(library: Library, frame_id: int, at: Look) -> bool:
    """Whether what was just seen will always look the same: a revision never changes, and neither does a take, but
    another one may stand provisionally. Raises NotFound."""
    if at.as_shot:
        return True
    if at.revision is None:
        return False
    with library.session() as session:
        return frame_of(session, frame_id).provisional == at.provisional


def look(library: Library, frame_id: int, at: Look, window: Box, level: int, screen: Screen = Screen.SRGB) -> Shown:
    """A window of a pyramid level. Raises NotFound."""
    current = _looked_at(library, frame_id, at)
    pixels = for_screen(current.seen(window, level), current.profile, screen)
    colours = display_space(current.profile, screen)
    return Shown(pixels, None if colours is Screen.SRGB else colours.profile)


def harsh_look(library: Library, frame_id: int, at: Look, window: Box, level: int, threshold: float) -> EightBit:
    """The harsh-light view (h, w) of a window of a pyramid level, worked out two levels finer, where faint spots are
    still to be seen. Raises NotFound."""
    current = _looked_at(library, frame_id, at)
    finer = max(level - FINER_LEVELS, 0)
    by, scale = 1 << (level - finer), 1 << finer
    window = window.intersect(whole(current.pyramid.level(level)))
    if window.empty:
        return np.zeros((0, 0), np.uint8)
    inner = window.enlarged(level - finer)
    rim = round(3 * GROUND_SIGMA_PX / scale)
    wide = Box(x=inner.x - rim, y=inner.y - rim, width=inner.width + 2 * rim, height=inner.height + 2 * rim)
    wide = wide.intersect(whole(current.pyramid.level(finer)))
    view = harsh(current.seen(wide, finer), threshold, scale)
    cut = inner.relative_to(wide)
    view = view[cut.y : cut.bottom, cut.x : cut.right]
    missing = ((0, inner.height - view.shape[0]), (0, inner.width - view.shape[1]))
    return shrunk(np.pad(view, missing, mode="edge"), by)


def alone_look(library: Library, frame_id: int, at: Look, window: Box, level: int) -> EightBit:
    """What a take takes off, (h, w, 3), twice as bright so that it can be judged: black where nothing was. A sweep and
    a take are named in what is looked at. Raises NotFound."""
    clean = look(library, frame_id, at, window, level).pixels
    shot = look(library, frame_id, replace(at, take=0), window, level).pixels
    taken = np.maximum(shot.astype(np.int16) - clean, 0) * 2
    return np.asarray(taken.clip(0, 255), np.uint8)


def difference_look(library: Library, frame_id: int, at: Look, against: int, window: Box, level: int) -> EightBit:
    """How a take differs from another one (0 is as shot), (h, w, 3): grey where they are equal, four times as strong
    elsewhere. A sweep and a take are named in what is looked at. Raises NotFound."""
    shown = look(library, frame_id, at, window, level).pixels.astype(np.int16)
    compared = look(library, frame_id, replace(at, take=against), window, level).pixels
    return np.asarray((128 + DIFFERENCE_GAIN * (shown - compared)).clip(0, 255), np.uint8)


def crop(library: Library, frame_id: int, at: Look, box: Box, width: int, screen: Screen = Screen.SRGB) -> Shown:
    """The same for a box in full-size pixels, made about width pixels wide, never enlarged."""
    level = 0
    while box.width >> (level + 1) >= width:
        level += 1
    return look(library, frame_id, at, box.reduced(level), level, screen)


def _looked_at(library: Library, frame_id: int, at: Look) -> OpenFrame:
    """The frame as it is looked at."""
    current = open_frame(library, frame_id, None if at.as_shot else at.revision)
    if at.as_shot:
        return replace(current, stack=Stack())
    stack = current.stack
    if at.sweep is not None and at.take is not None:
        with library.session() as session:
            take = session.get(Take, at.take) if at.take else None
        usable = take is not None and take.sweep_id == at.sweep and take.frame_id == frame_id
        if not at.take and all(each.id != at.sweep for each in stack.sweeps):
            # The revision that a page calls the picture by may be older than a sweep that changed nothing of it yet.
            return current
        patch = take.patch if take and usable else None
        stack = stack.changed(at.sweep, pick=patch, provisional=False, shown=True)
    if at.takes:
        with library.session() as session:
            own = select(Take).where(Take.frame_id == frame_id, col(Take.id).in_(at.takes))
            picks = {take.sweep_id: take.patch for take in session.exec(own)}
        for sweep in stack.sweeps:
            if sweep.id in picks:
                stack = stack.changed(sweep.id, pick=picks[sweep.id], provisional=False, shown=True)
    if at.without:
        layers = tuple(each for each in stack.layers if each.id not in at.without)
        stack = stack.model_copy(update={"layers": layers})
    return replace(current, stack=stack)
