"""The people scout: one find a person, whoever the picture is of told from bystanders."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit, Pixels
from keen_sweep.core.box import Box, whole
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.mirror import mirror_of
from keen_sweep.core.mask.shadow import common_sun, shadow_evidence
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.progress import Progress, no_progress
from keen_sweep.core.scout.found import Also, FindKind, Found
from keen_sweep.core.scout.networks.detector import Seen, detect, drop_duplicates, overlap
from keen_sweep.core.scout.networks.silhouette import silhouette
from keen_sweep.core.scout.tiles import detect_around, detect_small
from keen_sweep.core.sentences import sentence

# Detector score from which on somebody counts as a person.
SURE_SCORE = 0.5
# Lower scores down to this one count where a silhouette fills the box.
MIN_SCORE = 0.4
# Share of the box that the silhouette must fill then.
MIN_FILLED_SHARE = 0.4
# Whoever has a smaller silhouette is nobody, at any score: a tower or a statue.
MIN_SILHOUETTE_SHARE = 0.03
# Narrower boxes at the side of a picture may be anything, share of the longer side.
MIN_EDGE_WIDTH_SHARE = 0.047
# Smallest margin of a mask, pixels.
MIN_MARGIN_PX = 2.0
# Margin of a mask, share of the person's height.
MARGIN_SHARE = 0.025
# Height of a person who is the subject, share of the picture's height at least.
MIN_SUBJECT_HEIGHT_SHARE = 0.3
# Distance of the subject from the middle, share of half the width at most.
MAX_SUBJECT_OFFSET = 0.6
# Sharpness of the subject, share of the best at least.
MIN_SHARPNESS_SHARE = 0.5
# A wider box, in heights, may hold two people.
MAX_SINGLE_WIDTH = 0.48
# They are searched for in a square of this many heights.
CLOSER_CROP_RATIO = 2.1


def find_people(
    picture: Pixels,
    guard: Bools | None = None,
    small: bool = False,
    also: bool = True,
    progress: Progress = no_progress,
) -> list[Found]:
    """Find people.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    guard : (H, W) bool or None, optional
        Nobody is found here.
    small : bool, optional
        Whether to search tiles too, for distant people.
    also : bool, optional
        Whether to search for their shadows and mirror images.
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
    seen = detect_around(pixels, ("person",), MIN_SCORE)
    if small:
        seen = drop_duplicates(seen + detect_small(pixels, ("person",), progress))
    seen = [each for each in seen if _is_somebody(pixels, each)]
    seen = drop_duplicates([one for each in seen for one in _one_by_one(pixels, each)])
    found = silhouettes(pixels, seen)
    bodies = [Mask(window, np.where(hard, 255, 0).astype(np.uint8)) for window, hard in found]
    masks = _removable(pixels, found, seen)
    for mask in masks:
        if guard is not None:
            mask.pixels[guard[mask.box.slices]] = 0
    subjects = _subjects(pixels, seen)
    asked = [also and not subject and bool(mask.pixels.any()) for mask, subject in zip(masks, subjects, strict=True)]
    belonging = _belonging(pixels, bodies, asked)
    out: list[Found] = []
    for each, mask, subject, belongs in zip(seen, masks, subjects, belonging, strict=True):
        if not mask.pixels.any():
            continue
        reason = sentence("{height:.0f} px tall, {score:.0%} like a person", height=each.height, score=each.score)
        if subject:
            reason += sentence("; large, sharp and near the middle, so perhaps the subject")
        name = sentence("Person {number}", number=len(out) + 1)
        out.append(Found(FindKind.PEOPLE, name, mask, each.score, reason, subject, not subject, belongs))
    return out


def _is_somebody(pixels: EightBit, each: Seen) -> bool:
    """Whether a silhouette bears out what the detector sees."""
    height, width = pixels.shape[:2]
    at_edge = each.box[0] <= 1 or each.box[2] >= width - 1
    if at_edge and each.box[2] - each.box[0] < MIN_EDGE_WIDTH_SHARE * max(height, width):
        return False
    _, chance = silhouette(pixels, each.box)
    return bool(
        (chance > 0.5).sum() > (MIN_SILHOUETTE_SHARE if each.score >= SURE_SCORE else MIN_FILLED_SHARE) * each.area
    )


def person_in(picture: Pixels, box: Box) -> Mask | None:
    """Mask of the person in a box that was drawn by hand.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    box : Box
        The box.

    Returns
    -------
    Mask or None
        The mask; None where nobody is.

    Raises
    ------
    NoWeights
        A network is missing.
    """
    pixels = to_eight_bit(np.ascontiguousarray(picture))
    drawn = Seen("person", 1.0, (float(box.x), float(box.y), float(box.right), float(box.bottom)))
    [mask] = people_masks(pixels, [drawn])
    return mask if (mask.pixels > 0).sum() > 0.02 * box.area else None


def people_masks(pixels: EightBit, seen: list[Seen]) -> list[Mask]:
    """Masks of people, grown for removal.

    Parameters
    ----------
    pixels : (H, W, 3) uint8
        The picture.
    seen : list of Seen
        The detected people.

    Returns
    -------
    list of Mask
        A mask for each.
    """
    return _removable(pixels, silhouettes(pixels, seen), seen)


def _removable(pixels: EightBit, found: list[tuple[Box, Bools]], seen: list[Seen]) -> list[Mask]:
    room = whole(pixels)
    return [_grown(hard, window, each.height, room) for (window, hard), each in zip(found, seen, strict=True)]


def silhouettes(pixels: EightBit, seen: list[Seen]) -> list[tuple[Box, Bools]]:
    """Silhouettes of people; pixels claimed by two go to the likelier one.

    Parameters
    ----------
    pixels : (H, W, 3) uint8
        The picture.
    seen : list of Seen
        The detected people.

    Returns
    -------
    list of Box and (h, w) bool
        Each silhouette and its box.

    Raises
    ------
    NoWeights
        A network is missing.
    """
    likely = [silhouette(pixels, each.box) for each in seen]
    out = []
    for number, (window, mine) in enumerate(likely):
        hard = mine > 0.5
        for other, (theirs, chance) in enumerate(likely):
            common = window.intersect(theirs)
            if other == number or common.empty:
                continue
            own_part, their_part = common.relative_to(window).slices, common.relative_to(theirs).slices
            more = chance[their_part] > mine[own_part] if other > number else chance[their_part] >= mine[own_part]
            hard[own_part] &= ~more
        out.append((window, _main_parts(hard)))
    return out


def _one_by_one(pixels: EightBit, each: Seen) -> list[Seen]:
    """The people of a box that is too wide for one, where a closer look tells them apart; else the box itself."""
    left, top, right, bottom = each.box
    if right - left < MAX_SINGLE_WIDTH * each.height:
        return [each]
    side = round(CLOSER_CROP_RATIO * max(each.height, right - left))
    x, y = round((left + right - side) / 2), round((top + bottom - side) / 2)
    square = Box(x=x, y=y, width=side, height=side).intersect(whole(pixels))
    closer = []
    for one in detect(np.ascontiguousarray(pixels[square.slices]), SURE_SCORE, ("person",)):
        x0, y0, x1, y1 = one.box
        moved = Seen("person", one.score, (x0 + square.x, y0 + square.y, x1 + square.x, y1 + square.y))
        if overlap(moved, each) > 0.5 * moved.area and moved.height > 0.5 * each.height:
            closer.append(moved)
    return closer if len(closer) > 1 else [each]


def _main_parts(hard: Bools) -> Bools:
    """Without crumbs: parts of less than a twentieth of the largest are no limbs."""
    count, labels, stats, _ = cv2.connectedComponentsWithStats(hard.astype(np.uint8), connectivity=8)
    if count < 2:
        return hard
    areas = stats[:, cv2.CC_STAT_AREA].copy()
    areas[0] = 0
    return np.asarray((areas >= areas.max() / 20)[labels] & (labels > 0))


def _grown(hard: Bools, window: Box, height: float, room: Box) -> Mask:
    margin = max(MIN_MARGIN_PX, MARGIN_SHARE * height)
    reach = int(np.ceil(margin))
    box = window.grow(reach, room)
    plane = np.zeros((box.height, box.width), np.uint8)
    plane[window.relative_to(box).slices] = hard
    if plane.any():
        away = cv2.distanceTransform(1 - plane, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
        plane = (away <= margin).astype(np.uint8)
    return Mask(box, plane * np.uint8(255))


def _subjects(pixels: EightBit, seen: list[Seen]) -> list[bool]:
    """Who seems to be what the picture is of: tall in it, near its middle, nobody much more prominent or sharper."""
    height, width = pixels.shape[:2]
    prominent, sharp = [], []
    for each in seen:
        left, top, right, bottom = each.box
        aside = abs((left + right) / width - 1)
        prominent.append(each.height / height * (1 - 0.5 * aside) if aside <= MAX_SUBJECT_OFFSET else 0.0)
        crop = pixels[int(top) : int(bottom) + 1, int(left) : int(right) + 1]
        grey = cv2.cvtColor(np.ascontiguousarray(crop), cv2.COLOR_RGB2GRAY)
        sharp.append(float(np.percentile(np.abs(cv2.Laplacian(grey, cv2.CV_32F)), 95)))
    if not seen:
        return []
    return [
        each.height >= MIN_SUBJECT_HEIGHT_SHARE * height
        and p >= 0.6 * max(prominent) > 0
        and s >= MIN_SHARPNESS_SHARE * max(sharp)
        for each, p, s in zip(seen, prominent, sharp, strict=True)
    ]


def _belonging(pixels: EightBit, bodies: list[Mask], asked: list[bool]) -> list[tuple[Also, ...]]:
    """The shadow and mirror image of each person who is asked for them, where they are to be seen. One sun shines on
    all; it throws the bodies, not the masks that were grown for removal."""
    throws = [
        shadow_evidence(pixels, body, bodies[:number] + bodies[number + 1 :]) if wanted else None
        for number, (body, wanted) in enumerate(zip(bodies, asked, strict=True))
    ]
    sun = common_sun([each for each in throws if each is not None])
    out = []
    for body, thrown, wanted in zip(bodies, throws, asked, strict=True):
        shadow = thrown.shadow(sun) if thrown is not None and sun is not None else None
        mirror = mirror_of(pixels, body) if wanted else None
        belongs = [Also("shadow", shadow.mask)] if shadow is not None else []
        belongs += [Also("mirror", mirror[0])] if mirror is not None else []
        out.append(tuple(belongs))
    return out
