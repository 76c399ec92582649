"""The one family of errors. Every message is a sentence that a photographer understands.

Each class says how it is answered over HTTP (status; kind and title of a problem, RFC 9457) and what helps, if anything
does.
"""

from __future__ import annotations

from typing import ClassVar, Literal

from keen_sweep.core.sentences import sentence

Remedy = Literal["smaller", "key", "credits", "price", "later", "set-up"]


class KeenSweepError(Exception):
    """An error with a sentence for the user.

    Attributes
    ----------
    status : ClassVar[int]
        HTTP status.
    kind : ClassVar[str]
        Identifies the error for programs.
    title : ClassVar[str]
        Short title.
    remedy : Remedy or None
        What helps: a smaller area, the key, more credits, agreeing to the price, waiting, a new set-up; or
        None.
    """

    status: ClassVar[int] = 400
    kind: ClassVar[str] = "error"
    title: ClassVar[str] = sentence("It cannot be done")
    remedy: Remedy | None = None


class BadPicture(KeenSweepError):
    """A file that cannot be used as a picture, or a picture that cannot be written as requested."""

    status, kind, title = 422, "bad-picture", sentence("The picture cannot be used")


class BadMask(KeenSweepError):
    """A mask that does not fit its picture or leaves nothing to do."""

    status, kind, title = 422, "bad-mask", sentence("The mask cannot be used")


class BadRequest(KeenSweepError):
    """A request that is not valid."""

    status, kind, title = 400, "bad-request", sentence("The request is not valid")


class NotFound(KeenSweepError):
    """Something that does not exist, or no longer does."""

    status, kind, title = 404, "not-found", sentence("Not there")


class Conflict(KeenSweepError):
    """Something that is not possible now because of other work."""

    status, kind, title = 409, "conflict", sentence("Not possible now")


class Outdated(KeenSweepError):
    """Something that was changed since the client read it."""

    status, kind, title = 412, "outdated", sentence("Changed meanwhile")


class BeyondScope(KeenSweepError):
    """Something that this client is not allowed to do."""

    status, kind, title = 403, "scope", sentence("Beyond this token")


class AlreadyThere(Conflict):
    """A picture that is already in its shoot, by its content."""

    kind, title = "already-there", sentence("There already")


class NotTheSamePlace(KeenSweepError):
    """Two frames that cannot be aligned because they do not show the same place, or not recognisably."""

    status, kind, title = 422, "not-the-same-place", sentence("The frames cannot be aligned")


class LibraryTrouble(KeenSweepError):
    """The library folder cannot be read or written: disk full, no permission, in use, damaged."""

    status, kind, title = 507, "library-trouble", sentence("The library cannot be used")


class Cancelled(KeenSweepError):
    """Work that was stopped on request."""

    status, kind, title = 409, "cancelled", "Cancelled"


class NoWeights(KeenSweepError):
    """A network that scouts need is missing or damaged.

    Attributes
    ----------
    remedy : Remedy or None
        What helps.
    """

    status, kind, title = 503, "no-weights", sentence("A network is missing")
    remedy: Remedy | None = "set-up"


class ModelTrouble(KeenSweepError):
    """A generative model that cannot be loaded, failed, refused, or returned no picture.

    Parameters
    ----------
    message : str
        One sentence for the user.
    remedy : Remedy or None
        What helps besides a local method.
    """

    status, kind, title = 502, "model-trouble", sentence("The model cannot do it")

    def __init__(self, message: str, remedy: Remedy | None = None) -> None:
        super().__init__(message)
        self.remedy = remedy
