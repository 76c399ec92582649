"""Requests under an idempotency key: done once, and answered again the same.

A row is reserved before the work begins, without a transaction that stays open: others can write while networks look
or takes are laid. The first thing that the work writes marks the row as begun in the same transaction, so that after a
kill it is known whether anything was done.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from threading import Lock
from typing import Any
from weakref import WeakValueDictionary

from sqlmodel import Session, col, delete

from keen_sweep.core.errors import BadRequest, Conflict
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.moment import now
from keen_sweep.store.tables import Answered
from keen_sweep.store.words import AnswerState

# How long an answer is kept.
ANSWER_LIFETIME = timedelta(days=1)


class _KeyLock:
    """A lock that can be kept weakly."""

    def __init__(self) -> None:
        self.lock = Lock()


_locks: WeakValueDictionary[tuple[str, str], _KeyLock] = WeakValueDictionary()
_locks_lock = Lock()


@contextmanager
def one_at_a_time(library: Library, key: str) -> Iterator[None]:
    """Let requests under one key wait for each other."""
    with _locks_lock:
        own = _locks.setdefault((str(library.database), key), _KeyLock())
    with own.lock:
        yield


def answer_to(library: Library, key: str, asked: str) -> Answered | None:
    """The answer that was given under a key; None if there is none, and the key is reserved from now on.

    Raises BadRequest where something else was asked under it, Conflict where the server stopped in the middle of it.
    """
    with library.session(write=True) as session:
        session.exec(delete(Answered).where(col(Answered.at) < now() - ANSWER_LIFETIME))
        found = session.get(Answered, key)
        if found is None:
            session.add(Answered(key=key, asked=asked, state=AnswerState.PENDING))
    if found is None:
        return None
    if found.asked != asked:
        raise BadRequest(sentence("This Idempotency-Key was used for another request: use a new one."))
    if found.state is AnswerState.BEGUN:
        raise Conflict(
            sentence(
                "The server stopped while this was being done, so part of it may be done. Look at what is there, and "
                "ask for the rest under another Idempotency-Key."
            )
        )
    return found if found.state is AnswerState.DONE else None


@contextmanager
def noted_when_written(library: Library, key: str) -> Iterator[None]:
    """Mark the request of a key as begun in the transaction of the first thing that this thread writes. An error frees
    the key: the same may be asked for again."""

    def mark(session: Session) -> None:
        row = session.get(Answered, key)
        if row is not None:
            row.state = AnswerState.BEGUN
            session.add(row)

    try:
        with library.at_first_write(mark):
            yield
    except BaseException:
        with library.session(write=True) as session:
            session.exec(delete(Answered).where(col(Answered.key) == key))
        raise


def keep_answer(library: Library, key: str, body: Any, place: str | None) -> None:
    """Keep the answer of a request that is done. place: where to look how far the work is."""
    with library.session(write=True) as session:
        row = session.get(Answered, key)
        if row is not None:
            row.state, row.body, row.place = AnswerState.DONE, body, place
            session.add(row)
