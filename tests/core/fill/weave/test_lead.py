"""Lead lines: what goes on along a drawn line, where it lies, and how sharp it is."""

from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from keen_sweep.core.arrays import Pixels
from keen_sweep.core.box import whole
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.input_crop import crop_input
from keen_sweep.core.fill.lay_again import lay_take_again
from keen_sweep.core.fill.lead import LeadLine, simplified
from keen_sweep.core.fill.local.engine import ByPart
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.fill.patch import Patch, lay, patch_from_bytes, patch_to_bytes
from keen_sweep.core.fill.weave.lead_stretches import stretches_of
from keen_sweep.core.fill.weave.lead_strips import strips_of

HEIGHT, WIDTH = 240, 320
HOLE = (slice(85, 155), slice(120, 200))


def two_grounds(edge: NDArray[np.float64]) -> Pixels:
    """Pale ground above an edge, given by its row in each column, and dark ground below it, both with grain."""
    rows = np.arange(HEIGHT)[:, None]
    below = np.clip(rows - edge[None] + 0.5, 0, 1)[..., None]
    base = (1 - below) * np.array([205.0, 190, 170]) + below * np.array([70.0, 90, 60])
    grain = np.random.default_rng(3).normal(0, 6, (HEIGHT, WIDTH, 1))
    noisy = base + cv2.GaussianBlur(grain, (0, 0), 0.8)[..., None] * 1.5
    return np.asarray(np.clip(noisy, 0, 255), np.uint8)


def straight_edge() -> NDArray[np.float64]:
    return np.asarray(100 + 0.12 * np.arange(WIDTH, dtype=np.float64))


def bent_edge() -> NDArray[np.float64]:
    """One that dips behind the hole: nothing outside says so."""
    x = np.arange(WIDTH, dtype=np.float64)
    return np.asarray(105 + np.maximum(28 - 0.9 * np.abs(x - 160), 0))


def filled(picture: Pixels, lines: tuple[LeadLine, ...], quality: Quality = Quality.FAST) -> tuple[Patch, Pixels]:
    mask = np.zeros(picture.shape[:2], np.uint8)
    mask[HOLE] = 255
    blank = picture.copy()
    blank[HOLE] = (255, 0, 255)
    takes = ByPart(Method.AUTO).fill(FillInput(below=blank, mask=mask, seed=4, takes=1, quality=quality, lead=lines))
    patch = next(iter(takes))
    lay(blank, whole(blank), patch)
    return patch, blank


def off_the_edge(picture: Pixels, edge: NDArray[np.float64]) -> float:
    """Mean distance between where the picture turns dark in the hole and where the edge is, pixels."""
    luma = cv2.GaussianBlur(picture.mean(axis=2), (0, 0), 1.0)
    columns = np.arange(HOLE[1].start + 4, HOLE[1].stop - 4)
    found = [int(np.argmax(luma[60:230, x] < 130)) + 60 for x in columns]
    return float(np.abs(np.array(found) - edge[columns]).mean())


def drawn(edge: NDArray[np.float64], columns: tuple[int, ...], off: tuple[float, ...]) -> LeadLine:
    return LeadLine(points=tuple((float(x), float(edge[x]) + by) for x, by in zip(columns, off, strict=True)))


@pytest.mark.parametrize("quality", list(Quality))
def test_an_edge_turns_where_it_was_drawn(quality: Quality) -> None:
    edge = bent_edge()
    picture = two_grounds(edge)
    line = drawn(edge, (80, 129, 160, 191, 240), (2.0, -1.5, 1.5, -1.5, 2.0))
    _, unled = filled(picture, (), quality)
    patch, led = filled(picture, (line,), quality)
    assert off_the_edge(led, edge) < 3.0, "no farther off than the hand"
    assert off_the_edge(led, edge) < 0.5 * off_the_edge(unled, edge)
    assert patch.provenance.led == 1
    assert "as your lines lead it" in patch.parts[0].why


def test_a_line_drawn_beside_an_edge_snaps_to_it() -> None:
    """Outside the mask the picture says exactly where the edge is."""
    edge = straight_edge()
    picture = two_grounds(edge)
    line = drawn(edge, (80, 160, 240), (4.0, 4.0, 4.0))
    _, led = filled(picture, (line,))
    assert off_the_edge(led, edge) < 1.5


def test_what_goes_on_is_as_sharp_as_outside() -> None:
    edge = straight_edge()
    picture = two_grounds(edge)
    _, led = filled(picture, (drawn(edge, (80, 160, 240), (0.0, 0.0, 0.0)),))
    slope = np.abs(np.diff(led.mean(axis=2), axis=0)).max(axis=0)
    assert np.median(slope[HOLE[1]]) > 0.7 * np.median(slope[40:100])


def test_a_line_may_end_inside() -> None:
    edge = straight_edge()
    picture = two_grounds(edge)
    patch, _ = filled(picture, (drawn(edge, (80, 160), (0.0, 0.0)),))
    assert patch.pieces is not None
    _, columns = np.nonzero(patch.pieces)
    assert columns.min() <= 2
    assert columns.max() < 60


def test_led_takes_are_stored_and_laid_again_to_the_bit() -> None:
    edge = bent_edge()
    patch, after = filled(two_grounds(edge), (drawn(edge, (90, 160, 230), (0.0, 0.0, 0.0)),))
    stored = patch_from_bytes(patch_to_bytes(patch))
    assert stored.pieces is not None
    assert (stored.pieces == patch.pieces).all()
    before = after.copy()
    before[HOLE] = 0
    again = lay_take_again(stored, before)
    assert (again.pixels == patch.pixels).all()


def test_the_same_seed_gives_the_same_bits_and_a_crop_changes_nothing() -> None:
    edge = bent_edge()
    wide = np.pad(two_grounds(edge), ((0, 0), (0, 700), (0, 0)), mode="reflect")
    mask = np.zeros(wide.shape[:2], np.uint8)
    mask[HOLE] = 255
    line = drawn(edge, (90, 160, 230), (0.0, 0.0, 0.0))
    full = FillInput(below=wide, mask=mask, seed=2, takes=1, quality=Quality.FAST, lead=(line,))
    engine, inner, window = crop_input(ByPart(Method.AUTO), full)
    assert window.width < wide.shape[1]
    (one,), (other,) = engine.fill(inner), ByPart(Method.AUTO).fill(full)
    (third,) = ByPart(Method.AUTO).fill(replace(full, progress=lambda _share, _what: None))
    assert (one.pixels == other.pixels).all()
    assert (third.pixels == other.pixels).all()


POINTS = st.lists(st.tuples(st.floats(-30, WIDTH + 30), st.floats(-30, HEIGHT + 30)), min_size=2, max_size=6)


@given(points=POINTS, half=st.floats(2, 9))
@settings(max_examples=60, deadline=None)
def test_strips_copy_known_pixels_into_the_hole_alone(points: list[tuple[float, float]], half: float) -> None:
    hole = np.zeros((HEIGHT, WIDTH), np.bool_)
    hole[HOLE] = True
    known = ~hole
    known[:, 250:270] = False
    planes = np.zeros((HEIGHT, WIDTH, 4), np.float32)
    planes[:100] = 60
    stretches = stretches_of(np.array(points, np.float64), planes, hole, known)
    strips = strips_of(stretches, planes, hole, known, half)
    if strips is None:
        return
    assert not (strips.mask & ~hole).any()
    assert ((strips.pieces > 0) == strips.mask).all()
    rows, columns = strips.sources[strips.mask].T
    assert known[rows, columns].all()


@given(points=POINTS, tolerance=st.floats(0.1, 5))
@settings(max_examples=60, deadline=None)
def test_a_simpler_line_stays_near(points: list[tuple[float, float]], tolerance: float) -> None:
    """Against the definition: no point of the drawn line is farther from it than the tolerance."""
    line = LeadLine(points=tuple(points))
    simple = simplified(line, tolerance)
    assert {simple.points[0], simple.points[-1]} == {line.points[0], line.points[-1]}
    places = simple.places(0.25)
    away = [float(np.hypot(*(places - np.array(each)).T).min()) for each in line.points]
    assert max(away) <= tolerance + 0.25


def test_a_line_that_shows_nothing_outside_leads_nowhere() -> None:
    hole = np.zeros((HEIGHT, WIDTH), np.bool_)
    hole[HOLE] = True
    planes = np.zeros((HEIGHT, WIDTH, 4), np.float32)
    assert stretches_of(np.array([[130.0, 100], [190, 140]]), planes, hole, ~hole) == []
    assert stretches_of(np.array([[10.0, 10], [60, 20]]), planes, hole, ~hole) == []
    assert strips_of([], np.zeros((*hole.shape, 3), np.float32), hole, ~hole, 4.0) is None
