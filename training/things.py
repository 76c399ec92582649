"""Training pictures for the network of marks: things laid on photographs along outlines that are known exactly, with
their shadows and mirror images.

Things are drawn (people of limbs, poles, plants, wheels, boxes, blobs) and clothed with pieces of photographs, or come
from pictures with transparency in a game's data. Everything follows from a seed; nothing is kept.
"""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]
Bytes = NDArray[np.uint8]
Random = np.random.Generator
FINER = 2  # silhouettes are drawn so many times as large and averaged, for soft edges
PEOPLE = 0.3  # how often a thing that may be one is somebody cut out of a photograph
LONG = 5  # what is so many times as long as wide is a pipe, a bar or a stand

# Below the folder that Debian's packages are unpacked in (README). What the benchmarks show is left out.
PHOTOGRAPHS = "usr/share/doc/opencv-doc/examples/data"
USED = (
    "aero1 aero3 aloeL apple baboon basketball1 board butterfly fruits graf1 graf3 home left01 left05 leuvenA messi5 "
    "orange rubberwhale1 squirrel_cls starry_night stuff building smarties"
).split()
DESKTOPS = "usr/share/wallpapers"
SHOWN = "BytheWater ColdRipple ColorfulCups EveningGlow Grey Path DarkestHour summer_1am".split()
GAME = "usr/share/games/supertuxkart/data"
NOT_THINGS = (
    "/gui/",
    "/skins/",
    "/editor/",
    "icon",
    "particle",
    "/karts/",
    "gfx",
    "sign",
    "logo",
    "gamerzilla",
    "ormal",
    "_nm",
    "nrm",
    "spec",
)


@dataclass(frozen=True)
class Sources:
    """Photographs and textures (H, W, 3) uint8, and cut out things and people (H, W, 4) uint8."""

    grounds: list[Bytes]
    textures: list[Bytes]
    cutouts: list[Bytes]
    people: tuple[Bytes, ...] = ()


def sources(root: Path) -> Sources:
    """What pictures are made of, from Debian's packages unpacked below root."""
    grounds = [_read(file) for name in USED for file in sorted((root / PHOTOGRAPHS).glob(f"{name}.*"))]
    for file in sorted((root / DESKTOPS).glob("*/contents/images/*.jpg")):
        if not any(name in file.parts for name in SHOWN):
            grounds.append(_read(file))
    textures, cutouts = [], []
    for file in sorted((root / GAME).rglob("*.jpg")):
        if any(word in str(file) for word in NOT_THINGS):
            continue
        picture = _read(file)
        if min(picture.shape[:2]) >= 256 and picture.std(axis=(0, 1)).mean() > 8:
            textures.append(picture)
    for file in sorted((root / GAME).rglob("*.png")):
        if not any(word in str(file) for word in NOT_THINGS):
            cutouts += _cut_out(np.asarray(cv2.imread(str(file), cv2.IMREAD_UNCHANGED), np.uint8))
    return Sources([each for each in grounds if each is not None], textures, cutouts)


def _read(file: Path) -> Bytes:
    picture = np.asarray(cv2.imread(str(file)), np.uint8)
    small = 1400 / max(picture.shape[:2])
    if small < 1:
        picture = np.asarray(cv2.resize(picture, None, fx=small, fy=small, interpolation=cv2.INTER_AREA), np.uint8)
    return np.ascontiguousarray(picture[..., ::-1])


def _cut_out(picture: NDArray[np.uint8] | None) -> list[Bytes]:
    """The largest thing of a picture with transparency, if it is one thing."""
    if picture is None or picture.ndim != 3 or picture.shape[2] != 4 or min(picture.shape[:2]) < 96:
        return []
    alpha = picture[..., 3]
    covered = (alpha > 128).mean()
    if not 0.03 < covered < 0.85 or ((alpha > 20) & (alpha < 235)).mean() > 0.25 * covered:
        return []
    count, labels, stats, _ = cv2.connectedComponentsWithStats((alpha > 128).astype(np.uint8), connectivity=8)
    if count < 2:
        return []
    largest = 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
    x, y, wide, tall, area = stats[largest]
    filled = area / (wide * tall)
    if area < 0.5 * (alpha > 128).sum() or min(wide, tall) < 40 or filled > 0.97 or filled < 0.12:
        return []
    cut = picture[y : y + tall, x : x + wide].copy()
    cut[..., 3] = np.where(labels[y : y + tall, x : x + wide] == largest, cut[..., 3], 0)
    shrink = 400 / max(cut.shape[:2])
    if shrink < 1:
        cut = np.asarray(cv2.resize(cut, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA), np.uint8)
    return [np.ascontiguousarray(cut[..., [2, 1, 0, 3]])]


# Silhouettes: (h, w) float32, 0 to 1, and a number for every part that is clothed by itself.


def silhouette(random: Random, width: int, height: int) -> tuple[Floats, NDArray[np.uint8]]:
    """Something drawn that fills a box: its cover (height, width) 0 to 1, and its parts (height, width), 0 outside."""
    parts = np.zeros((height * FINER, width * FINER), np.uint8)
    if max(width, height) > LONG * min(width, height):
        upright = parts if height > width else np.ascontiguousarray(parts.T)
        _pipe(random, upright)
        parts = upright if height > width else np.ascontiguousarray(upright.T)
    else:
        tall = [_person, _person, _person, _post, _plant, _bottle]
        kinds = tall if height > 1.4 * width else [_blob, _box, _wheel, _plant, _tube, _board]
        kinds[int(random.integers(len(kinds)))](random, parts)
    cover = cv2.resize((parts > 0).astype(np.float32), (width, height), interpolation=cv2.INTER_AREA)
    return np.asarray(cover, np.float32), np.asarray(
        cv2.resize(parts, (width, height), interpolation=cv2.INTER_NEAREST)
    )


def _limb(parts: Bytes, number: int, points: list[tuple[float, float]], thick: float, thin: float) -> None:
    """A limb through points, shares of the sides, that grows thinner."""
    height, width = parts.shape
    at = np.array(points) * (width, height)
    many = max(int(np.hypot(*np.diff(at, axis=0).T).sum() / max(thin, 1)), 8)
    line = np.linspace(0, len(at) - 1, many)
    for k in line:
        x, y = (np.interp(k, np.arange(len(at)), at[:, c]) for c in (0, 1))
        radius = thick + (thin - thick) * k / max(len(at) - 1, 1)
        cv2.circle(parts, (int(x), int(y)), max(int(radius), 1), number, -1)


def _person(random: Random, parts: Bytes) -> None:
    height, width = parts.shape
    girth = min(width, height * 0.42)
    lean, sway = random.uniform(-0.06, 0.06), random.uniform(0.1, 0.42) * width / width
    hip, neck = (0.5, random.uniform(0.46, 0.54)), (0.5 + lean, random.uniform(0.17, 0.2))
    thick = girth * random.uniform(0.09, 0.15)
    feet = [
        (np.clip(0.5 + s * sway * random.uniform(0.2, 1), 0.08, 0.92), random.uniform(0.94, 0.985)) for s in (-1, 1)
    ]
    skirt = random.random() < 0.3
    for foot in feet:
        knee = ((hip[0] + foot[0]) / 2 + random.uniform(-0.06, 0.06), (hip[1] + foot[1]) / 2)
        _limb(parts, 1, [hip, knee, foot], thick * (1.3 if not skirt else 0.8), thick * 0.55)
        _limb(parts, 4, [foot, (foot[0] + random.uniform(-0.06, 0.1), foot[1])], thick * 0.6, thick * 0.5)
    if skirt:
        wide = random.uniform(0.14, 0.3)
        end = random.uniform(0.6, 0.85)
        poly = np.array([(0.42, 0.42), (0.58, 0.42), (0.5 + wide, end), (0.5 - wide, end)]) * (width, height)
        cv2.fillPoly(parts, [poly.astype(np.int32)], 1)
    _limb(parts, 2, [hip, neck], thick * 1.6, thick * random.uniform(1.6, 2.1))
    sleeve = 2 if random.random() < 0.6 else 3
    for s in (-1, 1):
        hand = (np.clip(0.5 + s * random.uniform(0.1, 0.45), 0.06, 0.94), random.uniform(0.2, 0.56))
        elbow = (0.5 + s * random.uniform(0.16, 0.36), random.uniform(0.3, 0.42))
        shoulder = (neck[0] + s * 1.4 * thick / width, neck[1] + 0.03)
        _limb(parts, sleeve, [shoulder, elbow, hand], thick * 0.75, thick * 0.45)
        _limb(parts, 3, [hand, hand], thick * 0.5, thick * 0.5)
    head = (int((neck[0] + random.uniform(-0.02, 0.02)) * width), int(height * 0.085))
    size = int(height * random.uniform(0.06, 0.08))
    cv2.ellipse(parts, head, (int(size * 0.8), size), 0, 0, 360, 3, -1)
    if random.random() < 0.8:
        cv2.ellipse(parts, (head[0], head[1] - size // 4), (int(size * 0.9), int(size * 0.9)), 0, 150, 390, 5, -1)
    if random.random() < 0.25:  # a hat with a brim
        brim = (int(size * random.uniform(1.1, 1.9)), max(int(size * 0.25), 1))
        cv2.ellipse(parts, (head[0], head[1] - size // 3), brim, random.uniform(-12, 12), 0, 360, 6, -1)
    if random.random() < 0.3:  # a bag on the back
        side = random.choice([-1, 1])
        x, y = neck[0] * width + side * random.uniform(0, 2.2) * thick, random.uniform(0.28, 0.4) * height
        bag = (int(girth * random.uniform(0.12, 0.24)), int(height * random.uniform(0.07, 0.13)))
        cv2.ellipse(parts, (int(x), int(y)), bag, random.uniform(-10, 10), 0, 360, 7, -1)
    elif random.random() < 0.4:
        x, y = random.uniform(0.2, 0.7), random.uniform(0.3, 0.6)
        low = (int(x * width), int(y * height))
        cv2.rectangle(parts, low, (low[0] + int(girth * 0.3), low[1] + int(girth * 0.35)), 6, -1)


def _post(random: Random, parts: Bytes) -> None:
    height, width = parts.shape
    wide = random.uniform(0.08, 0.4) * width
    x = width * random.uniform(0.35, 0.65)
    cv2.rectangle(parts, (int(x - wide / 2), 0), (int(x + wide / 2), height), 1, -1)
    if random.random() < 0.4:
        cv2.rectangle(parts, (0, 0), (width, int(random.uniform(0.05, 0.3) * height)), 2, -1)
    if random.random() < 0.4:
        cv2.rectangle(parts, (int(x - wide), int(0.93 * height)), (int(x + wide), height), 3, -1)
    for _ in range(int(random.integers(0, 3))):
        y = int(random.uniform(0, 1) * height)
        cv2.rectangle(parts, (int(x - wide * 0.7), y), (int(x + wide * 0.7), y + int(wide * 0.5)), 4, -1)


def _pipe(random: Random, parts: Bytes) -> None:
    """A pipe, bar or stand from end to end, straight or in a bend, with collars, brackets and a foot or a head."""
    height, width = parts.shape
    thick = max(width * random.uniform(0.1, 0.45), 2.0)
    ways = int(random.choice([2, 2, 2, 3, 4]))
    across = np.clip(0.5 + random.normal(0, 0.12 if ways > 2 else 0.04, ways), 0.2, 0.8)
    points = list(zip(across, np.linspace(0, 1, ways), strict=True))
    _limb(parts, 1, points, thick, thick * random.uniform(0.6, 1.0))
    for _ in range(int(random.integers(0, 5))):
        y = random.uniform(0.03, 0.97)
        x = np.interp(y, np.linspace(0, 1, ways), across) * width
        out = np.array([random.uniform(1.1, 2.4), random.uniform(1.1, 2.4)]) * thick
        if random.random() < 0.5:
            out[int(random.integers(2))] = thick
        high = thick * random.uniform(0.3, 1.5)
        corner = (int(x - out[0]), int(y * height - high))
        cv2.rectangle(parts, corner, (int(x + out[1]), int(y * height + high)), int(random.integers(2, 5)), -1)
    for end in (0.0, 1.0):
        if random.random() < 0.35:
            deep = width * random.uniform(0.2, 1.5)
            top, low = (0, int(deep)) if end == 0 else (int(height - deep), height)
            left, right = sorted(random.uniform(0, 1, 2) * width)
            cv2.rectangle(parts, (int(left), top), (int(max(right, left + thick)), low), 5, -1)


def _board(random: Random, parts: Bytes) -> None:
    """A board or sign: a frame, what it holds, and sheets pinned to it."""
    height, width = parts.shape
    cv2.rectangle(parts, (0, 0), (width, height), 1, -1)
    rim = int(min(width, height) * random.uniform(0.02, 0.12))
    if random.random() < 0.8:
        cv2.rectangle(parts, (rim, rim), (width - rim, height - rim), 2, -1)
    for k in range(int(random.integers(0, 6))):
        x, y = int(random.uniform(0.05, 0.75) * width), int(random.uniform(0.05, 0.7) * height)
        size = (int(random.uniform(0.08, 0.25) * width), int(random.uniform(0.1, 0.35) * height))
        cv2.rectangle(parts, (x, y), (min(x + size[0], width - rim), min(y + size[1], height - rim)), 3 + k % 3, -1)
    if random.random() < 0.5:
        turn = cv2.getRotationMatrix2D((width / 2, height / 2), random.normal(0, 4), random.uniform(0.88, 0.97))
        parts[:] = cv2.warpAffine(parts, turn, (width, height), flags=cv2.INTER_NEAREST)


def _plant(random: Random, parts: Bytes) -> None:
    height, width = parts.shape
    pot = random.random() < 0.5
    foot = height * (0.72 if pot else 1.0)
    for _ in range(int(random.integers(8, 40))):
        angle = random.normal(0, 0.7)
        far = random.uniform(0.25, 0.95) * foot
        tip = (width / 2 + np.sin(angle) * far * 0.5 * width / height * 1.6, foot - np.cos(angle) * far)
        long = random.uniform(0.06, 0.2) * min(height, width)
        axes = (int(long), max(int(long * random.uniform(0.15, 0.5)), 1))
        cv2.line(parts, (width // 2, int(foot)), tuple(int(v) for v in tip), 1, max(int(width * 0.015), 1))
        turn = np.degrees(angle) - 90 + random.normal(0, 30)
        cv2.ellipse(parts, tuple(int(v) for v in tip), axes, turn, 0, 360, 2, -1)
    if pot:
        low, top = random.uniform(0.12, 0.3), random.uniform(0.2, 0.42)
        poly = np.array([(0.5 - top, 0.7), (0.5 + top, 0.7), (0.5 + low, 1), (0.5 - low, 1)]) * (width, height)
        cv2.fillPoly(parts, [poly.astype(np.int32)], 3)


def _bottle(random: Random, parts: Bytes) -> None:
    height, width = parts.shape
    at = np.linspace(0, 1, 7)
    radii: NDArray[Any] = np.interp(np.linspace(0, 1, height), at, random.uniform(0.1, 0.5, 7))
    radii = cv2.GaussianBlur(radii[:, None], (1, 2 * (height // 8) + 1), 0, sigmaY=height * 0.05)[:, 0]
    x = np.arange(width)[None] - width / 2
    parts[np.abs(x) < radii[:, None] * width] = 1
    band = sorted(int(v * height) for v in random.uniform(0, 1, 2))
    parts[band[0] : band[1]] = np.where(parts[band[0] : band[1]] > 0, 2, 0)


def _blob(random: Random, parts: Bytes) -> None:
    height, width = parts.shape
    angle = np.linspace(0, 2 * np.pi, 120, endpoint=False)
    radius = np.ones_like(angle)
    for k in range(1, int(random.integers(2, 9))):
        radius += random.normal(0, 0.25 / k**0.8) * np.cos(k * angle + random.uniform(0, 6.3))
    radius = np.clip(radius, 0.25, None) / max(radius.max(), 0.3)
    points = np.stack([np.cos(angle) * radius, np.sin(angle) * radius], 1) * 0.5 + 0.5
    low, high = points.min(0), points.max(0)
    points = (points - low) / (high - low) * (width - 1, height - 1)
    cv2.fillPoly(parts, [points.astype(np.int32)], 1)
    for number in range(2, 2 + int(random.integers(0, 3))):
        _patched(random, parts, number)


def _patched(random: Random, parts: Bytes, number: int) -> None:
    """Another part beyond a line through the thing."""
    height, width = parts.shape
    y, x = np.mgrid[:height, :width].astype(np.float32)
    turn = random.uniform(0, 6.3)
    side = (x / width - random.uniform(0.3, 0.7)) * np.cos(turn) + (y / height - random.uniform(0.3, 0.7)) * np.sin(
        turn
    )
    parts[(side > 0) & (parts > 0)] = number


def _box(random: Random, parts: Bytes) -> None:
    height, width = parts.shape
    near = np.array(
        [(0, random.uniform(0.1, 0.4)), (random.uniform(0.4, 0.8), random.uniform(0.15, 0.45)), (0, 1), (0, 1)]
    )
    near[2] = (near[1, 0], 1)
    near[3] = (random.uniform(0, 0.1), random.uniform(0.8, 0.95))
    far = near[1:3] + np.array([1 - near[1, 0], -random.uniform(0.05, 0.2)])
    size = (width - 1, height - 1)
    cv2.fillPoly(parts, [(near * size).astype(np.int32)], 1)
    cv2.fillPoly(parts, [(np.array([near[1], far[0], far[1], near[2]]) * size).astype(np.int32)], 2)
    cv2.fillPoly(
        parts, [(np.array([near[0], near[1], far[0], (far[0][0] - near[1, 0], 0.0)]) * size).astype(np.int32)], 3
    )


def _wheel(random: Random, parts: Bytes) -> None:
    height, width = parts.shape
    many = int(random.integers(1, 3))
    thick = max(int(min(width, height) * random.uniform(0.02, 0.07)), 2)
    radius = int(min(width / many, height) / 2 - thick)
    middles = [(int(width * (k + 0.5) / many), height - radius - thick) for k in range(many)]
    for middle in middles:
        cv2.circle(parts, middle, max(radius, 3), 1, thick)
        cv2.circle(parts, middle, max(radius // 6, 2), 2, -1)
        for turn in np.linspace(0, np.pi, int(random.integers(2, 6)), endpoint=False):
            step = np.array([np.cos(turn), np.sin(turn)]) * radius
            ends = [tuple(int(v) for v in np.array(middle) + s * step) for s in (-1, 1)]
            cv2.line(parts, ends[0], ends[1], 2, max(thick // 3, 1))
    top = (int(width * random.uniform(0.3, 0.7)), int(height * random.uniform(0.02, 0.3)))
    for middle in middles:
        cv2.line(parts, middle, top, 3, thick)
    cv2.line(parts, (top[0] - width // 8, top[1]), (top[0] + width // 8, top[1]), 3, thick)


def _tube(random: Random, parts: Bytes) -> None:
    height, width = parts.shape
    points = random.uniform(0.06, 0.94, (int(random.integers(3, 6)), 2))
    points[0, 0], points[-1, 0] = 0.04, 0.96
    at = np.linspace(0, len(points) - 1, 60)
    line: NDArray[Any] = np.stack([np.interp(at, np.arange(len(points)), points[:, k]) for k in range(2)], 1) * (
        width,
        height,
    )
    line = cv2.blur(line, (1, 9), borderType=cv2.BORDER_REPLICATE)
    thick = max(int(min(width, height) * random.uniform(0.06, 0.22)), 3)
    cv2.polylines(parts, [line.astype(np.int32)], False, 1, thick)
    if random.random() < 0.4:
        cv2.circle(parts, tuple(int(v) for v in line[0]), thick, 2, -1)


# Clothing.


def _piece(random: Random, pictures: list[Bytes], width: int, height: int) -> Floats:
    """A piece of a photograph, in other tones."""
    picture = pictures[int(random.integers(len(pictures)))]
    need = max(width / picture.shape[1], height / picture.shape[0])
    scale = max(float(np.exp(random.uniform(np.log(0.25), np.log(1.3)))), need * 1.02)
    wide, tall = int(np.ceil(width / scale)), int(np.ceil(height / scale))
    y, x = int(random.integers(0, picture.shape[0] - tall + 1)), int(random.integers(0, picture.shape[1] - wide + 1))
    how = cv2.INTER_AREA if scale < 1 else cv2.INTER_CUBIC
    piece = cv2.resize(picture[y : y + tall, x : x + wide], (width, height), interpolation=how).astype(np.float32)
    if random.random() < 0.5:
        piece = piece[:, ::-1]
    return np.asarray(
        255 * (piece.clip(0, 255) / 255) ** random.uniform(0.7, 1.4) * random.uniform(0.85, 1.15, 3), np.float32
    )


def _cloth(random: Random, made_of: Sources, width: int, height: int) -> Floats:
    """Something to clothe a part in: a plain colour, or a piece of a photograph of nearly one colour, or any."""
    kind = random.random()
    colour = random.uniform(15, 245, 3) * random.uniform(0.4, 1)
    if kind < 0.12:
        return np.asarray(np.broadcast_to(colour, (height, width, 3)), np.float32)
    piece = _piece(random, made_of.textures if random.random() < 0.5 else made_of.grounds, width, height)
    if kind < 0.75:
        mean = piece.reshape(-1, 3).mean(0)
        return np.asarray(colour + (piece - mean) * random.uniform(0.2, 0.8), np.float32)
    return piece


def _clothed(random: Random, made_of: Sources, parts: Bytes) -> Floats:
    height, width = parts.shape
    out = np.zeros((height, width, 3), np.float32)
    for number in np.unique(parts[parts > 0]):
        here = parts == number
        cloth = _cloth(random, made_of, width, height)
        if number == 3 and random.random() < 0.5:  # skin
            tone = np.array([222, 175, 145], np.float32) * random.uniform(0.3, 1.1)
            cloth = tone + (cloth - cloth.reshape(-1, 3).mean(0)) * 0.15
        out[here] = cloth[here]
    # Light from one side, over each part's roundness and over all of it.
    depth = cv2.distanceTransform(np.pad((parts > 0).astype(np.uint8), 1), cv2.DIST_L2, 3)[1:-1, 1:-1]
    soft = cv2.GaussianBlur(depth, (0, 0), max(width, height) * 0.03)
    slope = np.stack([cv2.Sobel(soft, cv2.CV_32F, 1, 0), cv2.Sobel(soft, cv2.CV_32F, 0, 1)], 2)
    turn = random.uniform(0, 6.3)
    lit: NDArray[Any] = slope @ np.array([np.cos(turn), np.sin(turn)], np.float32)
    lit = lit / max(float(np.abs(lit).max()), 1e-3)
    return np.asarray(out * (1 + random.uniform(0, 0.5) * lit[..., None]), np.float32)


def thing(random: Random, made_of: Sources, width: int, height: int) -> tuple[Floats, Floats]:
    """A thing that fills a box as well as it can: pixels (height, width, 3) and cover (height, width), 0 to 1."""
    ratio = height / width
    real = bool(made_of.people) and random.random() < PEOPLE and 0.6 < ratio < 2.5
    if real or (made_of.cutouts and random.random() < 0.3):
        cuts = made_of.people if real else made_of.cutouts
        likely = np.array([1 / (0.15 + abs(np.log(c.shape[0] / c.shape[1] / ratio))) for c in cuts])
        cut: NDArray[Any] = cuts[int(random.choice(len(likely), p=likely / likely.sum()))].astype(np.float32)
        if random.random() < 0.5:
            cut = cut[:, ::-1]
        cut = cv2.resize(
            cut, (width, height), interpolation=cv2.INTER_AREA if cut.shape[0] > height else cv2.INTER_LINEAR
        )
        pixels = 255 * (cut[..., :3].clip(0, 255) / 255) ** random.uniform(0.6, 1.5) * random.uniform(0.8, 1.2, 3)
        return np.asarray(pixels, np.float32), np.asarray(cut[..., 3] / 255, np.float32)
    cover, parts = silhouette(random, width, height)
    return _clothed(random, made_of, parts), cover


# Scenes.


@dataclass(frozen=True)
class Scene:
    """A made picture (h, w, 3) uint8; of one thing in it, what is to be seen, its shadow and its mirror image, (h, w) 0
    to 1 each; others: whether there are more like it."""

    picture: Bytes
    cover: Floats
    shadow: Floats
    mirror: Floats


@dataclass(frozen=True)
class Light:
    """Where shadows fall for every pixel of height, across and down; how much light is left in them, in each channel;
    how soft they are."""

    sun: tuple[float, float]
    left: NDArray[np.float64]
    soft: float


def light(random: Random) -> Light | None:
    """The light of a picture; None where nothing throws a shadow."""
    if random.random() < 0.3:
        return None
    turn, long = random.uniform(0, 2 * np.pi), random.uniform(0.25, 2.0)
    # Ground is seen at a slant: what falls away from us is short.
    sun = (float(np.cos(turn) * long), float(np.sin(turn) * long * random.uniform(0.15, 0.5)))
    dark = random.uniform(0.3, 0.8)
    left = dark * np.array([0.95, 1.0, 1.0 + random.uniform(0, 0.18)])
    return Light(sun, left, float(random.uniform(0.4, 5)))


def cast(cover: Floats, foot: float, at: Light, random: Random) -> Floats:
    """The shadow that an upright thing (h, w) throws on the ground, 0 to 1: thrown from its feet, the row foot."""
    height, width = cover.shape
    # A place that is n pixels above the feet falls at n times the sun from where it stands.
    across, down = at.sun
    if abs(down) < 0.02:
        down = 0.02
    matrix = np.array([[1, -across, across * foot], [0, -down, foot * (1 + down)]], np.float64)
    thrown = cv2.warpAffine(cover, matrix, (width, height), flags=cv2.INTER_LINEAR)
    if random.random() < 0.5:
        # Its edge grows softer away from the feet.
        far = np.abs(np.arange(height) - foot)[:, None] / max(abs(down) * height, 1)
        softer = cv2.GaussianBlur(thrown, (0, 0), at.soft * 2.5)
        sharp = cv2.GaussianBlur(thrown, (0, 0), at.soft)
        share = np.clip(far, 0, 1)
        return np.asarray(sharp * (1 - share) + softer * share, np.float32)
    return np.asarray(cv2.GaussianBlur(thrown, (0, 0), at.soft), np.float32)


def place(cover: Floats, pixels: Floats, x: int, y: int, width: int, height: int) -> tuple[Floats, Floats]:
    """A thing's pixels and cover at a place of a larger picture."""
    full, there = np.zeros((height, width), np.float32), np.zeros((height, width, 3), np.float32)
    left, top = max(x, 0), max(y, 0)
    right, bottom = min(x + cover.shape[1], width), min(y + cover.shape[0], height)
    if right > left and bottom > top:
        inner = np.s_[top - y : bottom - y, left - x : right - x]
        full[top:bottom, left:right], there[top:bottom, left:right] = cover[inner], pixels[inner]
    return full, there


def scene(
    random: Random,
    made_of: Sources,
    size: tuple[int, int],
    box: tuple[int, int, int, int],
    at: Light | None,
    wet: bool,
) -> Scene:
    """A picture of a size (width, height) with a thing in a box (left, top, width, height), under a light; wet: the
    thing is mirrored below its feet."""
    width, height = size
    ground = _ground(random, made_of, width, height)
    left, top, wide, tall = box
    pixels, cover = thing(random, made_of, wide, tall)
    own, own_pixels = place(cover, pixels, left, top, width, height)
    foot = top + tall * random.uniform(0.95, 1.0)
    shadow = np.zeros((height, width), np.float32)
    mirror = np.zeros((height, width), np.float32)
    others = []
    for _ in range(int(random.choice([0, 0, 1, 1, 2, 3]))):
        share = random.uniform(0.5, 1.2)
        room = (max(int(wide * share), 6), max(int(tall * share), 6))
        again = random.random() < 0.35
        other = thing(random, made_of, *room) if not again else _resized(pixels, cover, room)
        x, y = int(random.uniform(-0.3, 1) * width), int(foot - room[1] + random.normal(0, 0.15) * height)
        # Not right over the thing: it is to be seen.
        if abs(x + room[0] / 2 - left - wide / 2) > 0.35 * (wide + room[0]) or random.random() < 0.1:
            others.append((*place(other[1], other[0], x, y, width, height), y + room[1]))
    dark = np.ones((height, width, 3), np.float32)
    if at is not None:
        shadow = cast(own, foot, at, random)
        for other_cover, _, feet in others:
            dark *= 1 - cast(other_cover, feet, at, random)[..., None] * (1 - at.left).astype(np.float32)
        dark *= 1 - shadow[..., None] * (1 - at.left).astype(np.float32)
    elif random.random() < 0.6:
        # Where it touches the ground there is less light from the sky.
        spot = np.zeros((height, width), np.float32)
        cv2.ellipse(spot, (left + wide // 2, int(foot)), (max(wide // 2, 2), max(tall // 25, 2)), 0, 0, 360, 1.0, -1)
        dark *= 1 - 0.5 * cv2.GaussianBlur(spot, (0, 0), max(wide * 0.08, 1))[..., None]
    picture = ground * dark
    if wet:
        picture, mirror = _mirrored(random, picture, own, own_pixels, foot)
    order = sorted(others, key=lambda each: each[2])
    for other_cover, other_pixels, feet in order:
        if feet <= foot:
            picture = picture * (1 - other_cover[..., None]) + other_pixels * other_cover[..., None]
    picture = picture * (1 - own[..., None]) + own_pixels * own[..., None]
    seen = own
    for other_cover, other_pixels, feet in order:
        if feet > foot:
            picture = picture * (1 - other_cover[..., None]) + other_pixels * other_cover[..., None]
            seen = seen * (1 - other_cover)
        shadow, mirror = shadow * (1 - other_cover), mirror * (1 - other_cover)
    shadow, mirror = shadow * (1 - own), mirror * (1 - own)
    return Scene(_shot(random, picture), seen, shadow, mirror)


def _ground(random: Random, made_of: Sources, width: int, height: int) -> Floats:
    """What is behind a thing: a photograph, a texture or a wall, and perhaps a floor before it."""
    if random.random() < 0.22:
        out = _wall(random, made_of, width, height)
    else:
        out = _piece(random, made_of.grounds if random.random() < 0.65 else made_of.textures, width, height)
    if random.random() < 0.35:
        low = int(height * random.uniform(0.3, 0.8))
        out[low:] = _floor(random, made_of, width, height - low)
    return out


def _wall(random: Random, made_of: Sources, width: int, height: int) -> Floats:
    """A wall of bricks, boards or panes (height, width, 3): joints and bars are edges as good as those of any thing."""
    kind = str(random.choice(["bricks", "boards", "panes"], p=[0.6, 0.2, 0.2]))
    long = float(np.exp(random.uniform(np.log(10), np.log(0.5 * min(width, height)))))
    high = long * random.uniform(*{"bricks": (0.25, 0.5), "boards": (3, 20), "panes": (0.7, 2)}[kind])
    joint = max(long * random.uniform(0.01, 0.1), 0.7)
    y, x = np.mgrid[:height, :width].astype(np.float32)
    turn = random.normal(0, 0.03)
    x, y = x * np.cos(turn) + y * np.sin(turn) + long, y * np.cos(turn) - x * np.sin(turn) + high
    row = np.floor(y / high).astype(np.int64)
    x = x + (row % 2) * 0.5 * long if kind == "bricks" else x
    column = np.floor(x / long).astype(np.int64)
    edge = np.minimum(np.minimum(y % high, high - y % high), np.minimum(x % long, long - x % long))
    gap = np.clip(joint - edge + 0.5, 0, 1)[..., None]
    paint = _piece(random, made_of.grounds if kind == "panes" else made_of.textures, width, height)
    rough = (paint - paint.reshape(-1, 3).mean(0)) * random.uniform(0.1, 0.7)
    if kind == "panes":
        face = paint * random.uniform(0.4, 1)
    else:
        differ = random.normal(0, random.uniform(0, 28), (997, 1)) + random.normal(0, random.uniform(0, 10), (997, 3))
        face = (random.uniform(30, 210, 3) + differ)[(row * 31 + column * 17) % 997] + rough
    colour = random.uniform(20, 245) + random.normal(0, 12, 3) + 0.3 * rough
    return np.asarray((face * (1 - gap) + colour * gap).clip(0, 255), np.float32)


def _floor(random: Random, made_of: Sources, width: int, height: int) -> Floats:
    """Ground that runs away from us: a texture, most often in perspective."""
    if random.random() < 0.3:
        return _piece(random, made_of.textures, width, height)
    flat = _piece(random, made_of.textures, 2 * width, 2 * height)
    near, far = random.uniform(0.2, 0.9) * width, 0.0
    corners = np.array([(far, 0), (2 * width, 0), (2 * width - near, 2 * height), (near, 2 * height)], np.float32)
    seen = np.array([(0, 0), (width, 0), (width, height), (0, height)], np.float32)
    how = cv2.getPerspectiveTransform(corners, seen)
    return np.asarray(cv2.warpPerspective(flat, how, (width, height), flags=cv2.INTER_AREA), np.float32)


def _resized(pixels: Floats, cover: Floats, size: tuple[int, int]) -> tuple[Floats, Floats]:
    return tuple(
        np.asarray(cv2.resize(each, size, interpolation=cv2.INTER_AREA), np.float32) for each in (pixels, cover)
    )  # type: ignore[return-value]


def _mirrored(random: Random, picture: Floats, own: Floats, pixels: Floats, foot: float) -> tuple[Floats, Floats]:
    """The thing seen again upside down below its feet, as in water, on a wet floor or in polished stone."""
    height, width = own.shape
    squeeze = random.uniform(0.8, 1.05)
    matrix = np.array([[1, 0, 0], [0, -squeeze, foot * (1 + squeeze)]])
    again = cv2.warpAffine(own, matrix, (width, height), flags=cv2.INTER_LINEAR)
    seen = cv2.warpAffine(pixels, matrix, (width, height), flags=cv2.INTER_LINEAR)
    if random.random() < 0.5:
        x, y = np.meshgrid(np.arange(width, dtype=np.float32), np.arange(height, dtype=np.float32))
        wave = (random.uniform(0, 2.5) * np.sin(y / random.uniform(1.5, 8) + random.uniform(0, 6))).astype(np.float32)
        again, seen = (cv2.remap(each, x + wave, y, cv2.INTER_LINEAR) for each in (again, seen))
    blur = random.uniform(0.3, 3)
    again, seen = (cv2.GaussianBlur(each, (0, 0), blur) for each in (again, seen))
    much = random.uniform(0.25, 0.8)
    laid = picture * (1 - much * again[..., None]) + much * again[..., None] * seen * random.uniform(0.7, 1.0)
    return np.asarray(laid, np.float32), np.asarray(again, np.float32)


def _shot(random: Random, picture: NDArray[Any]) -> Bytes:
    """As a camera would have it: through a lens, with noise, perhaps as a JPEG."""
    if random.random() < 0.75:
        picture = cv2.GaussianBlur(picture, (0, 0), random.uniform(0.3, 1.2))
    picture = picture * random.uniform(0.75, 1.1) + random.normal(0, random.uniform(0, 5), picture.shape)
    out = picture.clip(0, 255).astype(np.uint8)
    if random.random() < 0.3:
        _, data = cv2.imencode(".jpg", out, [cv2.IMWRITE_JPEG_QUALITY, int(random.integers(60, 96))])
        out = np.asarray(cv2.imdecode(data, cv2.IMREAD_COLOR), np.uint8)
    return out
