"""A model in a folder of the diffusers format: networks, a tokenizer, a scheduler, and a list of them.

Only weights in the safetensors format are read: other files could run code. Nothing is ever fetched.
"""

from __future__ import annotations

import hashlib
import inspect
import json
import os
import warnings
from pathlib import Path
from typing import Any

import numpy as np

from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.errors import Cancelled, ModelTrouble, Remedy
from keen_sweep.core.fill.model.onnx_file import file_hash
from keen_sweep.core.fill.model.port import DEFAULT_MAX_SIDE_PX, ModelFacts, Paid, Painting, Wish, no_payment
from keen_sweep.core.methods.seam import membrane
from keen_sweep.core.progress import Progress, no_progress
from keen_sweep.core.sentences import sentence

# Prompt for an empty hint.
DEFAULT_PROMPT = "background"
OFFLINE_ENVIRONMENT = {
    "HF_HUB_OFFLINE": "1",
    "HF_HUB_DISABLE_TELEMETRY": "1",
    "HF_HUB_DISABLE_PROGRESS_BARS": "1",
    "DIFFUSERS_VERBOSITY": "error",
    "TRANSFORMERS_VERBOSITY": "error",
}


def folder_hash(folder: Path) -> str:
    """SHA-256 of all files of a folder and their names.

    Parameters
    ----------
    folder : Path
        The folder.

    Returns
    -------
    str
        Hexadecimal digits.
    """
    lines = [f"{file.relative_to(folder)} {file_hash(file)}" for file in sorted(folder.rglob("*")) if file.is_file()]
    return hashlib.sha256("\n".join(lines).encode()).hexdigest()


class DiffusersModel:
    """A model in a folder in the diffusers format.

    Parameters
    ----------
    folder : Path
        The folder.
    """

    def __init__(self, folder: Path) -> None:
        if not (folder / "model_index.json").is_file():
            raise ModelTrouble(
                sentence(
                    "{folder} is not a folder in the diffusers format: model_index.json is missing.", folder=folder
                )
            )
        # Libraries that would look for newer files elsewhere must not.
        os.environ.update(OFFLINE_ENVIRONMENT)
        try:
            with warnings.catch_warnings():
                warnings.simplefilter("ignore")
                import torch
                from diffusers import AutoPipelineForInpainting
                from diffusers.utils import logging
        except ImportError as error:
            raise ModelTrouble(
                sentence(
                    "Folders in the diffusers format need {package}: install the extra keen-sweep[diffusers].",
                    package=error.name or "diffusers",
                )
            ) from error
        logging.disable_progress_bar()
        self._torch: Any = torch
        device = "cuda" if torch.cuda.is_available() else "cpu"
        try:
            with warnings.catch_warnings():
                warnings.simplefilter("ignore")
                self._pipeline: Any = AutoPipelineForInpainting.from_pretrained(
                    str(folder),
                    local_files_only=True,
                    use_safetensors=True,
                    torch_dtype=torch.float16 if device == "cuda" else torch.float32,
                ).to(device)
        except (OSError, ValueError, TypeError, AttributeError, KeyError, ImportError, RuntimeError) as error:
            first = str(error).strip().splitlines()[0] if str(error).strip() else type(error).__name__
            raise ModelTrouble(
                sentence("{name} cannot be loaded as an inpainting pipeline: {first}", name=folder.name, first=first)
            ) from error
        self._pipeline.set_progress_bar_config(disable=True)
        self._takes = set(inspect.signature(self._pipeline.__call__).parameters)
        self.name = folder.name
        self.multiple = int(getattr(self._pipeline, "vae_scale_factor", 8))
        network = getattr(self._pipeline, "unet", None) or getattr(self._pipeline, "transformer", None)
        sample = getattr(getattr(network, "config", None), "sample_size", None)
        self.side: int | None = sample * self.multiple if isinstance(sample, int) else DEFAULT_MAX_SIDE_PX
        self.most = self.side
        kind = json.loads((folder / "model_index.json").read_text()).get("_class_name", "")
        self.facts = ModelFacts(kind="diffusers", pipeline=kind, sha256=folder_hash(folder))

    def paint(
        self, picture: EightBit, hole: Bools, wish: Wish, tick: Progress = no_progress, paid: Paid = no_payment
    ) -> Painting:
        """See Model. The same wish gives the same painting on the same device."""
        from PIL import Image

        # As pipelines count the steps that are left below full strength.
        steps = max(int(wish.knobs.steps * wish.knobs.strength), 1)

        def after(_pipeline: object, step: int, _time: object, kept: dict[str, object]) -> dict[str, object]:
            tick(
                min((step + 1) / steps, 1.0), sentence("step {step} of {steps}", step=min(step + 1, steps), steps=steps)
            )
            return kept

        given = {
            "prompt": wish.hint or DEFAULT_PROMPT,
            "negative_prompt": wish.avoid or None,
            "image": Image.fromarray(_without(picture, hole) if wish.knobs.strength < 1 else picture),
            "mask_image": Image.fromarray(np.where(hole, 255, 0).astype(np.uint8)),
            "height": picture.shape[0],
            "width": picture.shape[1],
            "num_inference_steps": max(wish.knobs.steps, 2),
            "guidance_scale": wish.knobs.guidance,
            "strength": max(wish.knobs.strength, 1 / max(wish.knobs.steps, 2)),
            "generator": self._torch.Generator("cpu").manual_seed(wish.seed),
            "output_type": "np",
            "callback_on_step_end": after,
        }
        try:
            out = self._pipeline(**{name: value for name, value in given.items() if name in self._takes}).images[0]
        except Cancelled:
            raise
        except (RuntimeError, ValueError, TypeError, IndexError) as error:
            remedy: Remedy | None = "smaller" if "out of memory" in str(error).lower() else None
            raise ModelTrouble(
                sentence("{name} broke off: {reason}", name=self.name, reason=str(error).strip().splitlines()[0]),
                remedy,
            ) from error
        out = np.asarray(out, np.float32)
        if out.shape != picture.shape or not np.isfinite(out).all():
            raise ModelTrouble(
                sentence(
                    "{name} returned something that is not a picture of {size}.",
                    name=self.name,
                    size=picture.shape[1::-1],
                )
            )
        return Painting(np.asarray(np.rint(out * 255).clip(0, 255), np.uint8))


def _without(picture: EightBit, hole: Bools) -> EightBit:
    """A picture (h, w, 3) with its hole (h, w) filled smoothly: below full strength a model starts from what the hole
    shows, which must not be the thing that goes."""
    if hole.all():
        return picture
    planes = [membrane(picture[..., k].astype(np.float32), hole) for k in range(3)]
    return np.asarray(np.rint(np.stack(planes, axis=-1)).clip(0, 255), np.uint8)
