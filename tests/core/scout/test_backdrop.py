"""The backdrop scout and its fill: the demo's studio frames, a drawn studio, and pictures without a backdrop."""

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from skimage import data

from keen_sweep.bench.papers import PAPER_OUTLINES, paper_and_plant
from keen_sweep.core.box import whole
from keen_sweep.core.errors import BadMask
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.patch import lay
from keen_sweep.core.scout.backdrop import find_backdrop
from keen_sweep.demo.shoot import clean_twin, distractions, mask_of

pytestmark = pytest.mark.scenes

EightBit = NDArray[np.uint8]


def studio(seed: int = 0) -> tuple[EightBit, NDArray[np.bool_], NDArray[np.bool_]]:
    """A picture of paper with a ball on it, before a wall; where the paper's outline is, and the ball."""
    random = np.random.default_rng(seed)
    picture = np.zeros((600, 900, 3))
    picture[:] = (90, 85, 80)
    picture[:, ::60] = (70, 66, 62)
    paper = np.zeros((600, 900), np.uint8)
    cv2.fillPoly(paper, [np.array([[260, 30], [640, 30], [660, 420], [760, 599], [140, 599], [240, 420]])], 1)
    down = np.linspace(0.92, 1.05, 600)[:, None, None]
    picture = np.where(paper[..., None] > 0, np.array([200.0, 196, 188]) * down, picture)
    ball = np.zeros((600, 900), np.uint8)
    cv2.circle(ball, (450, 400), 80, 1, -1)
    picture[ball > 0] = (40, 120, 60)
    cv2.rectangle(picture, (600, 500), (640, 512), (40, 80, 160), -1)
    picture += random.normal(0, 3, picture.shape)
    return picture.clip(0, 255).astype(np.uint8), paper > 0, ball > 0


def all_of(picture: EightBit) -> NDArray[np.uint8]:
    found = [f.mask.full(picture.shape[1], picture.shape[0]) for f in find_backdrop(picture)]
    return np.asarray(np.maximum.reduce(found), np.uint8)


def test_what_lies_beyond_drawn_paper_and_on_it_is_found() -> None:
    picture, paper, ball = studio()
    finds = find_backdrop(picture)
    beyond = finds[0].mask.full(900, 600) > 0
    assert (beyond & ~paper).sum() / (beyond | ~paper).sum() > 0.9
    assert not (beyond & ball).any()
    assert [f.name for f in finds] == ["Beyond the backdrop", "On the backdrop 1"]
    tape = finds[1].mask.full(900, 600) > 0
    assert tape[506, 620]
    assert not tape[ball].any()


@pytest.mark.parametrize("frame", PAPER_OUTLINES)
def test_studio_frames_lose_their_clutter_and_keep_their_plant(frame: str) -> None:
    picture, _ = clean_twin(frame)
    found = all_of(picture) > 0
    for each in distractions(frame):
        if each.part == "object" and each.kind != "litter":
            thing = mask_of(frame, each) > 200
            assert (found & thing).sum() / thing.sum() > 0.9, each.name
    paper, plant = paper_and_plant(frame)
    assert not (found & plant).any()
    beyond = find_backdrop(picture)[0].mask.full(1500, 1000) > 0
    truth = ~(paper | plant)
    assert (beyond & truth).sum() / (beyond | truth).sum() > 0.9


def test_pictures_without_a_backdrop_have_none(photograph: EightBit, gravel: EightBit) -> None:
    pictures = [photograph, gravel, data.astronaut(), data.coffee(), data.chelsea(), data.rocket()]
    assert [find_backdrop(np.ascontiguousarray(p)) for p in pictures] == [[]] * len(pictures)
    assert find_backdrop(clean_twin("ov-0418")[0]) == []


def test_the_fill_continues_tones_and_grain_and_touches_nothing_else() -> None:
    picture, _, _ = studio()
    mask = all_of(picture)
    takes = list(engine_for(Method.BACKDROP).fill(FillInput(below=picture, mask=mask, takes=2)))
    assert [t.method for t in takes] == ["backdrop", "backdrop"]
    filled = picture.copy()
    lay(filled, whole(filled), takes[0])
    assert (filled[mask == 0] == picture[mask == 0]).all()
    beyond = mask > 0
    rows = np.linspace(0.92, 1.05, 600)[:, None, None] * np.array([200.0, 196, 188])
    off = (filled - rows)[60:560][beyond[60:560]]
    assert np.abs(off.mean(axis=0)).max() < 6
    assert 2 < (filled - cv2.GaussianBlur(filled, (0, 0), 3).astype(float))[beyond].std() < 4
    assert not (takes[0].pixels == takes[1].pixels).all()
    again = next(iter(engine_for(Method.BACKDROP).fill(FillInput(below=picture, mask=mask, takes=1))))
    assert (again.pixels == takes[0].pixels).all()


def test_the_fill_works_in_sixteen_bit_and_keeps_the_guard() -> None:
    picture, _, _ = studio()
    mask = all_of(picture)
    guard = np.zeros(mask.shape, bool)
    guard[:, 800:] = True
    deep = picture.astype(np.uint16) * 257
    [take] = engine_for(Method.BACKDROP).fill(FillInput(below=deep, mask=mask, takes=1, guard=guard))
    filled = deep.copy()
    lay(filled, whole(filled), take)
    assert filled.dtype == np.uint16
    assert (filled[guard] == deep[guard]).all()
    assert abs(float(filled[60:200, 20:200].mean()) / 257 - 185) < 8


def test_without_paper_there_is_nothing_to_continue() -> None:
    noise = np.random.default_rng(0).integers(0, 255, (120, 160, 3)).astype(np.uint8)
    mask = np.full((120, 160), 255, np.uint8)
    mask[:2] = 0
    with pytest.raises(BadMask, match="no backdrop"):
        list(engine_for(Method.BACKDROP).fill(FillInput(below=noise, mask=mask, takes=1)))
