"""The wire scout: drawn wires over photographs, the demo's cables, and pictures full of lines that are no wires."""

from typing import Any

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray
from skimage import data

from keen_sweep.bench.drawn import sky, with_wires
from keen_sweep.core.scout.curves import Curve, curves_in
from keen_sweep.core.scout.follow import extend_curve, trace_wire
from keen_sweep.core.scout.found import Found
from keen_sweep.core.scout.merging import merges
from keen_sweep.core.scout.wires import find_wires
from keen_sweep.demo.shoot import clean_twin, distractions, mask_of

pytestmark = pytest.mark.scenes

EightBit = NDArray[np.uint8]
Bools = NDArray[np.bool_]


def covered(finds: list[Found], picture: EightBit) -> Bools:
    out = np.zeros(picture.shape[:2], np.uint8)
    for find in finds:
        out = np.maximum(out, find.mask.full(picture.shape[1], picture.shape[0]))
    return out > 0


def near(plane: Bools, by: int = 2) -> Bools:
    return np.asarray(cv2.dilate(plane.astype(np.uint8), np.ones((2 * by + 1, 2 * by + 1), np.uint8))) > 0


def recall_and_precision(finds: list[Found], truth: Bools, picture: EightBit) -> tuple[float, float]:
    found = covered(finds, picture)
    return float(near(found)[truth].mean()), float(near(truth)[found].mean()) if found.any() else 1.0


def test_wires_over_sky_are_found_with_their_width() -> None:
    scores = []
    for seed in range(6):
        photo, truth = with_wires(sky(seed, 600, 900), seed)
        scores.append(recall_and_precision(find_wires(photo), truth, photo))
    recall, precision = np.mean(scores, axis=0)
    assert recall > 0.9
    assert precision > 0.85


@pytest.mark.parametrize("frame", ["ov-0412", pytest.param("ov-0413", marks=pytest.mark.slow)])
def test_the_cables_over_the_glasshouse_are_found(frame: str) -> None:
    picture, _ = clean_twin(frame)
    truth = np.zeros(picture.shape[:2], bool)
    for each in distractions(frame):
        if each.kind == "wire" and each.part == "object":
            truth |= mask_of(frame, each) > 127
    finds = find_wires(picture)
    recall, _ = recall_and_precision(finds, truth, picture)
    assert recall > 0.8
    assert "px long" in finds[0].reason
    # The row of glazing bars below is none.
    assert len([each for each in finds if each.name.startswith("Wire")]) == 2


def test_lines_that_are_no_wires_are_left_alone(photograph: EightBit, gravel: EightBit) -> None:
    grass = np.repeat(data.grass()[..., None], 3, axis=2)
    brick = np.repeat(data.brick()[..., None], 3, axis=2)
    pictures = [photograph, gravel, grass, brick, data.astronaut(), data.coffee(), data.chelsea(), data.rocket()]
    pictures += [clean_twin(frame)[1] for frame in ("ov-0458", "ov-0521", "ov-0431")]
    counts = [len(find_wires(np.ascontiguousarray(p))) for p in pictures]
    assert np.mean(counts) <= 0.3, counts
    assert find_wires(np.full((80, 90, 3), 120, np.uint8)) == []


def test_guarded_wires_stay_and_deep_pictures_are_the_same() -> None:
    photo, _ = with_wires(sky(1, 600, 900), 1)
    guard = np.zeros(photo.shape[:2], bool)
    guard[:, 450:] = True
    finds = find_wires(photo, guard)
    assert finds
    assert not (covered(finds, photo) & guard).any()
    deep = find_wires(photo.astype(np.uint16) * 257)
    assert [f.mask.box for f in deep] == [f.mask.box for f in find_wires(photo)]


@given(
    a=st.floats(60, 140), slope=st.floats(-0.12, 0.12), bend=st.floats(-1.2e-4, 1.2e-4), gap=st.integers(10, 60),
    width=st.floats(2, 6),
)  # fmt: skip
def test_a_broken_parabola_is_one_curve(a: float, slope: float, bend: float, gap: int, width: float) -> None:
    """Bits of any parabola that sags by up to 5 px over 400, with a gap of up to 60 px, join to one curve along it;
    about one in two hundred of those that sag by 8 px stays in two."""
    x = np.arange(400.0)
    y = a + slope * x + bend * (x - 200) ** 2
    likelihood = np.zeros((220, 400), np.float32)
    rows = np.arange(220.0)[:, None]
    likelihood[:] = np.clip(width / 2 - np.abs(rows - y[None]) + 0.5, 0, 1)
    likelihood[:, 180 : 180 + gap] = 0
    curves = [c for c in curves_in(likelihood) if c.length > 100]
    assert len(curves) == 1
    path, wide = trace_wire(extend_curve(curves[0], likelihood), likelihood)
    here = (path[:, 0] >= 0) & (path[:, 0] <= 399)
    assert here.sum() > 350
    off = np.abs(path[here, 1] - np.interp(path[here, 0], x, y))
    assert np.percentile(off, 90) < 1.5
    assert abs(wide - width) < 1.6


def test_a_curve_knows_its_length_and_sag() -> None:
    straight = Curve((50.0, 50.0), (1.0, 0.0), (0.0, 0.0, 0.0), -30.0, 30.0)
    assert straight.length == pytest.approx(60)
    assert straight.sag == 0
    hung = Curve((0.0, 0.0), (1.0, 0.0), (0.0, 0.0, 0.001), -100.0, 100.0)
    assert hung.sag == pytest.approx(10 / hung.length)
    assert hung.at(np.array([100.0]))[0] == pytest.approx([100, 10])


def test_a_pole_that_carries_a_wire_is_pointed_out_and_not_chosen() -> None:
    photo = sky(3, 600, 900)
    photo[480:] = (70, 110, 60)
    cv2.rectangle(photo, (600, 150), (613, 540), (60, 50, 45), -1)
    cv2.rectangle(photo, (200, 300), (214, 540), (60, 50, 45), -1)
    cv2.line(photo, (-5, 190), (905, 140), (25, 25, 30), 3, cv2.LINE_AA)
    finds = find_wires(photo)
    poles = [f for f in finds if f.name.startswith("Pole")]
    assert [(f.chosen, f.mask.box.height > 300) for f in poles] == [(False, True)], [f.mask.box for f in poles]
    pole = covered(poles, photo)
    assert pole[300, 606]
    assert not pole[400, 207], "it carries nothing, with or without the wire"
    assert [f.name for f in finds if f.chosen] == ["Wire 1"]


def grid(bars: int, over: tuple[int, int, int]) -> tuple[EightBit, NDArray[Any]]:
    """Upright white bars before blue, and a level line of a colour across them: the picture, and the line's path."""
    picture = np.full((200, 40 * bars, 3), (90, 120, 170), np.uint8)
    for k in range(bars):
        picture[:, 40 * k + 18 : 40 * k + 24] = 235
    picture[98:103] = over
    return picture, np.array([[2.0, 100.0], [40.0 * bars - 3, 100.0]])


def test_a_bar_runs_into_the_bars_it_meets_and_a_wire_runs_over_them() -> None:
    assert merges(*grid(14, (235, 235, 235)), 5.0)
    assert not merges(*grid(14, (30, 30, 30)), 5.0)
    # A rail that meets three posts may be anything.
    assert not merges(*grid(3, (235, 235, 235)), 5.0)
