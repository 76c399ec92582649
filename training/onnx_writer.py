"""Writing small networks as ONNX, weights in 16 bit."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from onnx import TensorProto, helper, numpy_helper
from torch import nn


class Writer:
    """Nodes and constants of a graph as they are added; each method gives the name of what it makes."""

    def __init__(self) -> None:
        self.nodes: list[Any] = []
        self.held: list[Any] = []

    def constant(self, name: str, values: NDArray[Any]) -> str:
        self.held.append(numpy_helper.from_array(values, name))
        return name

    def add(self, kind: str, given: list[str], name: str, **how: Any) -> str:
        self.nodes.append(helper.make_node(kind, given, [name], **how))
        return name

    def layer(self, module: nn.Conv2d, given: str, name: str, relu: bool = True) -> str:
        """A convolution, and what it lets through."""
        parts = []
        for part, values in (("weight", module.weight), ("bias", module.bias)):
            stored = self.constant(f"{name}.{part}16", values.detach().numpy().astype(np.float16))
            parts.append(self.add("Cast", [stored], f"{name}.{part}", to=TensorProto.FLOAT))
        how = {
            "strides": list(module.stride),
            "dilations": list(module.dilation),
            "kernel_shape": list(module.kernel_size),
        }
        self.add("Conv", [given, *parts], name, pads=[module.padding[0]] * 4, **how)
        return self.add("Relu", [name], f"{name}.relu") if relu else name

    def twice(self, given: str, name: str) -> str:
        """Each pixel as two by two."""
        scales = self.constant(f"{name}.scales", np.array([1, 1, 2, 2], np.float32))
        how = {"mode": "nearest", "coordinate_transformation_mode": "asymmetric", "nearest_mode": "floor"}
        return self.add("Resize", [given, "", scales], name, **how)

    def blocks(self, given: str, channels: int = 3) -> str:
        """Blocks of two by two pixels as channels, in the order of torch's pixel_unshuffle."""
        self.add("SpaceToDepth", [given], f"{given}.blocks", blocksize=2)
        order = np.array([channels * k + c for c in range(channels) for k in range(4)], np.int64)
        return self.add("Gather", [f"{given}.blocks", self.constant("order", order)], f"{given}.halved", axis=1)

    def model(self, name: str, given: list[Any], made: list[Any]) -> bytes:
        """The serialised model: its inputs and its output as name and shape."""
        value = helper.make_tensor_value_info
        graph = helper.make_graph(
            self.nodes,
            name,
            [value(name, TensorProto.FLOAT, shape) for name, shape in given],
            [value(made[0], TensorProto.FLOAT, made[1])],
            self.held,
        )
        model = helper.make_model(graph, opset_imports=[helper.make_opsetid("", 17)], ir_version=9)
        return bytes(model.SerializeToString())
