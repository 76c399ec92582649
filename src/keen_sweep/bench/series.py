"""Series, measured: alignments against what is known, masks carried over, holes borrowed; times as ratios."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator

import cv2
import numpy as np
from skimage import data

from keen_sweep.core.arrays import EightBit
from keen_sweep.core.box import box_of, whole
from keen_sweep.core.errors import KeenSweepError
from keen_sweep.core.fill.borrow.engine import BorrowEngine
from keen_sweep.core.fill.borrow.sister import Sister
from keen_sweep.core.fill.engine import Engine, FillInput
from keen_sweep.core.fill.local.engine import ByPart
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.patch import lay
from keen_sweep.core.mask.fit import grow_mask
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.review.scores import scores
from keen_sweep.core.series.align import align
from keen_sweep.core.series.alignment import Alignment, map_by_homography
from keen_sweep.core.series.landing import Landing, land
from keen_sweep.core.series.view import view_of
from keen_sweep.demo.geometry import inverse_depth, seen_at
from keen_sweep.demo.shoot import clean_twin, distractions, mask_of

PICTURE_NAMES = ("astronaut", "coffee", "chelsea", "immunohistochemistry", "hubble_deep_field", "retina", "rocket")
FRAME_PAIRS = (("ov-0412", "ov-0414"), ("ov-0412", "ov-0415"), ("ov-0414", "ov-0415"), ("ov-0521", "ov-0522"))
# Margin of the masks, the border that a photographer leaves, pixels.
MASK_MARGIN_PX = 3
# Margin of what is borrowed, pixels.
BORROW_MARGIN_PX = 5


def run_series(tell: Callable[[str], None]) -> str:
    """All of it, as a page of tables."""
    lines = ["# Series", ""]

    def say(line: str) -> None:
        lines.append(line)
        tell(line)

    for part in (_known(), _stereo(), _burst(), _carried(), _borrowed()):
        for line in part:
            say(line)
    return "\n".join(lines)


def _known() -> Iterator[str]:
    yield from ("## Known homographies: error in pixels", "", "| picture | median | 90th percentile |", "|---|---|---|")
    for name in PICTURE_NAMES:
        found = [_error(getattr(data, name)()[..., :3], seed) for seed in (1, 2, 3)]
        yield f"| {name} | {max(each[0] for each in found):.2f} | {max(each[1] for each in found):.2f} |"


def _error(picture: EightBit, seed: int) -> tuple[float, float]:
    """A picture through a homography that moves corners by up to 6 %, with another exposure, white balance, noise."""
    random = np.random.default_rng(seed)
    height, width = picture.shape[:2]
    corners = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float32)
    ends = corners + random.uniform(-0.06, 0.06, (4, 2)) * max(height, width)
    matrix = np.asarray(cv2.getPerspectiveTransform(corners, ends.astype(np.float32)), np.float64)
    laid = np.asarray(cv2.warpPerspective(picture, matrix, (width, height), flags=cv2.INTER_CUBIC))
    light = (laid / 255.0) ** 2.2 * 2 ** random.uniform(-0.5, 0.5) * np.array([1.05, 1.0, 0.93])
    noisy = np.clip(light, 0, 1) ** (1 / 2.2) * 255 + random.normal(0, 4, laid.shape)
    found = align(view_of(picture), view_of(np.clip(np.rint(noisy), 0, 255).astype(np.uint8)))
    x, y = np.meshgrid(np.arange(10, width - 10, 17), np.arange(10, height - 10, 17))
    places = np.stack([x.ravel(), y.ravel()], 1).astype(np.float64)
    truth = map_by_homography(matrix, places)
    inside = (truth > 0).all(axis=1) & (truth < (width - 1, height - 1)).all(axis=1)
    off = np.linalg.norm(found.places(places) - truth, axis=1)[inside]
    return float(np.median(off)), float(np.quantile(off, 0.9))


def _stereo() -> Iterator[str]:
    """The stereo pair of scikit-image, with its measured disparity (Scharstein et al. 2014)."""
    yield from ("", "## A stereo pair against its disparity: error in pixels", "")
    yield from ("| motorcycle (scikit-image) | median | 75th | 90th percentile |", "|---|---|---|---|")
    left, right, disparity = data.stereo_motorcycle()
    found = align(view_of(left), view_of(right))
    y, x = np.nonzero(np.isfinite(disparity) & (disparity > 0) & (np.arange(disparity.shape[1]) > disparity))
    places = np.stack([x, y], 1)[::7].astype(np.float64)
    off = np.linalg.norm(found.places(places) - places + np.stack([disparity[y, x][::7], 0 * y[::7]], 1), axis=1)
    sure = found.sureness(places) > 0.5
    for name, some in (("all of it", np.ones_like(sure)), (f"where it is sure, {sure.mean():.0%}", sure)):
        yield f"| {name} | " + " | ".join(f"{each:.1f}" for each in np.quantile(off[some], (0.5, 0.75, 0.9))) + " |"


def _aligned(one: str, other: str) -> tuple[EightBit, EightBit, Alignment]:
    own_twin, other_twin = clean_twin(one)[0], clean_twin(other)[0]
    return own_twin, other_twin, align(view_of(own_twin), view_of(other_twin))


def _burst() -> Iterator[str]:
    yield from ("", "## The burst against the renderer: error in pixels", "")
    yield from ("| from, to | what | median | 75th | 90th percentile |", "|---|---|---|---|---|")
    for one, other in FRAME_PAIRS[:2]:
        _, _, found = _aligned(one, other)
        truth, seen = seen_at(one, other)
        y, x = np.mgrid[0 : seen.shape[0], 0 : seen.shape[1]] * 4 + 1.5
        got = found.places(np.stack([x.ravel(), y.ravel()], 1)).reshape(truth.shape)
        off, near = np.linalg.norm(got - truth, axis=2), inverse_depth(one)
        for name, visible in (
            ("beyond 17 m", (near > 0) & (near < 1 / 17)),
            ("10 to 17 m", (near >= 1 / 17) & (near < 1 / 10)),
            ("nearer than 10 m", near >= 1 / 10),
        ):
            quantiles = " | ".join(f"{each:.1f}" for each in np.quantile(off[visible & seen], (0.5, 0.75, 0.9)))
            yield f"| {one}, {other} | {name} | {quantiles} |"


def _carried() -> Iterator[str]:
    yield from ("", "## Masks carried over", "")
    yield from ("| from, to | thing | verdict | confidence | intersection over union |", "|---|---|---|---|---|")
    for one, other in FRAME_PAIRS:
        own_twin, other_twin, alignment = _aligned(one, other)
        theirs = {each.name: each for each in distractions(other) if each.part == "object"}
        for thing in distractions(one):
            if thing.part != "object" or thing.kind == "speck":
                continue
            own = grow_mask(np.where(mask_of(one, thing) > 0, 255, 0).astype(np.uint8), MASK_MARGIN_PX)
            box = box_of(own)
            found = land(own_twin, Mask(box, own[box.slices]), other_twin, alignment)
            share = ""
            if thing.name in theirs and thing.kind != "person":
                truth = grow_mask(
                    np.where(mask_of(other, theirs[thing.name]) > 0, 255, 0).astype(np.uint8), MASK_MARGIN_PX
                )
                share = f"{_overlap(found, own, truth):.2f}"
            yield f"| {one}, {other} | {thing.name} | {found.verdict} | {found.confidence:.2f} | {share} |"


def _overlap(found: Landing, own: EightBit, theirs: EightBit) -> float:
    """Intersection over union of a mask where it landed and the other frame's own, where both frames reach."""
    box = found.box
    x, y = np.meshgrid(np.arange(box.x, box.right), np.arange(box.y, box.bottom))
    places = found.places(np.stack([x.ravel(), y.ravel()], 1).astype(np.float64))
    landed_places = places.reshape(box.height, box.width, 2).astype(np.float32)
    truth = np.asarray(cv2.remap(theirs, landed_places[..., 0], landed_places[..., 1], cv2.INTER_LINEAR)) > 127
    mine = own[box.slices] > 0
    within = ((landed_places > 0) & (landed_places < (theirs.shape[1] - 1, theirs.shape[0] - 1))).all(axis=2)
    return float((truth & mine & within).sum() / max(int(((truth | mine) & within).sum()), 1))


def _borrowed() -> Iterator[str]:
    yield from ("", "## The demo's two visitors, borrowed and woven", "")
    yield from ("| from | borrowed | swd | lswd | dB | time of an alignment | time |", "|---|---|---|---|---|---|---|")
    one = "ov-0412"
    shot, clean = clean_twin(one)
    mask = np.zeros(shot.shape[:2], np.uint8)
    for each in distractions(one):
        if each.kind == "person":
            least = 0 if each.part == "object" else 60
            mask |= np.where(mask_of(one, each) > least, 255, 0).astype(np.uint8)
    mask = grow_mask(mask, BORROW_MARGIN_PX)
    sisters, clock = [], time.perf_counter()
    for name in ("ov-0414", "ov-0415"):
        twin = clean_twin(name)[0]
        sisters.append(Sister(name, twin, align(view_of(shot), view_of(twin))))
    aligning = (time.perf_counter() - clock) / len(sisters)
    ways: list[tuple[str, Engine]] = [
        ("both", BorrowEngine(sisters)),
        *((each.name, BorrowEngine([each])) for each in sisters),
        ("none: woven", ByPart(Method.WEAVE)),
    ]
    rows = []
    for name, engine in ways:
        clock = time.perf_counter()
        try:
            take = next(iter(engine.fill(FillInput(below=shot, mask=mask, takes=1))))
        except KeenSweepError as error:
            yield f"| {name} | {error} | | | | | |"
            continue
        laid = shot.copy()
        lay(laid, whole(laid), take)
        rows.append((name, take.provenance.borrowed or 0.0, scores(laid, clean, mask > 0), time.perf_counter() - clock))
    unit = rows[-1][3]
    for name, share, found, seconds in rows:
        figures = f"{found['swd']:.2f} | {found['lswd']:.2f} | {found['psnr']:.1f}"
        yield f"| {name} | {share:.0%} | {figures} | {aligning / unit:.2f} | {seconds / unit:.2f} |"
