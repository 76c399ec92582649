"""What routers are handed: the library of the running application."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Request

from keen_sweep.store.library import Library


def _library(request: Request) -> Library:
    library: Library = request.app.state.library
    return library


TheLibrary = Annotated[Library, Depends(_library)]
