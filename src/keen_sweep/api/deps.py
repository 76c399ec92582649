"""What routers are handed: the library and the originals of the running application."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Request

from keen_sweep.store.library import Library
from keen_sweep.studio.cling import PiecesKept
from keen_sweep.studio.originals import Originals


def _library(request: Request) -> Library:
    library: Library = request.app.state.library
    return library


def _originals(request: Request) -> Originals:
    originals: Originals = request.app.state.originals
    return originals


def _pieces(request: Request) -> PiecesKept:
    pieces: PiecesKept = request.app.state.pieces
    return pieces


TheLibrary = Annotated[Library, Depends(_library)]
TheOriginals = Annotated[Originals, Depends(_originals)]
ThePieces = Annotated[PiecesKept, Depends(_pieces)]
