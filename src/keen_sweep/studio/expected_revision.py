"""What whoever asks has seen of a frame: an edit of something newer would be made without having seen it.

Edits are applied to whatever is there, so that no window loses another's. A script that wants to be sure says which
revision it looked at (If-Match, RFC 9110), and is refused if the frame has gone on since.
"""

from __future__ import annotations

from contextvars import ContextVar

from keen_sweep.core.errors import Outdated
from keen_sweep.core.sentences import sentence
from keen_sweep.store.tables import Frame

# The revisions that will do; None where nothing was said.
seen: ContextVar[frozenset[int] | None] = ContextVar("seen", default=None)


def check_seen(frame: Frame) -> None:
    """Raise Outdated if a frame has gone on since it was looked at."""
    wanted = seen.get()
    if wanted is not None and frame.revision_id not in wanted:
        raise Outdated(
            sentence(
                "The picture was changed meanwhile, and is at revision {revision_id}: look at it anew.",
                revision_id=frame.revision_id,
            )
        )


def gone_on(frame: Frame) -> None:
    """What is done in several steps has seen its own."""
    wanted = seen.get()
    if wanted is not None and frame.revision_id is not None:
        seen.set(wanted | {frame.revision_id})
