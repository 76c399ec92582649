"""Models: which generative models may be used, where they are, and what they may cost."""

from __future__ import annotations

from pathlib import Path
from uuid import uuid4

from pydantic import BaseModel, Field, SecretStr
from sqlmodel import Session, col, select

from keen_sweep.core.errors import BadRequest, NotFound
from keen_sweep.core.sentences import sentence
from keen_sweep.remote.address import checked_address
from keen_sweep.settings import Settings
from keen_sweep.store.key_store import Keys
from keen_sweep.store.keys import keys_of
from keen_sweep.store.library import Library
from keen_sweep.store.tables import RegisteredModel
from keen_sweep.store.words import EventKind, ModelKind
from keen_sweep.studio.events import note


class ModelChange(BaseModel):
    """What changes about a model, None for what stays; a limit of 0 is none."""

    name: str | None = Field(default=None, max_length=500)
    place: str | None = Field(default=None, max_length=2_000)
    largest: int | None = Field(default=None, ge=0, le=8192)
    most_credits: float | None = Field(default=None, ge=0, le=1_000_000)
    for_auto: bool | None = None


def keys() -> Keys:
    """The keys of this user."""
    return keys_of(Settings().keys)


def models(library: Library) -> list[RegisteredModel]:
    """All models in the order in which they were registered."""
    with library.session() as session:
        return list(session.exec(select(RegisteredModel).order_by(col(RegisteredModel.id))))


def model_of(library: Library, model_id: int | None) -> RegisteredModel:
    """A model by its number. Raises NotFound."""
    with library.session() as session:
        return row_of(session, model_id)


def row_of(session: Session, model_id: int | None) -> RegisteredModel:
    found = session.get(RegisteredModel, model_id) if model_id is not None else None
    if found is None:
        raise NotFound(sentence("This model is not registered any more: choose another one."))
    return found


def _only(session: Session, name: str, model_id: int | None) -> None:
    """Raise BadRequest when another model has this name: takes tell by it what made them."""
    other = session.exec(select(RegisteredModel).where(RegisteredModel.name == name)).first()
    if other is not None and other.id != model_id:
        raise BadRequest(sentence("There is a model called {name} already.", name=name))


def register(library: Library, name: str, kind: ModelKind, place: str) -> RegisteredModel:
    """Register a model; whether it works is another question (try_model). Raises BadRequest if it is nowhere."""
    row = RegisteredModel(name=_named(name), kind=kind, place=_place(kind, place), key=uuid4().hex)
    with library.session() as session:
        _only(session, row.name, None)
        session.add(row)
        note(session, EventKind.MODELS)
        session.flush()
        return row


def change_model(library: Library, model_id: int, change: ModelChange) -> RegisteredModel:
    """Change name, place, limits, or whether auto may choose it. A service at another place is another one: its key is
    forgotten, so that it is sent to nobody whom it was not given for. Raises NotFound, BadRequest."""
    with library.session() as session:
        row = row_of(session, model_id)
        if change.name is not None:
            row.name = _named(change.name)
            _only(session, row.name, model_id)
        if change.place is not None:
            place = _place(row.kind, change.place)
            if place != row.place:
                keys().put(row.key, None)
                row.place, row.trial, row.trial_good, row.tried_at, row.left = place, None, None, None, None
        if change.largest is not None:
            row.largest = change.largest or None
        if change.most_credits is not None:
            row.most_credits = change.most_credits or None
        if change.for_auto is not None:
            row.for_auto = change.for_auto
        session.add(row)
        note(session, EventKind.MODELS)
        return row


def forget_model(library: Library, model_id: int) -> None:
    """Take a model off the list, with its key. Takes that it made stay. Raises NotFound."""
    with library.session() as session:
        row = row_of(session, model_id)
        keys().put(row.key, None)
        session.delete(row)
        note(session, EventKind.MODELS)


def set_key(library: Library, model_id: int, key: SecretStr | None) -> None:
    """Keep the key of a service, or forget it. Raises NotFound, BadRequest, LibraryTrouble."""
    row = model_of(library, model_id)
    if row.kind is not ModelKind.SERVICE:
        raise BadRequest(sentence("Only services have keys."))
    secret = key.get_secret_value().strip() if key else ""
    if any(not " " < letter <= "~" for letter in secret):
        raise BadRequest(sentence("A key is one word of plain letters, digits and signs."))
    keys().put(row.key, SecretStr(secret) if secret else None)
    with library.session() as session:
        note(session, EventKind.MODELS)


def _named(name: str) -> str:
    kept = " ".join(name.split())[:80]
    if not kept:
        raise BadRequest(sentence("A model needs a name."))
    return kept


def _place(kind: ModelKind, place: str) -> str:
    if kind is ModelKind.SERVICE:
        return checked_address(place)
    path = Path(place.strip()).expanduser()
    if not place.strip() or not path.is_absolute():
        raise BadRequest(sentence("Where is it? The whole path of the file or folder is wanted."))
    if not (path.is_file() if kind is ModelKind.ONNX else path.is_dir()):
        what = "file" if kind is ModelKind.ONNX else "folder"
        raise BadRequest(sentence("There is no {what} {path}.", what=what, path=path))
    return str(path)
