"""How well the scouts find what is there: `keen-sweep bench scouts`, for docs/scouts.md.

People: twelve frames of the street video that Debian's opencv-doc ships, if that is installed (a background model gives
the silhouettes), and the demo shoot. Wires, specks and reflections are drawn over pictures that scikit-image and
scikit-learn ship, or taken from the demo, where they are exact.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from pathlib import Path

import cv2
import numpy as np
from skimage.metrics import structural_similarity

from keen_sweep.bench.cases import package_picture
from keen_sweep.bench.drawn import dust_hits, reflected, sky, with_dust, with_wires
from keen_sweep.bench.papers import PAPER_OUTLINES, paper_and_plant
from keen_sweep.core.arrays import Bools, EightBit, Floats
from keen_sweep.core.fill.separation import added_light, evidence_of
from keen_sweep.core.scout.backdrop import find_backdrop
from keen_sweep.core.scout.found import Found
from keen_sweep.core.scout.networks.detector import Seen, detect, overlap
from keen_sweep.core.scout.people import find_people, silhouettes
from keen_sweep.core.scout.specks import specks_in
from keen_sweep.core.scout.wires import find_wires
from keen_sweep.demo.shoot import clean_twin, distractions, frames, mask_of

Say = Callable[[str], None]
VIDEO_FILE = Path("/usr/share/doc/opencv-doc/examples/data/vtest.avi")
PICTURE_FILES = (
    "astronaut.png coffee.png chelsea.png rocket.jpg motorcycle_left.png camera.png brick.png grass.png gravel.png "
    "hubble_deep_field.jpg ihc.png retina.jpg coins.png moon.png page.png cell.png clock_motion.png color.png "
    "china.jpg flower.jpg"
).split()


def run_scouts(say: Say) -> str:
    """Measure all scouts; the report as Markdown."""
    parts = []
    for title, measure in (
        ("People", people),
        ("Wires", wires),
        ("Specks", specks),
        ("Backdrop", backdrop),
        ("Reflection", reflection),
    ):
        lines = measure()
        parts.append(f"## {title}\n\n" + "\n".join(lines))
        say(parts[-1] + "\n")
    return "\n\n".join(parts)


def people() -> list[str]:
    """Walkers of the video, and the demo's visitors."""
    rows = ["| pictures | found | false | mask IoU | s a picture |", "|---|---|---|---|---|"]
    if VIDEO_FILE.is_file():
        rows.append(_walkers())
    found = total = false = 0
    overlaps, seconds = [], []
    for frame in frames():
        picture, _ = clean_twin(frame)
        visitors = [d for d in distractions(frame) if d.kind == "person" and d.part == "object" and d.box[3] >= 60]
        started = time.perf_counter()
        finds = find_people(picture, small=True, also=False)
        seconds.append(time.perf_counter() - started)
        hits = [_best(finds, mask_of(frame, d) > 127) for d in visitors]
        found += sum(each > 0.4 for each in hits)
        total += len(visitors)
        false += max(len(finds) - sum(each > 0.4 for each in hits), 0)
        overlaps += [each for each in hits if each > 0.4]
    mean = f"{np.mean(overlaps):.2f} with margin"
    rows.append(
        f"| demo, {len(frames())} frames, tiles | {found} of {total} | {false} | {mean} | {np.mean(seconds):.1f} |"
    )
    return rows


def _walkers() -> str:
    """Twelve frames spread over the video: silhouettes by difference from its median."""
    video = cv2.VideoCapture(str(VIDEO_FILE))
    shots = []
    while True:
        more, shot = video.read()
        if not more:
            break
        shots.append(shot[..., ::-1])
    empty = np.median(np.stack(shots[::10]), axis=0)
    found = total = false = 0
    overlaps, seconds = [], []
    for k in np.linspace(0, len(shots) - 1, 12).astype(int):
        picture = np.ascontiguousarray(shots[k])
        moved = np.abs(picture - empty).max(axis=2) > 50
        started = time.perf_counter()
        seen = detect(picture, 0.5, ("person",))
        masks = silhouettes(picture, seen)
        seconds.append(time.perf_counter() - started)
        walkers = _apart(moved)
        for box in walkers:
            alike = [float(overlap(s, box) / (s.area + box.area - overlap(s, box))) for s in seen]
            if max(alike, default=0.0) > 0.4:
                found += 1
                window, hard = masks[int(np.argmax(alike))]
                truth = moved[window.slices]
                overlaps.append(float((truth & hard).sum() / max((truth | hard).sum(), 1)))
            total += 1
        false += sum(moved[int(s.box[1]) : int(s.box[3]), int(s.box[0]) : int(s.box[2])].mean() < 0.15 for s in seen)
    words = f"| street video, 12 frames, walkers who stand apart | {found} of {total} | {false} |"
    return f"{words} {np.mean(overlaps):.2f} | {np.mean(seconds):.2f} |"


def _apart(moved: Bools) -> list[Seen]:
    """Boxes of what moved and is shaped like one person who stands apart from others, 57 to 160 px tall."""
    joined = cv2.morphologyEx(moved.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((9, 5), np.uint8))
    _, _, stats, _ = cv2.connectedComponentsWithStats(np.asarray(joined, np.uint8), connectivity=8)
    out = []
    for x, y, wide, tall, area in stats[1:]:
        inside = x > 0 and y > 0 and x + wide < moved.shape[1] and y + tall < moved.shape[0]
        if 57 <= tall <= 160 and 0.22 < wide / tall < 0.55 and area > 0.3 * wide * tall and inside:
            out.append(Seen("person", 1.0, (float(x), float(y), float(x + wide), float(y + tall))))
    return out


def _best(finds: Sequence[Found], truth: Bools) -> float:
    best = 0.0
    for find in finds:
        mine = find.mask.full(truth.shape[1], truth.shape[0]) > 0
        best = max(best, float((mine & truth).sum() / (mine | truth).sum()))
    return best


def wires() -> list[str]:
    """Wires drawn over anything and over sky, the demo's cables, and clean pictures."""
    pictures = {name: package_picture(name) for name in PICTURE_FILES}
    for frame in frames():
        clean = clean_twin(frame)[1]
        half = 0.5 if clean.shape[1] > 1600 else 1.0
        pictures[frame] = np.asarray(cv2.resize(clean, None, fx=half, fy=half, interpolation=cv2.INTER_AREA), np.uint8)
    rows = ["| pictures | recall | precision | false finds a picture | s per MP |", "|---|---|---|---|---|"]
    scores, seconds, worst = [], [], []
    for name, picture in pictures.items():
        for seed in (1, 2):
            photo, truth = with_wires(picture, seed * 7 + len(name))
            started = time.perf_counter()
            finds = [f for f in find_wires(photo) if f.chosen]
            seconds.append((time.perf_counter() - started) / (photo.size / 3e6))
            scores.append(_recall_and_precision(finds, truth))
            worst.append((scores[-1][0], name))
    recall, precision = np.mean(scores, axis=0)
    rows.append(
        f"| {len(pictures)} pictures, two sets of wires each | {recall:.2f} | {precision:.2f} | - "
        f"| {np.mean(seconds):.1f} |"
    )
    scores = []
    for seed in range(12):
        photo, truth = with_wires(sky(seed), seed)
        scores.append(_recall_and_precision([f for f in find_wires(photo) if f.chosen], truth))
    recall, precision = np.mean(scores, axis=0)
    rows.append(f"| 12 made-up skies | {recall:.2f} | {precision:.2f} | - | - |")
    scores = []
    for frame in ("ov-0412", "ov-0413"):
        picture, _ = clean_twin(frame)
        truth = np.zeros(picture.shape[:2], np.bool_)
        for each in distractions(frame):
            if each.kind == "wire" and each.part == "object":
                truth |= mask_of(frame, each) > 127
        scores.append(_recall_and_precision([f for f in find_wires(picture) if f.chosen], truth))
    recall, precision = np.mean(scores, axis=0)
    rows.append(f"| demo, cables over the glasshouse, 2 frames | {recall:.2f} | {precision:.2f} | - | - |")
    false = {name: len([f for f in find_wires(picture) if f.chosen]) for name, picture in pictures.items()}
    named = ", ".join(f"{name} {count}" for name, count in false.items() if count)
    rows.append(
        f"| the {len(false)} pictures without wires | - | - | {np.mean(list(false.values())):.2f} ({named}) | - |"
    )
    low = ", ".join(f"{name} {recall:.2f}" for recall, name in sorted(worst)[:6])
    return [*rows, "", f"Least recall: {low}."]


def _recall_and_precision(finds: Sequence[Found], truth: Bools) -> tuple[float, float]:
    """Pixels within 2 of the truth, and of the finds."""
    found = np.zeros(truth.shape, np.uint8)
    for find in finds:
        found = np.maximum(found, find.mask.full(truth.shape[1], truth.shape[0]))
    wide = np.ones((5, 5), np.uint8)
    recall = float((cv2.dilate(found, wide) > 0)[truth].mean())
    if not found.any():
        return recall, 1.0
    return recall, float((cv2.dilate(truth.astype(np.uint8), wide) > 0)[found > 0].mean())


def specks() -> list[str]:
    """Dust drawn on skies, the demo's, and pictures without any."""
    rows = ["| pictures | recall | 12 to 24 px, 5 % and more | precision | s per MP |", "|---|---|---|---|---|"]
    hits: list[bool] = []
    clear: list[bool] = []
    total = false = 0
    seconds = []
    for seed in range(12):
        picture, drawn = with_dust(sky(seed), seed)
        started = time.perf_counter()
        found = specks_in(picture)
        seconds.append((time.perf_counter() - started) / (picture.size / 3e6))
        hit = dust_hits(found, drawn)
        hits += hit
        clear += [h for h, (_, _, d, depth) in zip(hit, drawn, strict=True) if 12 <= d <= 24 and depth >= 0.05]
        total += len(found)
        false += sum(not any(np.hypot(s.x - x, s.y - y) < max(d, 6) for x, y, d, _ in drawn) for s in found)
    precision = 1 - false / max(total, 1)
    rows.append(f"| 12 skies | {np.mean(hits):.2f} | {np.mean(clear):.2f} | {precision:.2f} | {np.mean(seconds):.1f} |")
    for frame in ("ov-0412", "ov-0413", "ov-0418"):
        dust = [d for d in distractions(frame) if d.kind == "speck"]
        found = specks_in(clean_twin(frame)[0])
        drawn = [(d.x or 0.0, d.y or 0.0, d.diameter or 0.0, d.depth or 0.0) for d in dust]
        right = np.mean([any(np.hypot(s.x - x, s.y - y) < max(d, 6) for x, y, d, _ in drawn) for s in found])
        rows.append(f"| demo {frame} | {np.mean(dust_hits(found, drawn)):.2f} | - | {right:.2f} | - |")
    clean = [len(specks_in(package_picture(name))) for name in PICTURE_FILES]
    return [
        *rows,
        "",
        f"On {len(clean)} clean pictures: median {np.median(clean):.0f}, mean {np.mean(clean):.1f} finds.",
    ]


def backdrop() -> list[str]:
    """The studio frames: what lies beyond the paper, whose outline was traced."""
    rows = ["| frame | IoU with truth | subject touched | s |", "|---|---|---|---|"]
    for frame in PAPER_OUTLINES:
        picture, _ = clean_twin(frame)
        started = time.perf_counter()
        finds = find_backdrop(picture)
        seconds = time.perf_counter() - started
        paper, plant = paper_and_plant(frame)
        beyond = np.zeros(paper.shape, np.bool_)
        for find in finds:
            if find.name == "Beyond the backdrop":
                beyond = find.mask.full(paper.shape[1], paper.shape[0]) > 0
        truth = ~(paper | plant)
        iou = float((beyond & truth).sum() / (beyond | truth).sum())
        rows.append(f"| {frame} | {iou:.3f} | {float((beyond & plant).sum() / plant.sum()):.2%} | {seconds:.1f} |")
    return rows


def reflection() -> list[str]:
    """Mixtures of package pictures, the demo's pane, and pictures without a reflection."""
    names = ["astronaut.png", "coffee.png", "chelsea.png", "rocket.jpg", "china.jpg", "flower.jpg"]
    pictures = [package_picture(name) for name in names]
    rows = [
        "| pictures | version | PSNR up, raw | a bare black level | channel means matched | SSIM up | s per MP |",
        "|---|---|---|---|---|---|---|",
    ]
    mixtures = []
    for k, truth in enumerate(pictures):
        for share in (0.2, 0.3, 0.4):
            mixtures.append((reflected(truth, pictures[(k + 2) % len(pictures)], share), truth))
    pane = [clean_twin("ov-0446")]
    for title, pairs in ((f"{len(mixtures)} mixtures, 20 to 40 %", mixtures), ("the demo's pane", pane)):
        for version in ("quick", "best"):
            gains, seconds = [], []
            for photo, truth in pairs:
                started = time.perf_counter()
                seen = _floats(photo)
                clean = seen - added_light(seen, version == "best")
                seconds.append((time.perf_counter() - started) / (photo.size / 3e6))
                gains.append(gains_of(seen, clean, _floats(truth)))
            raw, black, matched, alike = np.mean(gains, axis=0)
            words = f"| {title} | {version} | {raw:+.1f} dB | {black:+.1f} dB | {matched:+.2f} dB | {alike:+.3f} |"
            rows.append(f"{words} {np.mean(seconds):.1f} |")
    with_light = [evidence_of(_floats(photo)) for photo, _ in mixtures]
    without = {name: evidence_of(_floats(p)) for name, p in zip(names, pictures, strict=True)}
    listed = ", ".join(f"{name} {value:.3f}" for name, value in without.items())
    return [
        *rows,
        "",
        f"Evidence: {min(with_light):.3f} to {max(with_light):.3f} on mixtures (median {np.median(with_light):.3f}); "
        f"without a reflection {listed}.",
    ]


def _floats(picture: EightBit) -> Floats:
    return np.asarray(picture, np.float32) / np.float32(255)


def gains_of(seen: Floats, clean: Floats, truth: Floats) -> tuple[float, float, float, float]:
    """PSNR gained raw, by a bare black level, with channel means matched; SSIM gained."""

    def psnr(picture: Floats) -> float:
        return float(-10 * np.log10(np.mean((np.clip(picture, 0, 1) - truth) ** 2)))

    def matched(picture: Floats) -> Floats:
        return np.asarray(picture - picture.mean(axis=(0, 1)) + truth.mean(axis=(0, 1)), np.float32)

    def alike(picture: Floats) -> float:
        measure: Callable[..., float] = structural_similarity
        return float(measure(np.clip(picture, 0, 1), truth, channel_axis=2, data_range=1))

    black = seen - np.float32(np.percentile(seen, 1))
    before = psnr(seen)
    return (
        psnr(clean) - before,
        psnr(np.asarray(black, np.float32)) - before,
        psnr(matched(clean)) - psnr(matched(seen)),
        alike(clean) - alike(seen),
    )
