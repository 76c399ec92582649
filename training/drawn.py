"""Training pictures for the wire network: wires drawn over made-up scenes and photographs, and what is like them."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]
Random = np.random.Generator
PHOTOGRAPHS = Path("/usr/share/doc/opencv-doc/examples/data")
# Drawings, charts and test patterns of that folder are no photographs.
USED = (
    "aero1 aero3 aloeL apple baboon basketball1 blox board box_in_scene building butterfly fruits graf1 graf3 home "
    "left01 left05 left09 leuvenA leuvenB messi5 orange rubberwhale1 smarties squirrel_cls starry_night stuff tmpl"
).split()
FINER = 3  # lines are drawn so many times as large and averaged, for soft edges


def photographs() -> list[NDArray[np.uint8]]:
    files = [f for name in USED for f in sorted(PHOTOGRAPHS.glob(f"{name}.*"))]
    return [np.asarray(cv2.imread(str(f)), np.uint8)[..., ::-1] for f in files]


def example(random: Random, photos: list[NDArray[np.uint8]], side: int) -> tuple[NDArray[np.uint8], NDArray[np.uint8]]:
    """A picture (side, side, 3) and where its wires are (side, side), 0 to 255."""
    from_photo = bool(photos) and random.random() < 0.6
    ground: NDArray[Any] = _crop(random, photos, side) if from_photo else _scene(random, side)
    if random.random() < 0.3:
        ground = _branches(random, ground)
    truth = np.zeros((side, side), np.float32)
    if random.random() < 0.75:
        for _ in range(int(random.integers(1, 4))):
            ground, truth = _wires(random, ground, truth)
    if not from_photo and random.random() < 0.5:
        ground = cv2.GaussianBlur(ground, (0, 0), random.uniform(0.4, 1.0))
    ground = ground + random.normal(0, random.uniform(0, 4), ground.shape)
    picture = ground.clip(0, 255).astype(np.uint8)
    if random.random() < 0.3:
        _, data = cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, int(random.integers(60, 96))])
        picture = np.asarray(cv2.imdecode(data, cv2.IMREAD_COLOR), np.uint8)
    return picture, (truth * 255).clip(0, 255).astype(np.uint8)


def _crop(random: Random, photos: list[NDArray[np.uint8]], side: int) -> Floats:
    photo: NDArray[Any] = photos[int(random.integers(len(photos)))]
    need = side / min(photo.shape[:2])
    scale = max(float(np.exp(random.uniform(np.log(0.5), np.log(1.6)))), need * 1.02)
    photo = cv2.resize(photo, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA if scale < 1 else cv2.INTER_CUBIC)
    y, x = (int(random.integers(0, photo.shape[k] - side + 1)) for k in (0, 1))
    crop: NDArray[Any] = photo[y : y + side, x : x + side].astype(np.float32)
    if random.random() < 0.5:
        crop = crop[:, ::-1]
    if random.random() < 0.15:
        crop = np.rot90(crop)
    crop = 255 * (crop / 255) ** random.uniform(0.6, 1.6) * random.uniform(0.8, 1.15, 3)
    return np.ascontiguousarray(crop, np.float32)


def _scene(random: Random, side: int) -> Floats:
    """Sky, with hills, a wall with windows, bars, roofs, courses of brick or foliage before it."""
    down = np.linspace(0, 1, side, dtype=np.float32)[:, None, None]
    top, low = random.uniform(60, 230, 3), random.uniform(100, 245, 3)
    ground: NDArray[Any] = top * (1 - down) + low * down + np.zeros((side, side, 3), np.float32)
    cloud = _noise(random, side, random.uniform(15, 60)) * random.uniform(0, 30)
    ground = ground + cloud[..., None]
    for _ in range(int(random.integers(0, 3))):
        kind = random.integers(5)
        if kind == 0:
            ground = _hill(random, ground)
        elif kind in (1, 2):
            ground = _wall(random, ground)
        elif kind == 3:
            ground = _bands(random, ground)
        else:
            ground = _foliage(random, ground)
    return ground.astype(np.float32)


def _noise(random: Random, side: int, size: float) -> Floats:
    plane = cv2.GaussianBlur(random.normal(size=(side, side)).astype(np.float32), (0, 0), size)
    return np.asarray(plane / max(float(np.abs(plane).max()), 1e-6), np.float32)


def _lay(ground: NDArray[Any], cover: NDArray[Any], colour: NDArray[Any]) -> Floats:
    return np.asarray(ground * (1 - cover[..., None]) + colour * cover[..., None], np.float32)


def _hill(random: Random, ground: Floats) -> Floats:
    """Everything below a bumpy or straight line has another colour: horizons and roofs are no wires."""
    side = ground.shape[0]
    x = np.linspace(-1, 1, side)
    line = random.uniform(0.2, 0.9) * side + random.uniform(-0.4, 0.4) * side * x
    if random.random() < 0.6:
        line = line + cv2.GaussianBlur(random.normal(size=(1, side)), (0, 0), random.uniform(2, 30))[0] * 60
    cover = np.clip(np.arange(side)[:, None] - line[None] + 0.5, 0, 1).astype(np.float32)
    texture = _noise(random, side, random.uniform(0.7, 4))[..., None] * random.uniform(0, 40)
    return _lay(ground, cover, random.uniform(20, 200, 3) + texture)


def _wall(random: Random, ground: Floats) -> Floats:
    """A wall in a little perspective: brick, windows with glazing bars, a gutter, a lattice."""
    side = ground.shape[0]
    wall = np.zeros((side, side, 3), np.float32) + random.uniform(40, 220, 3).astype(np.float32)
    wall += _noise(random, side, random.uniform(0.7, 3))[..., None] * random.uniform(2, 25)
    if random.random() < 0.5:
        tall, wide = random.uniform(6, 22), random.uniform(14, 50)
        joint = random.uniform(-50, 50, 3)
        for row, y in enumerate(np.arange(0, side, tall)):
            wall = _line(wall, [(0, y), (side, y)], random.uniform(1, 2.5), joint)
            if random.random() < 0.9:
                for x in np.arange((row % 2) * wide / 2, side, wide):
                    wall = _line(wall, [(x, y), (x, y + tall)], 1.2, joint)
    for _ in range(int(random.integers(0, 4))):
        x, y = random.uniform(-0.2, 0.9, 2) * side
        wide, tall = random.uniform(0.15, 0.9, 2) * side
        frame = random.uniform(0, 255, 3)
        cv2.rectangle(wall, (int(x), int(y)), (int(x + wide), int(y + tall)), random.uniform(0, 255, 3).tolist(), -1)
        bars, rails = random.integers(0, 8, 2)
        thick = random.uniform(1.5, 9)
        for k in range(int(bars) + 2):
            at = x + wide * k / (bars + 1)
            wall = _line(wall, [(at, y), (at, y + tall)], thick, frame, absolute=True)
        for k in range(int(rails) + 2):
            at = y + tall * k / (rails + 1)
            wall = _line(wall, [(x, at), (x + wide, at)], thick, frame, absolute=True)
    corners = np.array([[0, 0], [side, 0], [side, side], [0, side]], np.float32)
    moved = corners + random.uniform(-0.25, 0.25, (4, 2)).astype(np.float32) * side
    turn = cv2.getPerspectiveTransform(corners, moved)
    cover = cv2.warpPerspective(np.ones((side, side), np.float32), turn, (side, side))
    return _lay(ground, cover, cv2.warpPerspective(wall, turn, (side, side), flags=cv2.INTER_LINEAR))


def _bands(random: Random, ground: Floats) -> Floats:
    """Straight bands much wider than wires, steps in tone, and bundles of parallels: cladding, blinds, furrows."""
    side = ground.shape[0]
    angle, middle = random.uniform(0, np.pi), random.uniform(0, side, 2)
    along, aside = np.array([np.cos(angle), np.sin(angle)]), np.array([-np.sin(angle), np.cos(angle)])
    if random.random() < 0.5:
        colour, width = random.uniform(0, 255, 3), random.uniform(12, 60)
        ends = [tuple(middle - along * 2 * side), tuple(middle + along * 2 * side)]
        return _line(ground, ends, width, colour, absolute=True)
    step, width, tone = random.uniform(6, 30), random.uniform(1, 6), random.uniform(-50, 50, 3)
    reach = random.uniform(0.2, 1.0) * side
    for k in range(int(random.integers(5, 20))):
        at = middle + aside * step * k
        ground = _line(ground, [tuple(at - along * reach), tuple(at + along * reach)], width, tone)
    return ground


def _foliage(random: Random, ground: Floats) -> Floats:
    """Leaves, blades and twigs, in a part of the picture."""
    side = ground.shape[0]
    part = np.clip(_noise(random, side, random.uniform(10, 40)) * 6 + random.uniform(-1, 2), 0, 1)
    leaves = np.zeros((side, side, 3), np.float32) + random.uniform(20, 120, 3).astype(np.float32)
    blades = random.random() < 0.5
    for _ in range(int(random.integers(100, 400))):
        x, y = random.uniform(0, side, 2)
        tone = (random.uniform(10, 190) * np.array([0.8, 1.0, 0.6])).tolist()
        angle = random.normal(90, 20) if blades else random.uniform(0, 360)
        axes = (random.uniform(6, 25), random.uniform(0.5, 1.5)) if blades else random.uniform(1, 9, 2)
        axes = (int(np.ceil(axes[0])), int(np.ceil(axes[1])))
        cv2.ellipse(leaves, (int(x), int(y)), axes, angle, 0, 360, tone, -1, cv2.LINE_AA)
    return _lay(ground, part.astype(np.float32), leaves)


def _branches(random: Random, ground: Floats) -> Floats:
    """A branch that bends, tapers and forks: like a wire, but none."""
    side = ground.shape[0]
    colour = random.uniform(10, 90) * np.array([1.1, 1.0, 0.85])
    todo = [(random.uniform(0, side, 2), random.uniform(0, 2 * np.pi), random.uniform(3, 12))]
    strokes = 0
    while todo and strokes < 40:
        place, angle, width = todo.pop()
        strokes += 1
        for _ in range(int(random.integers(3, 12))):
            angle += random.normal(0, 0.22)
            following = place + random.uniform(6, 16) * np.array([np.cos(angle), np.sin(angle)])
            ground = _line(ground, [tuple(place), tuple(following)], width, colour, absolute=True)
            place, width = following, max(width * 0.93, 0.8)
            if random.random() < 0.25 and len(todo) < 12:
                todo.append((place, angle + random.choice([-1, 1]) * random.uniform(0.4, 1.1), width * 0.7))
    return ground


def _cover(points: list[tuple[float, float]], width: float, side: int) -> tuple[tuple[slice, slice], Floats]:
    """Where a line may cover pixels, and how much of each it covers there."""
    path = np.array(points, np.float64)
    low = np.floor(path.min(axis=0) - width / 2 - 1).clip(0, side).astype(int)
    high = np.ceil(path.max(axis=0) + width / 2 + 2).clip(0, side).astype(int)
    wide, tall = (int(n) for n in np.maximum(high - low, 0))
    where = slice(low[1], low[1] + tall), slice(low[0], low[0] + wide)
    if not wide or not tall:
        return where, np.zeros((tall, wide), np.float32)
    canvas = np.zeros((tall * FINER, wide * FINER), np.uint8)
    fixed = np.rint((path - low) * FINER * 16).clip(-(2**28), 2**28).astype(np.int32)
    thick = max(round(width * FINER), 1)
    cv2.polylines(canvas, [fixed.reshape(-1, 1, 2)], False, 255, thick, cv2.LINE_8, 4)
    return where, (cv2.resize(canvas, (wide, tall), interpolation=cv2.INTER_AREA) / 255).astype(np.float32)


def _line(
    ground: Floats,
    points: list[tuple[float, float]],
    width: float,
    colour: Floats | NDArray[np.float64],
    absolute: bool = False,
) -> Floats:
    """Draw a line onto the ground, in place."""
    where, cover = _cover(points, width, ground.shape[0])
    ground[where] = _lay(ground[where], cover, colour if absolute else ground[where] + colour)
    return ground


def _wires(random: Random, ground: Floats, truth: Floats) -> tuple[Floats, Floats]:
    """One wire or a bundle, straight or sagging, through the whole picture or ending in it."""
    side = ground.shape[0]
    angle = random.normal(0, 0.35) if random.random() < 0.75 else random.uniform(0, np.pi)
    reach = np.array([np.cos(angle), np.sin(angle)]) * side * random.uniform(0.8, 3.0)
    middle = random.uniform(0.1, 0.9, 2) * side
    ends = (middle - reach * random.uniform(0.1, 0.9), middle + reach * random.uniform(0.1, 0.9))
    sag = random.uniform(0, 0.12) * float(np.linalg.norm(ends[1] - ends[0])) * (random.random() < 0.8)
    width = float(np.exp(random.uniform(np.log(0.9), np.log(8))))
    dark = random.random() < 0.8
    share = random.uniform(0.1, 0.75)
    t = np.linspace(0, 1, 60)[:, None]
    apart = np.array([0.0, width * random.uniform(2.5, 14)])
    for k in range(int(random.choice([1, 1, 1, 2, 3]))):
        path = ends[0] * (1 - t) + ends[1] * t + np.array([0.0, 1.0]) * 4 * sag * t * (1 - t) + apart * k
        where, part = _cover([tuple(p) for p in path], width, side)
        cover = np.zeros((side, side), np.float32)
        cover[where] = part
        if width < 1.0:
            cover = cover * width
        own = random.uniform(5, 80, 3) if dark else random.uniform(190, 255, 3)
        if random.random() < 0.5:
            colour = ground * (1 - share) if dark else ground * (1 - share) + 255 * share
        else:
            colour = ground * 0.1 + 0.9 * own.mean() + 0.2 * (own - own.mean())
        soft = cv2.GaussianBlur(cover, (0, 0), random.uniform(0.3, 0.8)) if random.random() < 0.7 else cover
        seen = np.abs(colour - ground).max(axis=2) > 12
        ground = _lay(ground, soft, colour)
        # A light upper side, as round cables have.
        if width > 3 and random.random() < 0.4:
            where, shine = _cover([(p[0], p[1] - width * 0.25) for p in path], width * 0.25, side)
            ground[where] = _lay(ground[where], shine * 0.5, ground[where] + 60)
        truth = np.maximum(truth, np.where(seen, cover, cover * 0.5))
    return ground, truth
