"""What networks of marks have in common: how they are built, how they learn, how they are written down."""

from __future__ import annotations

import argparse
import multiprocessing
import os
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
import onnx
import torch
from numpy.typing import NDArray
from onnx import numpy_helper
from onnx_writer import Writer
from things import Random
from torch import nn
from torch.nn import functional

from keen_sweep.core.scout.networks import trunk
from keen_sweep.core.scout.networks.trunk import CHANNEL_COUNTS

# Examples at a time.
BATCH = 8
# Processes that draw them.
DRAWERS = 2
# Examples that a batch is drawn from: neighbours in time are alike.
POOL = 96
WIDE = (24, 40, 64, 96)
Examples = Callable[[Random], Iterator[tuple[tuple[NDArray[Any], ...], NDArray[Any]]]]
# What a pixel costs that is left out, one that is too much being 1.
LEFT_OUT = 5.0


class Knower(nn.Module):
    """(N, seen, H, W), sides multiples of 16, and what a trunk that others trained sees at a half, a quarter, an eighth
    and a sixteenth of them, to logits (N, told, H, W)."""

    def __init__(self, seen: int, told: int) -> None:
        super().__init__()
        self.first = nn.ModuleList([_layer(4 * seen, WIDE[0]), _layer(WIDE[0], WIDE[0])])
        self.second = nn.ModuleList([_layer(WIDE[0], WIDE[1], 2), _layer(WIDE[1], WIDE[1])])
        self.third = nn.ModuleList([_layer(WIDE[1], WIDE[2], 2), _layer(WIDE[2], WIDE[2]), _layer(WIDE[2], WIDE[2])])
        self.fourth = nn.ModuleList(
            [_layer(WIDE[2], WIDE[3], 2)] + [_layer(WIDE[3], WIDE[3], far=far) for far in (1, 2, 4, 2, 1)]
        )
        self.up = nn.ModuleList([_layer(WIDE[k + 1] + WIDE[k], WIDE[k]) for k in (2, 1, 0)])
        self.last = _layer(WIDE[0], 4 * told)
        self.known = nn.ModuleList([nn.Conv2d(c, w, 1) for c, w in zip(CHANNEL_COUNTS, WIDE, strict=True)])
        for each in self.known:
            # At first next to nothing is heard of it, so that what a network without it learnt can be gone on from.
            nn.init.normal_(each.weight, 0, 0.02)
            nn.init.zeros_(each.bias)

    def forward(self, given: torch.Tensor, *known: torch.Tensor) -> torch.Tensor:
        half = functional.pixel_unshuffle(given, 2)
        told = [layer(each) for layer, each in zip(self.known, known, strict=True)]
        half = functional.relu(self.first[0](half))
        half = functional.relu(self.first[1](half)) + told[0]
        quarter = functional.relu(self.second[0](half))
        quarter = functional.relu(self.second[1](quarter)) + told[1]
        eighth = functional.relu(self.third[0](quarter)) + told[2]
        for layer in self.third[1:]:
            eighth = eighth + functional.relu(layer(eighth))
        sixteenth = functional.relu(self.fourth[0](eighth)) + told[3]
        for layer in self.fourth[1:]:
            sixteenth = sixteenth + functional.relu(layer(sixteenth))
        up = sixteenth
        for layer, beside in zip(self.up, (eighth, quarter, half), strict=True):
            up = functional.interpolate(up, scale_factor=2, mode="nearest")
            up = functional.relu(layer(torch.cat([up, beside], 1)))
        return functional.pixel_shuffle(self.last(up), 2)


def taught_by(network: Knower, file: Path) -> None:
    """Begin with what a network without a trunk has learnt, as it was written down (.onnx)."""
    held = {each.name: numpy_helper.to_array(each) for each in onnx.load(file).graph.initializer}
    named = {
        f"{room}{k}": layer
        for room in ("first", "second", "third", "fourth", "up")
        for k, layer in enumerate(getattr(network, room))
    }
    for name, layer in {**named, "last": network.last}.items():
        weight = torch.from_numpy(held[f"{name}.weight16"].astype(np.float32))
        # Planes that it did not see come last.
        layer.weight.data = functional.pad(weight, (0, 0, 0, 0, 0, layer.weight.shape[1] - weight.shape[1]))
        layer.bias.data = torch.from_numpy(held[f"{name}.bias16"].astype(np.float32))


def _layer(seen: int, told: int, step: int = 1, far: int = 1) -> nn.Conv2d:
    return nn.Conv2d(seen, told, 3, step, padding=far, dilation=far)


def knower_as_onnx(network: Knower) -> bytes:
    """The network as ONNX, sigmoid included."""
    w = Writer()
    seen, told = network.first[0].in_channels // 4, network.last.out_channels // 4
    known = [w.layer(each, f"known{k}", f"told{k}", relu=False) for k, each in enumerate(network.known)]

    def heard(given: str, k: int) -> str:
        return w.add("Add", [given, known[k]], f"heard{k}")

    half = heard(w.layer(network.first[1], w.layer(network.first[0], w.blocks("seen", seen), "first0"), "first1"), 0)
    quarter = heard(w.layer(network.second[1], w.layer(network.second[0], half, "second0"), "second1"), 1)
    eighth = heard(w.layer(network.third[0], quarter, "third0"), 2)
    for k, module in enumerate(list(network.third)[1:], start=1):
        eighth = w.add("Add", [eighth, w.layer(module, eighth, f"third{k}")], f"third{k}.sum")
    up = heard(w.layer(network.fourth[0], eighth, "fourth0"), 3)
    for k, module in enumerate(list(network.fourth)[1:], start=1):
        up = w.add("Add", [up, w.layer(module, up, f"fourth{k}")], f"fourth{k}.sum")
    for k, (module, beside) in enumerate(zip(network.up, (eighth, quarter, half), strict=True)):
        joined = w.add("Concat", [w.twice(up, f"twice{k}"), beside], f"joined{k}", axis=1)
        up = w.layer(module, joined, f"up{k}")
    last = w.layer(network.last, up, "last", relu=False)
    w.add("Sigmoid", [w.add("DepthToSpace", [last], "logits", blocksize=2, mode="CRD")], "told")
    given = [("seen", [1, seen, "height", "width"])]
    given += [(f"known{k}", [1, c, None, None]) for k, c in enumerate(CHANNEL_COUNTS)]
    return w.model("marks", given, ["told", [1, told, "height", "width"]])


def loss_of(logits: torch.Tensor, truth: torch.Tensor) -> torch.Tensor:
    """Cross entropy, in which what is left out costs more, and the Tversky loss of each picture by itself: small things
    count as much as large ones."""
    weight = torch.tensor(LEFT_OUT, dtype=logits.dtype)
    entropy = functional.binary_cross_entropy_with_logits(logits, truth, pos_weight=weight)
    chance = torch.sigmoid(logits)
    both = (chance * truth).sum((2, 3))
    too_much, left_out = (chance * (1 - truth)).sum((2, 3)), ((1 - chance) * truth).sum((2, 3))
    tversky = 1 - (both + 20) / (both + 0.25 * too_much + 0.75 * left_out + 20)
    return 0.5 * entropy + tversky.mean()


def _draw(queue: multiprocessing.Queue[Any], examples: Examples, seed: int) -> None:
    """Draw batches for ever."""
    import cv2

    cv2.setNumThreads(1)
    os.nice(19)  # learning waits for its own threads at every layer: nobody should be in their way
    trunk.THREAD_COUNT = 1
    random = np.random.default_rng(seed)
    made_one = examples(random)
    # Marks over one thing come one after another: batches are drawn from a pool, so that they seldom meet.
    pool = [next(made_one) for _ in range(POOL)]
    while True:
        drawn = random.choice(POOL, BATCH, replace=False)
        made = [pool[k] for k in drawn]
        for k in drawn:
            pool[k] = next(made_one)
        given = tuple(np.stack(each).astype(np.float16) for each in zip(*(m[0] for m in made), strict=True))
        queue.put((given, np.stack([m[1] for m in made]).astype(np.float16)))


def learn(network: Knower, examples: Examples, as_onnx: Callable[[Knower], bytes], given: argparse.Namespace) -> None:
    """Draw and learn for so many minutes; the network is written every two of them."""
    torch.manual_seed(given.seed)
    torch.set_num_threads(2)
    context = multiprocessing.get_context("fork")
    queue = context.Queue(maxsize=12)
    for k in range(DRAWERS):
        context.Process(target=_draw, args=(queue, examples, given.seed + 1_000 * k), daemon=True).start()
    if given.start:
        state = torch.load(given.start)
        first = state["first.0.weight"]
        state["first.0.weight"] = functional.pad(first, (0, 0, 0, 0, 0, network.first[0].in_channels - first.shape[1]))
        network.load_state_dict(state)
    network = network.to(memory_format=torch.channels_last)
    print(sum(p.numel() for p in network.parameters()), "weights", flush=True)
    best = 2e-3
    optimiser = torch.optim.AdamW(network.parameters(), lr=best, weight_decay=1e-4)
    queue.get()
    started, step, mean, saved = time.time(), 0, 0.0, time.time()
    while (share := (time.time() - started) / 60 / given.minutes) < 1:
        drawn, wanted = queue.get()
        seen, *known = (torch.from_numpy(each).float() for each in drawn)
        truth = torch.from_numpy(wanted).float()
        optimiser.param_groups[0]["lr"] = best * min(1, (step + 1) / 100) * (0.5 + 0.5 * np.cos(np.pi * share))
        loss = loss_of(network(seen.to(memory_format=torch.channels_last), *known), truth)
        optimiser.zero_grad()
        loss.backward()
        nn.utils.clip_grad_norm_(network.parameters(), 1.0)
        optimiser.step()
        step += 1
        mean = 0.98 * mean + 0.02 * float(loss)
        if step % 100 == 0:
            print(f"{step} steps, {time.time() - started:.0f} s, loss {mean / (1 - 0.98**step):.3f}", flush=True)
        if time.time() - saved > 120:
            _keep(network, as_onnx, given.out)
            saved = time.time()
    _keep(network, as_onnx, given.out)


def _keep(network: Knower, as_onnx: Callable[[Knower], bytes], out: Path) -> None:
    torch.save(network.state_dict(), out.with_suffix(".pt"))
    out.write_bytes(as_onnx(network))
