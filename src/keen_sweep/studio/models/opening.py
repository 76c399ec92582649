"""Open a model: the file, folder or service behind a registered one."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from keen_sweep.core.fill.model.facts import facts_path
from keen_sweep.core.fill.model.port import Model
from keen_sweep.core.progress import Progress, no_progress
from keen_sweep.core.sentences import sentence
from keen_sweep.remote.patience import Patience
from keen_sweep.settings import Settings
from keen_sweep.store.tables import RegisteredModel
from keen_sweep.store.words import ModelKind
from keen_sweep.studio.models.limited import Limited
from keen_sweep.studio.models.register import keys


def opened(row: RegisteredModel, tick: Progress = no_progress, patience: Patience | None = None) -> Limited:
    """The model itself, ready to paint. Raises ModelTrouble, BadRequest."""
    if row.kind is ModelKind.SERVICE:
        from keen_sweep.remote.adapter import ServiceModel

        seconds = Settings().service_seconds
        patience = patience or Patience(silence=seconds, transfer=seconds, first=min(0.5, seconds / 10))
        return Limited(ServiceModel(row.place, keys().get(row.key), patience, tick=tick), row.name, row.largest)
    return Limited(loaded(row.kind, Path(row.place), tick), row.name, row.largest)


_kept: tuple[tuple[ModelKind, Path, float], Model] | None = None


def loaded(kind: ModelKind, place: Path, tick: Progress = no_progress) -> Model:
    """A model out of a file or folder; the one used last stays in memory, since some take a minute to load."""
    global _kept  # noqa: PLW0603
    wanted = (kind, place, _stamp(place))
    if _kept is None or _kept[0] != wanted:
        tick(0.0, sentence("loading the model"))
        _kept = None
        _kept = (wanted, OPENERS_BY_KIND[kind](place))
    return _kept[1]


def _onnx_file(place: Path) -> Model:
    from keen_sweep.core.fill.model.onnx_file import OnnxModel

    return OnnxModel(place)


def _diffusers_folder(place: Path) -> Model:
    from keen_sweep.core.fill.model.diffusers_folder import DiffusersModel

    return DiffusersModel(place)


# Loads a model of each kind that is stored in a file or folder; runtimes are imported when they are needed.
OPENERS_BY_KIND: dict[ModelKind, Callable[[Path], Model]] = {
    ModelKind.ONNX: _onnx_file,
    ModelKind.DIFFUSERS: _diffusers_folder,
}


def _stamp(place: Path) -> float:
    """When a model was changed last: itself, or what is told of it beside it."""
    stamp = 0.0
    for each in (place, facts_path(place)):
        with suppress(OSError):
            stamp = max(stamp, each.stat().st_mtime)
    return stamp
