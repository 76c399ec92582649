"""The one family of errors. Every message is a sentence that a photographer understands.

Each class says how it is answered over HTTP (status; kind and title of a problem, RFC 9457) and what helps, if anything
does.
"""

from __future__ import annotations

from typing import ClassVar, Literal

Remedy = Literal["smaller", "key", "credits", "price", "later", "set-up"]


class KeenSweepError(Exception):
    """What went wrong, in a sentence; never a traceback for the user to read.

    remedy: what helps: a smaller area, the key, more credits, a yes to the price, waiting, a new set-up; or nothing.
    """

    status: ClassVar[int] = 400
    kind: ClassVar[str] = "error"
    title: ClassVar[str] = "It cannot be done"
    remedy: Remedy | None = None


class BadPicture(KeenSweepError):
    """A file that cannot be used as a picture, or a picture that cannot be written as asked."""

    status, kind, title = 422, "bad-picture", "The picture cannot be used"


class BadMask(KeenSweepError):
    """A mask that does not fit its picture or leaves nothing to do."""

    status, kind, title = 422, "bad-mask", "The mask cannot be used"


class BadRequest(KeenSweepError):
    """A request that makes no sense as it stands."""

    status, kind, title = 400, "bad-request", "The request is not valid"


class NotFound(KeenSweepError):
    """Something asked for is not, or no longer, there."""

    status, kind, title = 404, "not-found", "Not there"


class Conflict(KeenSweepError):
    """Something cannot be done now because of what else is going on."""

    status, kind, title = 409, "conflict", "Not possible now"


class Outdated(KeenSweepError):
    """Something was changed since whoever asks looked at it."""

    status, kind, title = 412, "outdated", "Changed meanwhile"


class BeyondScope(KeenSweepError):
    """What was asked for is beyond what whoever asks may do."""

    status, kind, title = 403, "scope", "Beyond this token"


class AlreadyThere(Conflict):
    """A picture that is in its shoot already, by its content."""

    kind, title = "already-there", "There already"


class NotTheSamePlace(KeenSweepError):
    """Two frames that cannot be aligned, since they do not show the same place, or not in a way that can be told."""

    status, kind, title = 422, "not-the-same-place", "The frames cannot be aligned"


class LibraryTrouble(KeenSweepError):
    """The library folder cannot be read or written: full disk, no permission, in use, damaged."""

    status, kind, title = 507, "library-trouble", "The library cannot be used"


class Cancelled(KeenSweepError):
    """Work was stopped because somebody asked for it."""

    status, kind, title = 409, "cancelled", "Cancelled"


class NoWeights(KeenSweepError):
    """A network that scouts need is not installed, or damaged."""

    status, kind, title = 503, "no-weights", "A network is missing"
    remedy: Remedy | None = "set-up"


class ModelTrouble(KeenSweepError):
    """A generative model cannot be loaded, broke off, refused, or gave something that is no picture.

    Each says for itself what helps besides a local method.
    """

    status, kind, title = 502, "model-trouble", "The model cannot do it"

    def __init__(self, message: str, remedy: Remedy | None = None) -> None:
        super().__init__(message)
        self.remedy = remedy
