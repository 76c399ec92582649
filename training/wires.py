"""Train the wire network on drawn wires and write it as ONNX.

A small U-shaped network (Ronneberger et al. 2015) with dilated layers (Yu & Koltun 2016) at its bottom, so that it sees
some 150 pixels of a line to either side; the loss is cross entropy with the soft Dice loss (Milletari et al. 2016).
"""

from __future__ import annotations

import argparse
import multiprocessing
import time
from pathlib import Path
from typing import Any

import numpy as np
import torch
from drawn import example, photographs
from onnx_writer import Writer
from torch import nn
from torch.nn import functional

# Side of a picture that is learned from, pixels, and how many at a time.
SIDE = 192
BATCH = 8


class Wires(nn.Module):
    """(N, 3, H, W) of 0 to 1, sides multiples of 8, to logits (N, 1, H, W)."""

    def __init__(self) -> None:
        super().__init__()
        wide = (24, 40, 56)
        self.first = nn.ModuleList([nn.Conv2d(12, wide[0], 3, padding=1), nn.Conv2d(wide[0], wide[0], 3, padding=1)])
        self.second = nn.ModuleList(
            [nn.Conv2d(wide[0], wide[1], 3, 2, padding=1), nn.Conv2d(wide[1], wide[1], 3, padding=1)]
        )
        self.third = nn.ModuleList(
            [nn.Conv2d(wide[1], wide[2], 3, 2, padding=1)]
            + [nn.Conv2d(wide[2], wide[2], 3, padding=d, dilation=d) for d in (1, 2, 4, 8, 4)]
        )
        self.up_second = nn.Conv2d(wide[2] + wide[1], wide[1], 3, padding=1)
        self.up_first = nn.Conv2d(wide[1] + wide[0], wide[0], 3, padding=1)
        self.last = nn.Conv2d(wide[0], 4, 3, padding=1)

    def forward(self, picture: torch.Tensor) -> torch.Tensor:
        half = functional.pixel_unshuffle(picture - 0.5, 2)
        for layer in self.first:
            half = functional.relu(layer(half))
        quarter = half
        for layer in self.second:
            quarter = functional.relu(layer(quarter))
        eighth = functional.relu(self.third[0](quarter))
        for layer in self.third[1:]:
            eighth = eighth + functional.relu(layer(eighth))
        up = functional.interpolate(eighth, scale_factor=2, mode="nearest")
        up = functional.relu(self.up_second(torch.cat([up, quarter], 1)))
        up = functional.interpolate(up, scale_factor=2, mode="nearest")
        up = functional.relu(self.up_first(torch.cat([up, half], 1)))
        return functional.pixel_shuffle(self.last(up), 2)


def loss_of(logits: torch.Tensor, truth: torch.Tensor) -> torch.Tensor:
    weight = 1 + 4 * truth
    entropy = functional.binary_cross_entropy_with_logits(logits, truth, weight=weight)
    chance = torch.sigmoid(logits)
    dice = 1 - (2 * (chance * truth).sum() + 50) / ((chance**2).sum() + (truth**2).sum() + 50)
    return entropy + 0.5 * dice


def draw(queue: multiprocessing.Queue[Any], seed: int) -> None:
    """Draw batches for ever."""
    import cv2

    cv2.setNumThreads(1)
    random, photos = np.random.default_rng(seed), photographs()
    while True:
        made = [example(random, photos, SIDE) for _ in range(BATCH)]
        queue.put((np.stack([m[0] for m in made]), np.stack([m[1] for m in made])))


def as_onnx(network: Wires) -> bytes:
    """The network as ONNX with free height and width, sigmoid included."""
    w = Writer()
    w.add("Sub", ["picture", w.constant("middle", np.array(0.5, np.float32))], "centred")
    half = w.layer(network.first[1], w.layer(network.first[0], w.blocks("centred"), "first0"), "first1")
    quarter = w.layer(network.second[1], w.layer(network.second[0], half, "second0"), "second1")
    eighth = w.layer(network.third[0], quarter, "third0")
    for k, module in enumerate(list(network.third)[1:], start=1):
        eighth = w.add("Add", [eighth, w.layer(module, eighth, f"third{k}")], f"third{k}.sum")
    joined = w.add("Concat", [w.twice(eighth, "up2"), quarter], "join2", axis=1)
    up = w.layer(network.up_second, joined, "up_second")
    up = w.layer(network.up_first, w.add("Concat", [w.twice(up, "up1"), half], "join1", axis=1), "up_first")
    last = w.layer(network.last, up, "last", relu=False)
    w.add("Sigmoid", [w.add("DepthToSpace", [last], "logits", blocksize=2, mode="CRD")], "wires")
    return w.model("wires", [("picture", [1, 3, "height", "width"])], ["wires", [1, 1, "height", "width"]])


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--out", type=Path, required=True)
    parser.add_argument("--minutes", type=float, default=60)
    parser.add_argument("--seed", type=int, default=0)
    parser.add_argument("--threads", type=int, default=2)
    parser.add_argument("--start", type=Path, help="carry on from this file (.pt)")
    given = parser.parse_args()
    torch.manual_seed(given.seed)
    torch.set_num_threads(given.threads)
    context = multiprocessing.get_context("fork")
    queue = context.Queue(maxsize=6)
    context.Process(target=draw, args=(queue, given.seed), daemon=True).start()
    network = Wires()
    if given.start:
        network.load_state_dict(torch.load(given.start))
    print(sum(p.numel() for p in network.parameters()), "weights", flush=True)
    best = 2e-3
    optimiser = torch.optim.AdamW(network.parameters(), lr=best, weight_decay=1e-4)
    started, step, mean, saved = time.time(), 0, 0.0, 0.0
    while (share := (time.time() - started) / 60 / given.minutes) < 1:
        pictures, truths = queue.get()
        optimiser.param_groups[0]["lr"] = best * min(1, (step + 1) / 100) * (0.5 + 0.5 * np.cos(np.pi * share))
        batch = torch.from_numpy(pictures).permute(0, 3, 1, 2).float() / 255
        loss = loss_of(network(batch), torch.from_numpy(truths)[:, None].float() / 255)
        optimiser.zero_grad()
        loss.backward()
        optimiser.step()
        step += 1
        mean = 0.98 * mean + 0.02 * float(loss)
        if step % 100 == 0:
            print(f"{step} steps, {time.time() - started:.0f} s, loss {mean / (1 - 0.98**step):.3f}", flush=True)
        if time.time() - saved > 120:
            torch.save(network.state_dict(), given.out.with_suffix(".pt"))
            given.out.write_bytes(as_onnx(network))
            saved = time.time()
    torch.save(network.state_dict(), given.out.with_suffix(".pt"))
    given.out.write_bytes(as_onnx(network))


if __name__ == "__main__":
    main()
