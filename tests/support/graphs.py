"""Tiny graphs that paint grey, of every kind that graphs are."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from onnx import TensorProto, helper, numpy_helper

ONNX = {"float": TensorProto.FLOAT, "half": TensorProto.FLOAT16, "bytes": TensorProto.UINT8}
# What a picture of 0 to 1 is multiplied by and what is added, for numbers of a range.
SCALES = {(0.0, 1.0): (1.0, 0.0), (-1.0, 1.0): (2.0, -1.0), (0.0, 255.0): (255.0, 0.0)}


def painter(
    file: Path,
    into: tuple[float, float] = (0.0, 1.0),
    out: tuple[float, float] = (0.0, 1.0),
    turned: bool = False,
    mask_top: float = 1.0,
    looks: bool = False,
    kind: str = "float",
    side: int | None = None,
    steps: int = 1,
    flat_mask: bool = False,
) -> Path:
    """A graph that keeps a picture outside the hole and paints grey of 0.47 in it, or the mean of what it sees round
    each pixel, the hole too (looks); steps: it takes only sides in such steps."""
    size: list[int | str] = [side, side] if side else ["h", "w"]
    picture = helper.make_tensor_value_info("picture", ONNX[kind], [1, 3, *size])
    mask = helper.make_tensor_value_info("mask", ONNX[kind], [1, *size] if flat_mask else [1, 1, *size])
    answer = helper.make_tensor_value_info("out", ONNX[kind], [1, 3, *size])
    (a, b), (c, d) = SCALES[into], SCALES[out]
    known = {"a": a, "b": b, "c": c, "d": d, "top": mask_top, "one": 1.0, "grey": 0.47}
    given = [numpy_helper.from_array(np.asarray(value, np.float32), name) for name, value in known.items()]
    given.append(numpy_helper.from_array(np.array([1], np.int64), "axis"))
    make = helper.make_node
    nodes = [
        make("Cast", ["picture"], ["p"], to=TensorProto.FLOAT),
        make("Cast", ["mask"], ["m0"], to=TensorProto.FLOAT),
    ]
    nodes.append(make("Unsqueeze", ["m0", "axis"], ["m1"]) if flat_mask else make("Identity", ["m0"], ["m1"]))
    nodes += [make("Div", ["m1", "top"], ["m2"]), make("Sub", ["one", "m2"], ["m3"])]
    hole, kept = ("m3", "m2") if turned else ("m2", "m3")
    nodes += [make("Sub", ["p", "b"], ["p1"]), make("Div", ["p1", "a"], ["seen"])]
    if steps > 1:
        # Down and up again: what is not in steps comes out in another size, and breaks off.
        nodes.append(make("MaxPool", ["seen"], ["small"], kernel_shape=[steps, steps], strides=[steps, steps]))
        given.append(numpy_helper.from_array(np.array([1, 1, steps, steps], np.float32), "scales"))
        nodes += [
            make("Resize", ["small", "", "scales"], ["large"], mode="nearest"),
            make("Sub", ["seen", "large"], ["none"]),
        ]
        nodes += [make("Mul", ["none", "nought"], ["none1"]), make("Add", ["seen", "none1"], ["seen1"])]
        given.append(numpy_helper.from_array(np.zeros((), np.float32), "nought"))
    seen = "seen1" if steps > 1 else "seen"
    nodes.append(
        make("AveragePool", [seen], ["paint"], kernel_shape=[31, 31], pads=[15] * 4)
        if looks
        else make("Identity", ["grey"], ["paint"])
    )
    nodes += [make("Mul", [seen, kept], ["k"]), make("Mul", ["paint", hole], ["h1"]), make("Add", ["k", "h1"], ["o"])]
    nodes += [make("Mul", ["o", "c"], ["o1"]), make("Add", ["o1", "d"], ["o2"])]
    nodes.append(make("Cast", ["o2"], ["out"], to=ONNX[kind]))
    made = helper.make_graph(nodes, "painter", [picture, mask], [answer], given)
    model = helper.make_model(made, opset_imports=[helper.make_opsetid("", 17)], ir_version=9)
    file.write_bytes(model.SerializeToString())
    return file


def graph(
    path: Path, truth: NDArray[Any] | None, side: int | None = None, last: bool = False, joined: bool = False
) -> Path:
    """A network that gives a constant picture, or else the picture it got with its hole at nought."""
    size = [side, side] if side else ["h", "w"]

    def shape(channels: int) -> list[Any]:
        return [1, *size, channels] if last else [1, channels, *size]

    picture = helper.make_tensor_value_info("picture", TensorProto.FLOAT, shape(4 if joined else 3))
    mask = helper.make_tensor_value_info("mask", TensorProto.FLOAT, shape(1))
    out = helper.make_tensor_value_info("out", TensorProto.FLOAT, shape(3))
    one = numpy_helper.from_array(np.ones((), np.float32), "one")
    if truth is not None:
        values = truth.astype(np.float32)[None] / 255
        constant = numpy_helper.from_array(values if last else np.moveaxis(values, -1, 1), "truth")
        nodes, given = [helper.make_node("Mul", ["truth", "one"], ["out"])], [constant, one]
    else:
        nodes = [
            helper.make_node("Sub", ["one", "mask"], ["kept"]),
            helper.make_node("Mul", ["picture", "kept"], ["out"]),
        ]
        given = [one]
    made = helper.make_graph(nodes, "tiny", [picture] if joined else [picture, mask], [out], given)
    model = helper.make_model(made, opset_imports=[helper.make_opsetid("", 17)], ir_version=9)
    path.write_bytes(model.SerializeToString())
    return path
