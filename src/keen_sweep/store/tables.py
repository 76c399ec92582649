"""The tables."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, Column, UniqueConstraint
from sqlmodel import Field, SQLModel

from keen_sweep.core.fill.method import MadeBy, Quality
from keen_sweep.core.fill.provenance import Provenance
from keen_sweep.core.review.snag import Grading, Mend, SnagKind
from keen_sweep.core.scout.found import FindKind
from keen_sweep.store.moment import Moment, now
from keen_sweep.store.scope import Scope
from keen_sweep.store.words import AnswerState, EventKind, ModelKind, NoticeKind, RunState, Word


class Shoot(SQLModel, table=True):
    """Pictures from one job."""

    id: int = Field(default=None, primary_key=True)
    name: str
    made_at: datetime = Field(default_factory=now, sa_type=Moment)
    # Credits that generative services may cost for it; None is no limit.
    budget: float | None = None
    # How it was delivered last (studio.delivering.wanted), if it was.
    delivery: dict[str, Any] | None = Field(default=None, sa_column=Column(JSON, nullable=True))
    # A folder that is watched for newer versions of its pictures, by its path.
    watched: str | None = None
    # Since when it is gone: it can be brought back for a while. part_of: of what was taken out of a shoot, which one.
    gone_at: datetime | None = Field(default=None, sa_type=Moment)
    part_of: int | None = None


class WatchedFile(SQLModel, table=True):
    """A file of a watched folder as it was looked at: its size in bytes and when it was written, nanoseconds of the
    epoch; the frame that it is a version of, or why it was left."""

    id: int = Field(default=None, primary_key=True)
    shoot_id: int = Field(foreign_key="shoot.id", index=True, ondelete="CASCADE")
    name: str
    size: int
    written: int
    frame_id: int | None = None
    left: str | None = None


class Frame(SQLModel, table=True):
    """One picture of a shoot; original is the content hash of the file, revision the state it is in."""

    id: int = Field(default=None, primary_key=True)
    shoot_id: int = Field(foreign_key="shoot.id", index=True, ondelete="CASCADE")
    name: str
    original: str
    format: str
    width: int
    height: int
    depth: int
    added_at: datetime = Field(default_factory=now, sa_type=Moment)
    # There from the moment on that the frame is.
    revision_id: int = Field(default=None, nullable=True)
    # The revision that was delivered last, if one was.
    delivered: int | None = None
    # How often what stands provisionally has changed: pictures of the same revision look different then.
    provisional: int = 0


class Revision(SQLModel, table=True):
    """One state of a frame's stack; parent is the one it came from, title what was done.

    stack: the stack as JSON if there is no base, else how it differs from that of the revision base_id (see
    document.delta); told: how many bytes of such differences there are since a whole one.
    """

    id: int = Field(default=None, primary_key=True)
    frame_id: int = Field(foreign_key="frame.id", index=True, ondelete="CASCADE")
    parent_id: int | None = Field(default=None, index=True)
    # The file that is shown: original, format, width, height, depth, as the frame has them while it is in this state.
    version: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    base_id: int | None = Field(default=None)
    title: str
    stack: str
    told: int = 0
    made_at: datetime = Field(default_factory=now, sa_type=Moment)


class Take(SQLModel, table=True):
    """One candidate fill of a sweep; patch is the content hash of its file. Takes are never deleted."""

    id: int = Field(default=None, primary_key=True)
    frame_id: int = Field(foreign_key="frame.id", index=True, ondelete="CASCADE")
    sweep_id: str = Field(index=True)
    run_id: int
    patch: str = Field(index=True)
    # The version of the picture that it was made for, by its content hash.
    original: str
    method: MadeBy = Field(sa_column=Column(Word(MadeBy), nullable=False))
    seed: int
    quality: Quality = Field(sa_column=Column(Word(Quality), nullable=False))
    energy: float
    seconds: float
    x: int
    y: int
    width: int
    height: int
    parts: list[dict[str, Any]] = Field(default_factory=list, sa_column=Column(JSON, nullable=False))
    made_at: datetime = Field(default_factory=now, sa_type=Moment)
    # How the second look judged it, lower is better; None while it has not.
    review: float | None = None
    # What of that is held against it, term by term; see core.review.taste.
    terms: dict[str, float] | None = Field(default=None, sa_column=Column(JSON, nullable=True))
    favourite: bool = False
    # The ledger: model and its hash or service, words, knobs, receipts; whatever can be said of how it was made.
    made: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    # The patches that were seen below it when it was made, by the ids of their sweeps; None where that is not known.
    below: dict[str, str] | None = Field(default=None, sa_column=Column(JSON(none_as_null=True), nullable=True))

    @property
    def provenance(self) -> Provenance:
        """The ledger, read."""
        return Provenance.model_validate(self.made)


class Snag(SQLModel, table=True):
    """A fault that the second look found in a take; area is its place as a shape, visible the smallest scale at which
    it can be seen, grading what must be done to the picture for it to show."""

    id: int = Field(default=None, primary_key=True)
    frame_id: int = Field(foreign_key="frame.id", index=True, ondelete="CASCADE")
    sweep_id: str = Field(index=True)
    take_id: int = Field(foreign_key="take.id", index=True, ondelete="CASCADE")
    kind: SnagKind = Field(sa_column=Column(Word(SnagKind), nullable=False))
    strength: float
    why: str
    visible: float
    grading: Grading | None = Field(default=None, sa_column=Column(Word(Grading), nullable=True))
    mend: Mend = Field(sa_column=Column(Word(Mend), nullable=False))
    area: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    dismissed: bool = False


class Provisional(SQLModel, table=True):
    """The take of a sweep that stands in one version of its picture until the photographer picks one. mark: a digest
    of the mark it was made for; settled: it does not give way to a better take of the same fill any more."""

    __table_args__ = (UniqueConstraint("frame_id", "sweep_id", "original"),)

    id: int = Field(default=None, primary_key=True)
    frame_id: int = Field(foreign_key="frame.id", index=True, ondelete="CASCADE")
    sweep_id: str
    # The version of the picture, by its content hash.
    original: str
    take_id: int = Field(foreign_key="take.id", index=True, ondelete="CASCADE")
    mark: str
    settled: bool = False


class Preferences(SQLModel, table=True):
    """How the photographer wants to work, in the only row there is. strict: no take stands before it is picked."""

    id: int = Field(default=1, primary_key=True)
    strict: bool = False


class Run(SQLModel, table=True):
    """Work in the queue: waiting, running, done, failed or cancelled."""

    id: int = Field(default=None, primary_key=True)
    frame_id: int = Field(foreign_key="frame.id", index=True, ondelete="CASCADE")
    sweep_id: str = Field(index=True)
    state: RunState = Field(default=RunState.WAITING, sa_column=Column(Word(RunState), nullable=False, index=True))
    request: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    progress: float = 0.0
    doing: str = ""
    seconds_left: float | None = None
    attempts: int = 0
    error: str | None = None
    # What helps where a model said no; see core.errors.
    remedy: str | None = None
    asked_at: datetime = Field(default_factory=now, sa_type=Moment)
    started_at: datetime | None = Field(default=None, sa_type=Moment)
    ended_at: datetime | None = Field(default=None, sa_type=Moment)


class RegisteredModel(SQLModel, table=True):
    """A generative model that may be used: its kind, its place (a file, a folder or an address), the longest side it is
    shown, the most credits a fill may cost. key: under which name its key is kept, never the key. for_auto: auto may
    choose it; trial: what came back when it was tried last, and left: the credits that were left then."""

    id: int = Field(default=None, primary_key=True)
    name: str
    kind: ModelKind = Field(sa_column=Column(Word(ModelKind), nullable=False))
    place: str
    largest: int | None = None
    most_credits: float | None = None
    for_auto: bool = False
    key: str
    trial: str | None = None
    trial_good: bool | None = None
    tried_at: datetime | None = Field(default=None, sa_type=Moment)
    left: float | None = None


class Payment(SQLModel, table=True):
    """Credits that a service took for a painting, under its receipt: kept once, whatever became of the painting.
    consent: under which it was paid; see the request of a run. run_id: the run that asked for the painting; none for
    payments of earlier versions."""

    id: int = Field(default=None, primary_key=True)
    run_id: int | None = Field(default=None, index=True)
    shoot_id: int = Field(foreign_key="shoot.id", index=True, ondelete="CASCADE")
    receipt: str = Field(unique=True, index=True)
    consent: str = Field(index=True)
    credits: float
    made_at: datetime = Field(default_factory=now, sa_type=Moment)


class Scouting(SQLModel, table=True):
    """A scout's search of a frame: waiting, running, done or failed. small: distant things are searched for too; again:
    the picture is searched as it stands, not as shot."""

    id: int = Field(default=None, primary_key=True)
    frame_id: int = Field(foreign_key="frame.id", index=True, ondelete="CASCADE")
    kind: FindKind = Field(sa_column=Column(Word(FindKind), nullable=False))
    small: bool = False
    again: bool = False
    state: RunState = Field(default=RunState.WAITING, sa_column=Column(Word(RunState), nullable=False, index=True))
    progress: float = 0.0
    doing: str = ""
    error: str | None = None
    seconds: float | None = None
    attempts: int = 0


class Find(SQLModel, table=True):
    """What a scout found in a version of the picture: the shapes of its mark, what belongs to it and which of that goes
    with it. goes: it will become a sweep; sweep_id: it has, and is no longer offered while that sweep is there.
    what: which kind of things. seen_past: the sweeps whose takes stood in the picture that was searched."""

    id: int = Field(default=None, primary_key=True)
    frame_id: int = Field(foreign_key="frame.id", index=True, ondelete="CASCADE")
    # The version, by its content hash.
    original: str
    kind: FindKind = Field(sa_column=Column(Word(FindKind), nullable=False))
    name: str
    shapes: list[dict[str, Any]] = Field(default_factory=list, sa_column=Column(JSON, nullable=False))
    also: list[dict[str, Any]] = Field(default_factory=list, sa_column=Column(JSON, nullable=False))
    with_also: list[str] = Field(default_factory=list, sa_column=Column(JSON, nullable=False))
    confidence: float
    reason: str
    subject: bool = False
    goes: bool = True
    dropped: bool = False
    sweep_id: str | None = None
    what: str = ""
    seen_past: list[str] = Field(default_factory=list, sa_column=Column(JSON, nullable=False))


class AlwaysTicked(SQLModel, table=True):
    """A kind of things that go wherever they are found: the photographer said so."""

    what: str = Field(primary_key=True)


class Answered(SQLModel, table=True):
    """A request under an idempotency key chosen by the client. asked: a digest of the request; state: how far it is;
    body: its answer once it is done; place: where to look how far the work is."""

    key: str = Field(primary_key=True)
    asked: str
    state: AnswerState = Field(default=AnswerState.DONE, sa_column=Column(Word(AnswerState), nullable=False))
    body: Any = Field(default=None, sa_column=Column(JSON))
    place: str | None = None
    at: datetime = Field(default_factory=now, sa_type=Moment, index=True)


class Token(SQLModel, table=True):
    """A token by which scripts are let in; digest: SHA-256 of what has to be said."""

    id: int = Field(default=None, primary_key=True)
    name: str
    scope: Scope = Field(sa_column=Column(Word(Scope), nullable=False))
    digest: str = Field(index=True, unique=True)
    made_at: datetime = Field(default_factory=now, sa_type=Moment)
    used_at: datetime | None = Field(default=None, sa_type=Moment)


class Webhook(SQLModel, table=True):
    """Where notices are sent to: one place for a library. key: under which name its secret is kept, never that."""

    id: int = Field(default=1, primary_key=True)
    address: str
    key: str


class Notice(SQLModel, table=True):
    """What is to be told, or was: numbers and words of ours, no names and nothing of a picture. name: by which whoever
    is told twice knows it; due_at: when it is tried next; answer: what came of the last try that failed."""

    id: int = Field(default=None, primary_key=True)
    name: str = Field(unique=True, index=True)
    kind: NoticeKind = Field(sa_column=Column(Word(NoticeKind), nullable=False))
    told: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    made_at: datetime = Field(default_factory=now, sa_type=Moment)
    due_at: datetime | None = Field(default_factory=now, sa_type=Moment, index=True)
    attempts: int = 0
    sent_at: datetime | None = Field(default=None, sa_type=Moment)
    answer: str | None = None


class Picked(SQLModel, table=True):
    """Which of a sweep's takes was picked, by the terms of all; it stays when the picture goes, and says nothing of
    it."""

    id: int = Field(default=None, primary_key=True)
    sweep_id: str = Field(unique=True, index=True)
    picked: dict[str, float] = Field(sa_column=Column(JSON, nullable=False))
    others: list[dict[str, float]] = Field(sa_column=Column(JSON, nullable=False))
    at: datetime = Field(default_factory=now, sa_type=Moment)


class Taste(SQLModel, table=True):
    """What was learned from picks, in the only row there is: weights of terms, None while ours do as well. followed:
    whether takes are put in order by it."""

    id: int = Field(default=1, primary_key=True)
    followed: bool = True
    weights: dict[str, float] | None = Field(default=None, sa_column=Column(JSON, nullable=True))


class Carrying(SQLModel, table=True):
    """Sweeps of a frame that are carried over to another one: waiting, running, done or failed. sensor: to the same
    place of the sensor; wide: what moves by itself is looked for near by; fill: what landed is filled, and the first
    take of each picked. elsewhere: it failed since the other frame shows another place, so nothing is wrong. landed:
    what became of each sweep, see studio.carrying."""

    id: int = Field(default=None, primary_key=True)
    frame_id: int = Field(foreign_key="frame.id", index=True, ondelete="CASCADE")
    to_id: int = Field(foreign_key="frame.id", index=True, ondelete="CASCADE")
    sweeps: list[str] = Field(default_factory=list, sa_column=Column(JSON, nullable=False))
    sensor: bool = False
    wide: bool = False
    fill: bool = False
    state: RunState = Field(default=RunState.WAITING, sa_column=Column(Word(RunState), nullable=False, index=True))
    attempts: int = 0
    error: str | None = None
    elsewhere: bool = False
    landed: list[dict[str, Any]] = Field(default_factory=list, sa_column=Column(JSON, nullable=False))


class Event(SQLModel, table=True):
    """Something that open windows want to hear of: what changed in which frame or shoot; window: the one that asked for
    it, if one did."""

    id: int = Field(default=None, primary_key=True)
    kind: EventKind = Field(sa_column=Column(Word(EventKind), nullable=False))
    shoot_id: int | None = None
    frame_id: int | None = None
    run_id: int | None = None
    window: str | None = None
