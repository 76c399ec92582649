"""Models out of ONNX files built on the spot, and all that is done round them."""

import json
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import onnx
import pytest
from numpy.typing import NDArray
from onnx import TensorProto, helper
from skimage import data

from keen_sweep.bench.cases import ALL_CASES
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.errors import BadMask, ModelTrouble
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.model.context import context, context_box
from keen_sweep.core.fill.model.engine import ModelEngine
from keen_sweep.core.fill.model.native import fill_at_full_size
from keen_sweep.core.fill.model.onnx_file import OnnxModel
from keen_sweep.core.fill.model.port import Wish
from keen_sweep.core.fill.patch import lay
from keen_sweep.core.review.scores import psnr, sharpness
from tests.support.graphs import graph

pytestmark = pytest.mark.scenes


def case(enlarged: int = 1) -> tuple[NDArray[Any], NDArray[Any]]:
    """A photograph of coffee, and a hole of a third of its height."""
    truth = np.asarray(data.coffee())[:, :400]
    if enlarged > 1:
        # A larger picture with detail of its own: the photograph many times over, each time with other grain.
        truth = np.tile(truth, (enlarged, enlarged, 1))
    hole = np.zeros(truth.shape[:2], np.uint8)
    middle = (truth.shape[1] // 2, truth.shape[0] // 2)
    cv2.ellipse(hole, middle, (truth.shape[1] // 6, truth.shape[0] // 7), 20, 0, 360, 255, -1)
    return truth, hole > 0


def covered(truth: NDArray[Any], hole: NDArray[Any]) -> NDArray[Any]:
    return np.where(
        hole[..., None], np.array([196, 40, 150], truth.dtype) * (257 if truth.dtype == np.uint16 else 1), truth
    )


@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
def test_a_network_that_gives_the_truth_gives_the_truth(tmp_path: Path, dtype: type) -> None:
    truth, hole = case()
    photo = covered(truth.astype(dtype) * (257 if dtype == np.uint16 else 1), hole)
    probe = OnnxModel(graph(tmp_path / "probe.onnx", None))
    box = context_box(box_of(hole), whole(truth), probe)
    painted = np.zeros((-(-box.height // 8) * 8, -(-box.width // 8) * 8, 3), np.uint8)
    painted[: box.height, : box.width] = truth[box.slices]
    model = OnnxModel(graph(tmp_path / "truth.onnx", painted))
    fill_input = FillInput(below=photo, mask=np.where(hole, 255, 0).astype(np.uint8), takes=2)
    takes = list(ModelEngine(model).fill(fill_input))
    assert [take.seed for take in takes] == [0, 1]
    after = photo.copy()
    lay(after, whole(after), takes[0])
    assert np.array_equal(after[~hole], photo[~hole])
    eight = after if dtype == np.uint8 else np.rint(after / 257).astype(np.uint8)
    assert psnr(eight, truth, hole) > 48
    assert takes[0].parts[0].why.startswith("truth: painted at")


def test_a_small_model_fills_a_large_picture_sharply(tmp_path: Path) -> None:
    """256 px for a hole that is seven hundred wide: tones as the network says, detail as the picture has it."""
    truth, hole = case(4)
    photo = covered(truth, hole)
    probe = OnnxModel(graph(tmp_path / "probe.onnx", None, 256))
    box = context_box(box_of(hole), whole(truth), probe)
    assert box.width > 1_000
    seen = context(truth[box.slices], hole[box.slices], box, probe)
    assert seen.shown.shape == (256, 256, 3)
    model = OnnxModel(graph(tmp_path / "truth.onnx", seen.shown, 256))
    [take] = ModelEngine(model).fill(FillInput(below=photo, mask=np.where(hole, 255, 0).astype(np.uint8), takes=1))
    after = photo.copy()
    lay(after, whole(after), take)
    enlarged = photo.copy()
    width, height = seen.size
    bare = cv2.resize(seen.shown[:height, :width], (box.width, box.height), interpolation=cv2.INTER_CUBIC)
    enlarged[box.slices][hole[box.slices]] = bare[hole[box.slices]]
    assert sharpness(enlarged, truth, hole) < 0.2, "the network alone is soft"
    assert sharpness(after, truth, hole) > 0.8
    # Detail of the right strength that is not the truth's own costs up to 3 dB, whatever it is.
    assert psnr(after, truth, hole) > psnr(enlarged, truth, hole) - 3
    assert np.array_equal(after[~hole], photo[~hole])


def test_tone_that_is_off_is_matched_at_the_border() -> None:
    truth, hole = case()
    off = np.clip(truth.astype(int) + np.array([14, -9, 20]), 0, 255).astype(np.uint8)
    filled = np.rint(fill_at_full_size(truth.astype(np.float32), hole, off)).astype(np.uint8)
    assert psnr(filled, truth, hole) > 38
    assert psnr(off, truth, hole) < 27


def test_what_a_graph_says_and_what_the_file_beside_it_says(tmp_path: Path) -> None:
    picture = np.asarray(data.coffee())[:64, :64]
    hole = np.zeros((64, 64), bool)
    hole[20:40, 20:40] = True
    for last in (False, True):
        model = OnnxModel(graph(tmp_path / f"{last}.onnx", None, 64, last))
        assert (model.side, model.name) == (64, str(last))
        out = model.paint(picture, hole, Wish()).pixels
        assert np.abs(out[~hole].astype(int) - picture[~hole]).max() == 0
        assert out[hole].max() == 0
    file = graph(tmp_path / "turned.onnx", None)
    (tmp_path / "turned.json").write_text(json.dumps({"range": [-1, 1], "hole": 0, "multiple": 32}))
    turned = OnnxModel(file)
    assert (turned.side, turned.multiple) == (None, 32)
    out = turned.paint(picture, hole, Wish()).pixels
    assert np.array_equal(out[hole], picture[hole]), "where the mask is nought the hole is"
    assert (out[~hole] == 128).all(), "nought lies in the middle of the range"
    joined = OnnxModel(graph(tmp_path / "joined.onnx", picture, 64, joined=True))
    assert np.array_equal(joined.paint(picture, hole, Wish()).pixels, picture)


def test_files_that_are_no_models_are_named(tmp_path: Path) -> None:
    broken = tmp_path / "broken.onnx"
    broken.write_bytes(b"no graph")
    with pytest.raises(ModelTrouble, match=r"broken\.onnx cannot be loaded"):
        OnnxModel(broken)
    with pytest.raises(ModelTrouble, match="cannot be loaded"):
        OnnxModel(tmp_path / "missing.onnx")
    file = graph(tmp_path / "odd.onnx", None)
    (tmp_path / "odd.json").write_text('{"colour": "red"}')
    with pytest.raises(ModelTrouble, match=r"odd\.json"):
        OnnxModel(file)
    value = helper.make_tensor_value_info("words", TensorProto.FLOAT, [1, 77])
    out = helper.make_tensor_value_info("out", TensorProto.FLOAT, [1, 77])
    made = helper.make_graph([helper.make_node("Identity", ["words"], ["out"])], "words", [value], [out])
    onnx.save(
        helper.make_model(made, opset_imports=[helper.make_opsetid("", 17)], ir_version=9), tmp_path / "words.onnx"
    )
    with pytest.raises(ModelTrouble, match=r"a picture .* and a mask"):
        OnnxModel(tmp_path / "words.onnx")
    truth, _ = case()
    nothing = np.zeros(truth.shape[:2], np.uint8)
    with pytest.raises(BadMask):
        list(ModelEngine(OnnxModel(graph(tmp_path / "fine.onnx", None))).fill(FillInput(below=truth, mask=nothing)))
    wrong = OnnxModel(graph(tmp_path / "wrong.onnx", truth[:32, :32]))
    with pytest.raises(ModelTrouble, match="gave a picture of"):
        wrong.paint(truth[:64, :64], nothing[:64, :64] > 0, Wish())


def test_the_context_holds_more_surroundings_than_hole_and_stays_in_the_picture(tmp_path: Path) -> None:
    model = OnnxModel(graph(tmp_path / "any.onnx", None))
    picture = Box(x=0, y=0, width=900, height=600)
    for hole in (Box(x=10, y=10, width=100, height=60), Box(x=700, y=400, width=190, height=190)):
        box = context_box(hole, picture, model)
        assert box.intersect(picture) == box
        assert box.intersect(hole) == hole
        assert box.area >= 3 * hole.area
    small = OnnxModel(graph(tmp_path / "small.onnx", None, 512))
    assert context_box(Box(x=400, y=300, width=20, height=20), picture, small).width == 512
    tiny = np.zeros((100, 120, 3), np.uint8)
    covered = np.zeros((100, 120), bool)
    covered[40:50, 40:50] = True
    box = context_box(box_of(covered), whole(tiny), small)
    seen = context(tiny[box.slices], covered[box.slices], box, small)
    assert (seen.shown.shape, seen.size) == ((512, 512, 3), (120, 100))


@pytest.mark.slow
def test_a_small_model_is_as_near_the_truth_in_24_megapixels_as_alone_and_sharp(tmp_path: Path) -> None:
    """A hole of 600 x 900 in the demo's large frame: within 1 dB of what the network's own picture has, and sharp."""
    case = next(entry for entry in ALL_CASES if entry.name == "600 x 900 in 24 MP").load()
    probe = OnnxModel(graph(tmp_path / "probe.onnx", None, 256))
    box = context_box(box_of(case.mask), whole(case.photo), probe)
    seen = context(case.truth[box.slices], case.mask[box.slices], box, probe)
    model = OnnxModel(graph(tmp_path / "truth.onnx", seen.shown, 256))
    mask = np.where(case.mask, 255, 0).astype(np.uint8)
    (take,) = ModelEngine(model).fill(FillInput(below=case.photo, mask=mask, takes=1))
    after = case.photo.copy()
    lay(after, whole(after), take)
    alone = case.photo.copy()
    width, height = seen.size
    bare = cv2.resize(seen.shown[:height, :width], (box.width, box.height), interpolation=cv2.INTER_CUBIC)
    alone[box.slices][case.mask[box.slices]] = bare[case.mask[box.slices]]
    assert sharpness(alone, case.truth, case.mask) < 0.15
    assert sharpness(after, case.truth, case.mask) > 0.8
    assert psnr(after, case.truth, case.mask) > psnr(alone, case.truth, case.mask) - 1
    assert np.array_equal(after[~case.mask], case.photo[~case.mask])
