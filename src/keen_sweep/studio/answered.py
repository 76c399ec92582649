"""Answers that are kept for whoever asks again under the same key."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from sqlmodel import col, delete

from keen_sweep.core.errors import BadRequest
from keen_sweep.store.library import Library
from keen_sweep.store.moment import now
from keen_sweep.store.tables import Answered

KEPT = timedelta(days=1)


def answer_to(library: Library, key: str, asked: str) -> Answered | None:
    """The answer that was given under a key, if one was. Raises BadRequest where something else was asked under it."""
    with library.session(write=True) as session:
        session.exec(delete(Answered).where(col(Answered.at) < now() - KEPT))
        found = session.get(Answered, key)
    if found is not None and found.asked != asked:
        raise BadRequest("Something else was asked for under this Idempotency-Key: take another one.")
    return found


def keep_answer(library: Library, key: str, asked: str, body: Any, place: str | None) -> None:
    """Keep an answer, in the transaction of what was done. place: where to look how far that is."""
    with library.session(write=True) as session:
        session.add(Answered(key=key, asked=asked, body=body, place=place))
