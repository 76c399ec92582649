"""Every error in one shape: problem details for HTTP APIs (RFC 9457)."""

from __future__ import annotations

import errno
from collections.abc import Mapping
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from sqlalchemy.exc import OperationalError
from starlette.exceptions import HTTPException

from keen_sweep.core import errors
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.log import trouble


class Problem(BaseModel):
    """What went wrong, for people in detail, and what helps, if anything does."""

    type: str
    title: str
    status: int
    detail: str
    remedy: errors.Remedy | None = None


PROBLEM_RESPONSES: dict[int | str, dict[str, object]] = {
    "default": {"description": "A problem (RFC 9457)", "model": Problem},
}


def problem(status: int, kind: str, title: str, detail: str, remedy: errors.Remedy | None = None) -> JSONResponse:
    body = Problem(type=f"/problems/{kind}", title=title, status=status, detail=detail, remedy=remedy)
    return JSONResponse(body.model_dump(exclude_none=True), status, media_type="application/problem+json")


# Errors of one request that are listed.
MAX_LISTED_ERRORS = 5
# Problems of a disk, a share, a folder or the number of open files.
MACHINE_ERRORS = {
    errno.ENOSPC,
    errno.EDQUOT,
    errno.EFBIG,
    errno.EROFS,
    errno.EIO,
    errno.ESTALE,
    errno.ENODEV,
    errno.ENXIO,
    errno.EMFILE,
    errno.ENFILE,
    errno.EACCES,
    errno.EPERM,
    errno.EHOSTDOWN,
    errno.ENOTCONN,
}


def _said(error: Mapping[str, Any]) -> str:
    """What is wrong with one value of a request, and with which."""
    where = " ".join(str(part) for part in error["loc"] if part not in ("body", "query", "path"))
    return f"{where}: {error['msg']}".strip(": ")


def _library_gone(request: Request, error: OSError) -> bool:
    """Whether a file is missing because the library is: moved, or on a share that is away. Otherwise it is a fault of
    ours that somebody asked for a file that is not there."""
    library: Library | None = getattr(request.app.state, "library", None)
    return error.errno in (errno.ENOENT, errno.ENOTDIR) and library is not None and not library.database.is_file()


def install(app: FastAPI) -> None:
    """Make every error of an application a problem."""

    @app.exception_handler(errors.KeenSweepError)
    def ours(_request: Request, error: errors.KeenSweepError) -> JSONResponse:
        return problem(error.status, error.kind, error.title, str(error), error.remedy)

    @app.exception_handler(RequestValidationError)
    def invalid(_request: Request, error: RequestValidationError) -> JSONResponse:
        found = [_said(each) for each in error.errors()]
        more = (
            [sentence("and {count} more", count=len(found) - MAX_LISTED_ERRORS)]
            if len(found) > MAX_LISTED_ERRORS
            else []
        )
        return problem(
            422, "invalid", sentence("The request is not valid"), "; ".join(found[:MAX_LISTED_ERRORS] + more)
        )

    @app.exception_handler(OverflowError)
    def beyond(request: Request, error: OverflowError) -> JSONResponse:
        """A number that no database has room for (SQLite's integers have 64 bits) is nobody's."""
        if "SQLite" not in str(error):
            return unexpected(request, error)
        return problem(404, "not-found", sentence("Not there"), sentence("There is nothing with this number."))

    @app.exception_handler(Exception)
    def unexpected(_request: Request, error: Exception) -> JSONResponse:
        trouble("unexpected", error)
        detail = sentence("An unexpected error occurred ({name}).", name=type(error).__name__)
        return problem(500, "unexpected", sentence("Something went wrong"), detail)

    @app.exception_handler(OSError)
    @app.exception_handler(OperationalError)
    def machine(request: Request, error: OSError | OperationalError) -> JSONResponse:
        """A full disk, a share that is away, no file handles left, wherever it was noticed."""
        if isinstance(error, OSError) and error.errno not in MACHINE_ERRORS and not _library_gone(request, error):
            # A family of its own: what waited too long is one too, and no fault of the machine.
            return unexpected(request, error)
        trouble("machine", error)
        why = str(error.orig) if isinstance(error, OperationalError) else error.strerror
        raised = errors.LibraryTrouble
        return problem(
            raised.status,
            raised.kind,
            raised.title,
            sentence("The library cannot be used at the moment: {why}.", why=why),
        )

    @app.exception_handler(HTTPException)
    def http(_request: Request, error: HTTPException) -> JSONResponse:
        return problem(error.status_code, "http", sentence("The request failed"), str(error.detail))
