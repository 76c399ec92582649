"""A frozen graph of the TensorFlow.js format as ONNX, for the operations that the detector uses.

TensorFlow computes convolutions on (batch, height, width, channels) and ONNX on (batch, channels, height, width), so
each is wrapped in two transpositions; the runtime folds most of them away.
"""

from __future__ import annotations

import base64
import json
from typing import Any

import numpy as np
from numpy.typing import NDArray

Node = dict[str, Any]
TO_CHANNELS, FROM_CHANNELS = (0, 3, 1, 2), (0, 2, 3, 1)


def as_onnx(graph: bytes, weights: bytes) -> bytes:
    """The serialised ONNX model of a graph (JSON) and its weights; outputs keep their names.

    Raises ValueError for an operation that is not known here.
    """
    from onnx import TensorProto, helper, numpy_helper

    told = json.loads(graph)
    topology: list[Node] = told["modelTopology"]["node"]
    constants = _constants(told["weightsManifest"][0]["weights"], weights)
    nodes: list[Any] = []
    alias: dict[str, str] = {}
    made: dict[str, NDArray[Any]] = {}

    def real(name: str) -> str:
        name = alias.get(name, name)
        if name in constants and name not in made:
            made[name] = constants[name]
        return name

    def constant(name: str, values: Any, dtype: type = np.int64) -> str:
        made[name] = np.asarray(values, dtype)
        return name

    def add(kind: str, inputs: list[str], output: str, **attributes: Any) -> str:
        nodes.append(helper.make_node(kind, inputs, [output], **attributes))
        return output

    source = ""
    for node in _in_order([n for n in topology if n["op"] != "Const"], set(constants)):
        op, name, attributes = node["op"], node["name"], node.get("attr", {})
        given = [each.removesuffix(":0") for each in node.get("input", [])]
        if op == "Placeholder":
            source = name
        elif op == "SparseToDense":  # adds zeros to a shape: nothing is where
            constants[name] = np.zeros_like(constants[given[3]])
        elif op in ("Add", "AddV2"):
            if all(each in constants for each in given):
                constants[name] = constants[given[0]] + constants[given[1]]
            else:
                add("Add", [real(given[0]), real(given[1])], name)
        elif op == "Identity":
            add("Identity", [real(given[0])], name)
        elif op == "Sigmoid":
            add("Sigmoid", [real(given[0])], name)
        elif op == "LeakyRelu":
            add("LeakyRelu", [real(given[0])], name, alpha=attributes["alpha"]["f"])
        elif op in ("Pad", "PadV2"):
            pads = np.asarray(constants[given[1]]).T.reshape(-1)
            value = float(constants[given[2]].reshape(-1)[0]) if op == "PadV2" else 0.0
            fill = constant(f"{name}/value", value, np.float32)
            add("Pad", [real(given[0]), constant(f"{name}/pads", pads), fill], name)
        elif op == "Transpose":
            add("Transpose", [real(given[0])], name, perm=[int(k) for k in constants[given[1]]])
        elif op == "Conv2D":
            kernel = constants[given[1]].astype(np.float32).transpose(3, 2, 0, 1)
            inward = add("Transpose", [real(given[0])], f"{name}/in", perm=TO_CHANNELS)
            weight = constant(f"{name}/kernel", kernel, np.float32)
            steps = [int(k) for k in attributes["strides"]["list"]["i"]][1:3]
            add("Conv", [inward, weight], f"{name}/out", strides=steps, auto_pad=_padding(attributes))
            add("Transpose", [f"{name}/out"], name, perm=FROM_CHANNELS)
        elif op == "MaxPool":
            inward = add("Transpose", [real(given[0])], f"{name}/in", perm=TO_CHANNELS)
            steps = [int(k) for k in attributes["strides"]["list"]["i"]][1:3]
            size = [int(k) for k in attributes["ksize"]["list"]["i"]][1:3]
            add("MaxPool", [inward], f"{name}/out", strides=steps, kernel_shape=size, auto_pad=_padding(attributes))
            add("Transpose", [f"{name}/out"], name, perm=FROM_CHANNELS)
        elif op == "ResizeBilinear":
            inward = add("Transpose", [real(given[0])], f"{name}/in", perm=TO_CHANNELS)
            # ONNX wants all four sizes; the first two are those of the input.
            kept = add("Shape", [inward], f"{name}/shape", start=0, end=2)
            wanted = constant(f"{name}/wanted", constants[given[1]].reshape(-1))
            sizes = add("Concat", [kept, wanted], f"{name}/sizes", axis=0)
            how = {"mode": "linear", "coordinate_transformation_mode": "half_pixel"}
            add("Resize", [inward, "", "", sizes], f"{name}/out", **how)
            add("Transpose", [f"{name}/out"], name, perm=FROM_CHANNELS)
        elif op == "ConcatV2":
            add("Concat", [real(each) for each in given[:-1]], name, axis=int(constants[given[-1]].reshape(-1)[0]))
        elif op == "SplitV":
            parts = constant(f"{name}/parts", constants[given[1]].reshape(-1))
            outputs = [name, f"{name}:1"]
            axis = int(constants[given[2]].reshape(-1)[0])
            nodes.append(helper.make_node("Split", [real(given[0]), parts], outputs, axis=axis))
        elif op == "Reshape":
            shape = constant(f"{name}/shape", constants[given[1]].reshape(-1))
            add("Reshape", [real(given[0]), shape], name)
        else:
            raise ValueError(f"The operation {op} is not known.")
    size = [int(d["size"]) for d in told["signature"]["inputs"][f"{source}:0"]["tensorShape"]["dim"]]
    outputs = [each.removesuffix(":0").rsplit("/")[-1] for each in told["signature"]["outputs"]]
    model = helper.make_model(
        helper.make_graph(
            nodes,
            "detector",
            [helper.make_tensor_value_info(source, TensorProto.FLOAT, size)],
            [helper.make_tensor_value_info(each, TensorProto.FLOAT, None) for each in outputs],
            [numpy_helper.from_array(np.ascontiguousarray(values), name) for name, values in made.items()],
        ),
        opset_imports=[helper.make_opsetid("", 17)],
        ir_version=9,
    )
    return bytes(model.SerializeToString())


def _constants(listed: list[Node], weights: bytes) -> dict[str, NDArray[Any]]:
    """The weights by name: 16-bit floats become 32-bit ones."""
    out: dict[str, NDArray[Any]] = {}
    at = 0
    for each in listed:
        stored = np.dtype(each.get("quantization", {}).get("dtype", each["dtype"]))
        count = int(np.prod(each["shape"], dtype=np.int64))
        values = np.frombuffer(weights, stored, count, at).reshape(each["shape"])
        at += count * stored.itemsize
        out[each["name"]] = values.astype(np.float32) if stored.kind == "f" else values.astype(np.int64)
    return out


def _in_order(nodes: list[Node], known: set[str]) -> list[Node]:
    """Nodes so that each comes after what it needs."""
    known, left, out = set(known), list(nodes), []
    while left:
        ready = [n for n in left if all(each.split(":")[0] in known for each in n.get("input", []))]
        if not ready:
            raise ValueError("The graph has a circle or lacks a constant.")
        out += ready
        known |= {n["name"] for n in ready}
        left = [n for n in left if n["name"] not in known]
    return out


def _padding(attributes: Node) -> str:
    return "VALID" if base64.b64decode(attributes["padding"]["s"]) == b"VALID" else "SAME_UPPER"
