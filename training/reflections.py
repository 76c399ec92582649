"""Train the reflection network on made-up mixtures and write it as ONNX.

A picture is mixed with the soft, faint image of another, as a pane of glass mixes them; the network sees all of it in
small and learns what was added. Half of what it sees has no reflection at all, so that it learns to find none.
"""

from __future__ import annotations

import argparse
import multiprocessing
import time
from itertools import pairwise
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import torch
from drawn import _scene, photographs
from numpy.typing import NDArray
from onnx_writer import Writer
from torch import nn
from torch.nn import functional

# Side of a picture that is learned from, pixels, and how many at a time.
SIDE = 256
BATCH = 8
# The light that was added is told so many times smaller.
SCALE = 8
Floats = NDArray[np.float32]


class Reflections(nn.Module):
    """(N, 3, 256, 256) of 0 to 1 to the light that was added, (N, 3, 32, 32), at a tenth of its strength."""

    def __init__(self) -> None:
        super().__init__()
        wide = (20, 40, 64, 96)
        self.first = nn.ModuleList([nn.Conv2d(12, wide[0], 3, padding=1), nn.Conv2d(wide[0], wide[0], 3, padding=1)])
        steps = pairwise(wide)
        self.down = nn.ModuleList(
            [nn.ModuleList([nn.Conv2d(a, b, 3, 2, padding=1), nn.Conv2d(b, b, 3, padding=1)]) for a, b in steps]
        )
        self.wide = nn.ModuleList([nn.Conv2d(wide[3], wide[3], 3, padding=d, dilation=d) for d in (1, 2, 4, 8, 2)])
        self.up = nn.Conv2d(wide[3] + wide[2], wide[2], 3, padding=1)
        self.last = nn.Conv2d(wide[2], 3, 3, padding=1)

    def forward(self, picture: torch.Tensor) -> torch.Tensor:
        x = functional.pixel_unshuffle(picture - 0.5, 2)
        for layer in self.first:
            x = functional.relu(layer(x))
        kept = []
        for stage in self.down:
            for layer in stage:
                x = functional.relu(layer(x))
            kept.append(x)
        for layer in self.wide:
            x = x + functional.relu(layer(x))
        x = functional.relu(self.up(torch.cat([functional.interpolate(x, scale_factor=2, mode="nearest"), kept[1]], 1)))
        return self.last(x)


def _picture(random: np.random.Generator, photos: list[NDArray[np.uint8]]) -> Floats:
    """A photograph or scene in small, 0 to 1, cut and coloured at random."""
    if random.random() < 0.15:
        picture: NDArray[Any] = _scene(random, SIDE) / 255
    else:
        photo = photos[int(random.integers(len(photos)))]
        share = random.uniform(0.45, 1.0)
        tall, wide = (max(int(photo.shape[k] * share * random.uniform(0.8, 1)), 32) for k in (0, 1))
        y, x = int(random.integers(photo.shape[0] - tall + 1)), int(random.integers(photo.shape[1] - wide + 1))
        crop = np.ascontiguousarray(photo[y : y + tall, x : x + wide])
        picture = cv2.resize(crop, (SIDE, SIDE), interpolation=cv2.INTER_AREA) / np.float32(255)
    if random.random() < 0.5:
        picture = picture[:, ::-1]
    picture = picture.clip(0, 1) ** random.uniform(0.7, 1.5) * random.uniform(0.75, 1.0) * random.uniform(0.92, 1.08, 3)
    if random.random() < 0.2:
        picture = picture * 0.9 + random.uniform(0, 0.06)
    return np.ascontiguousarray(picture.clip(0, 1), np.float32)


def mixture(random: np.random.Generator, photos: list[NDArray[np.uint8]]) -> tuple[Floats, Floats]:
    """A picture (SIDE, SIDE, 3) of 0 to 1, and the light that was added to it, an eighth the size."""
    picture = _picture(random, photos)
    added = np.zeros_like(picture)
    if random.random() < 0.6:
        added = cv2.GaussianBlur(_picture(random, photos), (0, 0), random.uniform(1.2, 5)) * random.uniform(0.1, 0.5)
        if random.random() < 0.3:
            fade = cv2.GaussianBlur(random.random((SIDE, SIDE)).astype(np.float32), (0, 0), 40)
            fade = (fade - fade.min()) / max(float(np.ptp(fade)), 1e-6)
            added = added * np.clip(fade * 2.5 - 0.4, 0, 1)[..., None]
        picture = picture * random.choice([1.0, 1.0, random.uniform(0.7, 1.0)])
        mixed = (picture + added).clip(0, 1)
        added = np.minimum(added, mixed)
        picture = mixed
    picture = (picture + random.normal(0, random.uniform(0, 0.012), picture.shape)).clip(0, 1).astype(np.float32)
    small = cv2.resize(np.ascontiguousarray(added), (SIDE // SCALE, SIDE // SCALE), interpolation=cv2.INTER_AREA)
    return picture, np.asarray(small, np.float32)


def mix(queue: multiprocessing.Queue[Any], seed: int) -> None:
    cv2.setNumThreads(1)
    random, photos = np.random.default_rng(seed), photographs()
    while True:
        made = [mixture(random, photos) for _ in range(BATCH)]
        queue.put((np.stack([m[0] for m in made]), np.stack([m[1] for m in made])))


def loss_of(found: torch.Tensor, truth: torch.Tensor) -> torch.Tensor:
    """How far the light is off, and its differences between neighbours, which matter most to the eye."""
    off = found - truth
    across, down = off[..., 1:] - off[..., :-1], off[..., 1:, :] - off[..., :-1, :]
    return off.abs().mean() + 0.5 * (across.abs().mean() + down.abs().mean())


def as_onnx(network: Reflections) -> bytes:
    w = Writer()
    w.add("Sub", ["picture", w.constant("middle", np.array(0.5, np.float32))], "centred")
    x = w.blocks("centred")
    for k, layer in enumerate(network.first):
        x = w.layer(layer, x, f"first{k}")
    kept = []
    for s, stage in enumerate(network.down):
        for k, layer in enumerate(stage):
            x = w.layer(layer, x, f"down{s}.{k}")
        kept.append(x)
    for k, layer in enumerate(network.wide):
        x = w.add("Add", [x, w.layer(layer, x, f"wide{k}")], f"wide{k}.sum")
    x = w.layer(network.up, w.add("Concat", [w.twice(x, "twice"), kept[1]], "joined", axis=1), "up")
    w.add(
        "Mul", [w.layer(network.last, x, "last", relu=False), w.constant("tenth", np.array(0.1, np.float32))], "added"
    )
    return w.model("reflections", [("picture", [1, 3, SIDE, SIDE])], ["added", [1, 3, SIDE // SCALE, SIDE // SCALE]])


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--out", type=Path, required=True)
    parser.add_argument("--minutes", type=float, default=30)
    parser.add_argument("--seed", type=int, default=0)
    parser.add_argument("--threads", type=int, default=2)
    given = parser.parse_args()
    torch.manual_seed(given.seed)
    torch.set_num_threads(given.threads)
    context = multiprocessing.get_context("fork")
    queue = context.Queue(maxsize=6)
    context.Process(target=mix, args=(queue, given.seed), daemon=True).start()
    network = Reflections()
    optimiser = torch.optim.AdamW(network.parameters(), lr=1e-3, weight_decay=1e-3)
    started, step, mean = time.time(), 0, 0.0
    while (share := (time.time() - started) / 60 / given.minutes) < 1:
        pictures, truths = queue.get()
        optimiser.param_groups[0]["lr"] = 1.5e-3 * min(1, (step + 1) / 100) * (0.5 + 0.5 * np.cos(np.pi * share))
        batch = torch.from_numpy(pictures).permute(0, 3, 1, 2)
        loss = loss_of(network(batch), torch.from_numpy(truths).permute(0, 3, 1, 2) * 10)
        optimiser.zero_grad()
        loss.backward()
        optimiser.step()
        step += 1
        mean = 0.98 * mean + 0.02 * float(loss.detach())
        if step % 100 == 0:
            print(f"{step} steps, {time.time() - started:.0f} s, loss {mean / (1 - 0.98**step):.3f}", flush=True)
            given.out.write_bytes(as_onnx(network))
    given.out.write_bytes(as_onnx(network))


if __name__ == "__main__":
    main()
