"""The things scout: bicycles, cars, dogs, bags, bottles, chairs and the like, by the detector that knows people too."""

from __future__ import annotations

import numpy as np

from keen_sweep.core.arrays import Bools, EightBit, Pixels
from keen_sweep.core.box import Box, whole
from keen_sweep.core.mask.cling import cling
from keen_sweep.core.mask.detected_target import DetectedTarget
from keen_sweep.core.mask.fit import Fit, fit_mask
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.progress import Progress, no_progress
from keen_sweep.core.scout.found import FindKind, Found
from keen_sweep.core.scout.networks.detector import Seen
from keen_sweep.core.scout.tiles import detect_around, detect_small
from keen_sweep.core.sentences import sentence

# Things that may stand or lie where they should not; furniture, food and wild animals are left alone.
THING_KINDS = (
    "bicycle,car,motorcycle,bus,train,truck,boat,traffic light,fire hydrant,stop sign,parking meter,bench,bird,cat,dog,"
    "backpack,umbrella,handbag,suitcase,frisbee,sports ball,kite,skateboard,surfboard,bottle,wine glass,cup,chair,"
    "potted plant,laptop,cell phone,book"
).split(",")
MIN_SCORE = 0.5
# A thing that covers more of the picture is its subject.
MIN_SUBJECT_SHARE = 0.12
# Margin of a mask, share of the thing's longer side.
MARGIN_SHARE = 0.02
# Smallest margin of a mask, pixels.
MIN_MARGIN_PX = 2.0


def find_things(
    picture: Pixels,
    guard: Bools | None = None,
    small: bool = False,
    progress: Progress = no_progress,
) -> list[Found]:
    """Find vehicles, animals, furniture and other things that may be in the way.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    guard : (H, W) bool or None, optional
        Nothing is found here.
    small : bool, optional
        Whether to search tiles too, for small things.
    progress : Progress, optional
        Called with the share that is done and what is being done.

    Returns
    -------
    list of Found
        The finds, surest first.

    Raises
    ------
    NoWeights
        A network is missing.
    """
    pixels = to_eight_bit(np.ascontiguousarray(picture))
    seen = detect_small(pixels, THING_KINDS, progress) if small else detect_around(pixels, THING_KINDS, MIN_SCORE)
    out: list[Found] = []
    counts: dict[str, int] = {}
    for each in seen:
        mask = _mask(pixels, each, guard)
        if not mask.pixels.any():
            continue
        counts[each.kind] = counts.get(each.kind, 0) + 1
        name = f"{each.kind.capitalize()} {counts[each.kind]}"
        share = each.area / (pixels.shape[0] * pixels.shape[1])
        subject = share >= MIN_SUBJECT_SHARE
        reason = sentence("{score:.0%} like a {kind}", score=each.score, kind=each.kind) + (
            sentence("; large, so perhaps the subject") if subject else ""
        )
        # Most things belong to the picture: none goes unless it is ticked.
        out.append(Found(FindKind.THINGS, name, mask, each.score, reason, subject, False, what=each.kind))
    return out


def _mask(pixels: EightBit, each: Seen, guard: Bools | None) -> Mask:
    """The thing in a box: the box is a loose outline that clings to it, with a border for blending."""
    left, top, right, bottom = each.box
    corner = int(np.floor(left)), int(np.floor(top))
    box = Box(x=corner[0], y=corner[1], width=int(np.ceil(right)) - corner[0], height=int(np.ceil(bottom)) - corner[1])
    room = box.grow(max(box.width, box.height), whole(pixels))
    near = np.zeros((room.height, room.width), np.bool_)
    near[box.relative_to(room).slices] = True
    meant = DetectedTarget(box.relative_to(room), each.kind, each.score)
    tight = cling(pixels[room.slices], near, "outline", None if guard is None else guard[room.slices], meant)
    plane = tight.full(room.width, room.height)
    margin = max(MIN_MARGIN_PX, MARGIN_SHARE * max(box.width, box.height))
    plane = fit_mask(plane, np.zeros_like(plane), Fit(margin=margin))
    if guard is not None:
        plane[guard[room.slices]] = 0
    return Mask(room, plane)
