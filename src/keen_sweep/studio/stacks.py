"""Stacks of revisions: written as what a revision changed, read once and kept, for a revision never changes."""

from __future__ import annotations

import contextlib
import json
import threading
from collections.abc import Iterable
from datetime import datetime
from typing import Any

from cachetools import LRUCache, cached
from sqlalchemy import text
from sqlmodel import Session, select

from keen_sweep.document.delta import differed, difference
from keen_sweep.document.stack import Stack
from keen_sweep.document.told import ToldStack
from keen_sweep.store.tables import Frame, Revision

# Fields that identify a version of a frame's picture.
VERSION_FIELDS = ("original", "format", "width", "height", "depth")
# Size of the cache in layers and shapes.
CACHED_STACK_SIZE = 200_000
# A revision and all revisions that it builds on, the nearest first.
ANCESTORS_QUERY = text(
    """
    WITH RECURSIVE line(base_id, stack, place) AS (
        SELECT base_id, stack, 0 FROM revision WHERE id = :revision
        UNION ALL
        SELECT revision.base_id, revision.stack, place + 1 FROM revision JOIN line ON revision.id = line.base_id
    )
    SELECT stack FROM line ORDER BY place
    """
)


def _size(stack: Stack) -> int:
    return 1 + len(stack.layers) + sum(len(sweep.mark.shapes) for sweep in stack.sweeps) + len(stack.guard)


def _known_by(session: Session, revision: Revision) -> tuple[str, int, datetime]:
    # The moment tells it from one of the same number that was taken back.
    return str(session.connection().engine.url), revision.id, revision.made_at


_kept: LRUCache[Any, Stack] = LRUCache(CACHED_STACK_SIZE, getsizeof=_size)
_turn = threading.Condition()


@cached(_kept, _known_by, condition=_turn)
def stack_of(session: Session, revision: Revision) -> Stack:
    """The stack of a revision."""
    documents = [json.loads(row[0]) for row in session.connection().execute(ANCESTORS_QUERY, {"revision": revision.id})]
    document = documents.pop()
    for each in reversed(documents):
        document = differed(document, each)
    return Stack.model_validate(document)


def documents_of(session: Session, frame_id: int, wanted: Iterable[int]) -> dict[int, ToldStack]:
    """The stacks of some revisions of a frame, as JSON; what is the same in several is shared by them."""
    query = select(Revision.id, Revision.base_id, Revision.stack).where(Revision.frame_id == frame_id)
    rows = {number: (base, stack) for number, base, stack in session.exec(query)}
    out: dict[int, ToldStack] = {}
    for each in wanted:
        line: list[int] = []
        at: int | None = each
        while at is not None and at not in out:
            line.append(at)
            at = rows[at][0]
        for number in reversed(line):
            base, stack = rows[number]
            out[number] = json.loads(stack) if base is None else differed(out[base], json.loads(stack))
    return out


def revised(session: Session, present: Revision | None, stack: Stack, frame: Frame, title: str) -> Revision:
    """A new revision of a frame as it is, with a stack, that came from another one if it is not the first.

    It is told by what differs, unless that would make more to read than the whole: so a history grows by what was done,
    and a stack is read from no more than twice its own size.
    """
    stack = stack.chosen()
    whole = stack.model_dump(mode="json")
    revision = Revision(
        frame_id=frame.id,
        title=title,
        stack=json.dumps(whole, separators=(",", ":")),
        version=frame.model_dump(include=set(VERSION_FIELDS)),
    )
    if present is not None:
        before = stack_of(session, present).model_dump(mode="json")
        change = json.dumps(difference(before, whole), separators=(",", ":"))
        revision.parent_id = present.id
        if present.told + len(change) < len(revision.stack):
            revision.base_id, revision.stack, revision.told = present.id, change, present.told + len(change)
    session.add(revision)
    session.flush()
    # One that is too large to be kept is read again when it is asked for.
    with _turn, contextlib.suppress(ValueError):
        _kept[_known_by(session, revision)] = stack
    return revision
