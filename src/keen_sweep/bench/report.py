"""What a run of the benchmark says: means, ratios, a table, JSON, and a contact sheet for each case."""

from __future__ import annotations

import json
import re
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import cv2
import imagecodecs
import numpy as np

from keen_sweep.bench.cases import Case
from keen_sweep.bench.photographs import KEPT_BACK_KIND, PHOTOGRAPH_KIND
from keen_sweep.bench.run import FAST_NAME, FINE_NAME, Result
from keen_sweep.core.arrays import EightBit
from keen_sweep.core.box import box_of, whole

SCORE_NAMES = ("lswd", "swd", "gmsd", "sharp", "seam", "psnr", "ssim")


@dataclass(frozen=True)
class Line:
    """One case: our takes, best first; a fast take; and the references that ran."""

    name: str
    kind: str
    pixels: int
    ours: Result
    fast: Result | None
    references: tuple[Result, ...]

    def best_reference(self, score: str = "lswd") -> Result | None:
        return min(self.references, key=lambda r: r.scores[0][score], default=None)

    @property
    def rank_hit(self) -> bool:
        """Whether take 1 is the best of the takes by truth; takes that are as good count as best."""
        found = [take["lswd"] for take in self.ours.scores]
        return found[0] <= min(found) * 1.0001


def lines_of(measured: dict[str, Any]) -> list[Line]:
    """Lines from what as_json made of them, without the pictures."""
    out = []
    for case in measured["cases"]:
        results = [
            Result(name, (), tuple(found["seconds"]), found["megabytes"], tuple(found["takes"]), tuple(case["why"]))
            for name, found in case["methods"].items()
        ]
        ours = next(r for r in results if r.method == FINE_NAME)
        fast = next((r for r in results if r.method == FAST_NAME), None)
        others = tuple(r for r in results if r.method not in (FINE_NAME, FAST_NAME))
        out.append(Line(case["case"], case["kind"], case["pixels"], ours, fast, others))
    return out


def as_json(lines: list[Line]) -> dict[str, Any]:
    """Everything measured, and the summary."""
    cases = []
    for line in lines:
        results = [line.ours, *([line.fast] if line.fast else []), *line.references]
        cases.append(
            {
                "case": line.name,
                "kind": line.kind,
                "pixels": line.pixels,
                "why": line.ours.why,
                "methods": {
                    r.method: {"takes": r.scores, "seconds": r.seconds, "megabytes": r.memory} for r in results
                },
            }
        )
    return {"cases": cases, "summary": summary(lines), "by kind": by_kind(lines)}


def summary(lines: list[Line]) -> dict[str, Any]:
    """Means over the cases; ratios are to the single reference method with the best mean where it ran."""
    out: dict[str, Any] = {"cases": len(lines)}
    first = {s: _mean([line.ours.scores[0][s] for line in lines]) for s in SCORE_NAMES}
    out["take 1"] = first
    for score in ("lswd", "swd"):
        out[f"best of takes, {score}"] = _mean([min(t[score] for t in line.ours.scores) for line in lines])
    out["take 1 is the best"] = _mean([float(line.rank_hit) for line in lines if len(line.ours.scores) > 1])
    methods = {r.method for line in lines for r in line.references}
    out["references"] = {
        m: {s: _mean([r.scores[0][s] for line in lines for r in line.references if r.method == m]) for s in SCORE_NAMES}
        | {"cases": sum(r.method == m for line in lines for r in line.references)}
        for m in sorted(methods)
    }
    for score in ("lswd", "swd", "gmsd"):
        ran_everywhere = {m: f[score] for m, f in out["references"].items() if f["cases"] == len(lines)} or {
            m: f[score] for m, f in out["references"].items()
        }
        if ran_everywhere:
            best = min(ran_everywhere, key=lambda m: ran_everywhere[m])
            out[f"{score}, take 1 over {best}"] = first[score] / ran_everywhere[best]
            if score != "gmsd":
                out[f"{score}, best of takes over {best}"] = out[f"best of takes, {score}"] / ran_everywhere[best]
    beaten = []
    for line in lines:
        reference = line.best_reference()
        if reference is not None:
            beaten.append(float(line.ours.scores[0]["lswd"] < reference.scores[0]["lswd"]))
    out["better than every reference on lswd"] = _mean(beaten)
    slow = [(line.ours, r) for line in lines for r in line.references if r.method == "shift-map"]
    if slow:
        out["seconds, all takes over shift-map"] = _mean([o.seconds[-1] / max(r.seconds[-1], 1e-3) for o, r in slow])
        out["memory, over shift-map"] = _mean([o.memory / r.memory for o, r in slow])
    fast = [line for line in lines if line.fast]
    if fast:
        out["fast"] = {s: _mean([line.fast.scores[0][s] for line in fast if line.fast]) for s in SCORE_NAMES}
        out["seconds, fast over fine"] = _mean(
            [line.fast.seconds[-1] / line.ours.seconds[-1] for line in fast if line.fast]
        )
    return out


def by_kind(lines: list[Line]) -> dict[str, dict[str, Any]]:
    """The summary of the small cases, of the demo's, and of both halves of the photographs."""
    names = {KEPT_BACK_KIND: "photographs, kept back", PHOTOGRAPH_KIND: "photographs, looked at"}
    groups: dict[str, list[Line]] = {}
    for line in lines:
        groups.setdefault(names.get(line.kind, "other cases"), []).append(line)
    return {name: summary(group) for name, group in groups.items()}


def _mean(values: list[float]) -> float:
    return float(np.mean(values)) if values else float("nan")


def table(lines: list[Line]) -> str:
    """One row a case, in Markdown."""
    said = "case | pixels | lswd 1 / best | best reference | swd | gmsd | sharp | seam | psnr | s | s of shift-map | MB"
    head = f"| {said} |"
    rows = [head, "|---|---|---|---|---|---|---|---|---|---|---|---|"]
    for line in lines:
        one = line.ours.scores[0]
        best = min(t["lswd"] for t in line.ours.scores)
        reference = line.best_reference()
        other = f"{reference.scores[0]['lswd']:.2f} {reference.method}" if reference else "-"
        shift = next((f"{r.seconds[0]:.1f}" for r in line.references if r.method == "shift-map"), "-")
        rows.append(
            f"| {line.name} | {line.pixels:,} | {one['lswd']:.2f} / {best:.2f} | {other} | "
            f"{one['swd']:.2f} | {one['gmsd']:.3f} | "
            f"{one['sharp']:.2f} | {one['seam']:.2f} | {one['psnr']:.1f} | {line.ours.seconds[-1]:.1f} | {shift} | "
            f"{line.ours.memory:.0f} |"
        )
    return "\n".join(rows)


def write_json(lines: list[Line], file: Path) -> None:
    file.write_text(json.dumps(as_json(lines), indent=1) + "\n")


def sheet(case: Case, line: Line, most: int = 560) -> EightBit:
    """Photo with the mask's outline, truth, best reference and our takes side by side, round the mask."""
    box = box_of(case.mask)
    pad = max(24, max(box.width, box.height) // 8)
    box = box.grow(pad, whole(case.photo))
    outlined = case.photo[box.slices].copy()
    contours, _ = cv2.findContours(case.mask[box.slices].astype(np.uint8), cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
    cv2.drawContours(outlined, contours, -1, (255, 170, 0), 1)
    panels = [("photo", outlined), ("truth", case.truth[box.slices])]
    reference = line.best_reference()
    if reference:
        panels.append((f"{reference.method} {reference.scores[0]['lswd']:.2f}", reference.fills[0][box.slices]))
    for number, (fill, found) in enumerate(zip(line.ours.fills, line.ours.scores, strict=True), 1):
        panels.append((f"take {number}: {found['lswd']:.2f}", fill[box.slices]))
    scale = most / max(box.width, box.height)
    # Small crops are shown pixel for pixel or doubled, never smoothed up.
    scale = min(scale, 1.0) if scale < 1 else float(int(min(scale, 3)))
    size = (round(box.width * scale), round(box.height * scale))
    across = 3
    tall = size[1] + 26
    canvas = np.full((tall * -(-len(panels) // across), (size[0] + 6) * across, 3), 235, np.uint8)
    way = cv2.INTER_AREA if scale < 1 else cv2.INTER_NEAREST
    for k, (name, picture) in enumerate(panels):
        x, y = (k % across) * (size[0] + 6), (k // across) * tall
        canvas[y + 22 : y + 22 + size[1], x : x + size[0]] = cv2.resize(picture, size, interpolation=way)
        cv2.putText(canvas, name, (x + 4, y + 16), cv2.FONT_HERSHEY_SIMPLEX, 0.45, (20, 20, 20), 1, cv2.LINE_AA)
    return canvas


def sheet_name(case: str) -> str:
    """The file of a case's sheet."""
    return re.sub(r"[^a-z0-9]+", "-", case.lower()) + ".png"


def write_sheet(case: Case, line: Line, folder: Path) -> Path:
    file = folder / sheet_name(case.name)
    file.write_bytes(imagecodecs.png_encode(sheet(case, line)))
    return file
