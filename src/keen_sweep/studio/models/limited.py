"""A model under the name and within the size that its user gave it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.fill.model.port import Model, Paid, Painting, Wish, no_payment
from keen_sweep.core.progress import Progress, no_progress

if TYPE_CHECKING:
    from keen_sweep.remote.adapter import ServiceModel


class Limited:
    """A model as it was registered; largest: the longest side that it is shown, pixels, None for its own."""

    def __init__(self, model: Model, name: str, largest: int | None) -> None:
        self._model = model
        self.name = name
        self.side, self.multiple = model.side, model.multiple
        self.most = max(min(model.most, largest or model.most) // model.multiple, 1) * model.multiple
        self.facts = model.facts

    @property
    def service(self) -> ServiceModel | None:
        """The service behind it, if it is one."""
        from keen_sweep.remote.adapter import ServiceModel

        return self._model if isinstance(self._model, ServiceModel) else None

    def paint(
        self, picture: EightBit, hole: Bools, wish: Wish, tick: Progress = no_progress, paid: Paid = no_payment
    ) -> Painting:
        """See Model."""
        return self._model.paint(picture, hole, wish, tick, paid)
