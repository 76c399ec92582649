"""What a graph does not say is found out: tiny graphs of each kind, which paint the ground's mean into the hole."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

from keen_sweep.core.errors import ModelTrouble
from keen_sweep.core.fill.model.facts import Facts, facts_path, read_facts, write_facts
from keen_sweep.core.fill.model.found_out import find_settings
from keen_sweep.core.fill.model.onnx_file import OnnxModel
from keen_sweep.core.fill.model.port import Wish
from tests.support.graphs import SCALES, painter


def exact(model: OnnxModel) -> None:
    """Outside the hole a painting is the picture, and in it it is grey."""
    side = model.side or 256
    picture = np.random.default_rng(2).integers(0, 256, (side, side, 3)).astype(np.uint8)
    hole = np.zeros((side, side), np.bool_)
    hole[20:40, 20:50] = True
    out = model.paint(picture, hole, Wish()).pixels
    assert np.abs(out[~hole].astype(int) - picture[~hole]).max() <= 1
    assert np.abs(out[hole].astype(int) - 120).max() <= 2


@pytest.mark.parametrize("out", SCALES)
@pytest.mark.parametrize("into", SCALES)
def test_ranges_in_and_out(tmp_path: Path, into: tuple[float, float], out: tuple[float, float]) -> None:
    model = OnnxModel(painter(tmp_path / "a.onnx", into, out))
    found = find_settings(model)
    assert found.fits
    assert (found.told.into, found.told.out) == (into, out)
    exact(model)


@pytest.mark.parametrize(
    "wants",
    [
        {"turned": True},
        {"mask_top": 255.0},
        {"turned": True, "mask_top": 255.0, "into": (0.0, 255.0), "out": (0.0, 1.0)},
        {"kind": "half", "into": (-1.0, 1.0), "out": (-1.0, 1.0)},
        {"kind": "bytes", "into": (0.0, 255.0), "out": (0.0, 255.0), "mask_top": 255.0},
        {"kind": "bytes", "into": (0.0, 255.0), "out": (0.0, 255.0)},
        {"side": 96, "out": (0.0, 255.0)},
        {"flat_mask": True, "turned": True},
        {"steps": 32, "into": (-1.0, 1.0)},
    ],
    ids=" ".join,
)
def test_masks_kinds_of_numbers_and_sides(tmp_path: Path, wants: dict[str, object]) -> None:
    model = OnnxModel(painter(tmp_path / "a.onnx", **wants))  # type: ignore[arg-type]
    found = find_settings(model)
    assert found.fits, found
    assert found.told.multiple == wants.get("steps", 8)
    exact(model)


def test_a_graph_that_sees_into_the_hole_is_kept_from_it(tmp_path: Path) -> None:
    """What lies in the hole would be seen in what is painted there."""
    found = find_settings(OnnxModel(painter(tmp_path / "a.onnx", looks=True)))
    assert found.fits
    assert found.told.blank


def test_what_is_likely_of_a_graph_is_left_as_it_is(tmp_path: Path) -> None:
    assert find_settings(OnnxModel(painter(tmp_path / "a.onnx"))).told == Facts()


def test_a_graph_that_nothing_fits_says_so(tmp_path: Path) -> None:
    """It gives its picture upside down in strength."""
    file = painter(tmp_path / "a.onnx", out=(0.0, 1.0))
    SCALES[(9.0, 9.5)] = (-3.0, 4.0)
    try:
        painter(file, out=(9.0, 9.5))
    finally:
        del SCALES[(9.0, 9.5)]
    assert not find_settings(OnnxModel(file)).fits


def test_a_file_in_short_says_what_it_said_before(tmp_path: Path) -> None:
    graph = tmp_path / "a.onnx"
    facts_path(graph).write_text(json.dumps({"range": [-1, 1], "hole": 0}))
    told = read_facts(graph)
    assert told == Facts(into=(-1, 1), out=(-1, 1), hole=0, kept=1)
    assert write_facts(graph, told) == "a.json"
    assert read_facts(graph) == told
    assert json.loads((tmp_path / "a.json.before").read_text()) == {"range": [-1, 1], "hole": 0}
    for wrong in ('{"in": [1, 1]}', '{"hole": 1, "kept": 1}', '{"depth": 3}'):
        facts_path(graph).write_text(wrong)
        with pytest.raises(ModelTrouble, match=r"a\.json does not describe"):
            read_facts(graph)
