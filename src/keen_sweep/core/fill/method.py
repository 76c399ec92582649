"""How takes are made, and how carefully."""

from __future__ import annotations

from enum import StrEnum


class Method(StrEnum):
    """The methods that can be requested."""

    AUTO = "auto"
    CLOSE = "close"
    WEAVE = "weave"
    BORROW = "borrow"
    BACKDROP = "backdrop"
    REFLECTION = "reflection"
    MODEL = "model"

    @property
    def heeds_words(self) -> bool:
        """Whether hints mean something to it."""
        return self in (Method.AUTO, Method.WEAVE, Method.MODEL)

    @property
    def weaves(self) -> bool:
        """Whether it draws from patches of the picture, so that a place to draw from can be lent to it."""
        return self in (Method.AUTO, Method.WEAVE)

    @property
    def may_cover_all(self) -> bool:
        """Whether the whole picture may be marked: nothing is made up, so that nothing need be left to draw from."""
        return self is Method.REFLECTION


class MadeBy(StrEnum):
    """What made a take: a method, or mixing or mending by hand."""

    AUTO = "auto"
    CLOSE = "close"
    WEAVE = "weave"
    BORROW = "borrow"
    BACKDROP = "backdrop"
    REFLECTION = "reflection"
    MODEL = "model"
    MIX = "mix"
    MEND = "mend"

    @property
    def by_hand(self) -> bool:
        """Whether it came about by hand, out of other takes: it does not compete with them."""
        return self in (MadeBy.MIX, MadeBy.MEND)

    @property
    def invents(self) -> bool:
        """Whether there is something to review: pixels of elsewhere, made up or borrowed."""
        return self not in (MadeBy.REFLECTION, MadeBy.BACKDROP)


class Quality(StrEnum):
    """Fast for a rough preview, fine for the best result."""

    FAST = "fast"
    FINE = "fine"
