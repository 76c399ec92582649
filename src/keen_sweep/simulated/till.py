"""Accounts and paintings of the simulated service, in a folder: they outlive the process, however it ends."""

from __future__ import annotations

import hashlib
import json
import math
import threading
from pathlib import Path
from uuid import uuid4

from pydantic import BaseModel, Field

from keen_sweep.remote.wire import Code, PaintingIn, PaintingOut, State

# Number of pixels that one credit buys.
PIXELS_PER_CREDIT = 512 * 512


def price(width: int, height: int) -> float:
    """Credits for a painting of so many pixels."""
    return float(math.ceil(width * height / PIXELS_PER_CREDIT))


class Job(BaseModel):
    """A painting: whom it is for, under which name it was asked for, what it is, and what it costs once it is done."""

    id: str
    account: str
    name: str
    body: str
    price: float
    ahead: int
    state: State = "queued"
    charged: float = 0.0
    code: Code | None = None
    reason: str = ""


class Books(BaseModel):
    """Everything that is kept: credits by a hash of the account's key, and the paintings in the order they came."""

    credits: dict[str, float] = Field(default_factory=dict)
    jobs: list[Job] = Field(default_factory=list)


class TooFew(Exception):
    """There are not enough credits."""


class OtherRequest(Exception):
    """The name of a request was used for another one."""


def account_of(key: str) -> str:
    return hashlib.sha256(key.encode()).hexdigest()


class Till:
    """The books in a folder; every change is written before it is told."""

    def __init__(self, folder: Path) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        self._folder = folder
        self._file = folder / "books.json"
        self.lock = threading.RLock()
        self.books = Books.model_validate_json(self._file.read_bytes()) if self._file.is_file() else Books()
        for job in self.books.jobs:
            if job.state == "painting":
                job.state = "queued"

    def keep(self) -> None:
        """Write the books whole, beside and moved."""
        half = self._file.with_suffix(".part")
        half.write_text(json.dumps(self.books.model_dump()))
        half.replace(self._file)

    def set_credits(self, key: str, credits: float) -> None:
        with self.lock:
            self.books.credits[account_of(key)] = credits
            self.keep()

    def free(self, account: str) -> float:
        """Credits less those of paintings that are being made."""
        held = sum(
            job.price for job in self.books.jobs if job.account == account and job.state in ("queued", "painting")
        )
        return self.books.credits[account] - held

    def take_in(self, account: str, name: str, asked: PaintingIn, cost: float, ahead: int) -> Job:
        """A painting to be made, or the one that was asked for by this name already unless nothing came of that. Raises
        TooFew, OtherRequest."""
        body = asked.model_dump_json()
        digest = hashlib.sha256(body.encode()).hexdigest()
        with self.lock:
            for job in self.books.jobs:
                if job.account != account or job.name != name or job.state in ("refused", "failed", "withdrawn"):
                    continue
                if job.body != digest:
                    raise OtherRequest
                return job
            if self.free(account) < cost:
                raise TooFew
            made = Job(id=uuid4().hex, account=account, name=name, body=digest, price=cost, ahead=ahead)
            self.request_file(made.id).write_text(body)
            self.books.jobs.append(made)
            self.keep()
            return made

    def job(self, account: str, job_id: str) -> Job | None:
        return next((job for job in self.books.jobs if job.id == job_id and job.account == account), None)

    def next(self) -> Job | None:
        """The oldest painting that waits; it is being painted from now on."""
        with self.lock:
            waiting = next((job for job in self.books.jobs if job.state == "queued"), None)
            if waiting:
                waiting.state = "painting"
                self.keep()
            return waiting

    def end(self, job: Job, state: State, code: Code | None = None, reason: str = "") -> None:
        """End a painting; only one that is done is charged."""
        with self.lock:
            if job.state not in ("queued", "painting"):
                return
            job.state, job.code, job.reason = state, code, reason
            if state == "done":
                job.charged = job.price
                self.books.credits[job.account] -= job.price
            self.keep()

    def told(self, job: Job, delay: float) -> PaintingOut:
        """What is said of a painting."""
        with self.lock:
            before = [other for other in self.books.jobs if other.state in ("queued", "painting")]
            ahead = before.index(job) + job.ahead if job.state == "queued" else 0
            going = job.state in ("queued", "painting")
            return PaintingOut(
                id=job.id,
                state=job.state,
                ahead=ahead,
                seconds_left=(ahead + 1) * (delay + 1) if going else None,
                credits=job.charged,
                left=self.books.credits[job.account],
                code=job.code,
                reason=job.reason,
            )

    def request_file(self, job_id: str) -> Path:
        return self._folder / f"{job_id}.json"

    def picture_file(self, job_id: str) -> Path:
        return self._folder / f"{job_id}.png"
