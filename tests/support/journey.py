"""A photographer's journey over HTTP, for whoever disturbs it: each step on its own, and what there is to be lost."""

from __future__ import annotations

import itertools
from pathlib import Path
from typing import Any

import httpx
import imagecodecs
import numpy as np

from keen_sweep.store.words import BUSY_STATES, RunState
from tests.support.waiting import PATIENCE, until

WAITS = {RunState.WAITING.value, *(each.value for each in BUSY_STATES)}


def picture(seed: int, scale: int = 16) -> bytes:
    """A PNG of coarse patches, 18 x 12 of them."""
    coarse = np.random.default_rng(seed).integers(0, 255, (12, 18, 3)).astype(np.uint8)
    return bytes(imagecodecs.png_encode(np.ascontiguousarray(coarse.repeat(scale, 0).repeat(scale, 1))))


def noise(seed: int, side: int) -> bytes:
    """A PNG that cannot be packed: so many bytes a pixel as it has channels."""
    pixels = np.random.default_rng(seed).integers(0, 255, (side, side, 3)).astype(np.uint8)
    return bytes(imagecodecs.png_encode(pixels))


class Journey:
    """A shoot with one picture, a mark in it, takes of that, and a pick."""

    def __init__(self, address: str) -> None:
        self.client = httpx.Client(base_url=address, timeout=PATIENCE)
        # Of pictures that nobody has sent yet.
        self.seeds = itertools.count(2)
        self.original = picture(1)
        self.shoot = self._made("/api/shoots", json={"name": "Disturbed"})["id"]
        self.frame = self.upload(self.original, "first.png").raise_for_status().json()["id"]
        self.here = f"/api/frames/{self.frame}"
        self.sweep = self.mark(60).raise_for_status().json()["sweep_id"]
        self.fill().raise_for_status()
        until(lambda: len(self.desk()["sweeps"][0]["takes"]) > 0 and not self.busy())
        self.pick().raise_for_status()

    def upload(self, data: bytes, name: str) -> httpx.Response:
        return self.client.post(f"/api/shoots/{self.shoot}/frames", params={"name": name}, content=data)

    def mark(self, x: float, length: int = 4) -> httpx.Response:
        points = [[x, 20 + 40 * k / length] for k in range(length)]
        shape = {"kind": "stroke", "points": points, "size": 8, "softness": 0, "erase": False}
        return self.client.post(f"{self.here}/sweeps", json={"shapes": [shape]})

    def fill(self) -> httpx.Response:
        body = {"takes": 1, "quality": "fast"}
        return self.client.post(f"{self.here}/sweeps/{self.sweep}/fill", json=body)

    def pick(self) -> httpx.Response:
        take = self.desk()["sweeps"][0]["takes"][0]["id"]
        return self.client.patch(f"{self.here}/sweeps/{self.sweep}", json={"pick": take})

    def touch(self) -> httpx.Response:
        stroke = {"kind": "stroke", "points": [[150, 100], [170, 110]], "size": 10, "softness": 0, "erase": False}
        return self.client.post(f"{self.here}/touches", json={"brush": "heal", "stroke": stroke})

    def deliver(self, folder: Path) -> httpx.Response:
        return self.client.post(f"{self.here}/delivery", json={"folder": str(folder), "over": True})

    def undo(self) -> httpx.Response:
        return self.client.post(f"{self.here}/undo")

    def desk(self) -> dict[str, Any]:
        return dict(self.client.get(self.here).raise_for_status().json())

    def work(self) -> dict[str, Any]:
        """What there is to be lost, as the desk tells it."""
        told = self.desk()
        sweeps = [{key: each[key] for key in ("id", "name", "pick", "shapes")} for each in told["sweeps"]]
        takes = {take["id"] for each in told["sweeps"] for take in each["takes"]}
        return {"sweeps": sweeps, "takes": takes}

    def busy(self) -> bool:
        runs = (each["run"] for each in self.desk()["sweeps"])
        return any(run is not None and run["state"] in WAITS for run in runs)

    def _made(self, path: str, **given: Any) -> dict[str, Any]:
        return dict(self.client.post(path, **given).raise_for_status().json())
