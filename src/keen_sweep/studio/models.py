"""Models: which generative models may be used, where they are, what they may cost, and whether they work."""

from __future__ import annotations

import multiprocessing
import time
from concurrent.futures import BrokenExecutor, ProcessPoolExecutor
from pathlib import Path
from typing import Any, Literal
from uuid import uuid4

import numpy as np
from pydantic import SecretStr
from sqlmodel import Session, col, select

from keen_sweep.core.errors import BadRequest, KeenSweepError, ModelTrouble, NotFound
from keen_sweep.core.fill.model.address import checked_address
from keen_sweep.core.fill.model.engine import ModelEngine
from keen_sweep.core.fill.model.exchange import Patience
from keen_sweep.core.fill.model.limited import Limited
from keen_sweep.core.fill.model.port import Model, Tick, unticked
from keen_sweep.core.fill.model.service import ServiceModel
from keen_sweep.core.fill.protocol import Order
from keen_sweep.settings import Settings
from keen_sweep.store.keys import Keys
from keen_sweep.store.library import Library
from keen_sweep.store.tables import RegisteredModel, now
from keen_sweep.studio.events import note

ModelKind = Literal["onnx", "diffusers", "service"]
# The side of the picture on which a model is tried, pixels.
TRIAL = 128
# Some models take minutes to load.
TRIAL_SECONDS = 600


def keys() -> Keys:
    """The keys of this user."""
    return Keys(Settings().keys)


def models(library: Library) -> list[RegisteredModel]:
    """All models in the order in which they were registered."""
    with library.session() as session:
        return list(session.exec(select(RegisteredModel).order_by(col(RegisteredModel.id))))


def model_of(library: Library, model_id: int | None) -> RegisteredModel:
    """A model by its number. Raises NotFound."""
    with library.session() as session:
        return _row(session, model_id)


def _row(session: Session, model_id: int | None) -> RegisteredModel:
    found = session.get(RegisteredModel, model_id) if model_id is not None else None
    if found is None:
        raise NotFound("This model is not registered any more: choose another one.")
    return found


def _only(session: Session, name: str, model_id: int | None) -> None:
    """Raise BadRequest when another model has this name: takes tell by it what made them."""
    other = session.exec(select(RegisteredModel).where(RegisteredModel.name == name)).first()
    if other is not None and other.id != model_id:
        raise BadRequest(f"There is a model called {name} already.")


def register(library: Library, name: str, kind: ModelKind, place: str) -> RegisteredModel:
    """Register a model; whether it works is another question (try_model). Raises BadRequest if it is nowhere."""
    row = RegisteredModel(name=_named(name), kind=kind, place=_place(kind, place), key=uuid4().hex)
    with library.session() as session:
        _only(session, row.name, None)
        session.add(row)
        note(session, "models")
        session.flush()
        return row


def change_model(library: Library, model_id: int, changes: dict[str, Any]) -> RegisteredModel:
    """Change name, place, limits, or whether auto may choose it. A service at another place is another one: its key is
    forgotten, so that it is sent to nobody whom it was not given for. Raises NotFound, BadRequest."""
    with library.session() as session:
        row = _row(session, model_id)
        if "name" in changes:
            row.name = _named(changes.pop("name"))
            _only(session, row.name, model_id)
        if "place" in changes:
            place = _place(row.kind, changes.pop("place"))
            if place != row.place:
                keys().put(row.key, None)
                row.place, row.trial, row.trial_good, row.tried_at, row.left = place, None, None, None, None
        for name, value in changes.items():
            setattr(row, name, value)
        session.add(row)
        note(session, "models")
        return row


def forget_model(library: Library, model_id: int) -> None:
    """Take a model off the list, with its key. Takes that it made stay. Raises NotFound."""
    with library.session() as session:
        row = _row(session, model_id)
        keys().put(row.key, None)
        session.delete(row)
        note(session, "models")


def set_key(library: Library, model_id: int, key: SecretStr | None) -> None:
    """Keep the key of a service, or forget it. Raises NotFound, BadRequest, LibraryTrouble."""
    row = model_of(library, model_id)
    if row.kind != "service":
        raise BadRequest("Only services have keys.")
    told = key.get_secret_value().strip() if key else ""
    if any(not " " < letter <= "~" for letter in told):
        raise BadRequest("A key is one word of plain letters, digits and signs.")
    keys().put(row.key, SecretStr(told) if told else None)
    with library.session() as session:
        note(session, "models")


def opened(row: RegisteredModel, tick: Tick = unticked, patience: Patience | None = None) -> Limited:
    """The model itself, ready to paint. Raises ModelTrouble, BadRequest."""
    if row.kind == "service":
        seconds = Settings().service_seconds
        patience = patience or Patience(transfer=seconds, first=min(0.5, seconds / 10))
        return Limited(ServiceModel(row.place, keys().get(row.key), patience, tick=tick), row.name, row.largest)
    return Limited(_loaded(row.kind, Path(row.place), _stamp(Path(row.place)), tick), row.name, row.largest)


_kept: tuple[tuple[str, Path, float], Model] | None = None


def _loaded(kind: str, place: Path, stamp: float, tick: Tick) -> Model:
    """A model out of a file or folder; the one used last stays in memory, since some take a minute to load."""
    global _kept  # noqa: PLW0603
    wanted = (kind, place, stamp)
    if _kept is None or _kept[0] != wanted:
        tick(0.0, "loading the model")
        _kept = None
        if kind == "onnx":
            from keen_sweep.core.fill.model.onnx_file import OnnxModel

            _kept = (wanted, OnnxModel(place))
        else:
            from keen_sweep.core.fill.model.diffusers_folder import DiffusersModel

            _kept = (wanted, DiffusersModel(place))
    return _kept[1]


def _stamp(place: Path) -> float:
    try:
        return place.stat().st_mtime
    except OSError:
        return 0.0


def try_model(library: Library, model_id: int, fill: bool) -> RegisteredModel:
    """See whether a model works, and keep what came back in words. A service is only asked how it is unless it is to
    fill, which it charges for; the others always fill, in a process of their own: a file may take much memory, or
    the process down with it. Raises NotFound."""
    row = model_of(library, model_id)
    left = None
    try:
        if row.kind == "service":
            model = opened(row)
            service = model.service
            assert service is not None
            left = service.credits()
            words = _tried(model) if fill else _asked(service, left)
            left = service.left
            service.close()
        else:
            words = _tried_apart(row)
        good = True
    except KeenSweepError as error:
        words, good = str(error), False
    with library.session() as session:
        row = _row(session, model_id)
        row.trial, row.trial_good, row.tried_at = words, good, now()
        row.left = left if left is not None else row.left
        session.add(row)
        note(session, "models")
        return row


def _asked(service: ServiceModel, left: float) -> str:
    quote = service.quote(TRIAL, TRIAL)
    return (
        f"It answers as {service.about.name}, paints up to {service.about.most} px. {in_credits(left)} left; "
        f"a test fill costs {in_credits(quote.credits)}."
    )


def _tried_apart(row: RegisteredModel) -> str:
    """A tiny fill by a file or folder, in a process of its own. Raises ModelTrouble."""
    context = multiprocessing.get_context("spawn")
    with ProcessPoolExecutor(1, mp_context=context) as executor:
        try:
            words, good = executor.submit(_trial, row.kind, row.place, row.name, row.largest).result(TRIAL_SECONDS)
        except BrokenExecutor:
            raise ModelTrouble(f"{row.name} brought its process down: perhaps there is not enough memory.") from None
        except TimeoutError:
            for process in list((executor._processes or {}).values()):
                process.terminate()
            raise ModelTrouble(f"{row.name} has not made a tiny fill in {TRIAL_SECONDS} s.") from None
    if not good:
        raise ModelTrouble(words)
    return words


def _trial(kind: str, place: str, name: str, largest: int | None) -> tuple[str, bool]:
    """What a process of its own does for a trial: what came back, and whether it is good."""
    try:
        return _tried(opened(RegisteredModel(name=name, kind=kind, place=place, largest=largest, key=""))), True
    except KeenSweepError as error:
        return str(error), False


def _tried(model: Model) -> str:
    """Fill a tiny made-up picture and say what came back."""
    random = np.random.default_rng(7)
    ground = 120 + 20 * np.sin(np.arange(TRIAL) / 6)[:, None, None] + random.normal(0, 9, (TRIAL, TRIAL, 3))
    picture = ground.clip(0, 255).astype(np.uint8)
    mask = np.zeros((TRIAL, TRIAL), np.uint8)
    mask[TRIAL // 3 : TRIAL // 2, TRIAL // 3 : TRIAL // 2] = 255
    clock = time.perf_counter()
    (take,) = ModelEngine(model).fill(Order(below=picture, mask=mask, takes=1))
    size = f"{model.side} x {model.side} px" if model.side else f"up to {model.most} px"
    cost = take.parameters["credits"]
    paid = f" It cost {in_credits(cost)}." if cost else ""
    return f"It works at {size}; a tiny fill took {time.perf_counter() - clock:.1f} s.{paid}"


def in_credits(credits: float) -> str:
    """An amount in words."""
    return f"{credits:g} credit{'' if credits == 1 else 's'}"


def _named(name: str) -> str:
    kept = " ".join(name.split())[:80]
    if not kept:
        raise BadRequest("A model needs a name.")
    return kept


def _place(kind: str, place: str) -> str:
    if kind == "service":
        return checked_address(place)
    path = Path(place.strip()).expanduser()
    if not place.strip() or not path.is_absolute():
        raise BadRequest("Where is it? The whole path of the file or folder is wanted.")
    if not (path.is_file() if kind == "onnx" else path.is_dir()):
        what = "file" if kind == "onnx" else "folder"
        raise BadRequest(f"There is no {what} {path}.")
    return str(path)
