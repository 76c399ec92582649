"""What the requests to the simulated service share: its books, its switches, whom a request is from."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from fastapi import Depends, Request
from fastapi.security import HTTPAuthorizationCredentials, HTTPBearer

from keen_sweep.remote.wire import Code
from keen_sweep.simulated.switches import Switches
from keen_sweep.simulated.till import Job, Till, account_of


@dataclass
class Shed:
    """The books, and the switches as they stand."""

    till: Till
    switches: Switches


class Turned(Exception):
    """A request that is not met."""

    def __init__(self, status: int, code: Code, detail: str, headers: dict[str, str] | None = None) -> None:
        super().__init__(detail)
        self.status, self.code, self.headers = status, code, headers


def _shed(request: Request) -> Shed:
    shed: Shed = request.app.state.shed
    return shed


TheShed = Annotated[Shed, Depends(_shed)]


def _account(
    shed: TheShed, sent: Annotated[HTTPAuthorizationCredentials | None, Depends(HTTPBearer(auto_error=False))]
) -> str:
    found = account_of(sent.credentials) if sent else ""
    if found not in shed.till.books.credits:
        raise Turned(401, "key", "This key belongs to no account.")
    return found


Mine = Annotated[str, Depends(_account)]


def _job(shed: TheShed, mine: Mine, painting: str) -> Job:
    job = shed.till.job(mine, painting)
    if job is None:
        raise Turned(404, "not-there", "There is no such painting.")
    return job


Painting = Annotated[Job, Depends(_job)]
