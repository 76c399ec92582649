"""The one family of errors. Every message is a sentence that a photographer understands."""

from __future__ import annotations

from typing import Literal

Remedy = Literal["smaller", "key", "credits", "price", "later"]


class KeenSweepError(Exception):
    """What went wrong, in a sentence; never a traceback for the user to read."""


class BadPicture(KeenSweepError):
    """A file that cannot be used as a picture, or a picture that cannot be written as asked."""


class BadMask(KeenSweepError):
    """A mask that does not fit its picture or leaves nothing to do."""


class BadRequest(KeenSweepError):
    """A request that makes no sense as it stands."""


class NotFound(KeenSweepError):
    """Something asked for is not, or no longer, there."""


class Conflict(KeenSweepError):
    """Something cannot be done now because of what else is going on."""


class LibraryTrouble(KeenSweepError):
    """The library folder cannot be read or written: full disk, no permission, in use, damaged."""


class Cancelled(KeenSweepError):
    """Work was stopped because somebody asked for it."""


class ModelTrouble(KeenSweepError):
    """A generative model cannot be loaded, broke off, refused, or gave something that is no picture.

    remedy: what helps besides a local method: a smaller area, the key, a yes to the price, more credits, waiting; or
    nothing.
    """

    def __init__(self, message: str, remedy: Remedy | None = None) -> None:
        super().__init__(message)
        self.remedy: Remedy | None = remedy
