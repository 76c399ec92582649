"""Whether whoever asks may spend: a token may be for looking and editing alone."""

from __future__ import annotations

from contextvars import ContextVar

from keen_sweep.core.errors import BeyondScope
from keen_sweep.core.sentences import sentence

may_spend: ContextVar[bool] = ContextVar("may_spend", default=True)


def check_may_spend(credits: float) -> None:
    """Raise BeyondScope where credits are agreed to by somebody who may not spend any."""
    if credits > 0 and not may_spend.get():
        raise BeyondScope(sentence("This token does not spend: it agrees to no credits."))
