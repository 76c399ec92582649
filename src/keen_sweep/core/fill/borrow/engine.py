"""The engine behind the method borrow: what no frame shows is woven, and said."""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats, Pixels
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.errors import BadMask
from keen_sweep.core.fill import bands
from keen_sweep.core.fill.borrow.choosing import EXCLUDED_LABEL, ComparedViews, compare_views
from keen_sweep.core.fill.borrow.sister import Sister
from keen_sweep.core.fill.borrow.views import views_of
from keen_sweep.core.fill.borrow.window import window_of
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.fill_region import hole_of
from keen_sweep.core.fill.input_crop import box_read, cropped
from keen_sweep.core.fill.local.engine import ByPart
from keen_sweep.core.fill.local.laying_out import clusters_of
from keen_sweep.core.fill.method import MadeBy, Method
from keen_sweep.core.fill.patch import PartReport, Patch, lay
from keen_sweep.core.fill.provenance import Provenance
from keen_sweep.core.mask.parts import Part
from keen_sweep.core.methods.grain import smooth_known
from keen_sweep.core.methods.seam import membrane
from keen_sweep.core.progress import part_of
from keen_sweep.core.sentences import sentence

# How far views reach around the hole, pixels.
VIEW_MARGIN_PX = 48
# Standard deviation over which two views are blended where they meet, pixels.
BLEND_SIGMA_PX = 1.5
# Standard deviation over which tones are matched at the rim, pixels.
TONE_SIGMA_PX = 10.0
# How far the woven rest reaches into what was borrowed, pixels.
REST_MARGIN_PX = 3
# Borrowing must cover at least this share of a hole.
MIN_BORROWED_SHARE = 0.25
# Share one sister alone must cover where several are available.
MIN_SINGLE_SISTER_SHARE = 0.9
# Gaps smaller than this many pixels are borrowed all the same.
CRUMB_AREA_PX = 150
# Gaps smaller than this share of the hole are borrowed all the same.
CRUMB_SHARE = 0.004
# A take that borrows this share of its hole ranks before all synthesised takes.
MIN_FIRST_SHARE = 0.5
# Added to the energy of such a take.
FIRST_ENERGY = -1e3
# Progress of a borrow take when weaving its rest begins.
BORROWED_SHARE = 0.5


class BorrowEngine:
    """Engine that fills from sister frames.

    Parameters
    ----------
    sisters : sequence of Sister
        The sister frames.
    """

    name = "borrow"

    def __init__(self, sisters: Sequence[Sister]) -> None:
        self._sisters = tuple(sisters)

    def near(self, window: Box) -> BorrowEngine:
        """See NearSighted."""
        return BorrowEngine([sister.near(window) for sister in self._sisters])

    def fill(self, given: FillInput) -> Iterator[Patch]:
        """Yield takes: of all sisters, then of each that serves by itself; see Engine. The same sisters and input give
        the same takes to the bit. Raises BadMask when no sister shows what the mask hides."""
        hole_of(given)
        # In the same cut wherever it is done, or places would be rounded otherwise.
        window = box_read(given)
        for take in self.near(window)._filled(cropped(given, window)):
            yield take.moved(window.x, window.y)

    def _filled(self, given: FillInput) -> Iterator[Patch]:
        clock = time.perf_counter()
        hole = hole_of(given)
        given.progress(0.0, sentence("aligning sister frames"))
        places = [_place(given.below, part, given.mask > 0, self._sisters) for part in clusters_of(hole)]
        every = range(len(self._sisters))
        known: list[set[str]] = []
        for some in [tuple(every), *((k,) for k in every if len(every) > 1)]:
            if len(known) == given.takes:
                return
            begun, ready = len(known) / given.takes, (len(known) + 1) / given.takes
            own = part_of(given.progress, begun, ready)
            own(BORROWED_SHARE, sentence("take {number} of {takes}", number=len(known) + 1, takes=given.takes))
            borrowed = [_borrowed(place, some, self._sisters) for place in places]
            lenders = {name for each in borrowed for name in each.shares}
            if lenders in known or not _worth(
                borrowed, hole, MIN_BORROWED_SHARE if len(some) == len(every) else MIN_SINGLE_SISTER_SHARE
            ):
                continue
            known.append(lenders)
            yield replace(
                _patch(replace(given, progress=own), hole, borrowed, given.seed + len(known) - 1),
                seconds=time.perf_counter() - clock,
            )
        if not known:
            raise BadMask(sentence("No sister frame shows what is hidden here: choose another method."))


@dataclass(frozen=True)
class _Place:
    """A part of a hole with what sisters show there: a box of the picture, its pixels, the hole in it, all that is
    masked there, guarded or not, and the views compared, None if there are none."""

    box: Box
    pixels: Pixels
    gap: Bools
    masked: Bools
    views: ComparedViews | None


@dataclass(frozen=True)
class _Borrowed:
    """Pixels (h, w, 3) of a box, which of them are borrowed, and how many of whom."""

    box: Box
    pixels: Pixels
    taken: Bools
    shares: dict[str, int]


def _place(below: Pixels, part: Part, masked: Bools, sisters: Sequence[Sister]) -> _Place:
    mine = np.zeros_like(masked)
    mine[part.box.slices] = part.inside
    window = window_of(below, mine)
    box = part.box.grow(VIEW_MARGIN_PX, whole(below))
    pixels, gap = np.array(below[box.slices]), mine[box.slices]
    views = [view for k, sister in enumerate(sisters) for view in views_of(k, sister, window, box)]
    # What else is masked is no surroundings to go on from.
    near = masked[box.slices]
    return _Place(box, pixels, gap, near, compare_views(pixels, near, views) if views else None)


def _borrowed(place: _Place, some: Sequence[int], sisters: Sequence[Sister]) -> _Borrowed:
    nothing = _Borrowed(place.box, place.pixels, np.zeros_like(place.gap), {})
    if place.views is None or not any(view.sister in some for view in place.views.views):
        return nothing
    chosen = place.views.chosen(some)
    taken = place.gap & ~_missing(chosen, place.gap)
    if not taken.any():
        return nothing
    top = np.iinfo(place.pixels.dtype).max
    laid = np.clip(np.rint(_mixed(place, chosen)), 0, top).astype(place.pixels.dtype)
    owner = np.array([view.sister for view in place.views.views])[chosen]
    shares = {sisters[k].name: int((taken & (chosen >= 0) & (owner == k)).sum()) for k in some}
    return _Borrowed(place.box, laid, taken, {name: count for name, count in shares.items() if count})


def _worth(borrowed: Sequence[_Borrowed], hole: Bools, least: float) -> bool:
    return sum(int(each.taken.sum()) for each in borrowed) >= least * int(hole.sum())


def _patch(given: FillInput, hole: Bools, borrowed: Sequence[_Borrowed], seed: int) -> Patch:
    below, left = np.array(given.below), hole.copy()
    reports: list[PartReport] = []
    lenders: Counter[str] = Counter()
    for each in borrowed:
        if each.shares:
            below[each.box.slices][each.taken] = each.pixels[each.taken]
            left[each.box.slices] &= ~each.taken
            lenders.update(each.shares)
            reports.append(
                PartReport(
                    MadeBy.BORROW,
                    sentence("real pixels from {shares}", shares=_listed(each.shares)),
                    each.box,
                    int(each.taken.sum()),
                )
            )
    box, missing = box_of(hole), int(left.sum()) / int(hole.sum())
    if left.any():
        woven = next(iter(ByPart(Method.AUTO).fill(_rest(given, below, left, seed))))
        lay(below, whole(below), woven)
        reports += [replace(part, why=sentence("no frame shows it; {why}", why=part.why)) for part in woven.parts]
    return Patch(
        box=box,
        pixels=below[box.slices],
        alpha=np.where(hole, given.mask, 0).astype(np.uint8)[box.slices],
        method=MadeBy.BORROW,
        seed=seed,
        energy=missing + (FIRST_ENERGY if 1 - missing >= MIN_FIRST_SHARE else 0.0),
        parts=tuple(reports),
        provenance=Provenance(
            quality=given.quality,
            sisters=tuple(name for name, _ in lenders.most_common()),
            borrowed=round(1 - missing, 4),
        ),
    )


def _rest(given: FillInput, below: Pixels, left: Bools, seed: int) -> FillInput:
    """What no frame shows, to be woven from a picture that has what was borrowed in place."""
    mask = np.where(left, 255, 0).astype(np.uint8)
    left_over = part_of(given.progress, BORROWED_SHARE, 1.0)
    return replace(given, below=below, mask=mask, takes=1, seed=seed, progress=left_over)


def _listed(shares: dict[str, int]) -> str:
    """Names with their shares where there are several."""
    total = sum(shares.values())
    names = sorted(shares, key=lambda name: -shares[name])
    if len(names) == 1:
        return names[0]
    listed = [f"{name} ({shares[name] / total:.0%})" for name in names]
    return sentence("{first} and {last}", first=", ".join(listed[:-1]), last=listed[-1])


def _missing(chosen: NDArray[np.int32], gap: Bools) -> Bools:
    """What is not borrowed, with a rim round it, so that the rest has room to meet it. Crumbs that no view fits are
    borrowed all the same, but none that shows somebody, or what is barred."""
    missing = (gap & (chosen < 0)).astype(np.uint8)
    _, labels, stats, _ = cv2.connectedComponentsWithStats(missing)
    crumbs = stats[:, cv2.CC_STAT_AREA] < max(CRUMB_AREA_PX, CRUMB_SHARE * int(gap.sum()))
    crumbs[np.unique(labels[chosen == EXCLUDED_LABEL])] = False
    missing[crumbs[labels]] = 0
    return np.asarray(cv2.dilate(missing, np.ones((2 * REST_MARGIN_PX + 1,) * 2, np.uint8))) > 0


def _mixed(place: _Place, chosen: NDArray[np.int32]) -> Floats:
    """The views that were chosen, in the tones of the rim, mixed a little where two meet, (h, w, 3)."""
    assert place.views is not None
    own, gap, known = place.pixels.astype(np.float32), place.gap, ~place.masked
    total, weights = np.zeros(own.shape, np.float32), np.zeros(gap.shape, np.float32)
    if (chosen < 0).any() and (chosen >= 0).any():
        # Crumbs that none serves in go with what is next to them.
        nearest = scipy.ndimage.distance_transform_edt(chosen < 0, return_distances=False, return_indices=True)
        chosen = chosen[tuple(nearest)]
    for number in np.unique(chosen):
        weight = np.asarray(cv2.GaussianBlur((chosen == number).astype(np.float32), (0, 0), BLEND_SIGMA_PX), np.float32)
        total += weight[..., None] * place.views.views[number].pixels.astype(np.float32)
        weights += weight
    laid = np.asarray(total / np.maximum(weights, np.float32(1e-6))[..., None], np.float32)
    toned = laid + _toned(np.asarray(own - laid, np.float32), gap, known)
    laid = np.where(gap[..., None], toned, own).astype(np.float32)
    radius = float(np.asarray(cv2.distanceTransform(gap.astype(np.uint8), cv2.DIST_L2, 5)).max())
    # Moving pixels by parts of one takes a little of their grain.
    bands.match_grain(laid, gap, known, radius)
    return laid


def _toned(difference: Floats, gap: Bools, known: Bools) -> Floats:
    """What is added in the hole so that tones meet those of the rim: how far they are apart there, smooth."""
    # Edges that are a part of a pixel off are no tones.
    most = 3 * np.median(np.abs(difference[known]), axis=0) + 1
    mean = smooth_known(np.clip(difference, -most, most).astype(np.float32), known, TONE_SIGMA_PX)
    planes = [membrane(np.ascontiguousarray(mean[..., k], np.float32), gap) for k in range(3)]
    return np.asarray(np.stack(planes, axis=2), np.float32)
