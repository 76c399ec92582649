"""How well shadows of marked things are found: the demo's visitors, and figures set on textures under a known sun."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.bench.cases import package_picture
from keen_sweep.core.arrays import Bools, EightBit, Floats
from keen_sweep.core.box import box_of
from keen_sweep.core.mask.fit import MASK_THRESHOLD
from keen_sweep.core.mask.light_loss import light_of
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.shadow import common_sun, shadow_evidence, shadow_of
from keen_sweep.core.mask.sun_projection import Sun, projected_outline
from keen_sweep.demo.shoot import clean_twin, distractions, frames, mask_of

# A shadow is visible where this much light is missing against the clean twin, natural logarithm.
MIN_VISIBLE_LOSS = 0.25
# A shadow of a smaller share of its thing is none.
MIN_SHADOW_SHARE = 0.02
# A shadow that overlaps the truth this much is right.
RIGHT_LIKENESS = 0.6
# A shadow that overlaps the truth this much is partly right.
PARTIAL_LIKENESS = 0.3
# A shadow that overlaps the truth less than this lies beside it.
MISSED_LIKENESS = 0.1
# Border of a scene that does not count, share of the picture's width: lenses and masks are soft there.
BORDER_SHARE = 1 / 500
GROUND_FILES = ("grass.png", "gravel.png", "brick.png")
SUNNY_SCENES = 30
SHADED_SCENES = 30
HEIGHT_SHARE = 0.3
SCENE_SIDE_PX = 512


@dataclass(frozen=True)
class Outcome:
    """Likeness (intersection over union) of what was proposed to the shadow that is there, which may be none."""

    name: str
    there: bool
    proposed: bool
    likeness: float


def run_shadows(tell: Callable[[str], None]) -> dict[str, list[Outcome]]:
    """By where they stand: the demo's people, each alone and all of a frame at once; figures on textures."""
    alone, together = [], []
    for frame in frames():
        for by_itself, with_all in _of_frame(frame):
            alone.append(by_itself)
            together.append(with_all)
            tell(f"{with_all.name}: {by_itself.likeness:.2f} alone, {with_all.likeness:.2f} with all of the frame")
    scenes = [_of_scene(name, picture, thing, truth) for name, picture, thing, truth in made_scenes()]
    return {"demo, each alone": alone, "demo, all of a frame": together, "figures on textures": scenes}


def table(found: dict[str, list[Outcome]]) -> str:
    """As Markdown."""
    lines = [
        "| | with a shadow | right | on it | beside it | mean | without | false |",
        "|---|---|---|---|---|---|---|---|",
    ]
    for where, each in found.items():
        with_shadow, none = [f for f in each if f.there], [f for f in each if not f.there]
        right, on_it = (sum(f.likeness >= limit for f in with_shadow) for limit in (RIGHT_LIKENESS, PARTIAL_LIKENESS))
        beside = sum(f.proposed and f.likeness < MISSED_LIKENESS for f in with_shadow)
        mean = np.mean([f.likeness for f in with_shadow])
        lines.append(
            f"| {where} | {len(with_shadow)} | {right} | {on_it} | {beside} | {mean:.2f} | {len(none)} "
            f"| {sum(f.proposed for f in none)} |"
        )
    return "\n".join(lines) + "\n"


def seen_shadow(frame: str, name: str) -> Bools:
    """Where somebody who looks at a demo frame sees the shadow of a thing: within its rendered mask and a little round
    it, beyond all things, where light is gone against the clean twin. The rendered mask holds much that nobody sees:
    light that a body takes from the air round it, and glints in panes."""
    shot, clean = clean_twin(frame)
    near, things = np.zeros(shot.shape[:2], np.bool_), np.zeros(shot.shape[:2], np.bool_)
    for each in distractions(frame):
        if each.part == "object":
            things |= mask_of(frame, each) > 0
        if each.part == "shadow" and each.name == name:
            near |= mask_of(frame, each) >= MASK_THRESHOLD
    side = 2 * max(round(shot.shape[1] * BORDER_SHARE), 3) + 1
    clear = ~_grown(things, side)
    gone = _even(clean, clear, side) - _even(shot, clear, side)
    dark = (gone > MIN_VISIBLE_LOSS) & _grown(near, side) & clear
    return np.asarray(cv2.morphologyEx(dark.astype(np.uint8), cv2.MORPH_OPEN, _disc(side))) > 0


def made_scenes() -> Iterator[tuple[str, EightBit, Bools, Bools]]:
    """Demo visitors set on textures of scikit-image under a hard sun, and in shade: name, picture, thing and shadow. No
    ground or figure of them was trained on."""
    figures = [_cut_out(frame, name) for frame, name in (("ov-0431", "visitor in cream"), ("ov-0413", "child"))]
    random = np.random.default_rng(20)
    for number in range(SUNNY_SCENES + SHADED_SCENES):
        name = GROUND_FILES[number % len(GROUND_FILES)]
        ground = _sized(package_picture(name).astype(np.float32), (SCENE_SIDE_PX, SCENE_SIDE_PX))
        pixels, cover = figures[number % len(figures)]
        tall = round(SCENE_SIDE_PX * HEIGHT_SHARE)
        size = (round(tall * cover.shape[1] / cover.shape[0]), tall)
        pixels, cover = (_sized(each, size) for each in (pixels, cover))
        left, top = round(SCENE_SIDE_PX * random.uniform(0.35, 0.5)), round(SCENE_SIDE_PX * random.uniform(0.3, 0.5))
        thing = np.zeros((SCENE_SIDE_PX, SCENE_SIDE_PX), np.float32)
        place = np.s_[top : top + size[1], left : left + size[0]]
        thing[place] = cover
        truth = np.zeros((SCENE_SIDE_PX, SCENE_SIDE_PX), np.bool_)
        if number < SUNNY_SCENES:
            down = float(random.choice([-1, 1]) * random.uniform(0.12, 0.4))
            sun = Sun(float(random.choice([-1, 1]) * random.uniform(0.2, 1.3)), down)
            thrown = projected_outline(sun, thing > 0.5)
            soft = cv2.GaussianBlur(thrown.astype(np.float32), (0, 0), random.uniform(0.7, 2.5))
            ground *= 1 - soft[..., None] * (1 - random.uniform(0.35, 0.65) * np.array([0.95, 1.0, 1.08], np.float32))
            truth = thrown & (thing <= 0.5)
        ground[place] = ground[place] * (1 - cover[..., None]) + pixels * cover[..., None]
        grain = random.normal(0, 3, ground.shape)
        yield f"{name} {number + 1}", (ground + grain).clip(0, 255).astype(np.uint8), thing > 0.5, truth


def _sized(pixels: Floats, size: tuple[int, int]) -> Floats:
    return np.asarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA), np.float32)


def _cut_out(frame: str, name: str) -> tuple[Floats, Floats]:
    """A visitor's pixels (h, w, 3) and cover (h, w), 0 to 1."""
    [entry] = [each for each in distractions(frame) if each.name == name and each.part == "object"]
    cover = mask_of(frame, entry)
    tight = box_of(cover > 0).slices
    return clean_twin(frame)[0][tight].astype(np.float32), cover[tight].astype(np.float32) / np.float32(255)


def _of_frame(frame: str) -> Iterator[tuple[Outcome, Outcome]]:
    people = [each for each in distractions(frame) if each.kind == "person" and each.part == "object"]
    if not people:
        return
    picture, _ = clean_twin(frame)
    bodies = [mask_of(frame, each) >= MASK_THRESHOLD for each in people]
    masks = [_masked(each) for each in bodies]
    truths = [seen_shadow(frame, each.name) for each in people]
    throws = [shadow_evidence(picture, mask, masks[:k] + masks[k + 1 :]) for k, mask in enumerate(masks)]
    sun = common_sun([each for each in throws if each is not None])
    for k, each in enumerate(people):
        # What is another's shadow counts neither way: nobody can tell them apart where they meet.
        others = np.any([truth for j, truth in enumerate(truths) if j != k], axis=0) & ~truths[k]
        counted = ~_grown(bodies[k], 9) & ~others
        thrown = throws[k]
        both = (
            shadow_of(picture, masks[k]),
            thrown.shadow(sun) if thrown is not None and sun is not None else None,
        )
        has_shadow = bool(truths[k].sum() >= MIN_SHADOW_SHARE * bodies[k].sum())
        first, second = (
            _judged(f"{frame} {each.name}", found.mask if found else None, truths[k], counted, has_shadow)
            for found in both
        )
        yield first, second


def _of_scene(name: str, picture: EightBit, thing: Bools, truth: Bools) -> Outcome:
    found = shadow_of(picture, _masked(thing))
    return _judged(name, found.mask if found else None, truth, np.ones_like(truth), bool(truth.any()))


def _judged(name: str, found: Mask | None, truth: Bools, counted: Bools, has_shadow: bool) -> Outcome:
    got = np.zeros_like(truth) if found is None else found.full(truth.shape[1], truth.shape[0]) >= MASK_THRESHOLD
    got, wanted = got & counted, truth & counted
    return Outcome(name, has_shadow, found is not None, float((got & wanted).sum() / max((got | wanted).sum(), 1)))


def _masked(thing: Bools) -> Mask:
    box = box_of(thing)
    return Mask(box, np.where(thing[box.slices], 255, 0).astype(np.uint8))


def _even(pixels: EightBit, clear: Bools, side: int) -> Floats:
    """Logarithm of light (h, w), evened out over clear places."""
    light, weight = light_of(pixels)[0], clear.astype(np.float32)
    above, below = (cv2.GaussianBlur(each, (0, 0), side / 2) for each in (light * weight, weight))
    return np.asarray(above / np.maximum(below, 1e-4), np.float32)


def _grown(mask: Bools, side: int) -> Bools:
    return np.asarray(cv2.dilate(mask.astype(np.uint8), _disc(side))) > 0


def _disc(side: int) -> EightBit:
    return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side)), np.uint8)
