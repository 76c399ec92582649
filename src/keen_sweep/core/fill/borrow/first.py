"""Borrow first: true pixels lead the tray wherever sisters serve, and what the picture itself suggests follows."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadMask
from keen_sweep.core.fill.borrow.engine import MIN_FIRST_SHARE, BorrowEngine
from keen_sweep.core.fill.borrow.sister import Sister
from keen_sweep.core.fill.engine import FillInput, NearSighted
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.progress import part_of
from keen_sweep.core.sentences import sentence

# Approximate share of the total time that trying to borrow takes.
BORROWING_SHARE = 0.3


class BorrowFirst:
    """Engine of the method auto where there are sister frames: borrows if possible.

    Parameters
    ----------
    sisters : sequence of Sister
        The sister frames.
    rest : NearSighted
        Engine for what cannot be borrowed.
    """

    name = "auto"

    def __init__(self, sisters: Sequence[Sister], rest: NearSighted) -> None:
        self._sisters, self._rest = sisters, rest
        self._borrow = BorrowEngine(sisters)

    def near(self, window: Box) -> BorrowFirst:
        """See NearSighted."""
        return BorrowFirst([sister.near(window) for sister in self._sisters], self._rest)

    def fill(self, given: FillInput) -> Iterator[Patch]:
        """Yield one take that is borrowed, if sisters serve, and the other engine's after it; see Engine."""
        take = self._borrowed(replace(given, progress=part_of(given.progress, 0.0, BORROWING_SHARE)))
        rest = replace(given, progress=part_of(given.progress, BORROWING_SHARE, 1.0))
        if take is None:
            yield from self._rest.fill(rest)
            return
        why = sentence(
            "borrowed by auto: sister frames show {borrowed:.0%} of what is hidden", borrowed=take.provenance.borrowed
        )
        yield replace(take, provenance=take.provenance.but(why=why))
        if given.takes > 1:
            yield from self._rest.fill(replace(rest, takes=given.takes - 1, seed=given.seed + 1))

    def _borrowed(self, given: FillInput) -> Patch | None:
        try:
            take = next(iter(self._borrow.fill(replace(given, takes=1))))
        except BadMask:
            return None
        return take if (take.provenance.borrowed or 0.0) >= MIN_FIRST_SHARE else None
