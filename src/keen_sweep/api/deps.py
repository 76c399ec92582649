"""What routers are handed: the library of the running application."""

from __future__ import annotations

import re
from typing import Annotated

from fastapi import Depends, Header, Request

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.studio.expected_revision import seen


def _library(request: Request) -> Library:
    library: Library = request.app.state.library
    return library


TheLibrary = Annotated[Library, Depends(_library)]


async def _seen(
    request: Request,
    if_match: Annotated[
        str | None,
        Header(
            alias="If-Match",
            max_length=200,
            description="the revision of the frame that was looked at, in quotes: an edit of a newer one is refused",
        ),
    ] = None,
) -> None:
    """Keep in mind which revisions of a frame will do. What is only read is read as it is."""
    if if_match is None or if_match.strip() == "*" or request.method == "GET":
        return
    if not re.fullmatch(r'\s*"\d{1,18}"\s*(,\s*"\d{1,18}"\s*)*', if_match):
        raise BadRequest(
            sentence('If-Match takes a revision in quotes, such as "17", or several of them with commas between.')
        )
    seen.set(frozenset(map(int, re.findall(r"\d+", if_match))))


# For requests that change a frame.
SEEN_REVISION = Depends(_seen)


def tag_of(revision: int) -> str:
    """The ETag of a frame at a revision."""
    return f'"{revision}"'
