"""A frozen graph of the TensorFlow.js format as ONNX, for the operations that the detector uses.

TensorFlow computes convolutions on (batch, height, width, channels) and ONNX on (batch, channels, height, width), so
each is wrapped in two transpositions; the runtime folds most of them away.
"""

from __future__ import annotations

import base64
import json
from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
from numpy.typing import ArrayLike

from keen_sweep.core.arrays import Numbers

# A piece of a graph as JSON, which others wrote.
Node = dict[str, Any]
Attribute = float | str | Sequence[int]
Constants = dict[str, Numbers]
CHANNELS_FIRST = (0, 3, 1, 2)
CHANNELS_LAST = (0, 2, 3, 1)


def as_onnx(graph: bytes, weights: bytes, side: int | None = None, layers: list[str] | None = None) -> bytes:
    """Convert the detector's published graph to ONNX; outputs keep their names.

    Parameters
    ----------
    graph : bytes
        The graph, JSON.
    weights : bytes
        Its weights.
    side : int or None, optional
        Side of the input, a multiple of its coarsest step; None for its own.
    layers : list of str or None, optional
        Layers to return; None for its outputs.

    Returns
    -------
    bytes
        The serialised model.

    Raises
    ------
    ValueError
        The graph has an unknown operation.
    """
    parsed = json.loads(graph)
    constants = _constants(parsed["weightsManifest"][0]["weights"], weights)
    topology: list[Node] = parsed["modelTopology"]["node"]
    own = 1 if side is None else max(_size_of(parsed)[1])
    translation = _Translation(constants, (side or own) / own)
    for node in _in_order([n for n in topology if n["op"] != "Const"], set(constants)):
        translation.translate(node)
    source, size = _size_of(parsed)
    given = size if side is None else [side if each == own else each for each in size]
    outputs = layers or [o.removesuffix(":0") for o in parsed["signature"]["outputs"]]
    return translation.model(source.removesuffix(":0"), given, outputs)


def _size_of(settings: Node) -> tuple[str, list[int]]:
    """The graph's input and its four sizes."""
    [(source, facts)] = settings["signature"]["inputs"].items()
    return source, [int(d["size"]) for d in facts["tensorShape"]["dim"]]


class _Translation:
    """Nodes of one graph turned into ONNX nodes, one after the other."""

    def __init__(self, constants: Constants, scale: float) -> None:
        self.constants = constants
        self.scale = scale
        self.held: Constants = {}
        self.nodes: list[Any] = []
        self.known: dict[str, Callable[[str, list[str], Node], None]] = {
            "SparseToDense": self._zeros,
            "Add": self._sum,
            "AddV2": self._sum,
            "Pad": self._pad,
            "PadV2": self._pad,
            "Transpose": self._transpose,
            "Conv2D": self._convolution,
            "MaxPool": self._largest,
            "ResizeBilinear": self._resize,
            "ConcatV2": self._concat,
            "SplitV": self._split,
            "Reshape": self._reshape,
            "Placeholder": lambda name, given, how: None,
            "Identity": lambda name, given, how: self._plain("Identity", given, name),
            "Sigmoid": lambda name, given, how: self._plain("Sigmoid", given, name),
            "LeakyRelu": lambda name, given, how: self._plain("LeakyRelu", given, name, alpha=how["alpha"]["f"]),
        }

    def translate(self, node: Node) -> None:
        if node["op"] not in self.known:
            raise ValueError(f"The operation {node['op']} is not supported.")
        given = [each.removesuffix(":0") for each in node.get("input", [])]
        self.known[node["op"]](node["name"], given, node.get("attr", {}))

    def model(self, source: str, size: list[int], outputs: list[str]) -> bytes:
        from onnx import TensorProto, helper, numpy_helper

        value = helper.make_tensor_value_info
        graph = helper.make_graph(
            self.nodes,
            "detector",
            [value(source, TensorProto.FLOAT, size)],
            [value(each, TensorProto.FLOAT, None) for each in outputs],
            [numpy_helper.from_array(np.ascontiguousarray(values), name) for name, values in self.held.items()],
        )
        model = helper.make_model(graph, opset_imports=[helper.make_opsetid("", 17)], ir_version=9)
        return bytes(model.SerializeToString())

    def _add(self, kind: str, given: list[str], made: list[str], **how: Attribute) -> None:
        from onnx import helper

        node = helper.make_node(kind, [self._real(each) for each in given], made)
        node.attribute.extend(helper.make_attribute(name, value) for name, value in how.items())
        self.nodes.append(node)

    def _plain(self, kind: str, given: list[str], name: str, **how: Attribute) -> None:
        self._add(kind, given[:1], [name], **how)

    def _real(self, name: str) -> str:
        if name in self.constants:
            self.held[name] = self.constants[name]
        return name

    def _hold(self, name: str, values: ArrayLike, dtype: type = np.int64) -> str:
        self.held[name] = np.asarray(values, dtype)
        return name

    def _flat(self, name: str) -> Numbers:
        return self.constants[name].reshape(-1)

    def _zeros(self, name: str, given: list[str], how: Node) -> None:
        """A shape with nothing put into it."""
        self.constants[name] = np.zeros_like(self.constants[given[3]])

    def _sum(self, name: str, given: list[str], how: Node) -> None:
        if all(each in self.constants for each in given):
            self.constants[name] = self.constants[given[0]] + self.constants[given[1]]
        else:
            self._add("Add", given, [name])

    def _pad(self, name: str, given: list[str], how: Node) -> None:
        value = float(self._flat(given[2])[0]) if len(given) > 2 else 0.0
        pads = self._hold(f"{name}/pads", self.constants[given[1]].T.reshape(-1))
        self._add("Pad", [given[0], pads, self._hold(f"{name}/value", value, np.float32)], [name])

    def _transpose(self, name: str, given: list[str], how: Node) -> None:
        self._add("Transpose", given[:1], [name], perm=[int(k) for k in self._flat(given[1])])

    def _in_channels(self, name: str, kind: str, given: list[str], **how: Attribute) -> None:
        """An operation that ONNX does with channels first."""
        self._add("Transpose", given[:1], [f"{name}/in"], perm=CHANNELS_FIRST)
        self._add(kind, [f"{name}/in", *given[1:]], [f"{name}/out"], **how)
        self._add("Transpose", [f"{name}/out"], [name], perm=CHANNELS_LAST)

    def _convolution(self, name: str, given: list[str], how: Node) -> None:
        kernel = self._hold(f"{name}/kernel", self.constants[given[1]].transpose(3, 2, 0, 1), np.float32)
        self._in_channels(name, "Conv", [given[0], kernel], strides=_pair(how["strides"]), auto_pad=_padding(how))

    def _largest(self, name: str, given: list[str], how: Node) -> None:
        steps, size = _pair(how["strides"]), _pair(how["ksize"])
        self._in_channels(name, "MaxPool", given[:1], strides=steps, kernel_shape=size, auto_pad=_padding(how))

    def _resize(self, name: str, given: list[str], how: Node) -> None:
        self._add("Transpose", given[:1], [f"{name}/first"], perm=CHANNELS_FIRST)
        # ONNX wants all four sizes; the first two are those of the input.
        self._add("Shape", [f"{name}/first"], [f"{name}/shape"], start=0, end=2)
        wanted = self._hold(f"{name}/wanted", np.rint(self._flat(given[1]) * self.scale))
        self._add("Concat", [f"{name}/shape", wanted], [f"{name}/sizes"], axis=0)
        way = {"mode": "linear", "coordinate_transformation_mode": "half_pixel"}
        self._in_channels(name, "Resize", [given[0], "", "", f"{name}/sizes"], **way)

    def _concat(self, name: str, given: list[str], how: Node) -> None:
        self._add("Concat", given[:-1], [name], axis=int(self._flat(given[-1])[0]))

    def _split(self, name: str, given: list[str], how: Node) -> None:
        parts = self._hold(f"{name}/parts", self._flat(given[1]))
        self._add("Split", [given[0], parts], [name, f"{name}:1"], axis=int(self._flat(given[2])[0]))

    def _reshape(self, name: str, given: list[str], how: Node) -> None:
        self._add("Reshape", [given[0], self._hold(f"{name}/shape", self._flat(given[1]))], [name])


def _constants(listed: list[Node], weights: bytes) -> Constants:
    """The weights by name: 16-bit floats become 32-bit ones."""
    out: Constants = {}
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
            raise ValueError("The graph has a cycle or lacks a constant.")
        out += ready
        known |= {n["name"] for n in ready}
        left = [n for n in left if n["name"] not in known]
    return out


def _pair(listed: Node) -> list[int]:
    """The two sides' values out of four for (batch, height, width, channels)."""
    return [int(k) for k in listed["list"]["i"]][1:3]


def _padding(how: Node) -> str:
    return "VALID" if base64.b64decode(how["padding"]["s"]) == b"VALID" else "SAME_UPPER"
