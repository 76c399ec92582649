"""A model behind an HTTP generation service that answers as docs/generation-service.json says.

A request is named by what is in it (Idempotency-Key), so that the same painting asked for again, after a lost answer, a
killed process or a failed fill, is the same painting and is paid once. The key is sent in one header and told nobody.
"""

from __future__ import annotations

import base64
import hashlib
import time
from collections.abc import Callable
from typing import NoReturn

import numpy as np
from pydantic import SecretStr

from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.errors import Cancelled, ModelTrouble
from keen_sweep.core.fill.model.port import DEFAULT_KNOBS, Knobs, ModelFacts, Paid, Painting, Wish, no_payment
from keen_sweep.core.photo.png_encoder import packed_png
from keen_sweep.core.progress import Progress, no_progress
from keen_sweep.core.sentences import sentence
from keen_sweep.remote.exchange import Exchange, Gone, reason
from keen_sweep.remote.patience import Patience
from keen_sweep.remote.wire import About, Account, PaintingIn, PaintingOut, Quote, QuoteIn

DEFAULT_PATIENCE = Patience()


class ServiceModel:
    """A service as a model. Raises ModelTrouble when it does not answer as it should, BadRequest for a bad address."""

    def __init__(
        self,
        address: str,
        key: SecretStr,
        patience: Patience = DEFAULT_PATIENCE,
        sleep: Callable[[float], None] = time.sleep,
        tick: Progress = no_progress,
    ) -> None:
        self._exchange = Exchange(address, key, patience, sleep)
        try:
            about = self._exchange.ask(About, "GET", "/v1/about", tick=tick)
        except Gone:
            raise ModelTrouble(
                sentence("There is no generation service at {address}.", address=self._exchange.address)
            ) from None
        self.about = about
        self.name = self._exchange.who = about.name
        self.side: int | None = None
        self.most, self.multiple = about.most, about.multiple
        self.facts = ModelFacts(kind="service", service=self._exchange.address, version=about.version)
        # What is left in the account, as far as is known.
        self.left: float | None = None

    def close(self) -> None:
        self._exchange.close()

    def credits(self) -> float:
        """What is left in the account. Raises ModelTrouble."""
        self.left = self._exchange.ask(Account, "GET", "/v1/account").credits
        return self.left

    def quote(self, width: int, height: int, knobs: Knobs = DEFAULT_KNOBS) -> Quote:
        """What a painting of so many pixels costs and takes. Raises ModelTrouble."""
        return self._exchange.ask(Quote, "POST", "/v1/quotes", QuoteIn(width=width, height=height, knobs=knobs))

    def paint(
        self, picture: EightBit, hole: Bools, wish: Wish, tick: Progress = no_progress, paid: Paid = no_payment
    ) -> Painting:
        """See Model. Waits its turn; a Cancelled that a tick raises withdraws the painting. paid is called before the
        picture is fetched."""
        asked = PaintingIn(
            picture=_png(picture),
            hole=_png(np.where(hole, 255, 0).astype(np.uint8)),
            hint=wish.hint,
            avoid=wish.avoid,
            seed=wish.seed,
            knobs=wish.knobs,
        )
        name = hashlib.sha256((self._exchange.address + asked.model_dump_json()).encode()).hexdigest()
        tick(0.0, sentence("asking {name}", name=self.name))
        state = self._done(self._asked_for(asked, name, tick), asked, name, tick)
        self.left = state.left if state.left is not None else self.left
        if state.credits:
            # Before anything else can go wrong: it was charged, whatever becomes of the picture.
            paid(state.id, state.credits)
        tick(0.9, sentence("fetching it"))
        height, width = hole.shape
        try:
            pixels = self._exchange.fetch(f"/v1/paintings/{state.id}/picture", (height, width), tick)
        except Gone:
            raise ModelTrouble(sentence("{name} has lost this result.", name=self.name), "later") from None
        return Painting(pixels, state.credits, state.id)

    def _asked_for(self, asked: PaintingIn, name: str, tick: Progress) -> PaintingOut:
        return self._exchange.ask(PaintingOut, "POST", "/v1/paintings", asked, name, tick)

    def _done(self, state: PaintingOut, asked: PaintingIn, name: str, tick: Progress) -> PaintingOut:
        """The painting once it is done. One that the service forgot is asked for again under the same name."""
        begun = time.monotonic()
        expected = max(state.seconds_left or 0.0, 1.0)
        pause = 0.2
        try:
            while state.state in ("queued", "painting"):
                spent = time.monotonic() - begun
                if spent > max(self._exchange.patience.painting, 4 * expected):
                    raise ModelTrouble(
                        sentence(
                            "{name} has not finished in {spent:.0f} s. Nothing is lost: if you try again, you "
                            "get the same result and pay once.",
                            name=self.name,
                            spent=spent,
                        ),
                        "later",
                    )
                doing = (
                    sentence("{ahead} before it", ahead=state.ahead)
                    if state.state == "queued" and state.ahead
                    else "painting"
                )
                tick(min(0.9 * spent / (spent + (state.seconds_left or expected)), 0.9), f"{self.name}: {doing}")
                self._exchange.sleep(pause)
                pause = min(pause * 1.3, 2.0)
                try:
                    state = self._exchange.ask(PaintingOut, "GET", f"/v1/paintings/{state.id}", tick=tick)
                except Gone:
                    state = self._asked_for(asked, name, tick)
        except Cancelled:
            self._exchange.tell("DELETE", f"/v1/paintings/{state.id}")
            raise
        if state.state != "done":
            self._said_no(state)
        return state

    def _said_no(self, state: PaintingOut) -> NoReturn:
        why = reason(state.reason)
        if state.state == "refused":
            raise ModelTrouble(
                sentence("{name} refused this picture{why} Nothing was charged.", name=self.name, why=why), "smaller"
            )
        if state.state == "withdrawn":
            raise ModelTrouble(sentence("{name} withdrew this result. Nothing was charged.", name=self.name), "later")
        raise ModelTrouble(
            sentence("{name} failed to make this result{why} Nothing was charged.", name=self.name, why=why), "later"
        )


def _png(pixels: EightBit) -> str:
    return base64.b64encode(packed_png(pixels)).decode()
