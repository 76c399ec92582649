"""Train the eye that tells, bit by bit, fills of ours from photographs, and how far off they are.

    python training/fills.py --root / --out /tmp/fills --count 2600
    python training/eye.py --fills /tmp/fills --out src/keen_sweep/core/fill/weave/eye.onnx --minutes 25

Two answers a cell of 8 x 8 pixels: how likely it was filled, and how far it is expected to be from what was there (the
distance that lswd takes in a window round it, which the network never sees). Photographs are parted by number: of every
eight examples one is held out, and what is printed at the end is of those.
"""

from __future__ import annotations

import argparse
import time
from pathlib import Path

import cv2
import numpy as np
import torch
from numpy.typing import NDArray
from onnx_writer import Writer
from torch import nn
from torch.nn import functional

from keen_sweep.core.patches import SIDE as PATCH
from keen_sweep.core.patches import unit_directions
from keen_sweep.core.review.scores import lab

CELL, CROP, GRID = 8, 144, 24
FloatMap = NDArray[np.float32]


class Eye(nn.Module):
    """(n, 4, H, W): red, green, blue from -.5 to .5 and the hole -> (n, 2, H / 8, W / 8)."""

    def __init__(self) -> None:
        super().__init__()
        sizes = [(4, 24, 2, 1), (24, 32, 2, 1), (32, 32, 1, 1), (32, 64, 2, 1), (64, 64, 1, 1), (64, 64, 1, 2)]
        sizes += [(64, 64, 1, 4), (64, 2, 1, 1)]
        self.layers = nn.ModuleList(nn.Conv2d(a, b, 3, stride=s, padding=d, dilation=d) for a, b, s, d in sizes)

    def forward(self, seen: torch.Tensor) -> torch.Tensor:
        for layer in self.layers[:-1]:
            seen = functional.relu(layer(seen))
        return self.layers[-1](seen)


def far_off(fill: NDArray[np.uint8], truth: NDArray[np.uint8], hole: NDArray[np.bool_]) -> FloatMap:
    """How far a fill is from the truth round every cell of the grid: the sliced distance of the patches of its hole
    pixels in a window of twice the grid, (H / GRID, W / GRID); not a number where there is no hole."""
    across = unit_directions(PATCH * PATCH * 3, 32)
    half = PATCH // 2
    rows, columns = np.nonzero(hole)
    placed = []
    for picture in (fill, truth):
        framed = cv2.copyMakeBorder(lab(picture), half, half, half, half, cv2.BORDER_REFLECT_101)
        view = np.lib.stride_tricks.sliding_window_view(framed, (PATCH, PATCH), axis=(0, 1))
        placed.append(view[rows, columns].reshape(len(rows), -1) @ across)
    size = hole.shape[0] // GRID
    out = np.full((size, size), np.nan, np.float32)
    for i in range(size):
        for j in range(size):
            top, left = i * GRID - GRID // 2, j * GRID - GRID // 2
            inside = (rows >= top) & (rows < top + 2 * GRID) & (columns >= left) & (columns < left + 2 * GRID)
            if inside.sum() > 24:
                out[i, j] = np.abs(np.sort(placed[0][inside], 0) - np.sort(placed[1][inside], 0)).mean()
    return out


class Examples:
    """All examples of a folder, with how far off each fill is."""

    def __init__(self, files: list[Path]) -> None:
        self.all = []
        for file in files:
            with np.load(file) as found:
                truth, hole, fills = found["truth"], found["hole"], found["fills"]
            off = np.stack([far_off(fill, truth, hole) for fill in fills])
            self.all.append((truth, hole, fills, off))

    def batch(self, random: np.random.Generator, count: int) -> tuple[torch.Tensor, ...]:
        """Triples of crops, photograph and two fills, of one place; the hole by cells; how far off the fills are."""
        seen, cells, offs = [], [], []
        while len(cells) < count:
            truth, hole, fills, off = self.all[random.integers(len(self.all))]
            rows, columns = np.nonzero(hole)
            at = random.integers(len(rows))
            y, x = (
                int(
                    np.clip(
                        (place[at] + random.integers(-40, 41) - CROP // 2) // GRID, 0, (hole.shape[0] - CROP) // GRID
                    )
                )
                for place in (rows, columns)
            )
            part = np.s_[y * GRID : y * GRID + CROP, x * GRID : x * GRID + CROP]
            gap = hole[part]
            if gap.mean() < 0.02:
                continue
            pair = random.choice(len(fills), 2, replace=False)
            turn, flip = int(random.integers(4)), bool(random.integers(2))
            gain, shift = random.uniform(0.75, 1.25, 3), random.uniform(-0.1, 0.1)

            def turned(plane: NDArray[np.generic], turn: int = turn, flip: bool = flip) -> NDArray[np.generic]:
                plane = np.rot90(plane, turn)
                return plane[:, ::-1] if flip else plane

            mask = turned(gap).astype(np.float32)[..., None]
            for picture in (truth, fills[pair[0]], fills[pair[1]]):
                tone = (turned(picture[part]) / 255 - 0.5) * gain + shift
                seen.append(np.dstack([tone.clip(-0.5, 0.5), mask]).transpose(2, 0, 1))
            cells.append(mask[..., 0].reshape(CROP // CELL, CELL, -1, CELL).mean((1, 3)))
            near = np.s_[y : y + CROP // GRID, x : x + CROP // GRID]
            offs.append(np.stack([turned(off[k][near]) for k in pair]))
        return tuple(torch.from_numpy(np.stack(each).astype(np.float32)) for each in (seen, cells, offs))


def loss_of(answer: torch.Tensor, cells: torch.Tensor, offs: torch.Tensor) -> torch.Tensor:
    """Which of the three is the photograph, cell by cell and as a whole; how far off the fills are; which is worse."""
    size = cells.shape[-1]
    answer = answer.reshape(-1, 3, 2, size, size)
    weight = (cells > 0.25).float()[:, None]
    said = answer[:, :, 0]
    wanted = torch.tensor([0.0, 1.0, 1.0]).reshape(1, 3, 1, 1).expand_as(said)
    each = functional.binary_cross_entropy_with_logits(said, wanted, reduction="none")
    total = (each * weight).sum() / (weight.sum() * 3 + 1)
    mean = (said * weight).sum((2, 3)) / (weight.sum((2, 3)) + 1e-3)
    total = total + functional.softplus(mean[:, :1] - mean[:, 1:]).mean()
    pooled = functional.avg_pool2d(answer[:, 1:, 1], GRID // CELL)
    there = torch.isfinite(offs)
    target = torch.log1p(torch.nan_to_num(offs))
    total = total + 2 * ((pooled - target).abs() * there).sum() / (there.sum() + 1)
    count = there.sum((2, 3)) + 1e-3
    off, guess = ((each * there).sum((2, 3)) / count for each in (target, pooled))
    apart = off[:, 0] - off[:, 1]
    said_apart = guess[:, 0] - guess[:, 1]
    return total + (functional.softplus(-4 * said_apart * apart.sign()) * (apart.abs() > 0.08)).mean()


def judge(eye: Eye, examples: Examples) -> str:
    """On whole examples: how often the photograph looks more real; and how good the fill is that each answer picks."""
    real, picks = [], {"filled": [], "off": [], "both": [], "mean": [], "best": []}
    for truth, hole, fills, off in examples.all:
        seen = np.stack([np.dstack([p / 255 - 0.5, hole]).transpose(2, 0, 1) for p in (truth, *fills)])
        with torch.no_grad():
            answer = eye(torch.from_numpy(seen.astype(np.float32))).numpy()
        weight = hole.reshape(hole.shape[0] // CELL, CELL, -1, CELL).mean((1, 3))
        filled, guess = ((answer[:, k] * weight).sum((1, 2)) / weight.sum() for k in (0, 1))
        true = np.array([np.nanmean(each) for each in off])
        real += [filled[0] < each for each in filled[1:]]
        picks["filled"].append(true[filled[1:].argmin()])
        picks["off"].append(true[guess[1:].argmin()])
        picks["both"].append(true[(guess[1:] + 0.1 * filled[1:]).argmin()])
        picks["mean"].append(true.mean())
        picks["best"].append(true.min())
    told = ", ".join(f"{name} {np.mean(values):.3f}" for name, values in picks.items())
    return f"photograph more real {np.mean(real):.3f}; picked: {told}"


def exported(eye: Eye) -> bytes:
    """The network as ONNX, weights in 16 bit."""
    writer, name = Writer(), "picture"
    for k, layer in enumerate(eye.layers):
        name = writer.layer(layer, name, f"layer{k}", relu=k + 1 < len(eye.layers))
    return writer.model("eye", ["picture", [1, 4, "height", "width"]], [name, [1, 2, "rows", "columns"]])


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--fills", required=True)
    parser.add_argument("--out", required=True)
    parser.add_argument("--minutes", type=float, default=25)
    asked = parser.parse_args()
    files = sorted(Path(asked.fills).glob("*.npz"))
    held = Examples(files[::8])
    examples = Examples([file for k, file in enumerate(files) if k % 8])
    print(len(examples.all), "to learn from,", len(held.all), "held out", flush=True)
    torch.manual_seed(0)
    eye, random = Eye(), np.random.default_rng(0)
    optimiser = torch.optim.AdamW(eye.parameters(), lr=1e-3, weight_decay=1e-3)
    until, step, mean, said = time.monotonic() + 60 * asked.minutes, 0, 0.0, time.monotonic()
    start = time.monotonic()
    while time.monotonic() < until:
        share = (time.monotonic() - start) / (until - start)
        for group in optimiser.param_groups:
            group["lr"] = 1e-3 * min(1.0, (step + 1) / 100) * 0.5 * (1 + np.cos(np.pi * share))
        seen, cells, offs = examples.batch(random, 12)
        loss = loss_of(eye(seen.reshape(-1, 4, CROP, CROP)), cells, offs)
        optimiser.zero_grad()
        loss.backward()
        optimiser.step()
        step, mean = step + 1, 0.98 * mean + 0.02 * loss.item()
        if time.monotonic() > said + 120:
            said = time.monotonic()
            print(step, f"{mean:.3f}", judge(eye, held), flush=True)
            Path(asked.out).write_bytes(exported(eye))
    print("held out:", judge(eye, held))
    Path(asked.out).write_bytes(exported(eye))


if __name__ == "__main__":
    main()
