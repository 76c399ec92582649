"""Server-sent events: what changed, for every open window."""

from __future__ import annotations

import asyncio
import re
from collections.abc import AsyncIterator
from typing import Annotated

from fastapi import APIRouter, Header, Request
from sse_starlette import EventSourceResponse, ServerSentEvent
from starlette.concurrency import run_in_threadpool

from keen_sweep.api.deps import TheLibrary
from keen_sweep.api.desk.schemas import RunOut
from keen_sweep.api.events.schemas import News
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Run
from keen_sweep.store.words import EventKind
from keen_sweep.studio import events


class NewsStream(EventSourceResponse):
    """Server-sent events whose data are News."""

    media_type = "text/event-stream"


router = APIRouter(prefix="/api/events", tags=["events"])
POLL_SECONDS = 0.15
# No more digits than the database can hold, and ASCII digits only.
EVENT_NUMBER = re.compile("[0-9]{1,18}")


def _messages(library: Library, number: int) -> list[ServerSentEvent]:
    out = []
    found = events.after(library, number)
    newest_of_run = {event.run_id: event.id for event in found if event.kind is EventKind.RUN}
    for event in found:
        if event.kind is EventKind.RUN and newest_of_run[event.run_id] != event.id:
            continue  # progress that was overtaken already
        run = None
        if event.run_id is not None:
            with library.session() as session:
                row = session.get(Run, event.run_id)
                run = RunOut.of(row) if row else None
        news = News(kind=event.kind, shoot=event.shoot_id, frame=event.frame_id, run=run, window=event.window)
        out.append(ServerSentEvent(news.model_dump_json(), id=str(event.id)))
    return out


@router.get("", operation_id="listen", response_class=NewsStream, responses={200: {"model": News}})
async def listen(
    library: TheLibrary, request: Request, last_event_id: Annotated[str | None, Header()] = None
) -> NewsStream:
    """A stream of news; a window that reconnects hears what it missed."""
    asked = last_event_id or ""
    start = int(asked) if EVENT_NUMBER.fullmatch(asked) else await run_in_threadpool(events.latest, library)

    async def stream() -> AsyncIterator[ServerSentEvent]:
        number = start
        while not await request.is_disconnected():
            for message in await run_in_threadpool(_messages, library, number):
                number = int(message.id or number)
                yield message
            await asyncio.sleep(POLL_SECONDS)

    return NewsStream(stream(), ping=15)
